import { Tabs } from "radix-ui";
import type { ReactNode } from "react";

/** A place with rooms: one is open, the tabs choose which; arrows move between them. */
export function Rooms<T extends string>({
  open,
  go,
  children,
}: {
  open: T;
  go: (room: T) => void;
  children: ReactNode;
}) {
  return (
    <Tabs.Root value={open} onValueChange={(room) => go(room as T)} className="contents">
      {children}
    </Tabs.Root>
  );
}

/** The tabs, each with its key and its name. */
export function RoomTabs({ label, rooms }: { label: string; rooms: readonly (readonly [string, string])[] }) {
  return (
    <Tabs.List aria-label={label} className="flex flex-wrap">
      {rooms.map(([key, name]) => (
        <Tabs.Trigger
          key={key}
          value={key}
          className="min-h-11 border-b-3 border-clear px-2 text-s whitespace-nowrap text-quiet sm:px-3 sm:text-m data-[state=active]:border-ink data-[state=active]:font-bold data-[state=active]:text-ink"
        >
          {name}
        </Tabs.Trigger>
      ))}
    </Tabs.List>
  );
}

/** What one room holds; there only while it is open. */
export function Room({ of, children }: { of: string; children: ReactNode }) {
  return (
    <Tabs.Content value={of} tabIndex={-1} className="outline-none">
      {children}
    </Tabs.Content>
  );
}
