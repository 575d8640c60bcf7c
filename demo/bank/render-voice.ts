import type { Voice } from './voices';

export const RATE = 22_050;
const TAU = 2 * Math.PI;

/** White noise that is the same each time: a linear congruential generator, 32 bits. */
export function noise(seed = 1) {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 31 - 1;
  };
}

export interface Rendered {
  readonly audio: Float32Array;
  readonly loopStart: number;
  readonly loopEnd: number;
}

/** Seconds of what comes before the loop, and of the loop. */
const HEAD = 0.2;
const LOOP = 0.12;

/**
 * A voice as a sample that goes round: a head with what is struck, then a loop of whole periods in
 * which every partial closes. What dies away does so by the envelope of its zone, over the loop.
 */
export function renderVoice(voice: Voice, seed: number): Rendered {
  const wanted = 440 * 2 ** ((voice.key - 69) / 12);
  const head = Math.round(Math.max(HEAD, Math.min(0.3, voice.rise * 1.2)) * RATE);
  const periods = Math.max(2, Math.round(LOOP * wanted));
  const loop = Math.round((periods * RATE) / wanted);
  /** Cycles a sample of what closes in the loop: any whole number of turns in it. */
  const closing = (hz: number) => Math.max(1, Math.round((hz * loop) / RATE)) / loop;
  const base = closing(wanted);
  const parts: { cycles: number; amount: number; phase: number; nth: number }[] = [];
  const add = (cycles: number, amount: number, nth: number) =>
    parts.push({ cycles, amount, nth, phase: (nth * 0.37 + cycles * 91) % 1 });
  const favours = (hz: number) =>
    voice.body === 0 ? 1 : 0.35 + 1.9 * Math.exp(-((Math.log2(hz / voice.body) / 0.9) ** 2));
  for (let n = 1; n <= voice.partials; n++) {
    // Stretched partials are rounded to what closes; the ear takes them for what they are.
    const ratio = n + voice.stretch * (n - 1) * (n + 0.7);
    const hz = wanted * ratio;
    if (hz > RATE * 0.45) break;
    const even = n % 2 === 0 ? 1 - voice.odd : 1;
    const amount = n ** -voice.tilt * even * favours(hz);
    if (amount < 0.002) continue;
    add(voice.stretch < 0.001 ? base * n : closing(hz), amount, n);
    if (voice.chorus > 0) add(closing(hz * 2 ** (voice.chorus / 1200)), amount * 0.7, n);
  }
  if (voice.along !== 0) {
    const hz = wanted * 2 ** (voice.along / 12);
    for (let n = 1; n <= 4 && hz * n < RATE * 0.45; n++) add(closing(hz * n), 0.45 / n, n);
  }
  const sum = parts.reduce((s, p) => s + p.amount, 0.0001);
  const random = noise(seed);
  const body = resonance(voice.body || wanted * 2);
  const length = head + loop + 8;
  const audio = new Float32Array(length);
  for (let i = 0; i < length; i++) {
    const t = i / RATE;
    let v = 0;
    for (const p of parts) {
      const edge = voice.bite * (p.nth - 1) * 0.35 * Math.exp(-t * 14);
      v += p.amount * Math.max(0, 1 + edge) * Math.sin(TAU * (p.cycles * i + p.phase));
    }
    audio[i] = (v / sum) * Math.min(1, t / Math.max(0.001, Math.min(voice.rise, 0.25)));
  }
  // Noise that closes in the loop: what is heard at its end is what was heard at its beginning.
  const hiss = new Float32Array(length);
  for (let i = 0; i < length; i++) hiss[i] = body(random());
  for (let i = head; i < length; i++) {
    const into = i - head;
    const share = Math.min(1, into / (loop * 0.25));
    if (into < loop * 0.25) hiss[i] = hiss[i]! * share + (hiss[i + loop] ?? hiss[i]!) * (1 - share);
  }
  for (let i = head + loop; i < length; i++) hiss[i] = hiss[i - loop]!;
  for (let i = 0; i < length; i++) {
    const t = i / RATE;
    const rise = Math.min(1, t / Math.max(0.001, Math.min(voice.rise, 0.25)));
    audio[i]! += hiss[i]! * (voice.breath * rise + voice.knock * Math.exp(-t * 45));
  }
  for (let i = head + loop; i < length; i++) audio[i] = audio[i - loop]!;
  return { audio: levelled(audio), loopStart: head, loopEnd: head + loop };
}

/** Two poles at a frequency: what a body does to noise. */
function resonance(hz: number): (x: number) => number {
  const r = 0.94;
  const a1 = 2 * r * Math.cos((TAU * Math.min(hz, RATE * 0.45)) / RATE);
  let [y1, y2] = [0, 0];
  return (x) => {
    const y = 0.25 * x + a1 * y1 - r * r * y2;
    [y1, y2] = [y, y1];
    return y * 0.5;
  };
}

/** All alike to the ear: by root mean square, below what clips. */
function levelled(audio: Float32Array): Float32Array {
  let square = 0;
  let most = 0;
  for (const v of audio) {
    square += v * v;
    most = Math.max(most, Math.abs(v));
  }
  const rms = Math.sqrt(square / audio.length) || 1;
  const gain = Math.min(0.24 / rms, 0.95 / (most || 1));
  return audio.map((v) => v * gain);
}
