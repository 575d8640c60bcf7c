import type { Piece } from '../score/piece';
import type { Clock } from '../time/tempo-map';
import { editedTime, endOf, layoutOf, type SoundLayout } from './edits';
import { lineUp, middleOff, pairsAt, struckOf, type Struck } from './line-up';
import type { Onsets } from './onsets';

/** What was heard in the recording that plays beside a score, on its own clock. */
export interface Heard {
  /** Where it first and last sounds; null where it is silent all through. */
  readonly firstMs: number | null;
  readonly lastMs: number | null;
  readonly onsets: Onsets;
}

/** The sound of a piece as its plan leaves it. */
export const layoutFor = (piece: Pick<Piece, 'sound'>, recordingMs: number): SoundLayout =>
  layoutOf(piece.sound ?? [], Math.round(recordingMs * 1000));

export const soundMs = (piece: Pick<Piece, 'sound'>, recordingMs: number): number =>
  piece.sound ? endOf(layoutFor(piece, recordingMs)) / 1000 : recordingMs;

/** What was heard, at the times at which it is heard after the edits; what was cut away is gone. */
export function heardAfter(heard: Heard, layout: SoundLayout): Heard {
  const at = (ms: number) => {
    const us = editedTime(layout, ms * 1000);
    return us === null ? null : us / 1000;
  };
  const ms: number[] = [];
  const strength: number[] = [];
  heard.onsets.ms.forEach((t, i) => {
    const to = at(t);
    if (to === null) return;
    ms.push(to);
    strength.push(heard.onsets.strength[i]!);
  });
  return {
    firstMs: heard.firstMs === null ? null : (at(heard.firstMs) ?? ms[0] ?? null),
    lastMs: heard.lastMs === null ? null : (at(heard.lastMs) ?? ms.at(-1) ?? null),
    onsets: { ms: Float64Array.from(ms), strength: Float32Array.from(strength) },
  };
}

/** The beginnings of all notes by the clock, of parts that are left out too: a recording has them. */
export function struckIn({ score }: Piece, clock: Clock): Struck {
  const notes: [number, number][] = [];
  for (const part of score.parts) {
    const { start, velocity, count } = part.notes;
    for (let i = 0; i < count; i++) notes.push([clock.msAt(start[i]!), velocity[i]!]);
  }
  return struckOf(notes);
}

/** What two that play together may be apart before it is heard, in milliseconds. */
export const APART_MS = 20;

/** How much of the score must be found where it is before no other place is looked for. */
const IN_PLACE = 0.6;
/** How sure another place must be before it is spoken of. */
const SURE = 0.4;
const FEWEST = 8;

/**
 * By how much the sound begins later than the score, in milliseconds: what is left over where both
 * lie together already, else the place at which they do. Null where neither is sure.
 */
export function apartBy(struck: Struck, onsets: Onsets): number | null {
  if (struck.ms.length < FEWEST) return null;
  const pairs = pairsAt(struck, onsets, 0);
  const matched = pairs.reduce((sum, p) => sum + struck.weight[p.note]!, 0);
  const all = struck.weight.reduce((a, b) => a + b, 0);
  if (matched / all >= IN_PLACE) {
    const off = middleOff(struck, onsets, pairs);
    // Where onsets are dense, much is matched by chance: then its middle lies anywhere.
    const close = pairs.filter(
      (p) => Math.abs(onsets.ms[p.onset]! - struck.ms[p.note]! - off) < CLOSE_MS,
    );
    if (close.length >= pairs.length * IN_PLACE) return off;
  }
  const found = lineUp(struck, onsets);
  return found && found.confidence >= SURE ? found.offsetMs : null;
}

const CLOSE_MS = 12;
