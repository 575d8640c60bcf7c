import { mapsOf } from '../src/core/score/inventory';
import { readScore } from '../src/core/score/read-score';
import { writeWave } from '../src/core/sound/render';
import { sing, type Sung } from './sing';
import { seeded } from './song';

/** How a recording of the week came to be, beside its score. */
export interface Taken {
  /** Silence before it, in milliseconds. */
  readonly rest?: number;
  /** Where it was played freely: what becomes of a time of the score. */
  readonly played?: (ms: number) => number;
  /** As long as the score to the sample, its end ringing into its start. */
  readonly loop?: boolean;
  /** The players stop with the last note, and not with the score. */
  readonly stops?: boolean;
  /** What is left out of it: cues are not heard. */
  readonly without?: readonly string[];
  readonly noiseDb?: number;
}

const RATE = 22_050;
const TAIL_MS = 900;

/** The music of a score as a WAV, mono: sung from its notes, always the same bytes. */
export function recordingOf(smf: Uint8Array, taken: Taken = {}): Uint8Array {
  const {
    rest = 0,
    played = (ms: number) => ms,
    loop = false,
    stops = false,
    without = [],
    noiseDb = 46,
  } = taken;
  const { score } = readScore(smf, { sourceKey: 'main' });
  const { clock } = mapsOf(score!);
  const roll = seeded(9041);
  const notes: Sung[] = [];
  for (const { name, channel, notes: columns } of score!.parts) {
    if (without.includes(name)) continue;
    for (let i = 0; i < columns.count; i++) {
      const from = clock.msAt(columns.start[i]!);
      const to = clock.msAt(columns.end[i]!);
      // Hands are a few milliseconds off; what plays by itself in a loop is not.
      const hand = loop ? 0 : (roll(61) - 30) / 10;
      const ms = rest + Math.max(0, played(from) + hand);
      notes.push({
        ms,
        lengthMs: Math.max(40, played(to) - played(from)),
        key: columns.noteNumber[i]!,
        velocity: columns.velocity[i]!,
        drum: channel === 10,
      });
    }
  }
  const end = Math.max(0, ...score!.tracks.map((t) => clock.msAt(t.endTick)));
  const last = notes.reduce((ms, n) => Math.max(ms, n.ms + n.lengthMs), 0);
  const lengthMs = loop ? end : (stops ? last : rest + played(end)) + TAIL_MS;
  return writeWave(sing(notes, { rate: RATE, lengthMs, noiseDb, echo: !loop, seed: 77 }), 16).bytes;
}
