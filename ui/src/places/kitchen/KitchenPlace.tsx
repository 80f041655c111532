import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, http, type Kitchen, type KitchenRecord, Refused } from "../../api/client";
import { kitchenQuery } from "../../api/queries";
import { Choice, Labelled, TypedField } from "../../kit/Field";
import { minutes } from "../../kit/format";
import { Trouble, Waiting } from "../../kit/States";
import { Calibrate } from "./Calibrate";
import { Copies } from "./Copies";
import { DegreesField, fresh, named, NumberField } from "../../kit/fields";
import { DevicesSection, Heats, Probes } from "./Heats";
import { Learned } from "./Learned";
import { Keeping, Prices } from "./Tables";
import { useDegrees } from "../../kit/degrees";

export default function KitchenPlace() {
  const { data, error, refetch } = useQuery({ ...kitchenQuery, staleTime: Number.POSITIVE_INFINITY });
  const [calibrating, setCalibrating] = useState<string>(); // outlives a save, which opens the page anew
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what="the kitchen" />;
  return <Edit key={data.version} record={data} calibrating={calibrating} setCalibrating={setCalibrating} />;
}

export type Put = (change: Partial<Kitchen>) => void;

function Edit({ record, calibrating, setCalibrating }: { record: KitchenRecord; calibrating: string | undefined; setCalibrating: (oven: string | undefined) => void }) {
  const degrees = useDegrees();
  const queries = useQueryClient();
  const [kitchen, setKitchen] = useState(record.kitchen);
  const [past, setPast] = useState<Kitchen[]>([]);
  const dirty = JSON.stringify(kitchen) !== JSON.stringify(record.kitchen);
  const save = useMutation({
    mutationFn: () => answer(http.PUT("/api/kitchen", { params: { header: { "if-match": `"${record.version}"` } }, body: kitchen })),
    onSuccess: (made) => {
      queries.setQueryData(kitchenQuery.queryKey, made);
      void queries.invalidateQueries({ queryKey: ["recipes"] });
      void queries.invalidateQueries({ queryKey: ["products"] });
    },
  });
  const refused = save.error instanceof Refused ? save.error : undefined;
  const put: Put = (change) => {
    setPast((steps) => [...steps.slice(-49), kitchen]);
    setKitchen({ ...kitchen, ...change });
  };
  const undo = () => {
    const before = past.at(-1);
    if (before) setKitchen(before);
    setPast(past.slice(0, -1));
  };
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-end gap-3">
        <h1 className="grow text-l">{kitchen.name}</h1>
        <button type="button" className="press" disabled={past.length === 0} onClick={undo}>
          Undo
        </button>
        <button type="button" className="press press-first" disabled={!dirty || save.isPending} onClick={() => save.mutate()}>
          Save the kitchen
        </button>
      </div>
      {refused && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3">
          {refused.errors.length > 0 ? refused.errors.map((e) => `${e.field.replaceAll(".", " › ")}: ${e.says}`).join(". ") : refused.message}
          {refused.problem.status === 412 && (
            <button type="button" className="press ml-3" onClick={() => queries.setQueryData(kitchenQuery.queryKey, refused.problem.current as unknown as KitchenRecord)}>
              Take theirs
            </button>
          )}
        </p>
      )}
      <Learned />
      <div className="mt-3 grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <div className="flex min-w-0 flex-col gap-6">
        <section aria-labelledby="ovens" className="min-w-0">
          <h2 id="ovens" className="border-b border-deep text-m">
            Ovens
          </h2>
          {kitchen.ovens.map((oven, i) => {
            const change = (next: Partial<typeof oven>) => put({ ovens: kitchen.ovens.map((o, k) => (k === i ? { ...o, ...next } : o)) });
            return (
              <div key={oven.key} className="flex flex-col gap-2 border-b border-hairline py-3">
                <div className="grid grid-cols-[minmax(0,1fr)_13rem] gap-4">
                  <div className="min-w-0">
                    <h3 className="text-m">{oven.name}</h3>
                    <p className="text-s text-quiet">
                      Set to {degrees.show(100, { oven: true })} it holds <b className="text-ink">{degrees.show(100 + oven.true_offset_c, { oven: true })}</b>, after {minutes((100 + oven.true_offset_c - kitchen.room_c) / oven.heat_c_per_min + 5)}; {oven.fan ? "fan" : "no fan"}, {oven.tray_slots} trays at once.
                    </p>
                  </div>
                  <HeatUp oven={oven} room={kitchen.room_c} />
                </div>
                <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
                  <DegreesField apart label="Runs hot by, °" value={oven.true_offset_c} least={-40} most={40} put={(true_offset_c) => change({ true_offset_c })} />
                  <DegreesField apart label="Heats, ° a minute" value={oven.heat_c_per_min} least={1} most={60} put={(heat_c_per_min) => change({ heat_c_per_min })} />
                  <DegreesField apart label="Cools, ° a minute" value={oven.cool_c_per_min} least={0.5} most={30} put={(cool_c_per_min) => change({ cool_c_per_min })} />
                  <NumberField label="Tray slots" value={oven.tray_slots} least={1} most={40} whole put={(tray_slots) => change({ tray_slots })} />
                  <NumberField label="Air changed, m³/h" value={oven.vent_m3_h} least={0.2} most={200} put={(vent_m3_h) => change({ vent_m3_h })} />
                  <NumberField label="Dries, × the model" value={oven.drying_scale} least={0.3} most={3} put={(drying_scale) => change({ drying_scale })} />
                  <DegreesField apart label="Fan drop, °" value={oven.fan_drop_c} least={0} most={40} put={(fan_drop_c) => change({ fan_drop_c })} />
                  <Choice label="Fan" value={oven.fan ? "yes" : "no"} options={[["yes", "has one"], ["no", "has none"]] as const} onChange={(fan) => change({ fan: fan === "yes" })} />
                  <TypedField label="Name" shown={oven.name} width="w-full" read={(name) => change({ name: named(name) })} />
                </div>
                <button type="button" className="press self-start" aria-expanded={calibrating === oven.key} onClick={() => setCalibrating(calibrating === oven.key ? undefined : oven.key)}>
                  {calibrating === oven.key ? "Close the calibration" : "Calibrate this oven"}
                </button>
                {calibrating === oven.key && <Calibrate oven={oven} tare={kitchen.trays[0]?.tare_g ?? 0} />}
              </div>
            );
          })}
          <button type="button" className="press mt-3" onClick={() => put({ ovens: [...kitchen.ovens, { key: fresh("oven"), name: `Oven ${kitchen.ovens.length + 1}`, fan: true, fan_drop_c: 20, true_offset_c: 0, heat_c_per_min: 10, tray_slots: 2, vent_m3_h: 6, drying_scale: 1, cool_c_per_min: 3 }] })}>
            Add an oven
          </button>
        </section>
          <Heats kitchen={kitchen} put={put} />
          <Probes kitchen={kitchen} boils={record.water_boils_c} put={put} />
          <DevicesSection probes={record.kitchen.probes} />
        </div>
        <div className="flex min-w-0 flex-col gap-6">
          <section aria-labelledby="air">
            <h2 id="air" className="border-b border-deep text-m">
              The room and its shelves
            </h2>
            <div className="grid grid-cols-2 gap-3 py-3 sm:grid-cols-4">
              <NumberField label="Altitude, m" value={kitchen.altitude_m} least={-400} most={5000} put={(altitude_m) => put({ altitude_m })} />
              <DegreesField label="Room, °" value={kitchen.room_c} least={0} most={45} put={(room_c) => put({ room_c })} />
              <NumberField label="Humidity, %" value={kitchen.room_rh_pct} least={5} most={95} put={(room_rh_pct) => put({ room_rh_pct })} />
              <NumberField label="Cold shelves" value={kitchen.cold_shelves} least={1} most={200} whole put={(cold_shelves) => put({ cold_shelves })} />
              <NumberField label="Freezer shelves" value={kitchen.freezer_shelves} least={1} most={200} whole put={(freezer_shelves) => put({ freezer_shelves })} />
              <NumberField label="Washing a bowl, min" value={kitchen.wash_min} least={1} most={30} put={(wash_min) => put({ wash_min })} />
              <NumberField label="Yolks that break, %" value={kitchen.yolk_break_pct} least={0} most={50} put={(yolk_break_pct) => put({ yolk_break_pct })} />
            </div>
          </section>
          <section aria-labelledby="mixers">
            <h2 id="mixers" className="border-b border-deep text-m">
              Mixers and bowls
            </h2>
            {kitchen.mixers.map((mixer, i) => {
              const change = (next: Partial<typeof mixer>) => put({ mixers: kitchen.mixers.map((m, k) => (k === i ? { ...m, ...next } : m)) });
              return (
                <div key={mixer.key} className="grid grid-cols-2 gap-3 border-b border-hairline py-3 sm:grid-cols-5">
                  <TypedField label="Name" shown={mixer.name} width="w-full" read={(name) => change({ name: named(name) })} />
                  <Choice label="Kind" value={mixer.kind} options={(["stand", "planetary", "hand-held", "balloon whisk"] as const).map((k) => [k, k] as const)} onChange={(kind) => change({ kind })} />
                  <NumberField label="Bowl, l" value={mixer.bowl_l} least={0.3} most={200} put={(bowl_l) => change({ bowl_l })} />
                  <NumberField label="It weighs, g" value={mixer.bowl_g} least={50} most={40000} put={(bowl_g) => change({ bowl_g })} />
                  <Choice label="Bowl is" value={mixer.bowl_material} options={(["steel", "glass", "copper", "plastic"] as const).map((k) => [k, k] as const)} onChange={(bowl_material) => change({ bowl_material })} />
                </div>
              );
            })}
          </section>
          <section aria-labelledby="trays">
            <h2 id="trays" className="border-b border-deep text-m">
              Trays
            </h2>
            {kitchen.trays.map((tray, i) => {
              const change = (next: Partial<typeof tray>) => put({ trays: kitchen.trays.map((t, k) => (k === i ? { ...t, ...next } : t)) });
              return (
                <div key={tray.key} className="grid grid-cols-2 gap-3 border-b border-hairline py-3 sm:grid-cols-5">
                  <TypedField label="Name" shown={tray.name} width="w-full" read={(name) => change({ name: named(name) })} />
                  <NumberField label="Long, mm" value={tray.length_mm} least={100} most={2000} put={(length_mm) => change({ length_mm })} />
                  <NumberField label="Wide, mm" value={tray.width_mm} least={100} most={2000} put={(width_mm) => change({ width_mm })} />
                  <NumberField label="Empty, g" value={tray.tare_g} least={0} most={20000} put={(tare_g) => change({ tare_g })} />
                  <NumberField label="How many" value={tray.count} least={1} most={200} whole put={(count) => change({ count })} />
                </div>
              );
            })}
          </section>
          <section aria-labelledby="habits">
            <h2 id="habits" className="border-b border-deep text-m">
              How this kitchen measures
            </h2>
            <p className="pt-1 text-s text-quiet">Where a unit could mean two things, it is read so, and the sheet says so.</p>
            <Habits habits={kitchen.habits} put={(habits) => put({ habits })} />
          </section>
          <Keeping kitchen={kitchen} put={put} />
          <Prices kitchen={kitchen} put={put} />
          <Copies />
          <section aria-labelledby="people">
            <h2 id="people" className="border-b border-deep text-m">
              Cooks
            </h2>
            <div className="py-3">
              <TypedField label="Names, with commas between" shown={kitchen.cooks.join(", ")} width="w-full" read={(typed) => put({ cooks: typed.split(",").map((n) => n.trim()).filter(Boolean) })} />
            </div>
          </section>
        </div>
      </div>
    </div>
  );
}

/** An oven's climb to 100 °C as set: its temper at a glance. */
function HeatUp({ oven, room }: { oven: Kitchen["ovens"][number]; room: number }) {
  const degrees = useDegrees();
  const end = 40;
  const holds = 100 + oven.true_offset_c;
  const at = Math.min(end, (holds - room) / oven.heat_c_per_min);
  const x = (min: number) => (min / end) * 200;
  const y = (temp: number) => 64 - (temp / 130) * 60;
  return (
    <svg viewBox="0 0 208 84" className="w-full" role="img" aria-label={`${oven.name} climbs to ${degrees.show(holds)} in ${minutes(at)} when set to ${degrees.show(100, { oven: true })}`}>
      <line x1="0" x2="200" y1={y(100)} y2={y(100)} stroke="var(--color-quiet)" strokeDasharray="4 4" />
      <polyline points={`0,${y(room)} ${x(at)},${y(holds)} 200,${y(holds)}`} fill="none" stroke="currentColor" strokeWidth="2.5" />
      <line x1="0" x2="200" y1="66" y2="66" stroke="var(--color-hairline)" />
      <text x="0" y="82" fontSize="15" fill="var(--color-quiet)">
        0
      </text>
      <text x="200" y="82" fontSize="15" textAnchor="end" fill="var(--color-quiet)">
        40 min
      </text>
    </svg>
  );
}

type HabitsOf = Kitchen["habits"];

function Habits({ habits, put }: { habits: HabitsOf; put: (habits: HabitsOf) => void }) {
  const set = (change: Partial<HabitsOf>) => put({ ...habits, ...change });
  const sizes = ["EU S", "EU M", "EU L", "EU XL", "US medium", "US large", "US extra-large"] as const;
  return (
    <div className="grid grid-cols-2 gap-3 py-3 sm:grid-cols-4">
      <Choice label="Egg with no size" value={habits.egg_size} options={sizes.map((s) => [s, s] as const)} onChange={(egg_size) => set({ egg_size })} />
      <Choice label="Tablespoon" value={String(habits.tablespoon_ml) as "15" | "20"} options={[["15", "15 ml"], ["20", "20 ml"]] as const} onChange={(ml) => set({ tablespoon_ml: ml === "20" ? 20 : 15 })} />
      <Choice label="Cup" value={habits.cup} options={[["metric", "metric, 250 ml"], ["US", "US, 236.6 ml"]] as const} onChange={(cup) => set({ cup })} />
      <Choice label="Fluid ounce" value={habits.fluid_ounce} options={[["UK", "UK"], ["US", "US"]] as const} onChange={(fluid_ounce) => set({ fluid_ounce })} />
      <Choice label="Temperatures in" value={habits.bare_degrees} options={[["C", "°C"], ["F", "°F"]] as const} onChange={(bare_degrees) => set({ bare_degrees })} />
      <Choice label="No fan word means" value={habits.no_fan_word} options={[["conventional", "conventional"], ["fan", "fan"]] as const} onChange={(no_fan_word) => set({ no_fan_word })} />
      <Labelled label="Heaped spoon, level ones">
        {(ids) => <input {...ids} type="number" min={1} max={2.5} step={0.1} value={habits.heaped} onChange={(e) => Number(e.target.value) >= 1 && Number(e.target.value) <= 2.5 && set({ heaped: Number(e.target.value) })} />}
      </Labelled>
    </div>
  );
}
