import type { Word } from "../word";

export const pictures = {
  take: "Take a picture",
  fromAFile: "Picture from a file",
  pictureOf: (how: Word, what: Word) => `${how}: ${what}`,
  sending: "Keeping it",
  tryAgain: "Send it again",
  notReadable: "This is no picture that can be read. Choose another.",
  taken: (n: Word) => (n === 1 ? "1 picture taken" : `${n} pictures taken`),
  pictures: "Pictures",
  atTheEnd: "How it came out",
  of: (what: Word, at: Word) => `${what}, ${at}`,
  open: (what: Word, at: Word) => `Open the picture: ${what}, ${at}`,
  touchTheRidge: "For its colour, touch a ridge.",
  touchThePaper: "Now touch white paper right beside it, in the same light.",
  again: "Touch again",
  looking: "Looking",
  forget: "Forget this picture",
  forgetForGood: "Forget it for good: press again",
  close: "Close",
} as const;
