import { Popover } from "radix-ui";
import type { Figure } from "../api/client";
import { words } from "../words";
import { band, parts, said } from "./format";

/** The one gesture that shows a figure's working: press the figure. Of a figure that is not there, nothing. */
export function Fig({
  figure,
  label,
  large = false,
  note,
}: {
  figure: Figure | undefined;
  label: string;
  large?: boolean;
  note?: string;
}) {
  if (!figure) return null;
  const { number, unit } = parts(figure);
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`block max-w-full rounded-k text-left ${large ? "" : "min-h-11"}`}
        aria-label={words.kit.showWorking(label, said(figure))}
      >
        {label && <span className="block text-s text-quiet">{label}</span>}
        <span className={`${large ? "text-l" : "text-m"} font-bold`}>{number}</span>
        {unit && <span className="text-s"> {unit}</span>}
        {note && <span className="block text-s text-quiet">{note}</span>}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={words.kit.workingOf(label || said(figure))}
          collisionPadding={12}
          sideOffset={6}
          className="z-20 w-88 max-w-[92vw] rounded-k border border-deep bg-surface p-4 text-s shadow-lg"
        >
          <Working figure={figure} label={label} />
          <Popover.Arrow className="fill-deep" />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Working({ figure, label }: { figure: Figure; label: string }) {
  const spread = band(figure);
  return (
    <>
      <h3 className="text-m">
        {label ? `${label}: ` : ""}
        {said(figure)}
      </h3>
      <p className="mt-1">{figure.rule}</p>
      {figure.inputs.length > 0 && (
        <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-3">
          {figure.inputs.map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-quiet">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
      )}
      <p className="mt-2 text-quiet">
        {figure.basis[0]?.toUpperCase()}
        {figure.basis.slice(1)}
        {spread ? `, ${spread}` : ""}. {figure.source}.
      </p>
    </>
  );
}

/** What an edit moved: the old figure struck out, the new one beside it. */
export function Moved({ before, after, label }: { before: Figure | undefined; after: Figure; label: string }) {
  if (!before || said(before) === said(after)) return null;
  return (
    <span className="just-moved block border-l-4 border-deep pl-2 text-s leading-tight">
      <span className="text-quiet">{label} </span>
      <s>{parts(before).number}</s> → <b className="whitespace-nowrap">{said(after)}</b>
    </span>
  );
}
