import type { Piece } from '../../score/piece';
import { isIn, type EventColumns, type Score } from '../../score/score';
import {
  META,
  META_COPYRIGHT,
  META_CUE_POINT,
  META_INSTRUMENT,
  META_LYRIC,
  META_TEXT,
  META_TRACK_NAME,
} from '../../smf/file';

/** What a Standard MIDI File holds beside controllers, in the order in which it is listed. */
export const KINDS_OF_MIDI = [
  'notes',
  'note numbers',
  'velocities',
  'lengths',
  'programs',
  'bank changes',
  'bends',
  'pedal changes',
  'pressures',
  'tempos',
  'meters',
  'keys',
  'markers',
  'lyrics',
  'texts',
  'names',
  'system exclusive messages',
] as const;
const OF_OTHERS = ['captions', 'flags', 'sounds'] as const;

/** Kinds of fact that a source may bring; controllers are told apart by their numbers. */
export type Kind =
  (typeof KINDS_OF_MIDI)[number] | (typeof OF_OTHERS)[number] | `controller ${number} changes`;

/** In the order in which they are listed; controllers stand behind pedals. */
export const KIND_ORDER: readonly Kind[] = [...KINDS_OF_MIDI, ...OF_OTHERS];

/** What a writer of Standard MIDI Files carries. */
export const ALL_OF_MIDI: readonly (Kind | 'controllers')[] = [...KINDS_OF_MIDI, 'controllers'];

/** How many of each kind. */
export type Counts = Map<Kind, number>;

export const addTo = (counts: Counts, kind: Kind, n = 1): void =>
  void (n > 0 && counts.set(kind, (counts.get(kind) ?? 0) + n));

/** MIDI 1.0, "Controller Numbers": bank select, and the pedals. */
const BANKS = new Set([0, 32]);
const PEDALS = new Set([64, 65, 66, 67, 68, 69]);

const kindOf = (kind: number, data1: number): Kind | null => {
  switch (kind) {
    case 0xa0:
    case 0xd0:
      return 'pressures';
    case 0xb0:
      if (BANKS.has(data1)) return 'bank changes';
      return PEDALS.has(data1) ? 'pedal changes' : `controller ${data1} changes`;
    case 0xc0:
      return 'programs';
    case 0xe0:
      return 'bends';
    default:
      return null;
  }
};

function countEvents({ count, kind, data1 }: EventColumns, out: Counts) {
  for (let i = 0; i < count; i++) {
    const of = kindOf(kind[i]!, data1[i]!);
    if (of) addTo(out, of);
  }
}

const TEXTS: Readonly<Record<number, Kind>> = {
  [META_TEXT]: 'texts',
  [META_COPYRIGHT]: 'texts',
  [META_TRACK_NAME]: 'names',
  [META_INSTRUMENT]: 'names',
  [META_LYRIC]: 'lyrics',
  [META_CUE_POINT]: 'texts',
};

/** @param all also of parts that are left out: what a source had */
export function countScore(score: Score, all = false): Counts {
  const out: Counts = new Map();
  for (const part of score.parts) {
    if (!all && !isIn(part)) continue;
    for (const kind of ['notes', 'note numbers', 'velocities', 'lengths'] as const)
      addTo(out, kind, part.notes.count);
    countEvents(part.events, out);
  }
  const { tempos, meters, keys, markers } = score.conductor;
  addTo(out, 'tempos', tempos.length);
  addTo(out, 'meters', meters.length);
  addTo(out, 'keys', keys.length);
  addTo(out, 'markers', markers.length);
  for (const { events } of score.tracks)
    for (const { status, type } of events)
      if (status !== META) addTo(out, 'system exclusive messages');
      else if (TEXTS[type]) addTo(out, TEXTS[type]);
      else if (type > 7 && type < 16) addTo(out, 'texts');
  return out;
}

/** Everything that a piece brings. */
export function countPiece({ score, captions, flags }: Piece): Counts {
  const out = countScore(score, true);
  addTo(out, 'captions', captions?.length ?? 0);
  for (const { notes } of flags ?? []) addTo(out, 'flags', notes.size);
  return out;
}

export function sumCounts(all: Iterable<Counts>): Counts {
  const out: Counts = new Map();
  for (const counts of all) for (const [kind, n] of counts) addTo(out, kind, n);
  return out;
}

/** Of several files that hold the same, a kind is carried by the one that holds most of it. */
export function mostOf(all: Iterable<Counts>): Counts {
  const out: Counts = new Map();
  for (const counts of all)
    for (const [kind, n] of counts) if (n > (out.get(kind) ?? 0)) out.set(kind, n);
  return out;
}
