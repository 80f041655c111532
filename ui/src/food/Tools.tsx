/** What a kitchen works with, drawn from its own figures: an oven with its shelves, a mixer by its kind, a burner, a pan, a tray to scale. */

const LINE = "var(--metal-line)";
const FILL = "var(--metal)";
const drawn = { fill: "none", stroke: LINE, strokeWidth: 3, strokeLinejoin: "round", strokeLinecap: "round" } as const;

export function OvenFace({ slots, fan, className }: { slots: number; fan: boolean; className?: string }) {
  const shelves = Math.min(6, Math.max(1, slots));
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <rect x="6" y="4" width="108" height="92" rx="6" {...drawn} fill={FILL} />
      <circle cx="30" cy="16" r="4.5" fill={LINE} />
      <circle cx="90" cy="16" r="4.5" fill={LINE} />
      <rect x="18" y="28" width="84" height="58" rx="4" {...drawn} fill="var(--food-ivory)" />
      {Array.from({ length: shelves }, (_, i) => (
        <path
          key={`shelf-${i + 1}`}
          d={`M22 ${28 + (58 * (i + 1)) / (shelves + 1)}H98`}
          stroke={LINE}
          strokeWidth="2"
        />
      ))}
      {fan && (
        <g transform="translate(60 16)" fill={LINE}>
          {[0, 90, 180, 270].map((turn) => (
            <path key={turn} d="M0 0C2 -8 8 -8 8 -3C8 0 3 1 0 0Z" transform={`rotate(${turn})`} />
          ))}
        </g>
      )}
    </svg>
  );
}

export function MixerFace({ kind, className }: { kind: string; className?: string }) {
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      {kind === "balloon whisk" ? (
        <g {...drawn}>
          <path d="M60 6V38" strokeWidth="9" />
          {[-22, -11, 0, 11, 22].map((w) => (
            <path key={w} d={`M60 38C${60 + w * 1.5} 62 ${60 + w} 84 ${60 + w * 0.2} 92`} strokeWidth="2" />
          ))}
        </g>
      ) : kind === "hand-held" ? (
        <g {...drawn}>
          <path d="M24 18H86Q98 18 98 30V42H24Z" fill={FILL} />
          <path d="M34 18Q34 8 46 8H78Q90 8 90 18" />
          {[46, 74].map((x) => (
            <path
              key={x}
              d={`M${x} 42V58M${x} 58C${x - 12} 70 ${x - 8} 88 ${x} 92C${x + 8} 88 ${x + 12} 70 ${x} 58`}
              strokeWidth="2.4"
            />
          ))}
        </g>
      ) : (
        <g {...drawn}>
          <path d="M20 94H104V86H44V36H92Q104 36 104 25T92 14H34Q22 14 22 28V86H20Z" fill={FILL} />
          <path d="M58 44H98C98 66 92 78 78 78S58 66 58 44Z" fill="var(--color-surface)" />
          <path d="M78 36V46" />
        </g>
      )}
    </svg>
  );
}

export function BurnerFace({ power_w, className }: { power_w: number; className?: string }) {
  const tall = Math.min(26, 8 + power_w / 120);
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      {Array.from({ length: 7 }, (_, i) => 30 + i * 10).map((x) => (
        <path key={x} d={`M${x} 76q-5 -${tall * 0.5} 0 -${tall}q5 ${tall * 0.5} 0 ${tall}`} fill="var(--color-water)" />
      ))}
      <path d="M16 40H104M24 84H96M30 92H90" {...drawn} />
    </svg>
  );
}

export function PanFace({ volume_l, className }: { volume_l: number; className?: string }) {
  const high = Math.min(62, 26 + 12 * Math.sqrt(volume_l));
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <path d={`M14 ${88 - high}V80Q14 88 22 88H78Q86 88 86 80V${88 - high}Z`} {...drawn} fill={FILL} />
      <path d={`M86 ${96 - high}H116`} {...drawn} strokeWidth="5" />
    </svg>
  );
}

export function TrayFace({
  length_mm,
  width_mm,
  className,
}: {
  length_mm: number;
  width_mm: number;
  className?: string;
}) {
  const scale = Math.min(108 / length_mm, 88 / width_mm);
  const [long, wide] = [length_mm * scale, width_mm * scale];
  return (
    <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
      <rect x={60 - long / 2} y={50 - wide / 2} width={long} height={wide} rx="5" {...drawn} fill={FILL} />
      <rect
        x={66 - long / 2}
        y={56 - wide / 2}
        width={long - 12}
        height={wide - 12}
        rx="3"
        fill="var(--color-surface)"
      />
    </svg>
  );
}
