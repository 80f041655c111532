import { useEffect, useState } from "react";
import { canSpeak, readsAloud, setReadsAloud, speak } from "../../kit/aloud";
import { words } from "../../words";

/** Reads the step and its sign aloud when it comes, where the cook has asked for that at this tablet. */
export function Aloud({ says }: { says: string }) {
  const [on, setOn] = useState(readsAloud);
  useEffect(() => {
    if (on) speak(says);
  }, [on, says]);
  if (!canSpeak()) return null;
  return (
    <button
      type="button"
      className="min-h-14 self-start text-s underline"
      aria-pressed={on}
      onClick={() => {
        setReadsAloud(!on);
        setOn(!on);
      }}
    >
      {on ? words.bench.readAloudOn : words.bench.readAloudOff}
    </button>
  );
}
