import { words } from "../words";
/** What can be taken out as a file, as it is saved. */
export function Outgoing({ links, dirty }: { links: readonly (readonly [string, string])[]; dirty: boolean }) {
  return (
    <div className="flex w-full flex-wrap items-center gap-x-5 gap-y-1">
      {links.map(([says, href]) => (
        <a
          key={href}
          className="inline-flex min-h-11 items-center underline"
          href={href}
          target="_blank"
          rel="noreferrer"
        >
          {says}
        </a>
      ))}
      {dirty && <span className="text-s text-quiet">{words.kit.filesHoldTheSavedVersionSave}</span>}
    </div>
  );
}
