import type { ProductCard, RecipeCard } from "../api/client";
import { bounds, Patches } from "./Cut";
import { HeldParts } from "./Held";
import { Pieces, sizeOf } from "./Section";

/** Of one that has no size of its own, or is wider than a shelf's place: how wide it is drawn. */
const HELD_WIDE = 96;
const GAP = 10;
/** The room of one dessert on its shelf, px: a mm is a pixel, so that kisses and pies stand to one scale. */
export const ROOM = { wide: 264, high: 132 } as const;

type Room = { wide: number; high: number };

/** As many as stand side by side in the room of one dessert. */
const abreast = (wide: number, made: number, room: Room) =>
  Math.max(1, Math.min(made, 5, Math.floor((room.wide * 0.8 + GAP) / (wide + GAP))));

function Row({
  wide,
  high,
  count,
  room,
  children,
}: {
  wide: number;
  high: number;
  count: number;
  room: Room;
  children: React.ReactNode;
}) {
  const all = count * wide + (count - 1) * GAP;
  const scale = Math.min(1, room.wide / all, room.high / high);
  return (
    <svg
      viewBox={`-2 ${-high - 2} ${all + 4} ${high + 3}`}
      style={{ width: (all + 4) * scale }}
      className="block max-w-full"
      aria-hidden="true"
    >
      {Array.from({ length: count }, (_, i) => (
        <g key={`piece-${i + 1}`} transform={`translate(${i * (wide + GAP)} 0)`}>
          {children}
        </g>
      ))}
    </svg>
  );
}

/** A recipe's piece as it stands on the counter, as many of it as there is room for; or in what it is kept in. */
export function RecipeStands({ card, room = ROOM }: { card: RecipeCard; room?: Room }) {
  const look = { material: card.material ?? "foam", colour: card.colour, toast: card.toast };
  if (card.section.length === 0) {
    const glasses = card.colour === "sabayon" ? 2 : 1;
    return (
      <Row wide={HELD_WIDE} high={HELD_WIDE * 0.8} count={glasses} room={room}>
        <g transform={`translate(0 ${-HELD_WIDE * 0.78}) scale(${HELD_WIDE / 120})`}>
          <HeldParts {...look} />
        </g>
      </Row>
    );
  }
  const { left, width, height } = sizeOf(card.section);
  return (
    <Row wide={width} high={height} count={abreast(width, card.pieces ?? 1, room)} room={room}>
      <g transform={`translate(${-left} 0)`}>
        <Pieces parts={card.section} {...look} material={look.material === "foam" ? "shell" : look.material} />
      </g>
    </Row>
  );
}

/** A product cut through as it stands on the counter. */
export function ProductStands({ card, room = ROOM }: { card: ProductCard; room?: Room }) {
  if (card.section.length === 0)
    return (
      <Row wide={HELD_WIDE} high={HELD_WIDE * 0.8} count={1} room={room}>
        <g transform={`translate(0 ${-HELD_WIDE * 0.78}) scale(${HELD_WIDE / 120})`}>
          <HeldParts />
        </g>
      </Row>
    );
  const { left, right, bottom, top } = bounds(card.section);
  const wide = right - left;
  const count = abreast(wide, card.product.portions / card.product.serves, room);
  return (
    <Row wide={wide} high={top - bottom} count={count} room={room}>
      <g transform={`translate(${-left} ${bottom})`}>
        <Patches patches={card.section} size={Math.max(wide, top - bottom)} />
      </g>
    </Row>
  );
}
