let context: AudioContext | null = null;

const NOTES_HZ = [660, 880] as const;
const NOTE_S = 0.25;

/** Lets sounds be heard later: a browser allows them only once somebody has pressed something. */
export function allowSound(): void {
  if (typeof AudioContext === 'undefined') return;
  context ??= new AudioContext();
  void context.resume();
}

/** Two short notes and a buzz; where the device has neither, nothing: what is due stands on the screen too. */
export function chime(): void {
  if (typeof navigator !== 'undefined') navigator.vibrate?.([200, 100, 200]);
  if (context?.state !== 'running') return;
  const from = context.currentTime;
  NOTES_HZ.forEach((hertz, k) => {
    if (!context) return;
    const tone = context.createOscillator();
    const loud = context.createGain();
    tone.frequency.value = hertz;
    loud.gain.setValueAtTime(0.3, from + k * NOTE_S);
    loud.gain.exponentialRampToValueAtTime(0.001, from + (k + 1) * NOTE_S);
    tone.connect(loud).connect(context.destination);
    tone.start(from + k * NOTE_S);
    tone.stop(from + (k + 1) * NOTE_S);
  });
}
