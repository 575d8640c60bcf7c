import type { SoundEdit } from '../score/sound-edit';
import { gainOf } from './level';

export type { SoundEdit } from '../score/sound-edit';

/**
 * A stretch of the edited sound, `[from, to)` in microseconds of it. `source` is where in the
 * recording it begins, null where it is silence; its gain goes straight from `gain` to `gainTo`.
 */
export interface SoundStretch {
  readonly from: number;
  readonly to: number;
  readonly source: number | null;
  readonly gain: number;
  readonly gainTo: number;
}

/** An edited sound: stretches that follow each other without a gap. */
export type SoundLayout = readonly SoundStretch[];

const whole = (us: number): SoundStretch[] =>
  us > 0 ? [{ from: 0, to: us, source: 0, gain: 1, gainTo: 1 }] : [];

const gainAt = (s: SoundStretch, us: number) =>
  s.gain + ((s.gainTo - s.gain) * (us - s.from)) / Math.max(1, s.to - s.from);

/** The part of a stretch within `[from, to)`, at its own place. */
function clipped(s: SoundStretch, from: number, to: number): SoundStretch[] {
  const a = Math.max(s.from, from);
  const b = Math.min(s.to, to);
  if (b <= a) return [];
  const source = s.source === null ? null : s.source + a - s.from;
  return [{ from: a, to: b, source, gain: gainAt(s, a), gainTo: gainAt(s, b) }];
}

const between = (list: SoundLayout, from: number, to: number) =>
  list.flatMap((s) => clipped(s, from, to));
const moved = (list: SoundLayout, by: number) =>
  list.map((s) => ({ ...s, from: s.from + by, to: s.to + by }));
const silent = (from: number, to: number): SoundStretch[] =>
  to > from ? [{ from, to, source: null, gain: 1, gainTo: 1 }] : [];

export const endOf = (list: SoundLayout): number => list.at(-1)?.to ?? 0;

/** A ramp over `[from, to)`, on top of the gain that is there. */
function ramp(list: SoundLayout, from: number, to: number, gain: number, gainTo: number) {
  const factor = (us: number) => gain + ((gainTo - gain) * (us - from)) / Math.max(1, to - from);
  return [
    ...between(list, 0, from),
    ...between(list, from, to).map((s) => ({
      ...s,
      gain: s.gain * factor(s.from),
      gainTo: s.gainTo * factor(s.to),
    })),
    ...between(list, to, Infinity),
  ];
}

function edited(list: SoundLayout, edit: SoundEdit): SoundLayout {
  const end = endOf(list);
  switch (edit.is) {
    case 'insert': {
      const at = Math.min(edit.atUs, end);
      return [
        ...between(list, 0, at),
        ...silent(at, at + edit.us),
        ...moved(between(list, at, Infinity), edit.us),
      ];
    }
    case 'cut': {
      const from = Math.min(edit.fromUs, end);
      const to = Math.min(Math.max(from, edit.toUs), end);
      return [...between(list, 0, from), ...moved(between(list, to, Infinity), from - to)];
    }
    case 'gain': {
      const gain = gainOf(edit.db);
      return list.map((s) => ({ ...s, gain: s.gain * gain, gainTo: s.gainTo * gain }));
    }
    case 'fade': {
      const rising = edit.inUs > 0 ? ramp(list, 0, Math.min(end, edit.inUs), 0, 1) : list;
      const from = Math.max(0, end - edit.outUs);
      return edit.outUs > 0 ? ramp(rising, from, end, 1, 0) : rising;
    }
    case 'silence': {
      const from = Math.min(edit.fromUs, end);
      const to = Math.min(Math.max(from, edit.toUs), end);
      return [...between(list, 0, from), ...silent(from, to), ...between(list, to, Infinity)];
    }
    case 'length':
      return [...between(list, 0, edit.us), ...silent(Math.min(end, edit.us), edit.us)];
  }
}

/** A recording of a length with its edits, one after the other. */
export const layoutOf = (edits: readonly SoundEdit[], recordingUs: number): SoundLayout =>
  edits.reduce(edited, whole(recordingUs) as SoundLayout);

/** Where a moment of the recording is heard in the edited sound; null where it was cut away. */
export function editedTime(list: SoundLayout, recordingUs: number): number | null {
  for (const s of list) {
    if (s.source === null) continue;
    const into = recordingUs - s.source;
    if (into >= 0 && into < s.to - s.from) return s.from + into;
  }
  return null;
}

/** Which moment of the recording sounds at a time of the edited sound; null in what was put in. */
export function recordingTime(list: SoundLayout, us: number): number | null {
  for (const s of list)
    if (us >= s.from && us < s.to) return s.source === null ? null : s.source + us - s.from;
  return null;
}

/** Edits by which the sound begins so much later: silence before it, or its beginning cut off. */
export const placedLater = (us: number): SoundEdit[] =>
  us > 0 ? [{ is: 'insert', atUs: 0, us }] : us < 0 ? [{ is: 'cut', fromUs: 0, toUs: -us }] : [];
