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
import { LATEST_TICK } from '../smf/file';
import { heldOnClock, mapper, scaled, shifted, type TimeMap, compose } from '../time/time-map';
import { makeClock } from '../time/tempo-map';
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
}

/**
 * Merges sources. One alone is itself. The ruling one lends conductor and division; PPQ is brought
 * to one exactly where it can be. Of a source that follows, tempos, meters, keys and markers stay
 * behind; its names, lyrics and texts come along with its parts.
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
  const [ruling] = together;
  if (ruling) {
    const parts = alignedScores(together, remarks).map((s, i) => renumbered(together[i]!, s));
    const score = joined(together, parts);
    const own = ticksPerQuarterOf(ruling.source.score.division);
    const ppq = ticksPerQuarterOf(score.division);
    // Plans count in the ruling source's own ticks, whatever joins it.
    const fromBase = own === ppq ? {} : { fromBase: scaled(own, ppq) };
    pieces.push({
      score,
      delivery: deliveryOf(ruling),
      ...told(ruling.source, score),
      ...fromBase,
    });
  }
  for (const use of files) {
    const delivery = deliveryOf(use);
    const place = use.place === null ? {} : { place: use.place };
    const score = renumbered(use, use.source.score);
    pieces.push({ score, delivery: { ...delivery, ...place }, ...told(use.source, score) });
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
  };
}

function deliveryOf({ source }: ResolvedUse): Delivery {
  const format = source.head.format === 0 && source.head.tracks === 1 ? 0 : 1;
  const { fileName = source.name, metadata } = source.extras ?? {};
  return {
    format,
    layout: format === 0 ? 'single' : 'as-is',
    fileName,
    ...(metadata ? { metadata } : {}),
  };
}

/** Captions and flags that a source brings along; flags are found by track, tick and key. */
function told({ extras }: SourceScore, score: Score): Pick<Piece, 'captions' | 'flags'> {
  if (!extras) return {};
  const { captions, flags } = extras;
  const wanted = new Map<string, string[]>();
  for (const { flag, track, channel, tick, key } of flags ?? []) {
    const place = `${track} ${channel} ${tick} ${key}`;
    wanted.set(place, [...(wanted.get(place) ?? []), flag]);
  }
  const byFlag = new Map<string, Set<number>>();
  if (wanted.size > 0)
    for (const { track, channel, notes } of score.parts)
      for (let i = 0; i < notes.count; i++) {
        const place = `${track} ${channel} ${notes.start[i]} ${notes.noteNumber[i]}`;
        for (const flag of wanted.get(place) ?? [])
          byFlag.set(flag, (byFlag.get(flag) ?? new Set()).add(notes.id[i]!));
      }
  return {
    ...(captions ? { captions } : {}),
    ...(byFlag.size > 0
      ? { flags: [...byFlag].map(([flag, list]) => ({ flag, notes: list })) }
      : {}),
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

/** Scores in ticks of the ruling one, or of the PPQ that all have in common. */
function alignedScores(uses: readonly ResolvedUse[], remarks: string[]): Score[] {
  const [ruling] = uses;
  const { division } = ruling!.source.score;
  if (uses.length === 1) return [ruling!.source.score];
  const byBars = uses.filter((u) => u.follows === 'bars' || u === ruling);
  const { ppq, exact } =
    division.kind === 'ppq'
      ? commonPpq(byBars.map((u) => ticksPerQuarterOf(u.source.score.division)))
      : { ppq: 0, exact: true };
  if (!exact)
    remarks.push(
      `The sources have no PPQ in common: they are written in ${ppq} ticks to a quarter note, ` +
        `and what follows ${ruling!.source.name} is moved by half a tick at most.`,
    );
  const rule = onPpq(ruling!.source.score, ppq);
  const clock = makeClock(rule.division, rule.conductor.tempos);
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
    if (first !== null && at(first) < 0) {
      remarks.push(
        `${name} would begin before the start: it stands at the start. Give a smaller offset.`,
      );
      const early = at(first);
      return {
        ...mapTicks(score, (tick) => Math.max(0, at(tick) - early)),
        division: rule.division,
      };
    }
    if (at(endTickOf(score)) > LATEST_TICK)
      remarks.push(`${name} runs past the latest tick that a file can hold, and is cut there.`);
    const held = (tick: number) => Math.max(0, Math.min(LATEST_TICK, at(tick)));
    // What sets up a part stays at the start wherever its music goes.
    return { ...mapTicks(score, held, at(0) > 0), division: rule.division };
  });
}

function onPpq(score: Score, ppq: number): Score {
  const own = ticksPerQuarterOf(score.division);
  if (ppq === 0 || own === ppq) return score;
  const at = mapper(scaled(own, ppq));
  return { ...mapTicks(score, at), division: { kind: 'ppq', ticksPerQuarter: ppq } };
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

/** Tracks and parts of all, under the conductor of the first. */
function joined(uses: readonly ResolvedUse[], scores: readonly Score[]): Score {
  const [rule] = scores;
  if (scores.length === 1) return rule!;
  const tracks: ScoreTrack[] = [];
  const parts: Part[] = [];
  scores.forEach((score, i) => {
    const from = tracks.length;
    const follower = i === 0 ? {} : { follower: uses[i]!.source.key };
    for (const track of score.tracks) tracks.push({ ...track, ...follower });
    for (const part of score.parts)
      parts.push({
        ...part,
        id: i === 0 ? part.id : `s${i}${part.id}`,
        track: part.track + from,
        sourceTrack: part.sourceTrack < 0 ? -1 : part.sourceTrack + from,
      });
  });
  const lastId = scores.reduce((most, s) => Math.max(most, s.lastId), 0);
  return { division: rule!.division, conductor: rule!.conductor, tracks, parts, lastId };
}
