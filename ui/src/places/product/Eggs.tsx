import { memo } from "react";
import { Link } from "react-router";
import type { ProductSheet } from "../../api/client";
import { FOOD } from "../../food/colours";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";
import type { StationProps } from "./station";

type Sides = ProductSheet["eggs"];

/** Both sides of the egg as bars from one middle: whites to the left, yolks to the right, a part a stretch, what is over hollow. */
function SidesPicture({ eggs, large = false }: { eggs: Sides; large?: boolean }) {
  const perWhite = eggs.white_eggs > 0 ? eggs.white_g / eggs.white_eggs : 1;
  const perYolk = eggs.yolk_eggs > 0 ? eggs.yolk_g / eggs.yolk_eggs : 1;
  const most = Math.max(1, eggs.cracked - eggs.whole_eggs);
  const used = eggs.uses.filter((u) => u.fresh && (u.white_g > 0 || u.yolk_g > 0));
  const step = 170 / most;
  const bars = (side: "white" | "yolk") => {
    const per = side === "white" ? perWhite : perYolk;
    let at = 0;
    return used
      .filter((u) => u[`${side}_g`] > 0)
      .map((u) => {
        const from = at;
        at += u[`${side}_g`] / per;
        return { part: u.part, from, to: at };
      });
  };
  const whites = bars("white");
  const yolks = bars("yolk");
  const height = large ? 96 : 60;
  const middle = 200;
  return (
    <svg
      viewBox={`0 0 400 ${height}`}
      className={large ? "w-full" : "h-14 w-full"}
      preserveAspectRatio={large ? undefined : "none"}
      role={large ? "img" : undefined}
      aria-hidden={large ? undefined : true}
      aria-label={large ? words.product.gWhiteAndGYolkUsed(fixed(eggs.white_g), fixed(eggs.yolk_g), most) : undefined}
    >
      {Array.from({ length: Math.min(most, 60) }, (_, i) => (
        <g key={`egg-${i + 1}`} stroke="var(--color-hairline)">
          <line x1={middle - (i + 1) * step} x2={middle - (i + 1) * step} y1="8" y2={height - 22} />
          <line x1={middle + (i + 1) * step} x2={middle + (i + 1) * step} y1="8" y2={height - 22} />
        </g>
      ))}
      <rect
        x={middle - most * step}
        y="14"
        width={most * step}
        height={height - 42}
        fill="none"
        stroke="currentColor"
        strokeDasharray="3 3"
      />
      <rect
        x={middle}
        y="14"
        width={most * step}
        height={height - 42}
        fill="none"
        stroke="currentColor"
        strokeDasharray="3 3"
      />
      {whites.map((b, i) => (
        <rect
          key={b.part}
          x={middle - b.to * step}
          y="14"
          width={(b.to - b.from) * step}
          height={height - 42}
          fill={i % 2 ? FOOD.cream : FOOD.meringue}
          stroke="currentColor"
          strokeWidth="1.5"
        />
      ))}
      {yolks.map((b, i) => (
        <rect
          key={b.part}
          x={middle + b.from * step}
          y="14"
          width={(b.to - b.from) * step}
          height={height - 42}
          fill={i % 2 ? FOOD.yolk : FOOD.curd}
          stroke="currentColor"
          strokeWidth="1.5"
        />
      ))}
      <line x1={middle} x2={middle} y1="4" y2={height - 18} stroke="currentColor" strokeWidth="2.5" />
      {large && (
        <>
          <text x={middle - 6} y={height - 4} fontSize="14" textAnchor="end" fill="currentColor">
            {words.product.whites}
          </text>
          <text x={middle + 6} y={height - 4} fontSize="14" fill="currentColor">
            {words.product.yolks}
          </text>
        </>
      )}
    </svg>
  );
}

export const EggsClosed = memo(function EggsClosed({ sheet }: { sheet: ProductSheet }) {
  return <SidesPicture eggs={sheet.eggs} />;
});

export function EggsOpen({ sheet }: StationProps) {
  const { eggs } = sheet;
  const bought = eggs.uses.filter((u) => !u.fresh);
  return (
    <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col gap-4">
        <SidesPicture eggs={eggs} large />
        <p className="text-m">
          <b>{eggs.says}</b> {eggs.cracked} {words.product.eggsOf} {eggs.size} {words.product.toCrack}
          {eggs.whole_eggs ? words.product.ofThemWhole(eggs.whole_eggs) : ""}.
        </p>
        <table className="w-full text-left">
          <caption className="sr-only">{words.product.whatEachPartTakesOfThe}</caption>
          <thead>
            <tr className="border-b border-deep text-s text-quiet">
              <th className="font-normal">{words.product.part}</th>
              <th className="pl-4 text-right font-normal">{words.product.whiteG}</th>
              <th className="pl-4 text-right font-normal">{words.product.yolkG}</th>
              <th className="pl-4 text-right font-normal">{words.product.wholeG}</th>
            </tr>
          </thead>
          <tbody>
            {eggs.uses.map((u) => (
              <tr key={`${u.part}-${u.white_g}-${u.yolk_g}`} className="border-b border-hairline">
                <th scope="row" className="py-1 font-normal">
                  {u.part}
                  {!u.fresh && <span className="text-s text-quiet"> {words.product.fromTheCartonOrDried}</span>}
                </th>
                {[u.white_g, u.yolk_g, u.whole_g].map((g, i) => (
                  <td key={["white", "yolk", "whole"][i]} className="text-right">
                    {g > 0 ? fixed(g) : ""}
                  </td>
                ))}
              </tr>
            ))}
            <tr className="border-b border-hairline">
              <th scope="row" className="py-1">
                {words.product.inEggs}
              </th>
              <td className="text-right">{fixed(eggs.white_eggs, 1)}</td>
              <td className="text-right">{fixed(eggs.yolk_eggs, 1)}</td>
              <td className="text-right">{eggs.whole_eggs || ""}</td>
            </tr>
            <tr className="border-b border-deep">
              <th scope="row" className="py-1">
                {words.product.leftOverG}
              </th>
              <td className="text-right font-bold">{fixed(eggs.white_left_g)}</td>
              <td className="text-right font-bold">{fixed(eggs.yolk_left_g)}</td>
              <td />
            </tr>
          </tbody>
        </table>
        {bought.length > 0 && (
          <p className="text-s text-quiet">
            {fixed(eggs.bought_in_g)} {words.product.gComeWithoutShellsAndFree}
          </p>
        )}
      </div>
      <section aria-labelledby="pairs">
        <h3 id="pairs" className="border-b border-hairline text-m">
          {eggs.pairs.length
            ? words.product.whatWouldCloseTheGap
            : eggs.closes
              ? words.product.bothSidesClose
              : words.product.nothingInTheBookTakesSo}
        </h3>
        <ul className="divide-y divide-hairline">
          {eggs.pairs.map((pair) => (
            <li key={pair.recipe} className="flex min-h-12 items-center justify-between gap-4">
              <span>
                <b>{pair.portions} ×</b> {pair.name}
                <span className="block text-s text-quiet">
                  {words.product.leaves} {fixed(pair.leaves_g)} {words.product.gOf} {pair.side}
                </span>
              </span>
              <Link className="press" to={`/recipes/${pair.recipe}`}>
                {words.product.open}
              </Link>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
