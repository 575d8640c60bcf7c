import { mapsOf } from '../score/inventory';
import { firstTickOf } from '../score/score';
import type { SourceScore } from '../sources/source';

/** A small tune that differs from another in one thing. */
export interface ProbeTune {
  readonly format: number;
  readonly ppq: number;
  /** 1–16. */
  readonly channel: number;
  /** Notes one after the other; the first stands alone where chords are tried. */
  readonly keys: readonly number[];
  /** Notes of one chord behind them; one where there is none. */
  readonly together: number;
  /** Keys that a chord may take; upwards from the first key where nothing is said. */
  readonly within?: readonly [lowest: number, highest: number];
  readonly startMs: number;
}

/** A probe like a file that was taken: its format, PPQ, channel and a key of it, no earlier than it begins. */
export function tuneLike({ score, head }: SourceScore): ProbeTune | null {
  const [part] = score.parts
    .filter((p) => p.notes.count > 0)
    .sort((a, b) => b.notes.count - a.notes.count);
  const first = firstTickOf(score);
  if (!part || first === null) return null;
  return {
    format: head.format === 0 ? 0 : 1,
    ppq: score.division.kind === 'ppq' ? score.division.ticksPerQuarter : 480,
    channel: part.channel,
    keys: [part.notes.noteNumber[0]!],
    together: 1,
    startMs: Math.max(3000, Math.ceil(mapsOf(score).clock.msAt(first))),
  };
}

const BPM = 120;

/** SMF 1.0: the shortest variable-length quantity. */
function length(value: number): number[] {
  const out = [value & 127];
  for (let rest = value >>> 7; rest > 0; rest >>>= 7) out.unshift((rest & 127) | 128);
  return out;
}
const four = (n: number) => [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
const chunk = (id: string, body: readonly number[]) => [
  ...Array.from(id, (c) => c.charCodeAt(0)),
  ...four(body.length),
  ...body,
];

/** The tune as a Standard MIDI File: two bars at 120 BPM behind its rest, nothing but notes. */
export function writeProbe({
  format,
  ppq,
  channel,
  keys,
  together,
  startMs,
  within = [keys[0]!, 127],
}: ProbeTune): Uint8Array {
  const start = Math.round((startMs * ppq * BPM) / 60_000);
  const events: { tick: number; bytes: number[] }[] = [];
  const note = (tick: number, key: number) => {
    events.push({ tick, bytes: [0x8f + channel, key, 96] });
    events.push({ tick: tick + Math.round(ppq / 2), bytes: [0x7f + channel, key, 64] });
  };
  let tick = start;
  for (const key of keys) {
    note(tick, key);
    tick += ppq;
  }
  // A chord of keys side by side, inside what is known to be taken.
  const [low, high] = within;
  const from = Math.max(low, Math.min(keys[0]!, high - together + 1));
  for (let n = 0; n < together && together > 1; n++) note(tick, Math.min(127, from + n));
  events.sort(
    (a, b) => a.tick - b.tick || (a.bytes[0]! < 0x90 ? -1 : 0) - (b.bytes[0]! < 0x90 ? -1 : 0),
  );
  const us = Math.round(60_000_000 / BPM);
  const tempo = [0, 0xff, 0x51, 3, us >>> 16, (us >>> 8) & 255, us & 255];
  const last = events.at(-1)?.tick ?? start;
  const bar = ppq * 4;
  const end = Math.ceil(last / bar) * bar;
  const body = (own: readonly { tick: number; bytes: number[] }[], head: number[]) => {
    const out = [...head];
    let at = 0;
    for (const e of own) {
      out.push(...length(e.tick - at), ...e.bytes);
      at = e.tick;
    }
    return chunk('MTrk', [...out, ...length(end - at), 0xff, 0x2f, 0]);
  };
  const tracks = format === 0 ? [body(events, tempo)] : [body([], tempo), body(events, [])];
  const head = [0, format, 0, tracks.length, ppq >>> 8, ppq & 255];
  return Uint8Array.from([...chunk('MThd', head), ...tracks.flat()]);
}
