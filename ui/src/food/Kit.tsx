import { useId } from "react";
import { Browned, edge } from "./Browned";
import { edgeOf, FOOD, foodColour, type Toast, waterColour } from "./colours";
import { surface } from "./Peak";

type Colour = Parameters<typeof foodColour>[1];
type Material = Parameters<typeof foodColour>[0];

const METAL = "var(--metal-line)";

/** Sugar in a glass to the height of its ratio, the dashed line how much the water holds; what is over it stays grain. */
export function SugarGlass({
  ratio,
  limit,
  grain_um,
  className,
}: {
  ratio: number;
  limit: number;
  grain_um: number;
  className?: string;
}) {
  const top = Math.max(limit, ratio) * 1.18;
  const y = (value: number) => 92 - (80 * value) / top;
  const dots = Array.from({ length: grain_um > 0 ? Math.min(60, Math.round(9000 / grain_um)) : 0 }, (_, i) => i);
  const grain = Math.min(2.6, 0.5 + grain_um / 260);
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <rect x="42" y={y(ratio)} width="36" height={92 - y(ratio)} fill={waterColour(0.06)} />
      {ratio > limit && <rect x="42" y={y(ratio)} width="36" height={y(limit) - y(ratio)} fill={FOOD.sugar} />}
      {dots.map((i) => {
        const x = 45 + ((i * 37) % 30);
        const at = 90 - ((i * 53) % Math.max(4, Math.min(24, 90 - y(ratio))));
        return <circle key={i} cx={x} cy={at} r={grain} fill={FOOD.sugar} stroke={FOOD.line} strokeWidth="0.6" />;
      })}
      <path
        d="M42 8V88Q42 92 46 92H74Q78 92 78 88V8"
        fill="none"
        stroke={METAL}
        strokeWidth="2.5"
        strokeLinecap="round"
      />
      <path d={`M30 ${y(limit)}H90`} stroke="currentColor" strokeWidth="2" strokeDasharray="5 3" />
    </svg>
  );
}

/** The bowl with its foam, as full as it gets and standing as it should; the dashed line is as much as it whisks safely. */
export function FoamBowl({
  foam_l,
  bowl_l,
  safe_l,
  stage,
  colour,
  label,
  className,
}: {
  foam_l: number;
  bowl_l: number;
  safe_l: number;
  stage: string;
  colour?: Colour;
  label?: string;
  className?: string;
}) {
  const id = useId();
  const clip = useId();
  const y = (litres: number) => 92 - 76 * Math.min(litres / bowl_l, 1.16);
  const [top, safe] = [y(foam_l), y(safe_l)];
  const fill = foodColour("foam", colour);
  return (
    <svg
      viewBox="0 -16 120 114"
      className={className}
      {...(label ? { role: "img", "aria-label": label } : { "aria-hidden": true })}
    >
      <defs>
        <Browned id={id} colour={fill} />
        <clipPath id={clip}>
          <path d="M14 -20V44C16 78 34 94 60 94S104 78 106 44V-20Z" />
        </clipPath>
      </defs>
      <g clipPath={`url(#${clip})`}>
        <g transform={`translate(14 ${top - 47}) scale(0.77 0.72)`}>
          <path d={`${surface(stage)}V240H4Z`} fill={`url(#${id})`} stroke={FOOD.line} strokeWidth="2.5" />
        </g>
      </g>
      <path
        d="M14 16V44C16 78 34 94 60 94S104 78 106 44V16"
        fill="none"
        stroke={METAL}
        strokeWidth="3"
        strokeLinecap="round"
      />
      <path d={`M6 ${safe}H114`} stroke="currentColor" strokeWidth="1.5" strokeDasharray="4 3" />
    </svg>
  );
}

/** A pan of syrup on its burner: bubbles small and many below the boil, large and slow as it thickens. */
export function SyrupPan({ reads_c, className }: { reads_c: number; className?: string }) {
  const thick = Math.min(1, Math.max(0, (reads_c - 100) / 45));
  const bubbles = Array.from({ length: Math.round(16 - 8 * thick) }, (_, i) => ({
    x: 25 + ((i * 29) % 63),
    y: 62 + ((i * 17) % 26),
    r: 2 + 4 * thick + (i % 3) * 0.8,
  }));
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <path
        d="M20 58H92V82Q92 88 86 88H26Q20 88 20 82Z"
        fill={`color-mix(in srgb, ${FOOD.syrup} ${Math.round(18 + 70 * thick)}%, ${FOOD.sugar})`}
      />
      {bubbles.map((b) => (
        <circle key={b.x} cx={b.x} cy={b.y} r={b.r} fill="none" stroke={edgeOf(FOOD.syrup)} strokeWidth="1.2" />
      ))}
      <path
        d="M18 36V82Q18 90 26 90H86Q94 90 94 82V36M94 46H116"
        fill="none"
        stroke={METAL}
        strokeWidth="3"
        strokeLinecap="round"
      />
      <path d="M72 14V70" stroke="currentColor" strokeWidth="2.5" strokeLinecap="round" />
      <circle cx="72" cy="74" r="4" fill="currentColor" />
    </svg>
  );
}

/** A bowl over its bath, what is in it in its colour. */
export function BathBowl({ fill, className }: { fill: string; className?: string }) {
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <path d="M22 70H98V86Q98 92 92 92H28Q22 92 22 86Z" fill={waterColour(0.1)} />
      <path d="M24 42C26 68 40 76 60 76S94 68 96 42Z" fill={fill} stroke={edgeOf(fill)} strokeWidth="1.5" />
      <path
        d="M12 30H108M18 30C20 66 36 80 60 80S100 66 102 30"
        fill="none"
        stroke={METAL}
        strokeWidth="3"
        strokeLinecap="round"
      />
      <path
        d="M20 62V86Q20 94 28 94H92Q100 94 100 86V62"
        fill="none"
        stroke={METAL}
        strokeWidth="3"
        strokeLinecap="round"
      />
      <path
        d="M46 22q5-5 0-9t0-8M60 22q5-5 0-9t0-8M74 22q5-5 0-9t0-8"
        fill="none"
        stroke="var(--color-water)"
        strokeWidth="2"
        opacity="0.6"
      />
    </svg>
  );
}

/** A tray from above with its pieces, mm. */
export function TrayTop({
  layout,
  filled,
  material = "shell",
  colour,
  label,
  className,
}: {
  layout: { tray_mm: number[]; piece_mm: number[]; centres: number[][]; round: boolean; hollow_mm: number };
  filled: number;
  material?: Material;
  colour?: Colour;
  label: string;
  className?: string;
}) {
  const id = useId();
  const [length = 0, width = 0] = layout.tray_mm;
  const [long = 0, wide = 0] = layout.piece_mm;
  const fill = foodColour(material === "foam" ? "shell" : material, colour);
  return (
    <svg viewBox={`0 0 ${length} ${width}`} className={className} role="img" aria-label={label}>
      <defs>
        <radialGradient id={id}>
          <stop offset="0.35" stopColor={fill} />
          <stop offset="1" stopColor={`color-mix(in srgb, ${fill}, ${FOOD.shade} 65%)`} />
        </radialGradient>
      </defs>
      <rect
        x="2"
        y="2"
        width={length - 4}
        height={width - 4}
        rx="8"
        fill="var(--metal)"
        stroke={METAL}
        strokeWidth="5"
      />
      {layout.centres.slice(0, filled).map(([cx = 0, cy = 0]) =>
        layout.round ? (
          <g key={`${cx}-${cy}`}>
            <circle
              cx={cx}
              cy={cy}
              r={long / 2}
              fill={`url(#${id})`}
              stroke={FOOD.line}
              strokeWidth="1"
              vectorEffect="non-scaling-stroke"
            />
            {layout.hollow_mm > 0 && (
              <circle
                cx={cx}
                cy={cy}
                r={Math.max(2, layout.hollow_mm / 2)}
                fill={FOOD.shade}
                stroke={FOOD.line}
                strokeWidth="2"
              />
            )}
          </g>
        ) : (
          <rect
            key={`${cx}-${cy}`}
            x={cx - long / 2}
            y={cy - wide / 2}
            width={long}
            height={wide}
            rx="6"
            fill={fill}
            stroke={FOOD.line}
            strokeWidth="1"
            vectorEffect="non-scaling-stroke"
          />
        ),
      )}
    </svg>
  );
}

/** A tin on its shelf, the pieces it keeps looking over its rim: as wide to their height as they are. */
export function Tin({
  wide_mm,
  high_mm,
  toast,
  colour,
  className,
}: {
  wide_mm: number;
  high_mm: number;
  toast?: Toast | null;
  colour?: Colour;
  className?: string;
}) {
  const id = useId();
  const [w, h] = [36, Math.min(30, Math.max(7, (36 * high_mm) / wide_mm))];
  const line = edge(toast);
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <defs>
        <Browned id={id} toast={toast} colour={foodColour("shell", colour)} />
      </defs>
      {[
        [42, 52],
        [78, 52],
        [60, 52 - h * 0.72],
      ].map(([x = 0, foot = 0]) => (
        <path
          key={x}
          d={`M${x - w / 2} ${foot}C${x - w / 2} ${foot - h * 0.7} ${x - w / 3} ${foot - h} ${x} ${foot - h}S${x + w / 2} ${foot - h * 0.7} ${x + w / 2} ${foot}Z`}
          fill={`url(#${id})`}
          stroke={line}
          strokeWidth="1.8"
        />
      ))}
      <path d="M20 46H100L92 94H28Z" fill="var(--metal)" stroke={METAL} strokeWidth="2.5" strokeLinejoin="round" />
      <path d="M14 46H106" stroke={METAL} strokeWidth="5" strokeLinecap="round" />
    </svg>
  );
}
