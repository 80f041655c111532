import type { BenchEvent } from "../api/client";
import { appNow } from "../api/clock";
import { words } from "../words";

/** A new event of this device, happening now. */
export function event(kind: BenchEvent["kind"], what: Partial<BenchEvent>): BenchEvent {
  const device = localStorage.getItem("gullpeak-device") ?? crypto.randomUUID().slice(0, 8);
  localStorage.setItem("gullpeak-device", device);
  return {
    id: crypto.randomUUID(),
    kind,
    at: new Date(appNow()).toISOString(),
    cook: localStorage.getItem("gullpeak-cook") ?? "",
    device: words.kit.tablet(device),
    thermometer: "",
    text: "",
    ...what,
  };
}
