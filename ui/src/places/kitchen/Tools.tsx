import type { Kitchen } from "../../api/client";
import { MixerFace, TrayFace } from "../../food/Tools";
import { Choice, TypedField } from "../../kit/Field";
import { fresh, NumberField, named } from "../../kit/fields";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";
import type { Put } from "./KitchenPlace";
import { Thing } from "./Thing";
import { Turnover } from "./Turnover";

export function Mixers({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  return (
    <section aria-labelledby="mixers">
      <h2 id="mixers" className="border-b border-deep text-m">
        {words.kitchen.mixersAndBowls}
      </h2>
      {kitchen.mixers.map((mixer, i) => {
        const change = (next: Partial<typeof mixer>) =>
          put({ mixers: kitchen.mixers.map((m, k) => (k === i ? { ...m, ...next } : m)) });
        return (
          <Thing
            key={mixer.key}
            name={mixer.name}
            drawing={<MixerFace kind={mixer.kind} className="h-full w-full" />}
            beside={<Turnover all={kitchen.mixers} at={i} prefix="mixer" put={(mixers) => put({ mixers })} />}
            says={words.kitchen.whisksTimes(mixer.kind, mixer.bowl_l, fixed(mixer.pace, 2))}
            experts={
              <>
                <NumberField
                  label={words.kitchen.itWeighsG}
                  value={mixer.bowl_g}
                  least={50}
                  most={40000}
                  put={(bowl_g) => change({ bowl_g })}
                />
                <Choice
                  label={words.kitchen.bowlIs}
                  value={mixer.bowl_material}
                  options={(["steel", "glass", "copper", "plastic"] as const).map((k) => [k, k] as const)}
                  onChange={(bowl_material) => change({ bowl_material })}
                />
              </>
            }
          >
            <TypedField
              label={words.kitchen.name}
              shown={mixer.name}
              width="w-full"
              read={(name) => change({ name: named(name) })}
            />
            <Choice
              label={words.kitchen.kind}
              value={mixer.kind}
              options={(["stand", "planetary", "hand-held", "balloon whisk"] as const).map((k) => [k, k] as const)}
              onChange={(kind) => change({ kind })}
            />
            <NumberField
              label={words.kitchen.bowlL}
              value={mixer.bowl_l}
              least={0.3}
              most={200}
              put={(bowl_l) => change({ bowl_l })}
            />
          </Thing>
        );
      })}
      <button
        type="button"
        className="press mt-3"
        onClick={() =>
          put({
            mixers: [
              ...kitchen.mixers,
              {
                key: fresh("mixer"),
                name: words.kitchen.mixer(kitchen.mixers.length + 1),
                kind: "stand",
                bowl_l: 5,
                bowl_material: "steel",
                bowl_g: 800,
                pace: 1,
                min_fill_pct: 2,
              },
            ],
          })
        }
      >
        {words.kitchen.addAMixer}
      </button>
    </section>
  );
}

export function Trays({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  return (
    <section aria-labelledby="trays">
      <h2 id="trays" className="border-b border-deep text-m">
        {words.kitchen.trays2}
      </h2>
      {kitchen.trays.map((tray, i) => {
        const change = (next: Partial<typeof tray>) =>
          put({ trays: kitchen.trays.map((t, k) => (k === i ? { ...t, ...next } : t)) });
        return (
          <Thing
            key={tray.key}
            name={tray.name}
            drawing={<TrayFace length_mm={tray.length_mm} width_mm={tray.width_mm} className="h-full w-full" />}
            beside={<Turnover all={kitchen.trays} at={i} prefix="tray" put={(trays) => put({ trays })} />}
            says={words.kitchen.trayOf(tray.count, tray.length_mm / 10, tray.width_mm / 10)}
            experts={
              <NumberField
                label={words.kitchen.emptyG}
                value={tray.tare_g}
                least={0}
                most={20000}
                put={(tare_g) => change({ tare_g })}
              />
            }
          >
            <TypedField
              label={words.kitchen.name}
              shown={tray.name}
              width="w-full"
              read={(name) => change({ name: named(name) })}
            />
            <NumberField
              label={words.kitchen.longMm}
              value={tray.length_mm}
              least={100}
              most={2000}
              put={(length_mm) => change({ length_mm })}
            />
            <NumberField
              label={words.kitchen.wideMm}
              value={tray.width_mm}
              least={100}
              most={2000}
              put={(width_mm) => change({ width_mm })}
            />
            <NumberField
              label={words.kitchen.howMany}
              value={tray.count}
              least={1}
              most={200}
              whole
              put={(count) => change({ count })}
            />
          </Thing>
        );
      })}
      <button
        type="button"
        className="press mt-3"
        onClick={() =>
          put({
            trays: [
              ...kitchen.trays,
              {
                key: fresh("tray"),
                name: words.kitchen.tray(kitchen.trays.length + 1),
                length_mm: 400,
                width_mm: 300,
                tare_g: 900,
                count: 4,
              },
            ],
          })
        }
      >
        {words.kitchen.addATray}
      </button>
    </section>
  );
}
