import type { Kitchen } from "../../api/client";
import { OvenFace } from "../../food/Tools";
import { useDegrees } from "../../kit/degrees";
import { Choice, TypedField } from "../../kit/Field";
import { DegreesField, fresh, NumberField, named } from "../../kit/fields";
import { minutes } from "../../kit/format";
import { words } from "../../words";
import { Calibrate } from "./Calibrate";
import type { Put } from "./KitchenPlace";
import { Thing } from "./Thing";
import { Turnover } from "./Turnover";

type Props = {
  kitchen: Kitchen;
  put: Put;
  calibrating: string | undefined;
  setCalibrating: (oven: string | undefined) => void;
};

export function Ovens({ kitchen, put, calibrating, setCalibrating }: Props) {
  const degrees = useDegrees();
  return (
    <section aria-labelledby="ovens" className="min-w-0">
      <h2 id="ovens" className="border-b border-deep text-m">
        {words.kitchen.ovens}
      </h2>
      {kitchen.ovens.map((oven, i) => {
        const change = (next: Partial<typeof oven>) =>
          put({ ovens: kitchen.ovens.map((o, k) => (k === i ? { ...o, ...next } : o)) });
        return (
          <Thing
            key={oven.key}
            name={oven.name}
            drawing={<OvenFace slots={oven.tray_slots} fan={oven.fan} className="h-full w-full" />}
            beside={<Turnover all={kitchen.ovens} at={i} prefix="oven" put={(ovens) => put({ ovens })} />}
            says={
              <>
                {words.kitchen.setTo2} {degrees.show(100, { oven: true })} {words.kitchen.itHolds}{" "}
                <b className="text-ink">{degrees.show(100 + oven.true_offset_c, { oven: true })}</b>
                {words.kitchen.after} {minutes((100 + oven.true_offset_c - kitchen.room_c) / oven.heat_c_per_min + 5)};{" "}
                {oven.fan ? "fan" : words.kitchen.noFan}, {oven.tray_slots} {words.kitchen.traysAtOnce}
              </>
            }
            experts={
              <>
                <DegreesField
                  apart
                  label={words.kitchen.heatsAMinute}
                  value={oven.heat_c_per_min}
                  least={1}
                  most={60}
                  put={(heat_c_per_min) => change({ heat_c_per_min })}
                />
                <DegreesField
                  apart
                  label={words.kitchen.coolsAMinute}
                  value={oven.cool_c_per_min}
                  least={0.5}
                  most={30}
                  put={(cool_c_per_min) => change({ cool_c_per_min })}
                />
                <NumberField
                  label={words.kitchen.airChangedMH}
                  value={oven.vent_m3_h}
                  least={0.2}
                  most={200}
                  put={(vent_m3_h) => change({ vent_m3_h })}
                />
                <NumberField
                  label={words.kitchen.dryingSpeedPredicted}
                  value={oven.drying_scale}
                  least={0.3}
                  most={3}
                  put={(drying_scale) => change({ drying_scale })}
                />
                <DegreesField
                  apart
                  label={words.kitchen.fanDrop}
                  value={oven.fan_drop_c}
                  least={0}
                  most={40}
                  put={(fan_drop_c) => change({ fan_drop_c })}
                />
                <div className="col-span-2">
                  <HeatUp oven={oven} room={kitchen.room_c} />
                </div>
              </>
            }
          >
            <TypedField
              label={words.kitchen.name}
              shown={oven.name}
              width="w-full"
              read={(name) => change({ name: named(name) })}
            />
            <DegreesField
              apart
              label={words.kitchen.runsHotBy}
              value={oven.true_offset_c}
              least={-40}
              most={40}
              put={(true_offset_c) => change({ true_offset_c })}
            />
            <Choice
              label={words.kitchen.fan}
              value={oven.fan ? "yes" : "no"}
              options={
                [
                  ["yes", words.kitchen.hasOne],
                  ["no", words.kitchen.hasNone],
                ] as const
              }
              onChange={(fan) => change({ fan: fan === "yes" })}
            />
            <NumberField
              label={words.kitchen.traySlots}
              value={oven.tray_slots}
              least={1}
              most={40}
              whole
              put={(tray_slots) => change({ tray_slots })}
            />
            <button
              type="button"
              className="press col-span-2 justify-self-start"
              aria-expanded={calibrating === oven.key}
              onClick={() => setCalibrating(calibrating === oven.key ? undefined : oven.key)}
            >
              {calibrating === oven.key ? words.kitchen.closeTheCalibration : words.kitchen.calibrateThisOven}
            </button>
            {calibrating === oven.key && (
              <div className="col-span-full">
                <Calibrate oven={oven} tare={kitchen.trays[0]?.tare_g ?? 0} />
              </div>
            )}
          </Thing>
        );
      })}
      <button
        type="button"
        className="press mt-3"
        onClick={() =>
          put({
            ovens: [
              ...kitchen.ovens,
              {
                key: fresh("oven"),
                name: words.kitchen.oven(kitchen.ovens.length + 1),
                fan: true,
                fan_drop_c: 20,
                true_offset_c: 0,
                heat_c_per_min: 10,
                tray_slots: 2,
                vent_m3_h: 6,
                drying_scale: 1,
                cool_c_per_min: 3,
              },
            ],
          })
        }
      >
        {words.kitchen.addAnOven}
      </button>
    </section>
  );
}

/** An oven's climb to 100 °C as set: how it heats, at a glance. */
function HeatUp({ oven, room }: { oven: Kitchen["ovens"][number]; room: number }) {
  const degrees = useDegrees();
  const end = 40;
  const holds = 100 + oven.true_offset_c;
  const at = Math.min(end, (holds - room) / oven.heat_c_per_min);
  const x = (min: number) => (min / end) * 200;
  const y = (temp: number) => 64 - (temp / 130) * 60;
  return (
    <svg
      viewBox="0 0 208 84"
      className="w-full"
      role="img"
      aria-label={words.kitchen.climbsToInWhenSetTo(
        oven.name,
        degrees.show(holds),
        minutes(at),
        degrees.show(100, { oven: true }),
      )}
    >
      <line x1="0" x2="200" y1={y(100)} y2={y(100)} stroke="var(--color-quiet)" strokeDasharray="4 4" />
      <polyline
        points={`0,${y(room)} ${x(at)},${y(holds)} 200,${y(holds)}`}
        fill="none"
        stroke="currentColor"
        strokeWidth="2.5"
      />
      <line x1="0" x2="200" y1="66" y2="66" stroke="var(--color-hairline)" />
      <text x="0" y="82" fontSize="15" fill="var(--color-quiet)">
        0
      </text>
      <text x="200" y="82" fontSize="15" textAnchor="end" fill="var(--color-quiet)">
        {words.kitchen.n40Min}
      </text>
    </svg>
  );
}
