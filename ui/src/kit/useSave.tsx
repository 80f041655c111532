import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Refused } from "../api/client";
import { words } from "../words";

/** Saving on top of the version it was opened at; where somebody was quicker, theirs and the choice. */
export function useSave<R extends { version: number }>(
  version: number,
  put: (onTop: number) => Promise<R>,
  saved: (made: R) => void,
) {
  const [onTop, setOnTop] = useState<number>();
  const save = useMutation({ mutationFn: () => put(onTop ?? version), onSuccess: saved });
  const stale = save.error instanceof Refused && save.error.problem.status === 412 ? save.error : undefined;
  return {
    save,
    /** The version it will be saved on top of */
    base: onTop ?? version,
    newer: stale?.problem.current as unknown as R | undefined,
    failure: stale ? undefined : save.error,
    keepMine: (theirs: R) => {
      setOnTop(theirs.version);
      save.reset();
    },
  };
}

/** Somebody else saved first: both are still there. */
export function Meanwhile({
  version,
  name,
  keepMine,
  takeTheirs,
  children,
}: {
  version: number;
  name: string;
  keepMine: () => void;
  takeTheirs: () => void;
  children?: ReactNode;
}) {
  return (
    <div role="alert" className="mt-2 flex flex-wrap items-center gap-3 border-l-4 border-deep pl-3">
      <p className="text-s">
        {words.kit.somebodyElseSavedVersion} {version}
        {name}
        {words.kit.yourChangesAreStillHere}
      </p>
      <button type="button" className="press" onClick={keepMine}>
        {words.kit.saveMineOverIt}
      </button>
      <button type="button" className="press" onClick={takeTheirs}>
        {words.kit.useTheirs}
      </button>
      {children && <div className="w-full">{children}</div>}
    </div>
  );
}
