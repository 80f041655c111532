import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { sendPicture } from "../api/client";
import { appNow } from "../api/clock";
import { words } from "../words";
import { Alert } from "./Field";

const LONGEST_PX = 1600;
type Taken = { id: string; at: string; data: Blob };

/** A photograph as it is sent: no larger than is kept. */
async function scaled(file: File): Promise<Blob> {
  const found = await createImageBitmap(file).catch(() => undefined);
  if (!found) throw new Error(words.pictures.notReadable);
  const by = Math.min(1, LONGEST_PX / Math.max(found.width, found.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(found.width * by);
  canvas.height = Math.round(found.height * by);
  canvas.getContext("2d")?.drawImage(found, 0, 0, canvas.width, canvas.height);
  found.close();
  const made = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", 0.9));
  if (!made) throw new Error(words.pictures.notReadable);
  return made;
}

/** A picture from the tablet's camera or a file, of a check or of how it came out. One that is not sent yet is kept here. */
export function TakePicture({ batch, step, check, of }: { batch: string; step?: string; check?: string; of: string }) {
  const client = useQueryClient();
  const [taken, setTaken] = useState(0);
  const [waits, setWaits] = useState<Taken>();
  const send = useMutation({
    mutationFn: async (what: File | Taken) => {
      const picture =
        what instanceof File
          ? { id: crypto.randomUUID(), at: new Date(appNow()).toISOString(), data: await scaled(what) }
          : what;
      setWaits(picture);
      const cook = localStorage.getItem("gullpeak-cook") ?? "";
      return sendPicture(batch, picture.id, { at: picture.at, step, check, cook }, picture.data);
    },
    onSuccess: () => {
      setWaits(undefined);
      setTaken((n) => n + 1);
      void client.invalidateQueries({ queryKey: ["pictures"] });
    },
  });
  return (
    <div className="flex flex-wrap items-center gap-3">
      <Choose says={words.pictures.take} of={of} camera chosen={send.mutate} />
      <Choose says={words.pictures.fromAFile} of={of} chosen={send.mutate} />
      {send.isPending && <span role="status">{words.pictures.sending}</span>}
      {taken > 0 && !send.isPending && <span role="status">{words.pictures.taken(taken)}</span>}
      {send.error && waits && (
        <button type="button" className="press" onClick={() => send.mutate(waits)}>
          {words.pictures.tryAgain}
        </button>
      )}
      <Alert says={send.error?.message} />
    </div>
  );
}

/** A button for a picture: from the tablet's camera at once, or from a file. */
function Choose({
  says,
  of,
  camera,
  chosen,
}: {
  says: string;
  of: string;
  camera?: boolean;
  chosen: (file: File) => void;
}) {
  const input = useId();
  return (
    <span className="relative">
      <label className="press cursor-pointer has-focus-visible:outline-3" htmlFor={input}>
        {says}
      </label>
      <input
        id={input}
        type="file"
        accept="image/*"
        capture={camera ? "environment" : undefined}
        className="sr-only"
        aria-label={words.pictures.pictureOf(says, of)}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) chosen(file);
        }}
      />
    </span>
  );
}
