import { type ReactNode, useEffect, useRef, useState } from "react";

const HOLD_MS = 700;

/** A button that acts only when held, by finger, mouse or key: for a step that can burn. */
export function HoldButton({
  onHeld,
  children,
  className = "",
  disabled,
}: {
  onHeld: () => void;
  children: ReactNode;
  className?: string;
  disabled?: boolean;
}) {
  const [since, setSince] = useState<number>();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const byFinger = useRef(false);
  const start = () => {
    if (disabled || timer.current) return;
    setSince(Date.now());
    timer.current = setTimeout(() => {
      stop();
      onHeld();
    }, HOLD_MS);
  };
  const stop = () => {
    byFinger.current = false;
    clearTimeout(timer.current);
    timer.current = undefined;
    setSince(undefined);
  };
  useEffect(() => () => clearTimeout(timer.current), []);
  return (
    <button
      type="button"
      data-main="hold"
      data-held={since !== undefined || undefined}
      disabled={disabled}
      className={`${className} relative select-none`}
      onPointerDown={(e) => {
        // The page may move under the finger; the hold does not depend on it.
        e.currentTarget.setPointerCapture(e.pointerId);
        byFinger.current = true;
        start();
      }}
      onPointerUp={stop}
      onPointerCancel={stop}
      onContextMenu={(e) => e.preventDefault()}
      onKeyDown={(e) => {
        if (e.key !== " " && e.key !== "Enter") return;
        e.preventDefault();
        if (!e.repeat) start();
      }}
      onKeyUp={stop}
      // A finger holds what it holds, wherever the focus goes; a key's end would be heard elsewhere.
      onBlur={() => !byFinger.current && stop()}
    >
      {children}
      {since !== undefined && <span className="absolute inset-x-0 bottom-0 h-1.5 bg-paper" aria-hidden="true" />}
    </button>
  );
}
