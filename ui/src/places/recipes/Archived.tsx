import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, http } from "../../api/client";
import { archivedQuery } from "../../api/queries";
import { words } from "../../words";

/** What is put away, the latest first; a press brings it back. */
export function Archived() {
  const { data } = useQuery(archivedQuery);
  const queries = useQueryClient();
  const back = useMutation({
    mutationFn: (id: string) =>
      answer(
        http.PUT("/api/book/{entry_id}/archived", { params: { path: { entry_id: id } }, body: { archived: false } }),
      ),
    onSuccess: () =>
      void queries.invalidateQueries({
        predicate: (q) => ["recipes", "products", "archived"].includes(String(q.queryKey[0])),
      }),
  });
  if (!data?.length) return null;
  return (
    <details className="mt-8 border-t border-hairline pt-2">
      <summary className="min-h-11 cursor-pointer">{words.recipes.archived(data.length)}</summary>
      <ul className="divide-y divide-hairline">
        {data.map((entry) => (
          <li key={entry.id} className="flex min-h-14 items-center justify-between gap-4">
            <span>{entry.name}</span>
            <button
              type="button"
              className="press"
              aria-label={words.recipes.bringBackThis(entry.name)}
              disabled={back.isPending}
              onClick={() => back.mutate(entry.id)}
            >
              {words.recipes.bringBack}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
