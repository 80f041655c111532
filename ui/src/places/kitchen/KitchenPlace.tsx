import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, http, type Kitchen, type KitchenRecord, Refused } from "../../api/client";
import { kitchenQuery, larderQuery } from "../../api/queries";
import { TypedField } from "../../kit/Field";
import { Trouble, Waiting } from "../../kit/States";
import { useKeys } from "../../kit/useKeys";
import { words } from "../../words";
import { Copies } from "./Copies";
import { DevicesSection, Heats, Probes } from "./Heats";
import { Learned } from "./Learned";
import { Ovens } from "./Ovens";
import { OwnLarder } from "./OwnLarder";
import { Habits, Room } from "./Room";
import { Keeping, Prices } from "./Tables";
import { Mixers, Trays } from "./Tools";

export default function KitchenPlace() {
  const { data, error, refetch } = useQuery({ ...kitchenQuery, staleTime: Number.POSITIVE_INFINITY });
  const [calibrating, setCalibrating] = useState<string>(); // outlives a save, which opens the page anew
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.kitchen.theKitchen} />;
  return <Edit key={data.version} record={data} calibrating={calibrating} setCalibrating={setCalibrating} />;
}

export type Put = (change: Partial<Kitchen>) => void;

function Edit({
  record,
  calibrating,
  setCalibrating,
}: {
  record: KitchenRecord;
  calibrating: string | undefined;
  setCalibrating: (oven: string | undefined) => void;
}) {
  const queries = useQueryClient();
  const [kitchen, setKitchen] = useState(record.kitchen);
  const [past, setPast] = useState<Kitchen[]>([]);
  const dirty = JSON.stringify(kitchen) !== JSON.stringify(record.kitchen);
  const save = useMutation({
    mutationFn: () =>
      answer(http.PUT("/api/kitchen", { params: { header: { "if-match": `"${record.version}"` } }, body: kitchen })),
    onSuccess: (made) => {
      queries.setQueryData(kitchenQuery.queryKey, made);
      void queries.invalidateQueries({ queryKey: larderQuery.queryKey });
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
  useKeys((key, event) => {
    if (!event.ctrlKey || key !== "z") return false;
    undo();
    return true;
  });
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-end gap-3">
        <h1 className="grow text-l">{kitchen.name}</h1>
        <button type="button" className="press" disabled={past.length === 0} onClick={undo}>
          {words.kitchen.undo}
        </button>
        <button
          type="button"
          className="press press-first"
          disabled={!dirty || save.isPending}
          onClick={() => save.mutate()}
        >
          {words.kitchen.saveTheKitchen}
        </button>
      </div>
      {refused && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3">
          {refused.errors.length > 0
            ? refused.errors.map((e) => `${e.field.replaceAll(".", " › ")}: ${e.says}`).join(". ")
            : refused.message}
          {refused.problem.status === 412 && (
            <button
              type="button"
              className="press ml-3"
              onClick={() =>
                queries.setQueryData(kitchenQuery.queryKey, refused.problem.current as unknown as KitchenRecord)
              }
            >
              {words.kitchen.useTheirs}
            </button>
          )}
        </p>
      )}
      <Learned />
      <div className="mt-3 grid gap-x-10 gap-y-6 lg:grid-cols-2">
        <div className="flex min-w-0 flex-col gap-6">
          <Ovens kitchen={kitchen} put={put} calibrating={calibrating} setCalibrating={setCalibrating} />
          <Heats kitchen={kitchen} put={put} />
          <Probes kitchen={kitchen} boils={record.water_boils_c} put={put} />
          <DevicesSection probes={record.kitchen.probes} />
        </div>
        <div className="flex min-w-0 flex-col gap-6">
          <Room kitchen={kitchen} put={put} />
          <Mixers kitchen={kitchen} put={put} />
          <Trays kitchen={kitchen} put={put} />
          <Habits kitchen={kitchen} put={put} />
          <Keeping kitchen={kitchen} put={put} />
          <OwnLarder kitchen={kitchen} put={put} />
          <Prices kitchen={kitchen} put={put} />
          <Copies />
          <section aria-labelledby="people">
            <h2 id="people" className="border-b border-deep text-m">
              {words.kitchen.cooks}
            </h2>
            <div className="py-3">
              <TypedField
                label={words.kitchen.namesWithCommasBetween}
                shown={kitchen.cooks.join(", ")}
                width="w-full"
                read={(typed) =>
                  put({
                    cooks: typed
                      .split(",")
                      .map((n) => n.trim())
                      .filter(Boolean),
                  })
                }
              />
            </div>
          </section>
        </div>
      </div>
    </div>
  );
}
