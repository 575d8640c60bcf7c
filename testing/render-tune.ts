import { sing, type Sung } from '../demo/sing';
import { seeded } from '../demo/song';

export { sing as renderTune };
export type { Sung };

/** A tune with a melody, chords, a bass and drums, rests among them; of its own for each seed. */
export function madeUpTune(seed: number, { bars = 16, bpm = 112 } = {}): Sung[] {
  const roll = seeded(seed * 7919 + 17);
  const beat = 60_000 / bpm;
  const out: Sung[] = [];
  const scale = [0, 2, 3, 5, 7, 9, 10];
  const root = 45 + roll(8);
  const withDrums = roll(4) !== 0;
  let step = 7;
  for (let bar = 0; bar < bars; bar++) {
    const chord = roll(7);
    for (let e = 0; e < 8; e++) {
      const ms = (bar * 4 + e / 2) * beat;
      if (roll(100) < (e % 2 === 0 ? 72 : 38)) {
        step = Math.max(3, Math.min(16, step + roll(5) - 2));
        const key = root + 12 + scale[step % 7]! + 12 * Math.floor(step / 7);
        out.push({ ms, lengthMs: beat * 0.45, key, velocity: 70 + roll(45) });
      }
      if (e === 0 || (e === 4 && roll(2) === 0))
        for (const k of [0, 2, 4]) {
          const key = root + 12 + scale[(chord + k) % 7]!;
          out.push({ ms, lengthMs: beat * 1.8, key, velocity: 55 + roll(20) });
        }
      if (e % 4 === 0 || roll(5) === 0)
        out.push({ ms, lengthMs: beat * 0.9, key: root + scale[chord]! - 12, velocity: 85 });
      if (withDrums && (e % 2 === 0 || roll(3) === 0))
        out.push({
          ms,
          lengthMs: 80,
          key: e % 4 === 0 ? 36 : 42,
          velocity: 60 + roll(50),
          drum: true,
        });
    }
  }
  return out.sort((a, b) => a.ms - b.ms);
}
