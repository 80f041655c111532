const KEY = "gullpeak-device";

/** What this tablet is called, the same as long as its browser keeps its data. */
export function tablet(): string {
  const name = localStorage.getItem(KEY) ?? crypto.randomUUID().slice(0, 8);
  localStorage.setItem(KEY, name);
  return name;
}
