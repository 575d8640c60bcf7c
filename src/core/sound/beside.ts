import type { Piece } from '../score/piece';
import type { Clock } from '../time/tempo-map';
import { align } from './align/align';
import { type Alignment, scoreLater } from './align/alignment';
import type { FeatureNote } from './align/features';
import { heardFeatures, type Features } from './align/frames';
import { editedTime, endOf, layoutOf, recordingTime, type SoundLayout } from './edits';
import type { Checkpoint } from '../diagnostic/checkpoint';
import { lineUp, middleOff, pairsAt, struckOf, type Struck } from './line-up';
import type { Onsets } from './onsets';

/** What was heard in the recording that plays beside a score, on its own clock. */
export interface HeardSound {
  /** Where it first and last sounds; null where it is silent all through. */
  readonly firstMs: number | null;
  readonly lastMs: number | null;
  readonly onsets: Onsets;
  /** What sounds, frame by frame; where it is left out only beginnings are gone by. */
  readonly features?: Features;
}

/** What was heard beside a piece, and what that sounds like where its notes alone do not tell. */
export interface Listened extends HeardSound {
  readonly like?: () => Features | null;
}

/** The sound of a piece as its plan leaves it. */
export const layoutFor = (piece: Pick<Piece, 'sound'>, recordingMs: number): SoundLayout =>
  layoutOf(piece.sound ?? [], Math.round(recordingMs * 1000));

export const soundMs = (piece: Pick<Piece, 'sound'>, recordingMs: number): number =>
  piece.sound ? endOf(layoutFor(piece, recordingMs)) / 1000 : recordingMs;

/** What was heard, at the times at which it is heard after the edits; what was cut away is gone. */
export function heardAfter(heard: HeardSound, layout: SoundLayout): HeardSound {
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
    ...(heard.features
      ? { features: heardFeatures(heard.features, endOf(layout) / 1000, recordingMsAt(layout)) }
      : {}),
  };
}

const recordingMsAt = (layout: SoundLayout) => (ms: number) => {
  const us = recordingTime(layout, ms * 1000);
  return us === null ? null : us / 1000;
};

/** All notes by the clock, of parts that are left out too: a recording has them. */
export function notesIn({ score }: Piece, clock: Clock): FeatureNote[] {
  return score.parts.flatMap(({ channel, notes: n }) =>
    Array.from({ length: n.count }, (_, i) => ({
      fromMs: clock.msAt(n.start[i]!),
      toMs: clock.msAt(n.end[i]!),
      key: n.noteNumber[i]!,
      velocity: n.velocity[i]!,
      drum: channel === 10,
    })),
  );
}

/** What two that play together may be apart before it is heard, in milliseconds. */
export const APART_MS = 20;

/** How much of the score must be found where it is before no other place is looked for. */
const IN_PLACE = 0.6;
/** How sure another place must be before it is spoken of. */
const SURE = 0.4;
const FEWEST = 8;

/** Of fewer notes their beginnings say more than what sounds. */
const FOLLOWED_FROM = 100;

/**
 * Where a recording lies beside a piece: what sounds in both is followed, of a few notes their
 * beginnings. Null where nothing says it surely; `doubt` says where it seems to be something else.
 */
export function liesBeside(
  piece: Piece,
  clock: Clock,
  heard: Listened,
  checkpoint?: Checkpoint,
): Lies | null {
  const notes = notesIn(piece, clock);
  if (notes.length >= FOLLOWED_FROM && heard.features) {
    // Held from its first note on: a score that is moved as a whole lies as it did, so much elsewhere.
    const firstMs = notes.reduce((ms, n) => Math.min(ms, n.fromMs), Infinity);
    const own = notes.map((n) => ({ ...n, fromMs: n.fromMs - firstMs, toMs: n.toMs - firstMs }));
    const at = remembered(own, heard, (features) => {
      const scoreMs = own.reduce((ms, n) => Math.max(ms, n.toMs), 0) + 500;
      const like = heard.like?.();
      return align({
        notes: own,
        scoreMs,
        features,
        onsets: heard.onsets,
        ...(like ? { like: heardFeatures(like, scoreMs, (ms) => ms + firstMs) } : {}),
        ...(checkpoint ? { checkpoint } : {}),
      });
    });
    const found = at && scoreLater(at, firstMs);
    if (found?.doubt === 'other' && found.better.song < SURELY_OTHER) return { other: true };
    return found && found.doubt === null ? { found } : null;
  }
  const struck = struckOf(notes.map((n) => [n.fromMs, n.velocity]));
  const ms = apartBy(struck, heard.onsets);
  return ms === null ? null : { apartMs: ms };
}

/** No better than this than in other keys or backwards: it is something else. */
const SURELY_OTHER = 0.15;

export type Lies =
  | { readonly apartMs: number; readonly found?: undefined; readonly other?: undefined }
  | { readonly found: Alignment; readonly apartMs?: undefined; readonly other?: undefined }
  | { readonly other: true; readonly apartMs?: undefined; readonly found?: undefined };

/** By how much the sound begins later than the score; null where that is not one number, or not sure. */
export function apartOf(lies: Lies | null): number | null {
  if (lies?.apartMs !== undefined) return lies.apartMs;
  if (lies?.found?.kind !== 'offset') return null;
  // Where bars are missing it is what holds at the start: behind them another holds.
  return lies.found.jumps[0]?.beforeMs ?? lies.found.offsetMs;
}

/** What was found of the last pairs: most changes of a plan leave times and keys as they were. */
const known = new Map<string, Alignment | null>();
const MOST_KNOWN = 24;

function remembered(
  notes: readonly FeatureNote[],
  { onsets, features, like }: Listened,
  look: (features: Features) => Alignment | null,
): Alignment | null {
  let sum = 0x811c9dc5;
  const take = (n: number) => {
    sum = Math.imul(sum ^ (n | 0), 0x01000193) >>> 0;
  };
  for (const n of notes) {
    // To the microsecond: what was moved as a whole is the same but for its last digits.
    take(Math.round(n.fromMs * 1000));
    take(Math.round(n.toMs * 1000));
    take(n.key + (n.drum ? 256 : 0) + n.velocity * 512);
  }
  for (const ms of onsets.ms) take(ms * 1000);
  const key = `${sum} ${notes.length} ${onsets.ms.length} ${features!.frames}${like ? ' like' : ''}`;
  let found = known.get(key);
  if (found === undefined) {
    found = look(features!);
    if (known.size >= MOST_KNOWN) known.delete(known.keys().next().value!);
    known.set(key, found);
  }
  return found;
}

/**
 * By how much the sound begins later than the score, in milliseconds: what is left over where both
 * lie together already, else the place at which they do. Null where neither is sure.
 */
function apartBy(struck: Struck, onsets: Onsets): number | null {
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
