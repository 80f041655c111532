import { words } from "../../words";
import { Lines } from "./Lines";
import type { StationProps } from "./station";

/** The recipe as it is kept, where it cannot be worked out: every line stays open, and the figures follow when they can. */
export function AsWritten(props: Pick<StationProps, "recipe" | "larder" | "edit" | "refused">) {
  return (
    <section aria-label={words.sheet.asWritten} className="flex max-w-3xl flex-col gap-3">
      <h2 className="border-b border-deep text-m">{words.sheet.asWritten}</h2>
      <p className="text-s text-quiet">{words.sheet.changeAnAmountOrLeaveSomething}</p>
      <Lines {...props} />
    </section>
  );
}
