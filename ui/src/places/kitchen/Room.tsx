import { useQuery } from "@tanstack/react-query";
import type { Kitchen } from "../../api/client";
import { larderQuery } from "../../api/queries";
import { Choice, Labelled } from "../../kit/Field";
import { DegreesField, NumberField } from "../../kit/fields";
import { words } from "../../words";
import type { Put } from "./KitchenPlace";

export function Room({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  return (
    <section aria-labelledby="air">
      <h2 id="air" className="border-b border-deep text-m">
        {words.kitchen.theRoomAndItsShelves}
      </h2>
      <div className="grid grid-cols-2 gap-3 py-3 sm:grid-cols-4">
        <NumberField
          label={words.kitchen.altitudeM}
          value={kitchen.altitude_m}
          least={-400}
          most={5000}
          put={(altitude_m) => put({ altitude_m })}
        />
        <DegreesField
          label={words.kitchen.room}
          value={kitchen.room_c}
          least={0}
          most={45}
          put={(room_c) => put({ room_c })}
        />
        <NumberField
          label={words.kitchen.humidity}
          value={kitchen.room_rh_pct}
          least={5}
          most={95}
          put={(room_rh_pct) => put({ room_rh_pct })}
        />
        <NumberField
          label={words.kitchen.coldShelves}
          value={kitchen.cold_shelves}
          least={1}
          most={200}
          whole
          put={(cold_shelves) => put({ cold_shelves })}
        />
        <NumberField
          label={words.kitchen.freezerShelves}
          value={kitchen.freezer_shelves}
          least={1}
          most={200}
          whole
          put={(freezer_shelves) => put({ freezer_shelves })}
        />
        <NumberField
          label={words.kitchen.washingABowlMin}
          value={kitchen.wash_min}
          least={1}
          most={30}
          put={(wash_min) => put({ wash_min })}
        />
        <NumberField
          label={words.kitchen.yolksThatBreak}
          value={kitchen.yolk_break_pct}
          least={0}
          most={50}
          put={(yolk_break_pct) => put({ yolk_break_pct })}
        />
      </div>
    </section>
  );
}

export function Habits({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  const { habits } = kitchen;
  const { data: larder } = useQuery(larderQuery);
  const set = (change: Partial<typeof habits>) => put({ habits: { ...habits, ...change } });
  const sizes = ["EU S", "EU M", "EU L", "EU XL", "US medium", "US large", "US extra-large"] as const;
  return (
    <section aria-labelledby="habits">
      <h2 id="habits" className="border-b border-deep text-m">
        {words.kitchen.howThisKitchenMeasures}
      </h2>
      <p className="pt-1 text-s text-quiet">{words.kitchen.usedWhereAUnitCouldMean}</p>
      <div className="grid grid-cols-2 gap-3 py-3 sm:grid-cols-4">
        <Choice
          label={words.kitchen.eggSizeWhenNoneIsGiven}
          value={habits.egg_size}
          options={sizes.map((s) => [s, s] as const)}
          onChange={(egg_size) => set({ egg_size })}
        />
        <Choice
          label={words.kitchen.tablespoon}
          value={String(habits.tablespoon_ml) as "15" | "20"}
          options={
            [
              ["15", words.kitchen.n15Ml],
              ["20", words.kitchen.n20Ml],
            ] as const
          }
          onChange={(ml) => set({ tablespoon_ml: ml === "20" ? 20 : 15 })}
        />
        <Choice
          label={words.kitchen.cup}
          value={habits.cup}
          options={
            [
              ["metric", words.kitchen.metric250Ml],
              ["US", words.kitchen.us2366Ml],
            ] as const
          }
          onChange={(cup) => set({ cup })}
        />
        <Choice
          label={words.kitchen.fluidOunce}
          value={habits.fluid_ounce}
          options={
            [
              ["UK", words.kitchen.uk],
              ["US", words.kitchen.us],
            ] as const
          }
          onChange={(fluid_ounce) => set({ fluid_ounce })}
        />
        <Choice
          label={words.kitchen.temperaturesIn}
          value={habits.bare_degrees}
          options={
            [
              ["C", "°C"],
              ["F", "°F"],
            ] as const
          }
          onChange={(bare_degrees) => set({ bare_degrees })}
        />
        <Choice
          label={words.kitchen.noFanWordMeans}
          value={habits.no_fan_word}
          options={
            [
              ["conventional", words.kitchen.conventional],
              ["fan", words.kitchen.fan2],
            ] as const
          }
          onChange={(no_fan_word) => set({ no_fan_word })}
        />
        <Choice
          label={words.kitchen.paper}
          value={habits.paper ?? "A4"}
          options={
            [
              ["A4", "A4"],
              ["Letter", "Letter"],
            ] as const
          }
          onChange={(paper) => set({ paper })}
        />
        <Choice
          label={words.kitchen.language}
          value={habits.language}
          hint={habits.language === "en" ? undefined : words.kitchen.stepsAtTheBenchTheRest}
          options={(larder?.languages ?? []) as [string, string][]}
          onChange={(language) => set({ language })}
        />
        <Labelled label={words.kitchen.heapedSpoonLevelOnes}>
          {(ids) => (
            <input
              {...ids}
              type="number"
              min={1}
              max={2.5}
              step={0.1}
              value={habits.heaped}
              onChange={(e) =>
                Number(e.target.value) >= 1 && Number(e.target.value) <= 2.5 && set({ heaped: Number(e.target.value) })
              }
            />
          )}
        </Labelled>
      </div>
    </section>
  );
}
