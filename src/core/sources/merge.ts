import type { NoteAddress } from '../score/address';
import { mapTicks } from '../score/map-ticks';
import type { Delivery, Piece, Rendition } from '../score/piece';
import {
  endTickOf,
  firstTickOf,
  ticksPerQuarterOf,
  type Part,
  type Score,
  type ScoreTrack,
} from '../score/score';
import { LATEST_TICK, LONGEST_WAIT } from '../smf/file';
import { nameBeside } from '../smf/name';
import { heldOnClock, mapper, scaled, shifted, type TimeMap, compose } from '../time/time-map';
import { makeClock } from '../time/tempo-map';
import {
  captionsOf,
  flagsOf,
  leftBehind,
  markersOf,
  metadataOf,
  type PlacedSource,
  type StaysBehind,
  untold,
} from './extras';
import { musicName } from './readers/index';
import { addressesIn, indexNotes, type NoteIndex } from './note-index';
import type { SourceScore } from './source';
import { usesOf, type ResolvedUse, type SourceUse } from './use';

/** All sources of a job as one: what every plan begins with. */
export interface Base {
  readonly sources: readonly SourceScore[];
  readonly uses: readonly ResolvedUse[];
  /** The music as it came, before any seat is taken; ids are of the base. */
  readonly rendition: Rendition;
  /** The id of a note that a plan names by its own source's ticks. */
  readonly notes: NoteIndex;
  /** How plans name the notes of these ids, by their own source's ticks. */
  readonly addressesOf: (ids: ReadonlySet<number>) => NoteAddress[];
  /** What could not be done exactly, or not at all, in whole sentences. */
  readonly remarks: readonly string[];
  /** What sources that do not rule brought and this does not hold; each is a loss of the delivery. */
  readonly behind: readonly StaysBehind[];
}

/**
 * Merges sources. One alone is itself. The ruling one lends conductor and division; PPQ is brought
 * to one exactly where it can be. What a source brings beside notes goes where its notes go. Of one
 * that follows, tempos, meters and keys stay behind and are listed.
 */
export function makeBase(sources: readonly SourceScore[], said?: readonly SourceUse[]): Base {
  const uses = usesOf(sources, said);
  const together = uses.filter((u) => u.as === 'together');
  const files = uses.filter((u) => u.as === 'file');
  const remarks: string[] = [];
  const offsets = new Map<string, number>();
  let nextId = 0;
  const renumbered = (use: ResolvedUse, score: Score): Score => {
    offsets.set(use.source.key, nextId);
    const out = nextId === 0 ? score : withIds(score, nextId);
    nextId += use.source.score.lastId;
    return out;
  };
  const pieces: Piece[] = [];
  let behind: readonly StaysBehind[] = [];
  const [ruling] = together;
  if (ruling) {
    const placed = alignedScores(together, remarks).map(({ score, to }, i): PlacedSource => {
      const use = together[i]!;
      const idOffset = nextId;
      return { use, score: renumbered(use, score), to, idOffset };
    });
    const score = joined(placed);
    const own = ticksPerQuarterOf(ruling.source.score.division);
    const ppq = ticksPerQuarterOf(score.division);
    // Plans count in the ruling source's own ticks, whatever joins it.
    const fromBase = own === ppq ? {} : { fromBase: scaled(own, ppq) };
    const metadata = metadataOf(placed);
    behind = [...untold(placed), ...leftBehind(placed, metadata)];
    pieces.push({
      score,
      delivery: { ...deliveryOf(ruling), ...(metadata ? { metadata } : {}) },
      ...told(placed),
      ...fromBase,
    });
  }
  // Plans say by its name which file a step is for: two folders may hold one name each.
  const names = new Set(pieces.map((p) => p.delivery.fileName.toLowerCase()));
  for (const use of files) {
    const own = deliveryOf(use);
    const delivery = { ...own, fileName: nameBeside(own.fileName, names) };
    names.add(delivery.fileName.toLowerCase());
    const place = use.place === null ? {} : { place: use.place };
    const idOffset = nextId;
    const score = renumbered(use, use.source.score);
    const placed = { use, score, to: (tick: number) => tick, idOffset };
    behind = [...behind, ...untold([placed])];
    const base = pieces.length === 0 ? {} : { base: pieces.length };
    pieces.push({ score, delivery: { ...delivery, ...place }, ...told([placed]), ...base });
  }
  // Of several pieces none may give an id that another one has.
  const rendition = {
    pieces: pieces.map((p) =>
      p.score.lastId === nextId ? p : { ...p, score: { ...p.score, lastId: nextId } },
    ),
  };
  return {
    sources,
    uses,
    rendition,
    notes: notesIn(sources, offsets),
    addressesOf: (ids) =>
      sources.flatMap((s) => addressesIn(s.score, ids, offsets.get(s.key) ?? 0)),
    remarks,
    behind,
  };
}

function deliveryOf({ source }: ResolvedUse): Delivery {
  const format = source.head.format === 0 && source.head.tracks === 1 ? 0 : 1;
  const { metadata } = source.extras ?? {};
  const fileName = source.extras ? musicName(source.name) : source.name;
  return {
    format,
    layout: format === 0 ? 'single' : 'as-is',
    fileName,
    ...(metadata ? { metadata } : {}),
  };
}

/** Captions and flags that sources bring along. */
function told(placed: readonly PlacedSource[]): Pick<Piece, 'captions' | 'flags'> {
  const captions = captionsOf(placed);
  const flags = flagsOf(placed);
  return {
    ...(captions.length > 0 ? { captions } : {}),
    ...(flags.length > 0 ? { flags } : {}),
  };
}

function notesIn(sources: readonly SourceScore[], offsets: ReadonlyMap<string, number>): NoteIndex {
  const made = new Map<string, NoteIndex>();
  return (address: NoteAddress) => {
    const source = sources.find((s) => s.key === address.part.source);
    if (!source) return null;
    let index = made.get(source.key);
    if (!index) made.set(source.key, (index = indexNotes(source.score)));
    const id = index(address);
    return id === null ? null : id + (offsets.get(source.key) ?? 0);
  };
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
const HIGHEST_PPQ = 32_767;

/** The PPQ that all can be written in exactly, else the finest that the ruling one divides. */
export function commonPpq(ppqs: readonly number[]): { ppq: number; exact: boolean } {
  const [first = 480] = ppqs;
  const all = ppqs.reduce((a, b) => (a > HIGHEST_PPQ ? a : (a / gcd(a, b)) * b), 1);
  if (all <= HIGHEST_PPQ) return { ppq: all, exact: true };
  return { ppq: Math.floor(HIGHEST_PPQ / first) * first, exact: false };
}

/**
 * The PPQ of sources that follow by bars. Ticks of a long show stay below the longest wait that a
 * file can hold, rather than exact.
 */
function ppqOf(uses: readonly ResolvedUse[]): { ppq: number; exact: boolean } {
  const ppqs = uses.map((u) => ticksPerQuarterOf(u.source.score.division));
  const common = commonPpq(ppqs);
  const quarters = uses.reduce((most, u, i) => {
    const end = endTickOf(u.source.score) + (u.rules ? 0 : u.offset);
    return Math.max(most, end / ppqs[i]!);
  }, 0);
  const finest = Math.floor(LONGEST_WAIT / Math.max(1, quarters));
  const [own = 480] = ppqs;
  if (common.ppq <= Math.max(own, finest)) return common;
  return { ppq: Math.max(1, Math.floor(finest / own)) * own, exact: false };
}

type Aligned = Pick<PlacedSource, 'score' | 'to'>;

/** Scores in ticks of the ruling one, or of the PPQ that all have in common; and where ticks went. */
function alignedScores(uses: readonly ResolvedUse[], remarks: string[]): Aligned[] {
  const [ruling] = uses;
  const { division } = ruling!.source.score;
  if (uses.length === 1) return [{ score: ruling!.source.score, to: (tick) => tick }];
  const byBars = uses.filter((u) => u.follows === 'bars' || u === ruling);
  const { ppq, exact } = division.kind === 'ppq' ? ppqOf(byBars) : { ppq: 0, exact: true };
  if (!exact)
    remarks.push(
      `The sources have no PPQ in common: they are written in ${ppq} ticks to a quarter note, ` +
        `and what follows ${ruling!.source.name} is moved by half a tick at most.`,
    );
  const rule = onPpq(ruling!.source.score, ppq);
  const clock = makeClock(rule.score.division, rule.score.conductor.tempos);
  return uses.map((use) => {
    if (use === ruling) return rule;
    const { score, name } = use.source;
    const own = makeClock(score.division, score.conductor.tempos);
    const map: TimeMap =
      use.follows === 'clock'
        ? heldOnClock(own, clock, use.offset / 1000)
        : compose(shifted(use.offset), scaled(ticksPerQuarterOf(score.division), ppq));
    const at = mapper(map);
    const first = firstTickOf(score);
    const early = first !== null && at(first) < 0 ? at(first) : 0;
    if (early < 0)
      remarks.push(
        `${name} would begin before the start: it stands at the start. Give a smaller offset.`,
      );
    if (at(endTickOf(score)) - early > LATEST_TICK)
      remarks.push(`${name} runs past the latest tick that a file can hold, and is cut there.`);
    const to = (tick: number) => Math.max(0, Math.min(LATEST_TICK, at(tick) - early));
    // What sets up a part stays at the start wherever its music goes.
    const moved = mapTicks(score, to, at(0) > 0);
    return { score: { ...moved, division: rule.score.division }, to };
  });
}

function onPpq(score: Score, ppq: number): Aligned {
  const own = ticksPerQuarterOf(score.division);
  if (ppq === 0 || own === ppq) return { score, to: (tick) => tick };
  const to = mapper(scaled(own, ppq));
  const moved = mapTicks(score, to);
  return { score: { ...moved, division: { kind: 'ppq', ticksPerQuarter: ppq } }, to };
}

function withIds(score: Score, by: number): Score {
  const parts = score.parts.map((part): Part => {
    const id = part.notes.id.map((n) => n + by);
    const { origin, id: own } = part.notes;
    const moved = origin === own ? id : origin.map((n) => (n === 0 ? 0 : n + by));
    return { ...part, notes: { ...part.notes, id, origin: moved } };
  });
  return { ...score, parts, lastId: score.lastId + by };
}

/** Tracks and parts of all, under the conductor of the first, with the markers of all. */
function joined(placed: readonly PlacedSource[]): Score {
  const rule = placed[0]!.score;
  if (placed.length === 1) return rule;
  const tracks: ScoreTrack[] = [];
  const parts: Part[] = [];
  placed.forEach(({ score, use }, i) => {
    const from = tracks.length;
    const follower = i === 0 ? {} : { follower: use.source.key };
    for (const track of score.tracks) tracks.push({ ...track, ...follower });
    for (const part of score.parts)
      parts.push({
        ...part,
        id: i === 0 ? part.id : `s${i}${part.id}`,
        track: part.track + from,
        sourceTrack: part.sourceTrack < 0 ? -1 : part.sourceTrack + from,
      });
  });
  const lastId = placed.reduce((most, { score }) => Math.max(most, score.lastId), 0);
  const near = ticksPerQuarterOf(rule.division) / 64;
  const conductor = { ...rule.conductor, markers: markersOf(placed, near) };
  return { division: rule.division, conductor, tracks, parts, lastId };
}
