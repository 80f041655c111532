import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Patch, PracticeLook, SectionPart } from "../../api/client";
import { productsQuery, recipesQuery } from "../../api/queries";
import { Cut } from "../../food/Cut";
import { foodColour, TOAST, type Toast } from "../../food/colours";
import { EggLot, EggPile } from "../../food/Eggs";
import { Held } from "../../food/Held";
import { BathBowl, FoamBowl, SugarGlass, SyrupPan, Tin, TrayTop } from "../../food/Kit";
import { Peak } from "../../food/Peak";
import { Section } from "../../food/Section";
import { ProductStands, RecipeStands } from "../../food/Stand";
import { BurnerFace, MixerFace, OvenFace, PanFace, TrayFace } from "../../food/Tools";
import { Vessel } from "../../food/Vessel";

const STAGES = ["loose", "frothy", "soft peak", "medium peak", "firm peak", "stiff glossy peak", "over-whisked"];
const TOASTS = Object.keys(TOAST) as Toast[];
const MATERIALS: Patch["material"][] = [
  ...(["foam", "shell", "sheet", "cream", "curd", "fruit", "sauce", "pastry", "sponge", "ice", "bits"] as const),
];
const COLOURS: NonNullable<Patch["colour"]>[] = [
  ...(["", "red berry", "dark berry", "green fruit", "orange fruit", "chocolate", "nut", "sabayon"] as const),
];

const part = (outline: SectionPart["outline"], x: number, y: number, width: number, height: number): SectionPart => ({
  body: `${outline}${x}`,
  outline,
  x,
  y,
  width,
  height,
});
const SHAPES: Record<string, SectionPart[]> = {
  kiss: [part("dome", 0, 0, 34, 28)],
  disc: [part("block", 0, 0, 160, 10)],
  nest: [part("block", 0, 0, 38, 10), part("round", -27, 0, 16, 32), part("round", 27, 0, 16, 32)],
  pavlova: [part("block", 0, 0, 126, 30), part("round", -89, 0, 52, 65), part("round", 89, 0, 52, 65)],
};
const profile = (body: string, core: number) => ({
  body,
  exponent: 1,
  thickness_mm: 10,
  depth_mm: [10, 6, 3, 1, 0],
  fraction: [[core, core * 0.8, core * 0.5, core * 0.2, 0.02]],
});
const box = (material: Patch["material"], colour: Patch["colour"], x: number): Patch => ({
  role: null,
  what: `${material} ${colour}`,
  material,
  colour,
  studs: colour === "" && material === "cream" ? "dark berry" : "",
  toast: null,
  points: [
    [x, 0],
    [x + 28, 0],
    [x + 28, 24],
    [x, 24],
  ],
});
const LAYOUT = {
  tray_mm: [400, 300],
  piece_mm: [76, 76],
  centres: Array.from({ length: 12 }, (_, i) => [58 + (i % 4) * 95, 55 + Math.floor(i / 4) * 95]),
  round: true,
  hollow_mm: 40,
};

const LOTS = [
  ["white", "carton", 15],
  ["white", "fresh", 2],
  ["white", "frozen", 19],
  ["white", "dried", 10],
  ["yolk", "fresh", 5],
  ["whole egg", "fresh", 30],
] as const;
const LOOK: PracticeLook = { bubbles: 0, felt: "", fill: 0, flecks: 0, tone: 0, steam: 0, stage: "", says: [] };
const LOOKS = [
  ["bowl", "loose", 0.15, 0, 0.4],
  ["bowl", "soft peak", 0.5, 0.6, 0.1],
  ["bowl", "stiff glossy peak", 0.8, 1, 0],
  ["pan", "", 0.5, 0.1, 0.9],
  ["pan", "", 0.4, 0.8, 0.5],
  ["bath", "", 0.3, 0.1, 0.2],
  ["bath", "", 0.6, 0.9, 0],
] as const;

function Group({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section>
      <h2 className="text-m">{name}</h2>
      <div className="flex flex-wrap items-end gap-4">{children}</div>
    </section>
  );
}

/** What the book holds, as it stands on the counter. */
function Book() {
  const { data: products = [] } = useQuery(productsQuery);
  const { data: recipes = [] } = useQuery(recipesQuery);
  return (
    <Group name="The book, as on the counter">
      {products.map((card) => (
        <ProductStands key={card.id} card={card} />
      ))}
      {recipes.map((card) => (
        <RecipeStands key={card.id} card={card} />
      ))}
    </Group>
  );
}

/** Every drawing of food in every state it has: to be looked at while drawing, in both lights. */
export default function KitPage() {
  return (
    <div className="flex flex-col gap-4 p-4">
      <h1 className="text-l">Drawings</h1>
      <Group name="Foam by stage">
        {STAGES.map((stage) => (
          <Peak key={stage} stage={stage} className="h-14" />
        ))}
        {[1, 3, 5, 6.4].map((litres) => (
          <FoamBowl
            key={litres}
            foam_l={litres}
            bowl_l={6.5}
            safe_l={5.2}
            stage={litres < 3 ? "soft peak" : "stiff glossy peak"}
            className="h-20"
          />
        ))}
      </Group>
      <Group name="Pieces: browned, and from wet to dry">
        {TOASTS.map((toast) => (
          <Section key={toast} parts={SHAPES.kiss ?? []} toast={toast} label={toast} className="h-14 w-20" />
        ))}
        {Object.entries(SHAPES).map(([name, parts]) => (
          <Section key={name} parts={parts} label={name} toast="ivory" className="h-14 w-36" />
        ))}
        {[0.3, 0.15, 0.03].map((core) => (
          <Section
            key={core}
            parts={SHAPES.nest ?? []}
            profiles={(SHAPES.nest ?? []).map((p) => profile(p.body, core))}
            label={String(core)}
            className="h-14 w-28"
          />
        ))}
      </Group>
      <Group name="Materials, with what shows in them">
        {COLOURS.map((colour) => (
          <Cut
            key={colour}
            label={colour}
            className="h-10 w-140"
            patches={MATERIALS.map((material, i) => box(material, colour, i * 32))}
          />
        ))}
      </Group>
      <Group name="Parts in what they are kept in">
        {MATERIALS.map((material) => (
          <Held key={material} material={material} className="h-16" />
        ))}
        {COLOURS.map((colour) => (
          <Held key={colour} material={colour.includes("berry") ? "fruit" : "cream"} colour={colour} className="h-16" />
        ))}
      </Group>
      <Group name="Eggs, sugar, pan, bath, tray, tin">
        {[0, 1, 3, 6, 12, 30, 72].map((eggs) => (
          <EggPile key={eggs} eggs={eggs} className="h-16" />
        ))}
        {[
          [1, 1.75, 20],
          [1.6, 1.75, 250],
          [2, 1.75, 500],
          [1.9, 2.5, 0],
        ].map(([ratio = 0, limit = 0, grain_um = 0]) => (
          <SugarGlass key={`${ratio} ${grain_um}`} {...{ ratio, limit, grain_um }} className="h-20" />
        ))}
        {[100, 112, 121, 145].map((reads_c) => (
          <SyrupPan key={reads_c} reads_c={reads_c} className="h-20" />
        ))}
        {(["foam", "curd"] as const).map((material) => (
          <BathBowl key={material} fill={foodColour(material)} className="h-20" />
        ))}
        <TrayTop layout={LAYOUT} filled={11} label="a tray" className="h-20" />
        <Tin wide_mm={34} high_mm={28} toast="ivory" className="h-20" />
        <Tin wide_mm={230} high_mm={65} toast="straw" className="h-20" />
      </Group>
      <Group name="Eggs by lot, good and past their date">
        {LOTS.map(([side, kind, eggs]) => (
          <EggLot key={`${side} ${kind}`} {...{ side, kind, eggs }} className="h-16 w-20" />
        ))}
        <EggLot side="yolk" kind="fresh" eggs={5} faded className="h-16 w-20" />
      </Group>
      <Group name="Bowl, pan and bath as they move in practice">
        {LOOKS.map(([drawn, stage, fill, tone, bubbles], i) => (
          <Vessel
            key={`${drawn}-${i + 1}`}
            drawn={drawn}
            look={{ ...LOOK, stage, fill, tone, bubbles, steam: tone }}
            className="h-28 w-40"
          />
        ))}
      </Group>
      <Group name="Tools">
        {[1, 2, 6].map((slots) => (
          <OvenFace key={slots} slots={slots} fan={slots > 1} className="h-16" />
        ))}
        {["stand", "hand-held", "balloon whisk"].map((kind) => (
          <MixerFace key={kind} kind={kind} className="h-16" />
        ))}
        {[600, 1800].map((power_w) => (
          <BurnerFace key={power_w} power_w={power_w} className="h-16" />
        ))}
        {[0.5, 3].map((volume_l) => (
          <PanFace key={volume_l} volume_l={volume_l} className="h-16" />
        ))}
        <TrayFace length_mm={530} width_mm={325} className="h-16" />
      </Group>
      <Book />
    </div>
  );
}
