import { useQuery } from "@tanstack/react-query";
import { dayListQuery } from "../../api/queries";
import { overCups } from "../../kit/format";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";

const grams = (g: number | null | undefined) =>
  g === null || g === undefined
    ? words.day.notKnown
    : g >= 1000
      ? `${(g / 1000).toFixed(2)} kg`
      : g >= 20
        ? `${g.toFixed(0)} g`
        : `${g.toFixed(1)} g`;

/** What the day takes: to buy, in the units things are sold in, and to weigh, moment by moment. */
export function Lists({ of, clockOf }: { of: string; clockOf: (at: string) => string }) {
  const { data, error, refetch } = useQuery(dayListQuery(of));
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.day.theList} />;
  const { list, eggs } = data;
  return (
    <div className="mt-3 grid min-w-0 gap-8 xl:grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)]">
      <section aria-labelledby="buy">
        <h2 id="buy" className="text-m">
          {words.day.toBuyAndFetch}
        </h2>
        <table className="w-full table-fixed text-left">
          <thead>
            <tr className="border-b border-deep text-s text-quiet">
              <th className="w-44 font-normal">{words.day.what}</th>
              <th className="w-24 pl-4 text-right font-normal">{words.day.inAll}</th>
              <th className="pl-4 font-normal">{words.day.buy}</th>
            </tr>
          </thead>
          <tbody>
            <tr className="border-b border-hairline">
              <th scope="row" className="py-1">
                {words.day.eggs}
              </th>
              <td className="text-right">{eggs.cracked}</td>
              <td className="pl-4 text-s">{overCups(eggs.breakage)}</td>
            </tr>
            {list.items.map((item) => (
              <tr key={item.key} className="border-b border-hairline align-top">
                <th scope="row" className="py-1 font-normal">
                  {item.name}
                  {item.unknown && item.mass_g !== null && (
                    <span className="block text-s text-quiet">{words.day.andSomeOfItHasNo}</span>
                  )}
                </th>
                <td className="text-right font-bold whitespace-nowrap">
                  {item.unknown && item.mass_g !== null && "over "}
                  {grams(item.mass_g)}
                </td>
                <td className="pl-4 text-s">
                  {item.packs === null || item.packs === undefined ? item.pack : `${item.packs} × ${item.pack}`}
                  {item.over_g >= 20 && (
                    <span className="text-quiet">
                      , {grams(item.over_g)} {words.day.leftOver}
                    </span>
                  )}
                  {item.uses.length > 1 && (
                    <span className="block text-quiet">
                      {item.uses.map((u) => `${u.thread} ${grams(u.mass_g)}`).join("; ")}
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {eggs.lacking.length > 0 && (
          <p className="mt-2 border-l-4 border-deep pl-3 text-s">
            {words.day.notInTheHouse} {eggs.lacking.join("; ")}.
          </p>
        )}
      </section>
      <section aria-labelledby="weigh">
        <h2 id="weigh" className="text-m">
          {words.day.toWeighInTurn}
        </h2>
        <ol className="divide-y divide-hairline border-y border-hairline">
          {list.moments.map((m) => (
            <li key={m.step} className="grid grid-cols-[4rem_1fr] gap-3 py-2">
              <b className="text-m">{clockOf(m.at)}</b>
              <div className="min-w-0">
                <p>
                  <b>{m.thread}</b>{" "}
                  <span className="text-s text-quiet">
                    {m.order === m.thread ? "" : words.day.forWord(m.order)}
                    {m.who.join(", ")}
                  </span>
                </p>
                <p className="text-s">{m.names.map((name, i) => `${name} ${grams(m.lines[i]?.mass_g)}`).join(" · ")}</p>
              </div>
            </li>
          ))}
        </ol>
      </section>
    </div>
  );
}
