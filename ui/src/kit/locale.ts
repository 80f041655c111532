/** How this kitchen writes days, times and numbers: by its language, and by its paper where English differs. */

let locale = "en-GB";

interface Habits {
  language?: string;
  paper?: string;
}

/** Say in which language days, times and numbers are shown from here on. */
export function writeFor(habits: Habits | undefined): void {
  const language = habits?.language ?? "en";
  locale = language === "en" ? (habits?.paper === "Letter" ? "en-US" : "en-GB") : language;
}

export const writtenIn = (): string => locale;
