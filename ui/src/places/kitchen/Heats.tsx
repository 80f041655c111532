import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, http, type Kitchen } from "../../api/client";
import { appNow } from "../../api/clock";
import { devicesQuery } from "../../api/queries";
import { BurnerFace, PanFace } from "../../food/Tools";
import { type Degrees, useDegrees } from "../../kit/degrees";
import { Choice, TypedField } from "../../kit/Field";
import { DegreesField, fresh, NumberField, named } from "../../kit/fields";
import { day } from "../../kit/format";
import { words } from "../../words";
import type { Put } from "./KitchenPlace";
import { Thing } from "./Thing";
import { Turnover } from "./Turnover";

const swapped = <T,>(list: readonly T[], i: number, change: Partial<T>): T[] =>
  list.map((one, k) => (k === i ? { ...one, ...change } : one));
const MATERIALS = (["steel", "glass", "copper", "plastic"] as const).map((m) => [m, m] as const);

/** Burners and pans: what the syrup's climb rests on. */
export function Heats({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  return (
    <section aria-labelledby="heats">
      <h2 id="heats" className="border-b border-deep text-m">
        {words.kitchen.burnersAndPans}
      </h2>
      {kitchen.hobs.map((hob, i) => (
        <Thing
          key={hob.key}
          name={hob.name}
          drawing={<BurnerFace power_w={hob.power_w} className="h-full w-full" />}
          beside={<Turnover all={kitchen.hobs} at={i} prefix="hob" put={(hobs) => put({ hobs })} />}
        >
          <TypedField
            label={words.kitchen.burner}
            shown={hob.name}
            width="w-full"
            read={(name) => put({ hobs: swapped(kitchen.hobs, i, { name: named(name) }) })}
          />
          <NumberField
            label={words.kitchen.intoAPanW}
            value={hob.power_w}
            least={50}
            most={15000}
            put={(power_w) => put({ hobs: swapped(kitchen.hobs, i, { power_w }) })}
          />
        </Thing>
      ))}
      {kitchen.pans.map((pan, i) => (
        <Thing
          key={pan.key}
          name={pan.name}
          drawing={<PanFace volume_l={pan.volume_l} className="h-full w-full" />}
          beside={<Turnover all={kitchen.pans} at={i} prefix="pan" put={(pans) => put({ pans })} />}
          experts={
            <NumberField
              label={words.kitchen.panEmptyG}
              value={pan.mass_g}
              least={50}
              most={40000}
              put={(mass_g) => put({ pans: swapped(kitchen.pans, i, { mass_g }) })}
            />
          }
        >
          <TypedField
            label={words.kitchen.pan}
            shown={pan.name}
            width="w-full"
            read={(name) => put({ pans: swapped(kitchen.pans, i, { name: named(name) }) })}
          />
          <Choice
            label={words.kitchen.ofWord}
            value={pan.material}
            options={MATERIALS}
            onChange={(material) => put({ pans: swapped(kitchen.pans, i, { material }) })}
          />
          <NumberField
            label={words.kitchen.volumeL}
            value={pan.volume_l}
            least={0.2}
            most={100}
            put={(volume_l) => put({ pans: swapped(kitchen.pans, i, { volume_l }) })}
          />
        </Thing>
      ))}
      <div className="flex flex-wrap gap-3 pt-3">
        <button
          type="button"
          className="press"
          onClick={() =>
            put({
              hobs: [
                ...kitchen.hobs,
                { key: fresh("hob"), name: words.kitchen.burner2(kitchen.hobs.length + 1), power_w: 900 },
              ],
            })
          }
        >
          {words.kitchen.addABurner}
        </button>
        <button
          type="button"
          className="press"
          onClick={() =>
            put({
              pans: [
                ...kitchen.pans,
                {
                  key: fresh("pan"),
                  name: `Pan ${kitchen.pans.length + 1}`,
                  material: "steel",
                  mass_g: 700,
                  volume_l: 1.5,
                },
              ],
            })
          }
        >
          {words.kitchen.addAPan}
        </button>
      </div>
    </section>
  );
}

/** Probes and their check in melting ice and boiling water. */
export function Probes({ kitchen, boils, put }: { kitchen: Kitchen; boils: number; put: Put }) {
  const degrees = useDegrees();
  return (
    <section aria-labelledby="probes">
      <h2 id="probes" className="border-b border-deep text-m">
        {words.kitchen.thermometers}
      </h2>
      <p className="pt-1 text-s text-quiet">
        {words.kitchen.inMeltingIceItShouldRead} {degrees.show(0)}
        {words.kitchen.inBoilingWater} {degrees.show(boils)} {words.kitchen.atThisAltitudeReadingsArePut}{" "}
        {degrees.apart(2, 0)} {words.kitchen.moreIsAskedBeforeEggCounts} {degrees.apart(2.5)}{" "}
        {words.kitchen.offDoNotUseIt}
      </p>
      {kitchen.probes.map((probe, i) => {
        const change = (next: Partial<typeof probe>) => put({ probes: swapped(kitchen.probes, i, next) });
        const check = (next: { ice_c?: number; boiling_c?: number }) =>
          change({
            check: {
              ice_c: probe.check?.ice_c ?? null,
              boiling_c: probe.check?.boiling_c ?? null,
              ...next,
              at: new Date(appNow()).toISOString(),
            },
          });
        return (
          <div key={probe.key} className="grid grid-cols-2 gap-3 border-b border-hairline py-3 sm:grid-cols-4">
            <TypedField
              label={words.kitchen.name}
              shown={probe.name}
              width="w-full"
              read={(name) => change({ name: named(name) })}
            />
            <NumberField
              label={words.kitchen.responseTimeS}
              value={probe.lag_s}
              least={0}
              most={60}
              put={(lag_s) => change({ lag_s })}
            />
            <DegreesField
              label={words.kitchen.readInIce}
              value={probe.check?.ice_c}
              least={-20}
              most={20}
              put={(ice_c) => check({ ice_c })}
            />
            <DegreesField
              label={words.kitchen.readAtTheBoil}
              value={probe.check?.boiling_c}
              least={70}
              most={120}
              put={(boiling_c) => check({ boiling_c })}
            />
            <p className="col-span-2 text-s text-quiet sm:col-span-4">{standing(probe.check, boils, degrees)}</p>
            <Turnover
              all={kitchen.probes}
              at={i}
              prefix="probe"
              least={0}
              put={(probes) =>
                // another thermometer has not been checked because this one was
                put({ probes: probes.map((p) => (kitchen.probes.includes(p) ? p : { ...p, check: null })) })
              }
            />
          </div>
        );
      })}
      <button
        type="button"
        className="press mt-3"
        onClick={() =>
          put({
            probes: [
              ...kitchen.probes,
              { key: fresh("probe"), name: words.kitchen.probe(kitchen.probes.length + 1), lag_s: 4, check: null },
            ],
          })
        }
      >
        {words.kitchen.addAThermometer}
      </button>
    </section>
  );
}

/** What is known of a thermometer's check. */
function standing(check: Kitchen["probes"][number]["check"], boils: number, degrees: Degrees): string {
  if (!check) return words.kitchen.notCheckedItsReadingsAreTaken(degrees.apart(2, 0));
  const off = [
    [check.ice_c, 0, "ice"],
    [check.boiling_c, boils, "boiling water"],
  ].flatMap(([shown, truth, where]) => (typeof shown === "number" ? [{ by: shown - (truth as number), where }] : []));
  const far = off.find((o) => Math.abs(o.by) > 2.5);
  if (far) return words.kitchen.checkedOnOffByInIts(day(check.at), degrees.apart(far.by), far.where);
  if (off.length < 2) return words.kitchen.checkedOnAtOnePointOnly(day(check.at), degrees.apart(2, 0));
  return words.kitchen.checkedOnAtBothPointsGood(day(check.at));
}

const KINDS = [
  ["probe", words.kitchen.probeC],
  ["scale", words.kitchen.scaleG],
  ["oven", words.kitchen.ovenThermometerC],
] as const;

/** Devices that may send readings, and pairing a new one. */
export function DevicesSection({ probes }: { probes: Kitchen["probes"] }) {
  const queries = useQueryClient();
  const { data } = useQuery(devicesQuery);
  const [kind, setKind] = useState<(typeof KINDS)[number][0]>("probe");
  const [name, setName] = useState("");
  const pair = useMutation({
    mutationFn: () =>
      answer(http.POST("/api/devices", { body: { name: name.trim() || words.kitchen.newDevice, kind } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["devices"] }),
  });
  const which = useMutation({
    mutationFn: ({ id, probe }: { id: string; probe: string | null }) =>
      answer(
        http.PUT("/api/devices/{device_id}/thermometer", { params: { path: { device_id: id } }, body: { probe } }),
      ),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["devices"] }),
  });
  const retire = useMutation({
    mutationFn: (device_id: string) => http.DELETE("/api/devices/{device_id}", { params: { path: { device_id } } }),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["devices"] }),
  });
  return (
    <section aria-labelledby="devices">
      <h2 id="devices" className="border-b border-deep text-m">
        {words.kitchen.devices}
      </h2>
      <ul className="divide-y divide-hairline">
        {(data ?? []).map((device) => (
          <li key={device.id} className="flex flex-wrap justify-between gap-3 py-2">
            <b>{device.name}</b>
            <span className="text-s text-quiet">
              {device.kind} ·{" "}
              {device.attachment
                ? words.kitchen.attachedAtTheBench
                : device.seen_at
                  ? words.kitchen.lastHeard(day(device.seen_at))
                  : words.kitchen.notHeardYet}
            </span>
            <button
              type="button"
              className="min-h-11 px-2 text-s underline"
              aria-label={words.kitchen.retireIt(device.name)}
              onClick={() => retire.mutate(device.id)}
            >
              {words.kitchen.retire}
            </button>
            {device.kind === "probe" && (
              <span className="w-full sm:w-64">
                <Choice
                  label={words.kitchen.whichThermometer}
                  value={device.probe ?? ""}
                  options={[["", words.kitchen.noThermometerAbove], ...probes.map((p) => [p.key, p.name] as const)]}
                  onChange={(probe: string) => which.mutate({ id: device.id, probe: probe || null })}
                />
              </span>
            )}
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-end gap-3 py-3">
        <label className="flex flex-col text-s text-quiet">
          {words.kitchen.nameOfANewOne}
          <input className="w-48 text-ink" value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
        </label>
        <Choice label={words.kitchen.itIsA} value={kind} options={KINDS} onChange={setKind} />
        <button type="button" className="press" disabled={pair.isPending} onClick={() => pair.mutate()}>
          {words.kitchen.pairIt}
        </button>
      </div>
      {pair.data && (
        <p role="status" className="border-l-4 border-deep pl-3 text-s">
          {words.kitchen.itsTokenShownThisOnce} <b className="select-all">{pair.data.token}</b>
          {words.kitchen.aSimulatedOne}{" "}
          <span className="select-all">
            {words.kitchen.gullpeakSimulate} {pair.data.device.kind} {words.kitchen.token} {pair.data.token}
          </span>
        </p>
      )}
      {(pair.error ?? which.error) && <p role="alert">{(pair.error ?? which.error)?.message}</p>}
    </section>
  );
}
