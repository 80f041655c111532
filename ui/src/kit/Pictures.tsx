import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type PointerEvent, useState } from "react";
import { answer, http, type Picture, type Touched } from "../api/client";
import { picturesQuery } from "../api/queries";
import { words } from "../words";
import { Box } from "./Box";
import { Alert } from "./Field";
import { stamp } from "./format";

const source = (picture: Picture) => `/api/pictures/${picture.id}`;

/** The photographs of a batch, small; pressed, one is large. named: what a step or a check is called. */
export function Pictures({
  batch,
  named,
  of,
}: {
  batch: string;
  named: (picture: Picture) => string;
  /** Whose they are, where there are several of them */
  of?: string;
}) {
  const { data } = useQuery(picturesQuery([batch]));
  const [open, setOpen] = useState<Picture>();
  if (!data?.length) return null;
  return (
    <section aria-label={of ? `${words.pictures.pictures}, ${of}` : words.pictures.pictures}>
      <ul className="flex flex-wrap gap-3">
        {data.map((picture) => (
          <li key={picture.id}>
            <button
              type="button"
              className="block"
              aria-label={words.pictures.open(named(picture), stamp(picture.at))}
              onClick={() => setOpen(picture)}
            >
              <img
                src={source(picture)}
                alt=""
                loading="lazy"
                width={picture.width}
                height={picture.height}
                className="h-32 w-auto rounded-k border border-hairline"
              />
              <span className="block max-w-48 text-left text-s text-quiet">{named(picture)}</span>
            </button>
          </li>
        ))}
      </ul>
      {open && <Large picture={open} name={named(open)} close={() => setOpen(undefined)} />}
    </section>
  );
}

/** One photograph, large; a ridge and the paper touched in it tell the ridge's colour, as an estimate. */
function Large({ picture, name, close }: { picture: Picture; name: string; close: () => void }) {
  const client = useQueryClient();
  const [ridge, setRidge] = useState<Touched>();
  const [paper, setPaper] = useState<Touched>();
  const [sure, setSure] = useState(false);
  const path = { params: { path: { picture_id: picture.id } } };
  const look = useMutation({
    mutationFn: (body: { ridge: Touched; paper: Touched }) =>
      answer(http.POST("/api/pictures/{picture_id}/colour", { ...path, body })),
  });
  const forget = useMutation({
    mutationFn: () => http.DELETE("/api/pictures/{picture_id}", path),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["pictures"] });
      close();
    },
  });
  const touch = (e: PointerEvent<HTMLButtonElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = (at: number, from: number, size: number) => Math.min(1, Math.max(0, (at - from) / size));
    const at = { x: share(e.clientX, box.left, box.width), y: share(e.clientY, box.top, box.height) };
    if (!ridge) return setRidge(at);
    if (paper) return;
    setPaper(at);
    look.mutate({ ridge, paper: at });
  };
  const again = () => {
    setRidge(undefined);
    setPaper(undefined);
    look.reset();
  };
  const says = look.data?.says ?? (ridge ? words.pictures.touchThePaper : words.pictures.touchTheRidge);
  return (
    <Box title={words.pictures.of(name, stamp(picture.at))} wide close={close}>
      <button type="button" className="relative block self-center" aria-label={says} onPointerDown={touch}>
        <img
          src={source(picture)}
          alt={words.pictures.of(name, stamp(picture.at))}
          width={picture.width}
          height={picture.height}
          className="max-h-[60vh] w-auto"
          draggable={false}
        />
        {[ridge, paper].map(
          (at, i) =>
            at && (
              <span
                key={i === 0 ? "ridge" : "paper"}
                className="absolute size-6 -translate-1/2 rounded-full border-3 border-bill"
                style={{ left: `${at.x * 100}%`, top: `${at.y * 100}%` }}
              />
            ),
        )}
      </button>
      <p role="status">{look.isPending ? words.pictures.looking : says}</p>
      <Alert says={look.error?.message ?? forget.error?.message} />
      <div className="flex flex-wrap gap-3">
        {ridge && (
          <button type="button" className="press" onClick={again}>
            {words.pictures.again}
          </button>
        )}
        <button type="button" className="press" onClick={close}>
          {words.pictures.close}
        </button>
        <button type="button" className="press ml-auto" onClick={() => (sure ? forget.mutate() : setSure(true))}>
          {sure ? words.pictures.forgetForGood : words.pictures.forget}
        </button>
      </div>
    </Box>
  );
}
