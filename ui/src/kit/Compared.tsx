import { useQuery } from "@tanstack/react-query";
import { answer, http, type Product, type Recipe } from "../api/client";
import { words } from "../words";

type Two = { recipes: [Recipe, Recipe] } | { products: [Product, Product] };

/** Two versions side by side: a line for each thing that stands otherwise in them. */
export function Compared({ two, names }: { two: Two; names: readonly [string, string] }) {
  const { data } = useQuery({
    queryKey: ["compared", two],
    queryFn: () => answer(http.POST("/api/book/compare", { body: two })),
  });
  if (!data) return null;
  if (data.length === 0) return <p className="py-1 text-s">{words.kit.noDifference}</p>;
  return (
    <table className="my-1 w-full max-w-3xl border-t border-hairline text-left">
      <thead className="text-s text-quiet">
        <tr>
          <th className="font-normal">
            <span className="sr-only">{words.kit.whatDiffers}</span>
          </th>
          {names.map((name) => (
            <th key={name} className="py-1 pr-4 font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody className="divide-y divide-hairline">
        {data.map((d) => (
          <tr key={`${d.what}-${d.one}-${d.other}`}>
            <th className="py-1 pr-4">{d.what}</th>
            <td className="py-1 pr-4">{d.one}</td>
            <td className="py-1 pr-4">{d.other}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
