import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type Answered, answer, http, type ReadText, Refused } from "../../api/client";

export interface Writing {
  text: string;
  answers: Answered[];
}
const KEY = "gullpeak-writing";
const NOTHING: Writing = { text: "", answers: [] };
const QUIET_MS = 250;
const AGAIN_MS = 3000;

/** What was written last on this tablet: it survives a reload and a link away, until it is kept or begun again. */
function kept(): Writing {
  try {
    const found = JSON.parse(localStorage.getItem(KEY) ?? "null") as Writing | null;
    return found && typeof found.text === "string" && Array.isArray(found.answers) ? found : NOTHING;
  } catch {
    return NOTHING;
  }
}

/** Letters as the server counts them: a sign outside the common plane is one. */
export const letters = (text: string) => Array.from(text);
export const stretch = (text: string, [from, to]: readonly [number, number]) => letters(text).slice(from, to).join("");

/** Which of the phrases with the same words one is: so an answer stays with its own when others are edited. */
function nth(text: string, written: string, from: number): number {
  return written ? letters(text).slice(0, from).join("").split(written).length - 1 : 0;
}

/** A text under the hand, what was answered about it, and what it is read as; nothing of it is lost. */
export function useWriting() {
  const [writing, setWriting] = useState(kept);
  const [before, setBefore] = useState<Writing>();
  const [asked, setAsked] = useState(writing);
  useEffect(() => {
    localStorage.setItem(KEY, JSON.stringify(writing));
    const quiet = setTimeout(() => setAsked(writing), QUIET_MS);
    return () => clearTimeout(quiet);
  }, [writing]);
  const read = useQuery({
    queryKey: ["read", asked],
    queryFn: () => answer(http.POST("/api/read", { body: asked })) as Promise<unknown> as Promise<ReadText>,
    enabled: asked.text.trim() !== "",
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: (_, failure) => failure instanceof Refused && failure.offline,
    retryDelay: AGAIN_MS,
  });
  const away = read.failureReason instanceof Refused && read.failureReason.offline;
  const give = (span: readonly [number, number], key: string) => {
    const written = stretch(asked.text, span);
    const at = nth(asked.text, written, span[0]);
    const what = key.split(":")[0];
    const others = writing.answers.filter(
      (a) => a.written !== written || a.nth !== at || !sameKind(a.key.split(":")[0], what),
    );
    setWriting({ ...writing, answers: key ? [...others, { written, nth: at, key }] : others });
  };
  const answeredAt = (span: readonly [number, number]) => {
    const written = stretch(asked.text, span);
    const at = nth(asked.text, written, span[0]);
    return writing.answers.some((a) => a.written === written && a.nth === at);
  };
  const forget = (span: readonly [number, number]) => {
    const written = stretch(asked.text, span);
    const at = nth(asked.text, written, span[0]);
    setWriting({ ...writing, answers: writing.answers.filter((a) => a.written !== written || a.nth !== at) });
  };
  return {
    writing,
    /** The text that `found` is of */
    text: asked.text,
    found: asked.text.trim() === "" ? undefined : read.data,
    fresh: asked === writing && !read.isFetching && !read.isPlaceholderData,
    failed: read.error,
    /** The app does not answer; it is asked again */
    offline: read.fetchStatus === "paused" || away,
    put: (text: string) => setWriting({ ...writing, text }),
    give,
    forget,
    answeredAt,
    clear: () => {
      setBefore(writing);
      setWriting(NOTHING);
    },
    before,
    bringBack: () => {
      if (before) setWriting(before);
      setBefore(undefined);
    },
  };
}

/** An amount and its being left unknown are two answers to one question. */
const sameKind = (one: string | undefined, two: string | undefined) =>
  one === two || (["g", "leave"].includes(one ?? "") && ["g", "leave"].includes(two ?? ""));
