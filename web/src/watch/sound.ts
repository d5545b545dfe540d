import type { Severity } from '../api/types';

/** How often, how high, how long: one hears how grave it is without looking. */
const TONES: Record<Severity, { times: number; hertz: number; ms: number }> = {
  critical: { times: 5, hertz: 880, ms: 160 },
  major: { times: 3, hertz: 660, ms: 200 },
  minor: { times: 2, hertz: 523, ms: 240 },
  warning: { times: 1, hertz: 440, ms: 320 },
};

let context: AudioContext | null = null;

/** Whether the browser lets sounds be heard by now; it may want somebody to press something first. */
export async function mayBeHeard(): Promise<boolean> {
  context ??= new AudioContext();
  // Where it may not, this waits until somebody does.
  await Promise.race([context.resume(), new Promise((done) => setTimeout(done, 200))]);
  return context.state !== 'suspended';
}

/** Played by the browser itself; nothing is fetched. */
export function play(severity: Severity): void {
  context ??= new AudioContext();
  void context.resume();
  const { times, hertz, ms } = TONES[severity];
  for (let i = 0; i < times; i++) {
    const begins = context.currentTime + (i * ms * 1.6) / 1000;
    const tone = context.createOscillator();
    const loudness = context.createGain();
    tone.frequency.value = hertz;
    loudness.gain.setValueAtTime(0.0001, begins);
    loudness.gain.exponentialRampToValueAtTime(0.3, begins + 0.02);
    loudness.gain.exponentialRampToValueAtTime(0.0001, begins + ms / 1000);
    tone.connect(loudness).connect(context.destination);
    tone.start(begins);
    tone.stop(begins + ms / 1000);
  }
}
