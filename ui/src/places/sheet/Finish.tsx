import { memo } from "react";
import { scaleLog } from "d3-scale";
import { Fig } from "../../kit/Fig";
import { Caution, Remarks } from "../../kit/Remarks";
import { Section } from "../../kit/Section";
import type { Pictured, StationProps } from "./station";

export const FinishClosed = memo(function FinishClosed({ sheet }: Pictured) {
  return (
    <span className="flex h-56 w-full flex-col justify-end gap-2">
      <Section parts={sheet.shape.section} label="the finished piece" className="max-h-24 w-full" />
      <span className="text-s text-quiet">{sheet.finish.label}</span>
    </span>
  );
});

const longest = 24 * 60;
const said = (hours: number | null | undefined) => (hours === null || hours === undefined ? "keeps while the air stays this dry" : hours === 0 ? "soft from the start" : hours < 48 ? `${hours < 10 ? hours.toFixed(1) : hours.toFixed(0)} h` : `${(hours / 24).toFixed(0)} days`);

export function FinishOpen({ sheet, kitchen }: StationProps) {
  const { figures, remarks, keeping, label, because, cautions } = sheet.finish;
  const x = scaleLog([0.5, longest], [0, 100]).clamp(true);
  return (
    <div className="grid gap-6 xl:grid-cols-[minmax(0,1.2fr)_1fr]">
      <div className="flex min-w-0 flex-col gap-4">
        <h3 className="text-m">
          Hours of snap in this room: {kitchen.room_c} °C, {kitchen.room_rh_pct} % humidity
        </h3>
        <ul className="flex flex-col gap-3">
          {keeping.map((k) => (
            <li key={k.container}>
              <div className="flex justify-between gap-4">
                <span>{k.container}</span>
                <b>{said(k.hours)}</b>
              </div>
              <div className="h-3 border border-quiet" aria-hidden="true">
                <div className="h-full bg-water" style={{ width: `${k.hours === null || k.hours === undefined ? 100 : k.hours <= 0.5 ? 0 : x(k.hours)}%` }} />
              </div>
              <p className="text-s text-quiet">air inside {k.air_rh_pct.toFixed(0)} % humidity</p>
            </li>
          ))}
        </ul>
        <p className="text-s text-quiet">Bars run from half an hour to two months, each step ten times the last.</p>
        <div className="flex gap-8">
          <Fig figure={figures.snap as never} label="Open tray" large />
          <Fig figure={figures.cooling as never} label="Cools in the oven" large />
        </div>
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        <div>
          <p className="text-s text-quiet">Egg in it is</p>
          <p className="text-l font-bold">{label}</p>
          <p className="text-s">{because}.</p>
        </div>
        {cautions.map((says) => (
          <Caution key={says} says={says} />
        ))}
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}
