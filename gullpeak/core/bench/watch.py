"""What a step with a probe in it is watched by: the physics it should follow, its target and its limits.

A watch is data, worked out with the process and kept with the batch. `live` follows readings along it.
"""

from typing import Literal

from gullpeak.core.kitchen.kitchen import Probe
from gullpeak.core.physics import lethality, syrup
from gullpeak.core.value import NOTHING, Key, Said, Value

WatchKind = Literal["syrup", "bath", "whisk", "chill", "oven"]


class SyrupWatch(Value):
    """A pan on its ring."""

    contents: syrup.Contents
    power_w: float
    pan_j_k: float
    pan_g: float
    altitude_m: float
    target_sea_c: float
    on_scale_g: float
    target_scale_g: float
    drop: Said
    stage: Said
    whites_s: tuple[float, float]
    """From starting the whites to the wanted peak"""
    start_reads_c: float
    start: Literal["meet", "at 100", "at 112", "together"]


class NewtonWatch(Value):
    """Something that goes first-order towards a temperature: a bowl over its bath, a foam under the whisk, a curd in the cold."""

    towards_c: float
    towards_sd_k: float
    tau_s: float
    tau_sd: float = 0.3
    """Of its logarithm"""
    start_sd_k: float = 2.0


class Watch(Value):
    """One trace of a batch. target_c: as the probe reads it here; over_c: where it is too much; least, most: what can be real."""

    key: Key
    kind: WatchKind
    title: Said
    start_c: float
    target_c: float
    rising: bool = True
    over_c: float | None = None
    over_says: Said = NOTHING
    over_do: tuple[Said, ...] = ()
    thickens_c: float | None = None
    room_c: float
    least_c: float = -30
    most_c: float = 200
    syrup: SyrupWatch | None = None
    newton: NewtonWatch | None = None
    mixture: lethality.Mixture | None = None
    lag_s: float = 4.0
    probes: tuple[Probe, ...] = ()
    """The kitchen's thermometers: each reading is put right by its own one's check"""
    altitude_m: float = 0.0
    offset_c: float = 0.0
    """Of an older batch: added to every reading"""
    offset_says: Said = NOTHING
