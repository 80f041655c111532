import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { firstQuery } from "../../api/queries";
import { Questions } from "./Questions";
import { StarterBook } from "./StarterBook";

const LATER = "gullpeak-first-later";

/** The first hour: what the kitchen is like, until that is answered or left; and a book to begin from, while it is open. */
export function Start({ book }: { book: boolean }) {
  const { data } = useQuery(firstQuery);
  const [later, setLater] = useState(() => localStorage.getItem(LATER) === "yes");
  const ask = data && !data.answered && !later;
  if (!ask && !book) return null;
  const leave = () => {
    localStorage.setItem(LATER, "yes");
    setLater(true);
  };
  return (
    <div className={`my-3 grid items-start gap-6 ${ask && book ? "lg:grid-cols-[1.75fr_1fr]" : ""}`}>
      {ask && <Questions choices={data.choices} later={leave} />}
      {book && <StarterBook />}
    </div>
  );
}
