/** What is read aloud by the browser's own speech, where it has one; off until the cook asks for it at this tablet. */

const KEY = "gullpeak-aloud";

export const canSpeak = (): boolean => "speechSynthesis" in window;
export const readsAloud = (): boolean => canSpeak() && localStorage.getItem(KEY) === "yes";

export function setReadsAloud(on: boolean): void {
  localStorage.setItem(KEY, on ? "yes" : "no");
  if (!on && canSpeak()) speechSynthesis.cancel();
}

/** Say a text now, in place of what is being said. Only with a voice of the device's own: no text leaves the house. */
export function speak(text: string): void {
  if (!readsAloud()) return;
  speechSynthesis.cancel();
  const said = new SpeechSynthesisUtterance(text);
  const voices = speechSynthesis.getVoices();
  const language = document.documentElement.lang || "en";
  const own = voices.find((v) => v.localService && v.lang.startsWith(language)) ?? voices.find((v) => v.localService);
  if (voices.length > 0 && !own) return;
  if (own) said.voice = own;
  said.lang = own?.lang ?? language;
  speechSynthesis.speak(said);
}
