"""An oven programme as a history of air temperature: preheating, steps, turning the tray, door, switching off."""

from collections.abc import Callable

import numpy as np

from gullpeak.core.kitchen.kitchen import Kitchen, Oven
from gullpeak.core.physics.drying.course import FAN_H, OPEN_VENTS, STILL_H, Air
from gullpeak.core.physics.sugar import pressure_kpa, saturation_kpa
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.value import known

OVEN_J_K, OVEN_W_K = 19_400.0, 3.9
"""What an oven's walls hold, and what they lose to the room beside its vent: with a vent of 6 m³/h it cools with 55 min shut, 18 ajar (craft estimates)."""
AJAR = 0.3
"""How open a door ajar is."""
AIR_J_M3K = 1211.0
FOAM_J_KG_K = 2100.0
COOL_POINTS_MIN = (4.0, 9.0, 15.0, 22.0, 32.0, 45.0, 60.0, 90.0, 130.0, 200.0, 300.0, 500.0, 900.0)
"""Where a cooling curve is kept, straight between."""
LOAD_DIP = 0.12
"""Share of the difference to the room that an open door costs on loading."""
LONGEST_HOLD_MIN = 2880.0
"""An open-ended step is followed no longer than this."""


def true_c(set_c: float, oven: Oven) -> float:
    """Return what the oven holds when a figure is set on it, °C."""
    return set_c + oven.true_offset_c


def cooling_min(vent_m3_h: float, openness: float = 0.0, load_kg: float = 0.0) -> float:
    """Return the time constant of an oven cooling, switched off: its heat and its load's against what its walls and vent lose, min.

    openness: 0 shut … 1 open, as the vent's.

    >>> round(cooling_min(6)), round(cooling_min(6, AJAR)), round(cooling_min(6, load_kg=2))
    (55, 18, 66)
    """
    vent = AIR_J_M3K * vent_m3_h / 3600 * (1 + OPEN_VENTS * openness)
    return (OVEN_J_K + FOAM_J_KG_K * load_kg) / (OVEN_W_K + vent) / 60


def heat_up_min(programme: Programme, oven: Oven, room_c: float) -> float:
    """Return the minutes from switching on to the first step's temperature."""
    first = programme.steps[0].set_c or 0.0
    return max(0.0, (true_c(first, oven) - room_c) / oven.heat_c_per_min) + 5  # the walls follow the air


def history(
    programme: Programme, oven: Oven, kitchen: Kitchen, load_kg: float, hold_min: float | None = None
) -> tuple[Air, float]:
    """Return the air the pieces meet and the minute at which the heat ends.

    hold_min: how long the open-ended step lasts; None runs it to `LONGEST_HOLD_MIN` and leaves out what
    follows. Steps after the heat (switched off, door) are in the history when `hold_min` is given.
    """
    room, fan_h = kitchen.room_c, FAN_H if programme.fan else STILL_H
    first = true_c(programme.steps[0].set_c or 0.0, oven)
    now = room if programme.start == "cold" else first - LOAD_DIP * (first - room)
    at, air, h, door = [0.0], [now], [fan_h], [0.0]

    def move_to(minute: float, temp: float, surface_h: float, openness: float) -> None:
        at.append(minute)
        air.append(temp)
        h.append(surface_h)
        door.append(openness)

    heat_end = 0.0
    target = first
    for step in programme.steps:
        begins = at[-1]
        does, ajar = step.does, AJAR if step.door == "ajar" else step.does.open
        lasts = known(step.minutes, known(hold_min, LONGEST_HOLD_MIN))
        h[-1], door[-1] = fan_h, ajar
        if does.sets:
            target = true_c(step.set_c or 0.0, oven)
        if does.heated:
            if does.dips:
                move_to(begins + min(0.5, lasts / 2), air[-1] - does.dips * (air[-1] - room), fan_h, ajar)
            still = max(lasts - 0.5, lasts / 2) if does.dips else lasts
            _approach(move_to, at[-1], still, air[-1], target, oven, fan_h, ajar)
            heat_end = begins + lasts
            if step.minutes is None and hold_min is None:
                break
        else:
            h[-1] = STILL_H
            tau = cooling_min(oven.vent_m3_h, ajar, load_kg)
            start = air[-1]
            for gone in [*(m for m in COOL_POINTS_MIN if m < lasts), lasts]:
                move_to(begins + gone, room + (start - room) * float(np.exp(-gone / tau)), STILL_H, ajar)
    moist = float(saturation_kpa(kitchen.room_c)) * kitchen.room_rh_pct / 100
    return Air(
        times_s=np.array(at) * 60,
        temps_c=np.array(air),
        h=np.array(h),
        open=np.array(door),
        room_kpa=moist,
        load_kg=load_kg,
        vent_m3_h=oven.vent_m3_h,
        pressure_kpa=pressure_kpa(kitchen.altitude_m),
    ), heat_end


def _approach(
    move_to: Callable[[float, float, float, float], None],
    begins: float,
    lasts: float,
    start: float,
    target: float,
    oven: Oven,
    h: float,
    door: float,
) -> None:
    """Ramp up at the oven's pace or cool towards a lower setting, then hold."""
    if target >= start:
        ramp = (target - start) / oven.heat_c_per_min
        reached = target
    else:
        ramp = 2.0 * (start - target) ** 0.5  # thermostat waits while the walls cool
        reached = target
    if 0 < ramp < lasts:
        move_to(begins + ramp, reached, h, door)
    elif ramp > lasts:
        reached = start + (target - start) * lasts / ramp
    move_to(begins + lasts, reached, h, door)
