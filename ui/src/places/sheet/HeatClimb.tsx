import { scaleLinear } from "d3-scale";
import type { Sheet } from "../../api/client";
import { Across, Course, Level, points, Ring, Up } from "../../kit/charts/charts";
import { useDegrees } from "../../kit/degrees";
import { clock, moments } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";

export type Pan = NonNullable<NonNullable<Sheet["heat"]>["syrup"]>;

/** The climb with its stages, the whites under it, and where they meet. */
export function Climb({ pan }: { pan: Pan }) {
  const degrees = useDegrees();
  const { cook } = pan;
  const chosen = pan.starts.find((s) => s.key === pan.chosen)?.meeting;
  const [w, h] = [580, 204];
  const done = cook.done_s;
  const end =
    Math.max(
      done,
      (chosen?.start_s ?? 0) + ((chosen?.whites_s[1] as number) ?? 0),
      (chosen?.syrup_s[1] as number) ?? 0,
    ) * 1.04;
  const x = scaleLinear([0, end], [38, w - 132]);
  const y = scaleLinear([Math.min(...cook.temps_c) - 4, cook.reads_c + 8], [h - 56, 8]);
  const stages = cook.milestones.filter((m) => m.sea_c < cook.target_c - 1);
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className="w-full"
      role="img"
      aria-label={words.sheet.theSyrupClimbsToInAbout(
        degrees.show(cook.reads_c),
        clock(done),
        fixed(cook.lost_g),
        chosen ? degrees.show(chosen.start_reads_c, { digits: 0 }) : "",
        clock(chosen?.start_s ?? 0),
      )}
    >
      <Up at={[20, 60, 100]} y={y} x={32} until={w - 132} told={(t) => degrees.figure(t)} />
      <Level from={38} until={w - 132} at={y(cook.reads_c)} />
      <text x={w - 126} y={y(cook.reads_c) + 2} fontSize="14" fontWeight="700" fill="currentColor">
        {degrees.figure(cook.reads_c, { digits: 0 })} {words.sheet.pour} {clock(done)}
      </text>
      {stages.slice(-3).map((m, i) => (
        <g key={m.name}>
          <Ring at={[x(m.at_s), y(m.reads_c)]} r={4} />
          <text
            x={w - 126}
            y={y(cook.reads_c) + 20 + (stages.slice(-3).length - 1 - i) * 16}
            fontSize="14"
            fill="var(--color-quiet)"
          >
            {degrees.figure(m.reads_c, { digits: 0 })} {m.name}, {clock(m.at_s)}
          </text>
        </g>
      ))}
      <Course points={points(cook.times_s, cook.temps_c)} x={x} y={y} />
      {chosen && (
        <>
          <line
            x1={x(chosen.start_s)}
            x2={x(chosen.start_s)}
            y1={y(chosen.start_reads_c)}
            y2={h - 30}
            stroke="currentColor"
            strokeWidth="2"
            strokeDasharray="3 4"
          />
          <circle cx={x(chosen.start_s)} cy={y(chosen.start_reads_c)} r="6" fill="currentColor" />
          <rect
            x={x(chosen.start_s)}
            y={h - 44}
            width={Math.max(2, x(chosen.start_s + (chosen.whites_s[0] as number)) - x(chosen.start_s))}
            height="14"
            fill="var(--color-deep)"
          />
          <rect
            x={x(chosen.start_s + (chosen.whites_s[0] as number))}
            y={h - 44}
            width={Math.max(
              2,
              x(chosen.start_s + (chosen.whites_s[1] as number)) - x(chosen.start_s + (chosen.whites_s[0] as number)),
            )}
            height="14"
            fill="var(--color-deep)"
            opacity="0.4"
          />
          <text
            x={Math.min(x(chosen.start_s) - 8, w - 190)}
            y={h - 32}
            fontSize="14"
            textAnchor="end"
            fill="currentColor"
          >
            {x(chosen.start_s) > 120 ? "whites" : ""}
          </text>
          <rect
            x={x(chosen.syrup_s[0] as number)}
            y={y(cook.reads_c) - 8}
            width={Math.max(3, x(chosen.syrup_s[1] as number) - x(chosen.syrup_s[0] as number))}
            height="16"
            fill="var(--color-water)"
            opacity="0.3"
          />
        </>
      )}
      <Across at={moments(end)} x={x} y={h - 8} told={clock} />
    </svg>
  );
}
