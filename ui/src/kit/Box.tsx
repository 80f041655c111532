import { Dialog } from "radix-ui";
import { type ReactNode, useState } from "react";

/** A box over the page that is answered or closed. */
export function Box({
  title,
  wide = false,
  wet = false,
  close,
  children,
}: {
  title: string;
  wide?: boolean;
  /** At the bench: what is pressed is larger */
  wet?: boolean;
  close: () => void;
  children: ReactNode;
}) {
  // Where the focus was when it opened: it goes back there, or to the page where that is gone.
  const [opener] = useState(() => document.activeElement);
  const back = (e: Event) => {
    e.preventDefault();
    const there = opener instanceof HTMLElement && opener.isConnected && opener !== document.body;
    (there ? opener : document.getElementById("place"))?.focus();
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          onCloseAutoFocus={back}
          className={`fixed top-1/2 left-1/2 z-30 max-h-[94vh] max-w-[94vw] -translate-1/2 overflow-y-auto rounded-panel border border-deep bg-surface p-6 ${wide ? "w-220" : "w-140"} ${wet ? "wet-hands" : ""}`}
        >
          <Dialog.Title className="text-l font-bold">{title}</Dialog.Title>
          <div className="mt-4 flex flex-col gap-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
