import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, type BuildChoices, http, type Larder, Refused } from "../../api/client";
import { buildsQuery, larderQuery } from "../../api/queries";
import { Choice } from "../../kit/Field";
import { words } from "../../words";

export type Begun = "recipe" | "product" | "starters";

/** What is begun: a recipe from one of everything the app can make, a product from its parts, or a copy out of the starter book. */
export function Begin({ open, setOpen }: { open?: Begun | "nothing"; setOpen: (what: Begun | "nothing") => void }) {
  const larder = useQuery(larderQuery);
  const press = (what: Begun, says: string) => (
    <button
      type="button"
      className="min-h-11 underline"
      aria-expanded={open === what}
      onClick={() => setOpen(open === what ? "nothing" : what)}
    >
      {says}
    </button>
  );
  return (
    <section aria-label={words.recipes.beginSomething} className="contents">
      {press("recipe", words.recipes.newRecipe)}
      {press("product", words.recipes.newProduct)}
      {press("starters", words.start.starterBook)}
      {open === "recipe" && larder.data && <Starters starters={larder.data.starters} />}
      {open === "product" && <Builds />}
    </section>
  );
}

function Starters({ starters }: { starters: Larder["starters"] }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const begin = useMutation({
    mutationFn: (starter: string) => answer(http.POST("/api/recipes/begun", { body: { starter } })),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["recipes"] });
      sessionStorage.setItem("gullpeak-station", "weigh");
      go(`/recipes/${made.id}`);
    },
  });
  const groups = [...new Set(starters.map((s) => s.group_name))];
  return (
    <div className="order-1 grid basis-full text-ink gap-x-6 gap-y-4 border-y border-deep py-3 sm:grid-cols-2 lg:grid-cols-4">
      {groups.map((group) => (
        <div key={group}>
          <h2 className="text-s text-quiet">{group}</h2>
          <ul>
            {starters
              .filter((s) => s.group_name === group)
              .map((s) => (
                <li key={s.key}>
                  <button
                    type="button"
                    className="min-h-11 text-left underline"
                    disabled={begin.isPending}
                    onClick={() => begin.mutate(s.key)}
                  >
                    {s.name}
                  </button>
                </li>
              ))}
          </ul>
        </div>
      ))}
      <Failure error={begin.error} />
    </div>
  );
}

function Builds() {
  const { data } = useQuery(buildsQuery);
  const [key, setKey] = useState<string>();
  const build = data?.find((b) => b.key === key);
  return (
    <div className="order-1 flex basis-full text-ink flex-col gap-3 border-y border-deep py-3">
      <div className="flex flex-wrap gap-x-5">
        {(data ?? []).map((b) => (
          <button
            key={b.key}
            type="button"
            aria-pressed={b.key === key}
            className={`min-h-11 ${b.key === key ? "font-bold" : "underline"}`}
            onClick={() => setKey(b.key)}
          >
            {b.name}
          </button>
        ))}
      </div>
      {build && <Parts key={build.key} build={build} />}
    </div>
  );
}

type PartChoice = BuildChoices["parts"][number]["choices"][number];
const id = (c: PartChoice) => (c.of ? `of:${c.of}` : `starter:${c.starter}`);

/** Each part a product asks for: one of the book, or one that is begun with it. */
function Parts({ build }: { build: BuildChoices }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [chosen, setChosen] = useState(() =>
    build.parts.map((p) => (p.needed && p.choices[0] ? id(p.choices[0]) : "")),
  );
  const begin = useMutation({
    mutationFn: () =>
      answer(
        http.POST("/api/products/begun", {
          body: {
            build: build.key,
            parts: chosen.map((c) => {
              const [kind, key] = c.split(":");
              return { of: kind === "of" ? key : null, starter: kind === "starter" ? key : null };
            }),
          },
        }),
      ),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["recipes"] });
      void queries.invalidateQueries({ queryKey: ["products"] });
      go(`/products/${made.id}`);
    },
  });
  return (
    <form
      className="flex flex-wrap items-end gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        begin.mutate();
      }}
    >
      {build.parts.map((part, i) => (
        <Choice
          key={`${part.role}-${part.choices[0]?.name}`}
          label={part.needed ? part.role_name : words.recipes.ifYouLike(part.role_name)}
          value={chosen[i] ?? ""}
          options={[
            ...(part.needed ? [] : [["", words.recipes.leftOut] as const]),
            ...part.choices.map((c) => [id(c), c.of ? c.name : words.recipes.makeNew(c.name)] as const),
          ]}
          onChange={(next) => setChosen(chosen.map((c, k) => (k === i ? next : c)))}
        />
      ))}
      <button type="submit" className="press press-first" disabled={begin.isPending}>
        {words.recipes.makeIt}
      </button>
      <Failure error={begin.error} />
    </form>
  );
}

const Failure = ({ error }: { error: Error | null }) =>
  error && (
    <p role="alert" className="col-span-full text-s text-spot">
      {error instanceof Refused ? (error.errors[0]?.says ?? error.message) : error.message}
    </p>
  );
