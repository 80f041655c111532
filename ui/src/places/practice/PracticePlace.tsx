import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { DrillCard } from "../../api/client";
import { drillsQuery } from "../../api/queries";
import { Vessel } from "../../food/Vessel";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";
import { Play } from "./Play";

const KINDS: readonly (readonly [DrillCard["kind"], string, string])[] = [
  ["bowl", words.practice.theBowl, words.practice.whitesToAStiffPeakWhen],
  ["pan", words.practice.thePan, "A syrup to firm ball and the whites to meet it; the drop where the probe is dead."],
  ["bath", words.practice.theBath, words.practice.eggToTheRibbonAndOff],
  ["peak", words.practice.readThePeak, words.practice.nameItAndSayWhatTo],
];

/** Practice: what a cook would see and feel, and figures only when asked. */
export default function PracticePlace() {
  const { drill } = useParams();
  const { data, error, refetch } = useQuery(drillsQuery);
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.practice.theDrills} />;
  const card = data.find((d) => d.key === drill);
  if (card) return <Play key={card.key} drill={card} />;
  return (
    <div className="mx-auto w-full max-w-[1300px] px-4 py-4 md:px-6">
      <h1 className="text-l">{words.practice.practice}</h1>
      <p className="text-m text-quiet">{words.practice.noEggIsLostHereThe}</p>
      <ul className="mt-3 divide-y divide-hairline border-y border-hairline">
        {KINDS.map(([kind, name, says]) => (
          <li
            key={kind}
            className="grid items-center gap-x-8 gap-y-2 py-4 md:grid-cols-[9rem_minmax(0,1fr)_minmax(0,2fr)]"
          >
            <Vessel drawn={kind} look={LOOKS[kind]} className="h-24 w-36" />
            <div className="min-w-0">
              <h2 className="text-m">{name}</h2>
              <p className="text-s text-quiet">{says}</p>
            </div>
            <ol className="grid gap-3 sm:grid-cols-3">
              {data
                .filter((d) => d.kind === kind)
                .map((d) => (
                  <li key={d.key}>
                    <Link
                      to={`/practice/${d.key}`}
                      className="press block h-full flex-col items-start justify-start py-2 text-left font-normal"
                    >
                      <b className="text-m">
                        {d.level}. {d.title}
                      </b>
                      <span className="block text-s text-quiet">{d.says}</span>
                      <span className="block text-s">
                        {d.progress.runs === 0
                          ? words.practice.notTriedYet
                          : words.practice.passedOf(d.progress.passed, d.progress.runs)}
                      </span>
                    </Link>
                  </li>
                ))}
            </ol>
          </li>
        ))}
      </ul>
    </div>
  );
}

const AT_REST = {
  says: [],
  felt: "",
  stage: "stiff glossy peak",
  fill: 0.45,
  bubbles: 0.1,
  tone: 1,
  flecks: 0,
  steam: 0,
  levels: {},
};
const LOOKS: Record<DrillCard["kind"], typeof AT_REST> = {
  bowl: AT_REST,
  pan: { ...AT_REST, fill: 0.5, bubbles: 0.7, tone: 0, steam: 0.6 },
  bath: { ...AT_REST, fill: 0.5, tone: 0.7, steam: 0.4 },
  peak: { ...AT_REST, stage: "medium peak" },
};
