import { FOOD } from "./colours";

/** A glass filled to its mark: what is portioned rather than shaped. */
export function Glass({ className }: { className: string }) {
  return (
    <svg viewBox="0 0 96 120" className={className} aria-hidden="true">
      <path d="M25 30L31 92H65L71 30Z" fill={FOOD.cream} />
      <path
        d="M25 30C32 18 40 26 46 14C50 26 60 16 71 30Z"
        fill={FOOD.meringue}
        stroke="currentColor"
        strokeWidth="2.5"
        strokeLinejoin="round"
      />
      <path
        d="M22 8L31 94H65L74 8M48 94V112M30 113H66"
        fill="none"
        stroke="currentColor"
        strokeWidth="2.5"
        strokeLinecap="round"
      />
    </svg>
  );
}
