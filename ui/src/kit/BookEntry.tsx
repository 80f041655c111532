import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { answer, http } from "../api/client";
import { words } from "../words";

const placeOf = (kind: "recipe" | "product") => (kind === "recipe" ? "recipes" : "products");

/** What may be done with an entry of the book as a whole: duplicate it, put it away. */
export function BookEntry({ id }: { id: string }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const path = { path: { entry_id: id } };
  const again = () =>
    void queries.invalidateQueries({
      predicate: (q) => ["recipes", "products", "archived"].includes(String(q.queryKey[0])),
    });
  const copy = useMutation({
    mutationFn: () => answer(http.POST("/api/book/{entry_id}/copy", { params: path })),
    onSuccess: (made) => {
      again();
      go(`/${placeOf(made.kind)}/${made.id}`);
    },
  });
  const away = useMutation({
    mutationFn: () => answer(http.PUT("/api/book/{entry_id}/archived", { params: path, body: { archived: true } })),
    onSuccess: () => {
      again();
      go("/recipes");
    },
  });
  return (
    <div className="flex w-full flex-wrap gap-3">
      <button type="button" className="press" disabled={copy.isPending} onClick={() => copy.mutate()}>
        {words.kit.duplicate}
      </button>
      <button type="button" className="press" disabled={away.isPending} onClick={() => away.mutate()}>
        {words.kit.archive}
      </button>
      {(copy.error ?? away.error) && (
        <p role="alert" className="text-s text-spot">
          {(copy.error ?? away.error)?.message}
        </p>
      )}
    </div>
  );
}
