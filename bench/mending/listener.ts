import { parseMidi } from 'midi-file';

/** A note as a listener hears it: when, which key, on which track and channel. */
export interface Heard {
  readonly ms: number;
  readonly key: number;
  readonly part: string;
}

/**
 * What a file sounds like, read by a general library that shares nothing with the engine. Parts are
 * `track name#channel`.
 */
export function listen(bytes: Uint8Array): Heard[] {
  const { header, tracks } = parseMidi(bytes);
  const ppq = header.ticksPerBeat ?? 480;
  const tempos: { tick: number; us: number }[] = [];
  const notes: { tick: number; key: number; part: string }[] = [];
  for (const track of tracks) {
    let tick = 0;
    let name = '';
    for (const e of track) {
      tick += e.deltaTime;
      if (e.type === 'trackName' && name === '') name = e.text;
      if (e.type === 'setTempo') tempos.push({ tick, us: e.microsecondsPerBeat });
      if (e.type === 'noteOn' && e.velocity > 0)
        notes.push({ tick, key: e.noteNumber, part: `${name}#${e.channel + 1}` });
    }
  }
  tempos.sort((a, b) => a.tick - b.tick);
  notes.sort((a, b) => a.tick - b.tick);
  let at = 0;
  let ms = 0;
  let from = 0;
  let us = 500_000;
  return notes.map(({ tick, key, part }) => {
    while (at < tempos.length && tempos[at]!.tick <= tick) {
      const t = tempos[at++]!;
      ms += ((t.tick - from) * us) / ppq / 1000;
      from = t.tick;
      us = t.us;
    }
    return { ms: ms + ((tick - from) * us) / ppq / 1000, key, part };
  });
}

export interface Kept {
  /** Notes of the source that are heard again at their time after one shift, by pitch class. */
  readonly kept: number;
  /** Of these, at the key that they had after one transposition of all. */
  readonly intact: number;
}

/** What may stand between a note and where it is heard again: a lead-in of a few bars. */
const FURTHEST_MS = 12_000;
const SAMPLE = 300;
const NEAR_MS = 40;

/** The shift that most notes agree on; both in order of time. */
function shiftOf(a: readonly Heard[], b: readonly Heard[], byClass: (k: number) => number): number {
  const votes = new Map<number, number>();
  const every = Math.max(1, Math.floor(a.length / SAMPLE));
  let from = 0;
  for (let i = 0; i < a.length; i += every) {
    const x = a[i]!;
    while (from < b.length && b[from]!.ms < x.ms - FURTHEST_MS) from++;
    for (let k = from; k < b.length && b[k]!.ms <= x.ms + FURTHEST_MS; k++) {
      if (byClass(x.key) !== byClass(b[k]!.key)) continue;
      const shift = Math.round((b[k]!.ms - x.ms) / 5) * 5;
      votes.set(shift, (votes.get(shift) ?? 0) + 1);
    }
  }
  // What stands within the reach of one ear counts for it: notes are moved to rows either way.
  const near = (shift: number) => {
    let sum = 0;
    for (let by = -NEAR_MS; by <= NEAR_MS; by += 5) sum += votes.get(shift + by) ?? 0;
    return sum + (votes.get(shift) ?? 0) * 0.001;
  };
  let best = 0;
  let most = near(0);
  for (const shift of votes.keys()) {
    const n = near(shift);
    if (n > most) [most, best] = [n, shift];
  }
  return best;
}

/**
 * How much of what was played is heard again. `lanes`: keys are lanes and say nothing of pitch. One
 * transposition for all is allowed, as is one shift.
 */
export function compare(
  source: readonly Heard[],
  delivered: readonly Heard[],
  {
    toleranceMs,
    lanes = false,
    stretch = 0,
  }: { toleranceMs: number; lanes?: boolean; stretch?: number },
): Kept {
  if (source.length === 0 || delivered.length === 0) return { kept: 0, intact: 0 };
  let best: Kept = { kept: 0, intact: 0 };
  const speeds = stretch === 0 ? [1] : [1, ...speedsFor(source, delivered, stretch)];
  for (const speed of speeds) {
    const heard = delivered.map((h) => ({ ...h, ms: h.ms * speed }));
    for (let up = 0; up < 12; up++) {
      const byClass = (key: number) => (lanes ? 0 : key % 12);
      const moved = source.map((h) => ({ ...h, key: h.key + up }));
      const found = match(moved, heard, shiftOf(moved, heard, byClass), toleranceMs, byClass);
      if (found.kept > best.kept || (found.kept === best.kept && found.intact > best.intact))
        best = found;
      if (lanes || best.kept === source.length) break;
    }
  }
  return best;
}

function speedsFor(a: readonly Heard[], b: readonly Heard[], most: number): number[] {
  const long = (h: readonly Heard[]) => h.at(-1)!.ms - h[0]!.ms;
  const speed = long(a) / Math.max(1, long(b));
  return Math.abs(speed - 1) <= most && Math.abs(speed - 1) > 1e-5 ? [speed] : [];
}

function match(
  a: readonly Heard[],
  b: readonly Heard[],
  shift: number,
  tolerance: number,
  byClass: (key: number) => number,
): Kept {
  const free = new Map<number, { ms: number; key: number; used: boolean }[]>();
  for (const y of b) {
    const list = free.get(byClass(y.key)) ?? [];
    list.push({ ms: y.ms, key: y.key, used: false });
    free.set(byClass(y.key), list);
  }
  let kept = 0;
  const offsets = new Map<number, number>();
  const at = new Map<number, number>();
  for (const x of a) {
    const list = free.get(byClass(x.key));
    if (!list) continue;
    let i = at.get(byClass(x.key)) ?? 0;
    while (i < list.length && list[i]!.ms < x.ms + shift - tolerance) i++;
    at.set(byClass(x.key), i);
    let chosen = -1;
    for (let k = i; k < list.length && list[k]!.ms <= x.ms + shift + tolerance; k++) {
      if (list[k]!.used) continue;
      if (chosen < 0 || list[k]!.key === x.key) chosen = k;
      if (list[k]!.key === x.key) break;
    }
    if (chosen < 0) continue;
    list[chosen]!.used = true;
    kept++;
    const by = list[chosen]!.key - x.key;
    offsets.set(by, (offsets.get(by) ?? 0) + 1);
  }
  return { kept, intact: Math.max(0, ...offsets.values()) };
}
