let sound: AudioContext | undefined;

export const soundOn = (): boolean => localStorage.getItem("gullpeak-sound") !== "no";
export const setSound = (on: boolean): void => localStorage.setItem("gullpeak-sound", on ? "yes" : "no");

/** Two short tones where hands are needed, four where something burns; silent where the cook turned the sound off. */
export function beep(danger: boolean): void {
  if (!soundOn()) return;
  sound ??= new AudioContext();
  if (sound.state === "suspended") void sound.resume().catch(() => undefined); // until the page was touched once it may not sound
  for (let i = 0; i < (danger ? 4 : 2); i++) {
    const tone = sound.createOscillator();
    const level = sound.createGain();
    const at = sound.currentTime + i * 0.22;
    tone.frequency.value = danger ? 990 : 660;
    level.gain.setValueAtTime(0.2, at);
    level.gain.exponentialRampToValueAtTime(0.001, at + 0.18);
    tone.connect(level).connect(sound.destination);
    tone.start(at);
    tone.stop(at + 0.2);
  }
}
