/** What a sentence may be given. */
export type Word = string | number | boolean | null | undefined;
