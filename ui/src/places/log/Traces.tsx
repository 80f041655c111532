import { useQuery } from "@tanstack/react-query";
import type { Watching } from "../../api/client";
import { tracesQuery } from "../../api/queries";
import { Trace } from "../../kit/charts/Trace";
import { clock } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";

/** Every trace of a batch with its milestones, what the readings say of the egg, and what was kept but not counted. */
export function Traces({ id }: { id: string }) {
  const { data } = useQuery(tracesQuery(id));
  const read = (data?.watchings ?? []).filter((w) => w.readings > 0);
  return (
    <>
      {data && data.egg.label !== "no egg" && (
        <p>
          <b>
            {words.log.egg} {data.egg.label}.
          </b>{" "}
          {data.egg.because}.
        </p>
      )}
      {read.map((watching) => (
        <Told key={watching.watch} watching={watching} />
      ))}
      {(data?.doubted.length ?? 0) > 0 && (
        <p className="text-s text-quiet">
          {words.log.keptButNotCounted}{" "}
          {data?.doubted.map((d) => `${d.value} ${d.unit} of ${d.device} (${d.doubt})`).join("; ")}.
        </p>
      )}
    </>
  );
}

function Told({ watching: w }: { watching: Watching }) {
  const passed = w.milestones.filter((m) => m.passed_s !== null && m.passed_s !== undefined);
  const t = w.treatment;
  return (
    <section aria-label={words.log.trace(w.title)} className="border-t border-hairline pt-2">
      <h3 className="text-m">
        {w.title}
        <span className="text-s font-normal text-quiet">
          {" "}
          · {w.readings} {words.log.readings}
          {w.by.length > 0 ? `, ${w.by.join(" and ")}` : words.log.byHand}
        </span>
      </h3>
      <Trace watching={w} height={220} />
      <p className="text-s">
        {passed.length > 0
          ? passed.map((m) => `${m.name} ${clock(m.passed_s as number)}`).join(" · ")
          : words.log.noMilestoneWasRead}
        {!w.reached && words.log.theTargetWasNotRead}
        {w.masses.length > 0 && words.log.thePanCameDownToG(fixed(w.latest_g), fixed(w.scale_to_g))}
        {w.power_w && words.log.theBurnerGaveAboutW(fixed(w.power_w[0] as number))}
      </p>
      {t && (
        <p className="mt-1 text-s">
          {words.log.inTheBowl} {t.label}, {t.because}.
        </p>
      )}
      {w.cooling && (
        <p className="mt-1 text-s">
          <b>
            {words.log.cooling} {w.cooling.verdict}.
          </b>{" "}
          {w.cooling.says}.
        </p>
      )}
    </section>
  );
}
