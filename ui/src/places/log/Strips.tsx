import { scaleLinear } from "d3-scale";
import { Fragment } from "react";
import type { BatchView, LaidBatch } from "../../api/client";
import { FOOD, TOAST } from "../../food/colours";
import { Across } from "../../kit/charts/charts";
import { day, minutes } from "../../kit/format";
import { useWidth } from "../../kit/useWidth";
import { textWidth } from "../../kit/wrapped";
import { words } from "../../words";

type Pair = [number, number];
type Stretch = { step: string; title: string; station: keyof typeof LOOKS; planned: Pair; done: Pair | null };
/** A batch with what its strip is drawn from. */
type Laid = Pick<LaidBatch & BatchView, "id" | "started_at" | "strip"> & {
  score?: number | null;
  finished_at?: string | null;
};
export const stretches = (b: Pick<Laid, "strip">) => b.strip as unknown as Stretch[];
export const LETTERS = "ABCDEFGHIJKL";

/** What is in hand at each station, in its colour. */
const LOOKS = {
  weigh: FOOD.shell,
  sugar: FOOD.sugar,
  heat: FOOD.syrup,
  whisk: FOOD.meringue,
  shape: FOOD.cream,
  dry: TOAST.straw,
  finish: FOOD.shade,
} as const;
/** Where the names stand beside the strips, px; on anything narrower they stand above them. */
const BESIDE = 760;
const NAMES = 168;
const [THIN, GAP, THICK, APART] = [8, 3, 26, 14];
const FONT = '14px "Atkinson Hyperlegible Next Variable"';

/** How long it took, or has taken so far. */
const tookOf = (b: Laid, min: number) => (b.finished_at === null ? words.log.soFar : words.log.doneTook)(minutes(min));

/** Stretches of one station in a row, as one. */
function runs(steps: readonly { station: Stretch["station"]; span: Pair }[]) {
  const out: { station: Stretch["station"]; span: Pair }[] = [];
  for (const { station, span } of steps) {
    const last = out.at(-1);
    if (last?.station === station && span[0] - last.span[1] < 0.5) last.span = [last.span[0], span[1]];
    else out.push({ station, span: [...span] });
  }
  return out;
}

/** Batches on one line of minutes: above, thin, each as it was planned; below it as it was done, its stations by name. */
export function Strips({ batches, named }: { batches: readonly Laid[]; named: boolean }) {
  const [room, width] = useWidth<HTMLDivElement>(1100);
  const beside = width >= BESIDE;
  const all = batches.map((b) => {
    const steps = stretches(b);
    const done = steps.flatMap((s) => (s.done ? [{ ...s, span: s.done }] : []));
    const end = (spans: readonly Pair[]) => Math.max(0, ...spans.map((s) => s[1]));
    return {
      b,
      done,
      planned: steps.map((s) => ({ ...s, span: s.planned })),
      took: [end(steps.map((s) => s.planned)), end(done.map((s) => s.span))] as const,
    };
  });
  const x = scaleLinear([0, Math.max(1, ...all.flatMap(({ took }) => took))], [beside ? NAMES : 0, width - 2]);
  const head = beside ? 0 : 22;
  const row = head + THIN + GAP + THICK + APART;
  const high = all.length * row + 18;
  return (
    <div ref={room} className="mt-2">
      <svg
        viewBox={`0 0 ${width} ${high}`}
        className="block w-full"
        role="img"
        aria-label={all
          .map(({ b, took }, i) =>
            words.log.stripOf(named ? `${LETTERS[i]}, ${day(b.started_at)}` : "", minutes(took[0]), minutes(took[1])),
          )
          .join("; ")}
      >
        {all.map(({ b, done, planned, took }, i) => (
          <g key={b.id} transform={`translate(0 ${i * row})`}>
            <text x="0" y={beside ? 14 : 15} fontSize="14" fill="var(--color-quiet)">
              {named && (
                <tspan fontWeight="700" fill="currentColor">
                  {LETTERS[i]}{" "}
                </tspan>
              )}
              {named && `${day(b.started_at)}${b.score ? `, ${words.log.scored(b.score)}` : ""}`}
              {!named && words.log.plannedTook(minutes(took[0]))}
              {!beside && ` · ${tookOf(b, took[1])}`}
            </text>
            {beside && (
              <text x="0" y="32" fontSize="14" fontWeight={named ? 400 : 700} fill="currentColor">
                {tookOf(b, took[1])}
              </text>
            )}
            <g transform={`translate(0 ${head})`} strokeWidth="1" stroke={FOOD.line}>
              {runs(planned).map(({ station, span }) => (
                <rect
                  key={`${station} ${span[0]}`}
                  x={x(span[0])}
                  width={Math.max(1, x(span[1]) - x(span[0]))}
                  height={THIN}
                  fill={LOOKS[station]}
                />
              ))}
              {done.map(({ station, span, planned: [from, until], step, title }) => (
                <rect
                  key={step}
                  x={x(span[0])}
                  y={THIN + GAP}
                  width={Math.max(1, x(span[1]) - x(span[0]))}
                  height={THICK}
                  fill={LOOKS[station]}
                >
                  <title>{words.log.stepTook(title, minutes(span[1] - span[0]), minutes(until - from))}</title>
                </rect>
              ))}
            </g>
            {runs(done).map(({ station, span }) => {
              const name = words.log.stations[station];
              return (
                <Fragment key={`${station} ${span[0]}`}>
                  {textWidth(name, FONT) + 10 < x(span[1]) - x(span[0]) && (
                    <text
                      x={(x(span[0]) + x(span[1])) / 2}
                      y={head + THIN + GAP + 18}
                      textAnchor="middle"
                      fontSize="14"
                      fill={FOOD.ink}
                      pointerEvents="none"
                    >
                      {name}
                    </text>
                  )}
                </Fragment>
              );
            })}
          </g>
        ))}
        <Across at={x.ticks(Math.max(2, width / 120))} x={x} y={high - 3} told={minutes} within={[20, width - 26]} />
      </svg>
    </div>
  );
}
