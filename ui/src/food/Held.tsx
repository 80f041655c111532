import { useId } from "react";
import type { Patch } from "../api/client";
import { Browned, edge } from "./Browned";
import { edgeOf, foodColour, type Toast } from "./colours";

type Vessel = "glass" | "bowl" | "jar" | "jug" | "dish" | "heap" | "slice" | "scoop";

/** What a part without a shape of its own stands in. */
const IN: Partial<Record<Patch["material"], Vessel>> = {
  foam: "bowl",
  cream: "bowl",
  curd: "jar",
  fruit: "dish",
  sauce: "jug",
  bits: "heap",
  sponge: "slice",
  pastry: "slice",
  ice: "scoop",
};

/** The outline of each vessel (none: it stands by itself) and of what is in it, 120 × 100, standing on y = 96. */
const SHAPES: Record<Vessel, { vessel?: string; filled: string; rough?: boolean }> = {
  glass: {
    vessel: "M34 8L57 62V90M86 8L63 62V90M42 94H78",
    filled: "M38 20C42 12 48 18 53 14C58 8 64 16 70 13C76 11 80 15 82 20L63 61H57Z",
  },
  bowl: {
    vessel: "M18 44C20 78 36 94 60 94S100 78 102 44",
    filled:
      "M18 50C26 46 34 48 42 44C50 40 52 22 62 16C72 12 80 22 74 29C70 26 66 30 70 37C76 46 92 46 102 50C98 78 84 92 60 92S22 78 18 50Z",
  },
  jar: {
    vessel: "M36 22H84M40 22V34C32 38 32 44 32 50V86Q32 94 40 94H80Q88 94 88 86V50C88 44 88 38 80 34V22",
    filled: "M34 46Q60 52 86 46V86Q86 92 80 92H40Q34 92 34 86Z",
  },
  jug: {
    vessel: "M34 26L40 88Q41 94 47 94H75Q81 94 82 88L88 26L98 18H30ZM86 42C108 36 110 66 84 70",
    filled: "M36 44Q60 50 86 44L81 88Q80 92 75 92H47Q42 92 41 88Z",
  },
  dish: {
    vessel: "M14 62H106C102 84 86 94 60 94S18 84 14 62Z",
    filled: "M22 62C26 46 34 42 42 50C46 36 60 34 64 46C72 36 86 40 86 50C94 46 98 54 98 62Z",
    rough: true,
  },
  heap: { filled: "M14 94C30 88 40 62 60 54C80 60 90 88 106 94Z", rough: true },
  slice: { filled: "M12 66L96 58L110 66V88L104 94H12Z" },
  scoop: { filled: "M26 94C22 58 42 36 60 36S98 58 94 94Z" },
};

/** Berries, nuts, crumbs in a heap. */
const BITS = [
  [36, 56],
  [50, 50],
  [64, 56],
  [78, 54],
  [88, 58],
  [44, 60],
  [58, 62],
  [72, 62],
] as const;

/** What is portioned rather than shaped, in what a cook keeps it in: its material, its colour, how far it is browned. */
export function Held({
  material = "foam",
  colour = "",
  toast,
  className,
}: {
  material?: Patch["material"];
  colour?: Patch["colour"];
  toast?: Toast | null;
  className?: string;
}) {
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <HeldParts {...{ material, colour, toast }} />
    </svg>
  );
}

/** The same without a picture of its own, 120 × 100. */
export function HeldParts({
  material = "foam",
  colour = "",
  toast,
}: {
  material?: Patch["material"];
  colour?: Patch["colour"];
  toast?: Toast | null;
}) {
  const id = useId();
  const kind = colour === "sabayon" ? "glass" : (IN[material] ?? "bowl");
  const { vessel, filled, rough } = SHAPES[kind];
  const fill = foodColour(material, colour);
  const foam = kind === "bowl" || kind === "glass" || kind === "scoop";
  const line = material === "foam" && !colour ? edge(toast) : edgeOf(fill);
  return (
    <>
      <defs>
        <Browned id={id} toast={toast} colour={fill} />
      </defs>
      <path d={filled} fill={foam ? `url(#${id})` : fill} stroke={line} strokeWidth="2" strokeLinejoin="round" />
      {rough &&
        BITS.map(([x, y]) => (
          <circle
            key={x}
            cx={x}
            cy={kind === "heap" ? y + 24 : y}
            r="6.5"
            fill={fill}
            stroke={line}
            strokeWidth="1.5"
          />
        ))}
      {vessel && (
        <path
          d={vessel}
          fill={kind === "dish" ? "var(--color-surface)" : "none"}
          stroke="var(--metal-line)"
          strokeWidth="2.5"
          strokeLinejoin="round"
          strokeLinecap="round"
        />
      )}
    </>
  );
}
