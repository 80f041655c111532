import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { answer, http, type Recipe, type RecipeCard } from "../../api/client";
import { recipesQuery } from "../../api/queries";
import { parts } from "../../kit/format";
import { Section } from "../../kit/Section";
import { Empty, Trouble, Waiting } from "../../kit/States";

const FAMILIES = [
  ["kisses", "Kisses"],
  ["nests", "Nests"],
  ["pavlovas", "Pavlovas"],
  ["discs", "Discs"],
  ["slabs", "Slabs"],
] as const;
const VITALS = [
  ["weigh", "white"],
  ["sugar", "sugar to white"],
  ["whisk", "whisking"],
  ["dry", "in the oven"],
] as const;

/** A plain French nest to begin from; every figure is the cook's to change. */
const NEW: Recipe = {
  name: "New meringue",
  family: "nests",
  school: "french",
  whites: { kind: "fresh", size: null, temp_c: 20, old: false },
  sugars: [{ kind: "caster", ratio: 1.6, moment: "soft", written: "" }],
  additions: [],
  shape: { kind: "nest", diameter_mm: 80, height_mm: 32, base_mm: 10, wall_mm: 18, length_mm: 300, width_mm: 200, gap_mm: 20 },
  texture: "crisp",
  programme: {
    fan: true,
    start: "hot",
    steps: [
      { kind: "heat", set_c: 95, minutes: null, door: "shut" },
      { kind: "off", set_c: null, minutes: 45, door: "ajar" },
    ],
  },
  scale: { by: "pieces", amount: 12 },
  loss_pct: 4.5,
  oven: null,
  mixer: null,
  tray: null,
  notes: "",
};

export default function Recipes() {
  const { data, error, refetch } = useQuery(recipesQuery);
  const go = useNavigate();
  const queries = useQueryClient();
  const create = useMutation({
    mutationFn: () => answer(http.POST("/api/recipes", { body: NEW })),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["recipes"] });
      go(`/recipes/${made.id}`);
    },
  });
  if (error) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what="the recipes" />;
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1 className="text-l">Recipes</h1>
        <button type="button" className="press" disabled={create.isPending} onClick={() => create.mutate()}>
          New recipe
        </button>
      </div>
      {create.error && <Trouble error={create.error} />}
      {data.length === 0 && <Empty title="No recipe yet">Start with “New recipe”: a plain French nest that you change to yours.</Empty>}
      {FAMILIES.map(([family, title]) => {
        const cards = data.filter((c) => c.recipe.family === family);
        return cards.length === 0 ? null : (
          <section key={family} aria-labelledby={`family-${family}`} className="mt-4 border-t border-deep pt-2">
            <h2 id={`family-${family}`} className="text-s text-quiet">
              {title}
            </h2>
            <ul className="divide-y divide-hairline">
              {cards.map((card) => (
                <Row key={card.id} card={card} />
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

/** One recipe: its cut outline, its name, and the figures that matter, in the order of work. */
function Row({ card }: { card: RecipeCard }) {
  return (
    <li>
      <Link to={`/recipes/${card.id}`} className="grid min-h-16 grid-cols-[6.5rem_1fr] items-center gap-x-5 gap-y-1 py-2 md:grid-cols-[6.5rem_minmax(14rem,1.4fr)_2fr]">
        <Section parts={card.section} label={`${card.recipe.shape.kind}, cut`} className="max-h-13 w-full" />
        <span className="min-w-0">
          <b className="line-clamp-2 text-m">{card.recipe.name}</b>
          <span className="block text-s text-quiet">{card.trouble ?? card.says}</span>
          <span className="block text-s">
            {card.recipe.school === "all-in-one" ? "Hot water, all in one" : "French"}
            {card.warnings > 0 && (
              <b>
                {" "}
                · {card.warnings} {card.warnings === 1 ? "thing" : "things"} to look at
              </b>
            )}
          </span>
        </span>
        <span className="col-span-2 grid grid-cols-4 gap-3 md:col-span-1">
          {VITALS.map(([station, label]) => {
            const vital = card.vitals[station];
            if (!vital) return <span key={station} />;
            const { number, unit } = parts(vital);
            return (
              <span key={station}>
                <span className="text-m font-bold">{number}</span> <span className="text-s">{unit}</span>
                <span className="block text-s text-quiet">{label}</span>
              </span>
            );
          })}
        </span>
      </Link>
    </li>
  );
}
