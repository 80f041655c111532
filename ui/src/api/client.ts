import createClient from "openapi-fetch";
import type { Readable } from "openapi-typescript-helpers";
import type { components, paths } from "./schema";

type Schemas = Readable<components["schemas"]>;
export type Recipe = Schemas["Recipe"];
export type Sheet = Schemas["Sheet"];
export type Figure = Schemas["Figure"];
export type Remark = Schemas["Remark"];
export type Kitchen = Schemas["Kitchen"];
export type KitchenRecord = Schemas["KitchenRecord"];
export type RecipeRecord = Schemas["RecipeRecord"];
export type RecipeCard = Schemas["RecipeCard"];
/** Its choices keep their pairs, which `Readable` would make lists of. */
export type Larder = Omit<Schemas["Larder"], "choices" | "roles" | "food_colours" | "allergens"> &
  Pick<components["schemas"]["Larder"], "roles" | "food_colours" | "allergens"> & {
    choices: components["schemas"]["ToChoose"];
  };
export type Weighed = Schemas["Weighed"];
export type Step = Schemas["Step"];
export type BatchView = Schemas["BatchView"];
export type BatchSummary = Schemas["BatchSummary"];
export type BenchEvent = Schemas["Event"];
export type EventRecord = Schemas["EventRecord"];
export type Outcome = Schemas["Outcome"];
export type Timer = Schemas["Timer"];
export type Watching = Schemas["Watching"];
export type BatchTraces = Schemas["BatchTraces"];
export type Product = Schemas["Product"];
export type PartLine = Schemas["PartLine"];
export type ProductSheet = Schemas["ProductSheet"];
export type ProductRecord = Schemas["ProductRecord"];
export type ProductCard = Schemas["ProductCard"];
export type LabelSheet = Schemas["LabelSheet"];
export type Incoming = Schemas["Incoming"];
export type IncomingEntry = Schemas["Entry"];
export type Patch = Schemas["Patch"];
export type Remedy = Schemas["Remedy"];
export type Side = Schemas["Side"];
export type SectionPart = Schemas["SectionPart"];
export type RecipeLine = Recipe["lines"][number];
export type WentIn = Schemas["WentIn"];
export type OwnIngredient = Schemas["OwnIngredient"];
export type Ingredient = Schemas["Ingredient"];
export type DiagnosisView = Schemas["DiagnosisView"];
export type Finding = Schemas["Finding"];
export type Question = Schemas["Recall"];
export type Trial = Schemas["Trial"];
export type TrayOfKisses = Schemas["TrayOfKisses"];
export type WeighedTray = Schemas["WeighedTray"];
export type TraysView = Schemas["TraysView"];
export type Calibration = Schemas["Calibration"];
export type BuildChoices = Schemas["BuildChoices"];
export type FirstHour = Omit<Schemas["FirstHour"], "choices"> & { choices: components["schemas"]["FirstChoices"] };
export type FirstAnswers = Schemas["FirstAnswers"];
export type StarterEntry = Schemas["StarterEntry"];
export type Storable = Schemas["Storable"];
export type StockEntry = Schemas["StockEntry"];
export type StockHouse = Schemas["StockHouse"];
export type StockLot = Schemas["StockLot"];
export type StockOffer = Schemas["StockOffer"];
export type Picture = Schemas["Picture"];
export type Touched = Schemas["Touched"];
export type Fit = Schemas["Fit"];
export type TrendPoint = Schemas["TrendPoint"];
export type OverlayView = Schemas["Overlay"];
export type LaidBatch = Schemas["Laid"];
export type LogChoices = Schemas["Choices"];
export type LogAsked = NonNullable<paths["/api/log"]["get"]["parameters"]["query"]>;
export type DrillCard = Schemas["DrillCard"];
export type PracticeView = Schemas["View"];
export type PracticeLook = Schemas["Look"];
export type PracticeAction = Schemas["Action"];
export type PracticeJudgement = Schemas["Judgement"];
export type FieldProblem = Schemas["FieldProblem"];
export type Day = Schemas["Day"];
export type Order = Schemas["Order"];
export type Shift = Schemas["Shift"];
export type DayView = Schemas["DayView"];
export type DayRecord = Schemas["DayRecord"];
export type PlanView = Schemas["PlanView"];
export type ThreadAt = Schemas["ThreadAt"];
export type StepAt = Schemas["StepAt"];
export type Spell = Schemas["Spell"];
export type OrderAt = Schemas["OrderAt"];
export type OvenAt = Schemas["OvenAt"];
export type DayMark = Schemas["Mark"];
export type MoveView = Schemas["MoveView"];
/** Places in a text are pairs, which `Readable` would make lists of. */
export type ReadText = components["schemas"]["ReadText"];
export type ReadRecipe = components["schemas"]["ReadRecipe"];
export type ReadLine = components["schemas"]["ReadLine"];
export type ReadOven = components["schemas"]["ReadOven"];
export type ReadQuestion = components["schemas"]["ReadQuestion"];
export type Answered = Schemas["Answered"];
export type EggView = Schemas["EggView"];
export type ReadEggLine = Schemas["ReadEggLine"];
export type EggEntry = Schemas["EggEntry"];
export type Lot = Schemas["Lot"];
type Problem = Schemas["Problem"];

/** What the server would not do, with the sentence for each field. `offline` when it could not be reached at all. */
export class Refused extends Error {
  readonly errors: FieldProblem[];
  constructor(
    readonly problem: Problem,
    readonly offline = false,
  ) {
    super(problem.detail);
    this.errors = problem.errors ?? [];
  }
  /** The sentence for a field; a path inside what was sent, without its envelope. */
  at(field: string): string | undefined {
    return this.errors.find((e) => e.field === field || e.field === `recipe.${field}`)?.says;
  }
}

const UNREACHABLE: Problem = {
  type: "about:blank",
  errors: [],
  title: "Not reached",
  status: 0,
  detail: "Gull Peak does not answer. What you typed is kept here; it goes on when the app is back.",
};

export const http = createClient<paths>({ baseUrl: "/" });

/** A file's bytes, sent as they are. */
export const readFile = (file: File) =>
  answer(
    http.POST("/api/files/read", {
      body: file.name, // the description calls bytes a string
      bodySerializer: () => file,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );

/** A photograph of a batch, scaled down before it is sent. */
export const sendPicture = (
  batch: string,
  id: string,
  asked: { at: string; step?: string; check?: string; cook?: string },
  data: Blob,
) =>
  answer(
    http.PUT("/api/batches/{batch_id}/pictures/{picture_id}", {
      params: { path: { batch_id: batch, picture_id: id }, query: asked },
      body: id, // the description calls bytes a string
      bodySerializer: () => data,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );

const troubled = new Set<() => void>();
/** Be told when the app does not answer, or fails at something. */
export function onTrouble(told: () => void): () => void {
  troubled.add(told);
  return () => troubled.delete(told);
}

/** Return what a call answered, or throw Refused. quiet: nobody else is told of a failure. */
export async function answer<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
  quiet = false,
): Promise<T> {
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await call;
  } catch (failure) {
    if (failure instanceof DOMException && failure.name === "AbortError") throw failure;
    if (!quiet) for (const tell of troubled) tell();
    throw new Refused(UNREACHABLE, true);
  }
  if (result.data !== undefined && result.response.ok) return result.data;
  if (!quiet && result.response.status >= 500) for (const tell of troubled) tell();
  const problem = result.error as Problem | undefined;
  throw new Refused(
    problem?.detail !== undefined
      ? problem
      : {
          type: "about:blank",
          errors: [],
          title: "Failed",
          status: result.response.status,
          detail: "Something went wrong in the app; try again.",
        },
  );
}
