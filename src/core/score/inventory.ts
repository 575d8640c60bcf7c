import { mostAtOnce } from './at-once';
import { META, type SmfHead } from '../smf/file';
import type { ReadText } from '../smf/text';
import { makeClock, type Clock } from '../time/tempo-map';
import type { MeterMap } from '../time/meter-map';
import { endTickOf, makeBars, OFF_MISSING, readTextOf, type Part, type Score } from './score';

/** What is in a piece: the paper people write by hand today. */
export interface Inventory {
  readonly format: number;
  readonly division:
    { readonly ppq: number } | { readonly framesPerSecond: number; readonly ticksPerFrame: number };
  readonly tracks: number;
  readonly notes: number;
  readonly firstNoteTick: number | null;
  readonly firstNoteMs: number | null;
  readonly endTick: number;
  readonly endMs: number;
  readonly bars: number;
  readonly tempos: readonly { tick: number; microsecondsPerQuarter: number }[];
  readonly meters: readonly { tick: number; numerator: number; denominator: number }[];
  readonly keys: readonly { tick: number; name: string }[];
  readonly markers: readonly { tick: number; text: string }[];
  readonly texts: readonly {
    tick: number;
    track: number;
    kind: string;
    text: string;
    encoding: ReadText['encoding'];
  }[];
  readonly sysex: number;
  readonly unknownMeta: number;
  readonly extraChunks: readonly { type: string; bytes: number }[];
  /** How many sequences (format 2) or songs (a module) there are, of which one is shown. */
  readonly sequences: number;
  readonly emptyTracks: readonly { track: number; name: string | null }[];
  readonly parts: readonly PartInventory[];
}

export interface PartInventory {
  readonly id: string;
  readonly track: number;
  readonly channel: number;
  readonly name: string;
  readonly programs: readonly number[];
  readonly notes: number;
  readonly lowest: number | null;
  readonly highest: number | null;
  readonly polyphony: number;
  readonly firstTick: number | null;
  readonly endTick: number | null;
  readonly controllers: readonly number[];
  readonly bends: number;
  readonly aftertouch: number;
  readonly stuck: number;
  /** Notes that begin on a key and tick where another one begins. */
  readonly doubled: number;
  readonly lowestVelocity: number | null;
  readonly highestVelocity: number | null;
}

export const roundMs = (ms: number): number => Math.round(ms * 1000) / 1000;

export interface Maps {
  readonly clock: Clock;
  readonly bars: MeterMap;
}

export const mapsOf = (score: Score): Maps => ({
  clock: makeClock(score.division, score.conductor.tempos),
  bars: makeBars(score.division, score.conductor.meters),
});

const TEXT_KINDS: Record<number, string> = {
  1: 'text',
  2: 'copyright',
  3: 'track name',
  4: 'instrument',
  5: 'lyric',
  7: 'cue point',
  8: 'program name',
  9: 'device name',
};
const KNOWN_META = new Set([
  0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 0x20, 0x21, 0x2f, 0x51, 0x54, 0x58, 0x59, 0x7f,
]);
export const isKnownMeta = (type: number): boolean => KNOWN_META.has(type);
export const isTextMeta = (type: number): boolean => type >= 1 && type <= 15;

/** The inventory of a source, before any step. */
export function inventoryOf(head: SmfHead, score: Score): Inventory {
  const { clock, bars } = mapsOf(score);
  const parts = score.parts.map(partInventory);
  const firsts = parts.flatMap((p) => (p.firstTick === null ? [] : [p.firstTick]));
  const firstNoteTick = firsts.length === 0 ? null : firsts.reduce((a, b) => Math.min(a, b));
  const endTick = endTickOf(score);
  const texts = score.tracks.flatMap((track, index) =>
    track.events
      .filter((e) => e.status === META && isTextMeta(e.type))
      .map((e) => ({
        tick: e.tick,
        track: index,
        kind: TEXT_KINDS[e.type] ?? 'text',
        ...readTextOf(e),
      })),
  );
  const plain = score.tracks.flatMap((t) => t.events);
  const { division } = score;
  const played = new Set(score.parts.filter((p) => p.notes.count > 0).map((p) => p.track));
  return {
    format: head.format,
    division:
      division.kind === 'ppq'
        ? { ppq: division.ticksPerQuarter }
        : { framesPerSecond: division.framesPerSecond, ticksPerFrame: division.ticksPerFrame },
    tracks: head.tracks,
    notes: parts.reduce((sum, p) => sum + p.notes, 0),
    firstNoteTick,
    firstNoteMs: firstNoteTick === null ? null : roundMs(clock.msAt(firstNoteTick)),
    endTick,
    endMs: roundMs(clock.msAt(endTick)),
    bars: bars.barCount(endTick),
    tempos: score.conductor.tempos.map(({ tick, microsecondsPerQuarter }) => ({
      tick,
      microsecondsPerQuarter,
    })),
    meters: score.conductor.meters.map(({ tick, numerator, denominator }) => ({
      tick,
      numerator,
      denominator,
    })),
    keys: score.conductor.keys.map(({ tick, bytes }) => ({ tick, name: keyName(bytes) })),
    markers: score.conductor.markers.map(({ tick, text }) => ({ tick, text })),
    texts,
    sysex: plain.filter((e) => e.status !== META).length,
    unknownMeta: plain.filter((e) => e.status === META && !isKnownMeta(e.type)).length,
    extraChunks: head.extraChunks,
    sequences: head.sequences?.length ?? (head.format === 2 ? head.tracks : 1),
    emptyTracks: score.tracks.flatMap((track, index) =>
      played.has(index) ? [] : [{ track: index, name: track.name }],
    ),
    parts,
  };
}

export function partInventory(part: Part): PartInventory {
  const { notes, events } = part;
  let lowest = 128;
  let highest = -1;
  let softest = 128;
  let loudest = -1;
  let endTick = 0;
  let stuck = 0;
  let doubled = 0;
  const begun = new Int32Array(128).fill(-1);
  for (let i = 0; i < notes.count; i++) {
    const key = notes.noteNumber[i]!;
    if (key < lowest) lowest = key;
    if (key > highest) highest = key;
    const velocity = notes.velocity[i]!;
    if (velocity < softest) softest = velocity;
    if (velocity > loudest) loudest = velocity;
    if (notes.end[i]! > endTick) endTick = notes.end[i]!;
    if (notes.offKind[i] === OFF_MISSING) stuck++;
    if (begun[key] === notes.start[i]) doubled++;
    begun[key] = notes.start[i]!;
  }
  const programs = new Set<number>();
  const controllers = new Set<number>();
  let bends = 0;
  let aftertouch = 0;
  for (let i = 0; i < events.count; i++) {
    const kind = events.kind[i]!;
    if (kind === 0xc0) programs.add(events.data1[i]!);
    else if (kind === 0xb0) controllers.add(events.data1[i]!);
    else if (kind === 0xe0) bends++;
    else if (kind === 0xa0 || kind === 0xd0) aftertouch++;
  }
  const some = notes.count > 0;
  return {
    id: part.id,
    track: part.track,
    channel: part.channel,
    name: part.name,
    programs: [...programs],
    notes: notes.count,
    lowest: some ? lowest : null,
    highest: some ? highest : null,
    polyphony: mostAtOnce([notes]),
    firstTick: some ? notes.start[0]! : null,
    endTick: some ? endTick : null,
    controllers: [...controllers].sort((a, b) => a - b),
    bends,
    aftertouch,
    stuck,
    doubled,
    lowestVelocity: some ? softest : null,
    highestVelocity: some ? loudest : null,
  };
}

const SHARP_KEYS = ['C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯'];
const FLAT_KEYS = ['C', 'F', 'B♭', 'E♭', 'A♭', 'D♭', 'G♭', 'C♭'];
const MINOR_UP = ['A', 'E', 'B', 'F♯', 'C♯', 'G♯', 'D♯', 'A♯'];
const MINOR_DOWN = ['A', 'D', 'G', 'C', 'F', 'B♭', 'E♭', 'A♭'];

export function keyName(bytes: Uint8Array): string {
  const fifths = ((bytes[0] ?? 0) << 24) >> 24;
  const minor = bytes[1] === 1;
  const list = minor ? (fifths < 0 ? MINOR_DOWN : MINOR_UP) : fifths < 0 ? FLAT_KEYS : SHARP_KEYS;
  return `${list[Math.abs(fifths)] ?? '?'} ${minor ? 'minor' : 'major'}`;
}
