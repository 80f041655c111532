import type { BenchEvent } from "../api/client";
import { appNow } from "../api/clock";
import { words } from "../words";
import { tablet } from "./device";

/** A new event of this device, happening now. */
export function event(kind: BenchEvent["kind"], what: Partial<BenchEvent>): BenchEvent {
  return {
    id: crypto.randomUUID(),
    kind,
    at: new Date(appNow()).toISOString(),
    cook: localStorage.getItem("gullpeak-cook") ?? "",
    device: words.kit.tablet(tablet()),
    thermometer: "",
    text: "",
    ...what,
  };
}
