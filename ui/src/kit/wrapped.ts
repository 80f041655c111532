import { useEffect, useState } from "react";

let canvas: CanvasRenderingContext2D | null | undefined;

/** How wide a text stands, px. font: as CSS writes it. */
export function textWidth(text: string, font: string): number {
  canvas ??= document.createElement("canvas").getContext("2d");
  if (!canvas) return text.length * 8;
  canvas.font = font;
  return canvas.measureText(text).width;
}

const LEAST_LETTERS = 3;

/** A text in lines no wider than this, px, broken between words and behind hyphens; a word wider by itself where it must be. */
export function wrapped(text: string, width: number, font: string): string[] {
  const lines: string[] = [];
  let line = "";
  for (const [word] of text.matchAll(/\S+?(?:-(?=\S)|(?=\s|$))\s*/g)) {
    if (textWidth((line + word).trimEnd(), font) <= width) {
      line += word;
      continue;
    }
    if (line) lines.push(line.trimEnd());
    line = word;
    while (textWidth(line.trimEnd(), font) > width && line.trimEnd().length > 2 * LEAST_LETTERS) {
      let fits = line.trimEnd().length - LEAST_LETTERS;
      while (fits > LEAST_LETTERS && textWidth(`${line.slice(0, fits)}-`, font) > width) fits -= 1;
      lines.push(`${line.slice(0, fits)}-`);
      line = line.slice(fits);
    }
  }
  if (line.trim()) lines.push(line.trimEnd());
  return lines;
}

/** Counts up once the page's fonts are there: what was measured before is measured anew. */
export function useFonts(): number {
  const [come, setCome] = useState(0);
  useEffect(() => {
    let gone = false;
    void document.fonts.ready.then(() => !gone && setCome(1));
    return () => {
      gone = true;
    };
  }, []);
  return come;
}
