import type { ComponentType } from "react";
import type { Sheet, Step } from "../../api/client";
import { FoamBowl } from "../../food/Kit";
import { Peak } from "../../food/Peak";
import { words } from "../../words";
import { DryClosed } from "../sheet/Dry";
import { FinishClosed } from "../sheet/Finish";
import { HeatClosed } from "../sheet/Heat";
import { ShapeClosed } from "../sheet/Shape";
import { SugarClosed } from "../sheet/Sugar";
import type { Pictured } from "../sheet/station";
import { WeighClosed } from "../sheet/Weigh";
import { WhiskClosed } from "../sheet/Whisk";

/** The picture of each station, as it stands on the sheet. */
const PICTURES: Record<Step["station"], ComponentType<Pictured>> = {
  weigh: WeighClosed,
  sugar: SugarClosed,
  heat: HeatClosed,
  whisk: WhiskClosed,
  shape: ShapeClosed,
  dry: DryClosed,
  finish: FinishClosed,
};
/** How far a foam has risen at each stage, of its whole. */
const RISEN: Record<string, number> = { frothy: 0.35, "soft peak": 0.65, "medium peak": 0.8 };

/** What a step is to come to, drawn: the foam at its stage, else its station's picture. */
export function StateToReach({ step, sheet }: { step: Step; sheet: Sheet }) {
  if (step.peak && sheet.whisk) {
    const { bowl_l, safe_l, foam_l } = sheet.whisk;
    const [low, high] = foam_l as [number, number];
    return (
      <FoamBowl
        foam_l={((low + high) / 2) * (RISEN[step.peak] ?? 1)}
        bowl_l={bowl_l}
        safe_l={safe_l}
        stage={step.peak}
        colour={sheet.colour}
        label={words.kit.outlineOfA(step.peak)}
        className="h-full"
      />
    );
  }
  if (step.peak) return <Peak stage={step.peak} className="h-full" />;
  const Picture = PICTURES[step.key === "weigh-dry" && sheet.sugar ? "sugar" : step.station];
  return <Picture sheet={sheet} />;
}
