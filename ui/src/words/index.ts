/** Everything the interface says of its own, a place each; what the kitchen says comes from the server, by the same rules. */
import { bench } from "./en/bench";
import { day } from "./en/day";
import { eggs } from "./en/eggs";
import { kit } from "./en/kit";
import { kitchen } from "./en/kitchen";
import { log } from "./en/log";
import { pictures } from "./en/pictures";
import { practice } from "./en/practice";
import { product } from "./en/product";
import { recipes } from "./en/recipes";
import { sheet } from "./en/sheet";
import { start } from "./en/start";
import { stock } from "./en/stock";
import { write } from "./en/write";

export const words = {
  bench,
  day,
  eggs,
  kit,
  kitchen,
  log,
  pictures,
  practice,
  product,
  recipes,
  sheet,
  start,
  stock,
  write,
} as const;
