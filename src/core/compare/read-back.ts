import { heardEnds } from '../reading/heard-ends';
import { sortByKey } from '../score/columns';
import { layoutOf } from '../score/layout';
import type { Piece } from '../score/piece';
import { readScore } from '../score/read-score';
import { isIn, OFF_MISSING, type Part, type Score } from '../score/score';
import { divisionWord, LATEST_TICK, META_TRACK_NAME } from '../smf/file';

/** What was delivered, read again and held against what was meant. */
export interface ReadBack {
  readonly same: boolean;
  readonly notesMeant: number;
  readonly notesRead: number;
  /** In words, one difference each. */
  readonly differences: readonly string[];
}

/** What stands on one track of a file: notes by channel, and all else as lines to be compared. */
interface TrackContent {
  readonly notes: ReadonlyMap<number, Flat>;
  readonly lines: Readonly<Record<(typeof KINDS)[number], readonly string[]>>;
}

const KINDS = [
  'tempos',
  'meters',
  'keys',
  'markers',
  'track names',
  'texts and lyrics',
  'system exclusive events',
  'other channel events',
] as const;

/**
 * Reads delivered bytes with the reader and compares them with the piece, track by track and tick
 * for tick: format, PPQ, tracks, notes, everything that conducts, texts, sysex, channel events.
 */
export function readBack(piece: Piece, bytes: Uint8Array): ReadBack {
  const differences: string[] = [];
  const { head, score, damage } = readScore(bytes, { sourceKey: 'read-back' });
  const notesMeant = piece.score.parts.reduce((n, p) => n + (isIn(p) ? p.notes.count : 0), 0);
  if (!head || !score)
    return { same: false, notesMeant, notesRead: 0, differences: ['It cannot be read.'] };
  if (damage.length > 0) differences.push(`${damage.length} places are damaged.`);
  if (head.format !== piece.delivery.format)
    differences.push(`The format is ${head.format}, not ${piece.delivery.format}.`);
  if (head.division !== divisionWord(piece.score.division))
    differences.push(`The division is ${head.division}.`);
  const meant = meantTracks(piece);
  const read = readTracks(score);
  if (meant.length !== read.length)
    differences.push(`${meant.length} tracks were meant, ${read.length} were read.`);
  meant.forEach((track, t) => {
    const other = read[t];
    if (!other) return;
    const where = meant.length > 1 ? `Track ${t + 1}` : '';
    for (const channel of new Set([...track.notes.keys(), ...other.notes.keys()])) {
      const said = compareNotes(track.notes.get(channel), other.notes.get(channel));
      if (said) differences.push(`${where ? `${where}, channel` : 'Channel'} ${channel}: ${said}`);
    }
    for (const kind of KINDS)
      if (!sameLines(track.lines[kind], other.lines[kind]))
        differences.push(`${where ? `${where}: the` : 'The'} ${kind} differ.`);
  });
  const notesRead = score.parts.reduce((n, p) => n + p.notes.count, 0);
  return { same: differences.length === 0, notesMeant, notesRead, differences };
}

const sameLines = (a: readonly string[], b: readonly string[]) =>
  a.length === b.length && a.every((line, i) => line === b[i]);

function meantTracks(piece: Piece): TrackContent[] {
  const ends = heardEnds(piece);
  return layoutOf(piece).map(({ tracks, conductorOf, parts }) =>
    contentOf(
      piece.score,
      new Set(tracks),
      new Set(conductorOf),
      parts.map((i) => piece.score.parts[i]!),
      ends,
    ),
  );
}

const readTracks = (score: Score): TrackContent[] =>
  score.tracks.map((_, t) => {
    const only = new Set([t]);
    const parts = score.parts.filter((p) => p.track === t);
    return contentOf(score, only, only, parts, (part) => part.notes.end);
  });

function contentOf(
  score: Score,
  tracks: ReadonlySet<number>,
  conducting: ReadonlySet<number>,
  parts: readonly Part[],
  ends: (part: Part) => Int32Array,
): TrackContent {
  const { tempos, meters, keys, markers } = score.conductor;
  const here = <T extends { track: number }>(list: readonly T[], line: (e: T) => string) =>
    list
      .filter((e) => conducting.has(e.track))
      .map(line)
      .sort();
  const plain = [...tracks].flatMap((t) => score.tracks[t]!.events);
  const lineOf = (e: (typeof plain)[number]) => `${e.tick} ${e.status} ${e.type} ${e.bytes.join()}`;
  const of = (wanted: (e: (typeof plain)[number]) => boolean) =>
    plain.filter(wanted).map(lineOf).sort();
  const isMeta = (e: (typeof plain)[number]) => e.status === 0xff;
  const byChannel = new Map<number, Part[]>();
  for (const part of parts)
    if (part.notes.count > 0)
      byChannel.set(part.channel, [...(byChannel.get(part.channel) ?? []), part]);
  return {
    notes: new Map([...byChannel].map(([channel, list]) => [channel, flat(list, ends)])),
    lines: {
      tempos: here(tempos, (e) => `${e.tick} ${e.microsecondsPerQuarter}`),
      meters: here(meters, (e) => `${e.tick} ${e.numerator}/${e.denominator} ${e.rest.join()}`),
      keys: here(keys, (e) => `${e.tick} ${e.bytes.join()}`),
      markers: here(markers, (e) => `${e.tick} ${e.bytes.join()}`),
      'track names': of((e) => isMeta(e) && e.type === META_TRACK_NAME),
      'texts and lyrics': of((e) => isMeta(e) && e.type !== META_TRACK_NAME),
      'system exclusive events': of((e) => !isMeta(e)),
      'other channel events': eventLines(parts),
    },
  };
}

function eventLines(parts: readonly Part[]): string[] {
  const lines: string[] = [];
  for (const { events, channel } of parts)
    for (let i = 0; i < events.count; i++)
      lines.push(
        `${channel} ${events.tick[i]} ${events.kind[i]} ${events.data1[i]} ${events.data2[i]}`,
      );
  return lines.sort();
}

interface Flat {
  /** start, key, velocity of each note in that order of sorting; ends by themselves. */
  start: Int32Array;
  end: Int32Array;
  key: Uint8Array;
  velocity: Uint8Array;
}

function flat(parts: readonly Part[], ends: (part: Part) => Int32Array): Flat {
  const total = parts.reduce((n, p) => n + p.notes.count, 0);
  const all: Flat = {
    start: new Int32Array(total),
    end: new Int32Array(total),
    key: new Uint8Array(total),
    velocity: new Uint8Array(total),
  };
  let at = 0;
  for (const part of parts) {
    const { notes } = part;
    all.start.set(notes.start, at);
    all.key.set(notes.noteNumber, at);
    all.velocity.set(notes.velocity, at);
    const end = ends(part);
    // A note that never ends sounds to the end of its track, wherever that is by now.
    for (let i = 0; i < notes.count; i++)
      all.end[at + i] = notes.offKind[i] === OFF_MISSING ? LATEST_TICK : end[i]!;
    at += notes.count;
  }
  // Ends are compared as a multiset of each key: which of two notes struck at one tick on one key
  // ends first is a matter of pairing, and the bytes are the same either way.
  const byStart = sortByKey(
    Float64Array.from(all.start, (s, i) => (s * 128 + all.key[i]!) * 128 + all.velocity[i]!),
  );
  const byEnd = sortByKey(Float64Array.from(all.end, (e, i) => e * 128 + all.key[i]!));
  return {
    start: Int32Array.from(byStart, (i) => all.start[i]!),
    key: Uint8Array.from(byStart, (i) => all.key[i]!),
    velocity: Uint8Array.from(byStart, (i) => all.velocity[i]!),
    end: Int32Array.from(byEnd, (i) => all.end[i]!),
  };
}

function compareNotes(meant: Flat | undefined, read: Flat | undefined): string | null {
  const a = meant?.start.length ?? 0;
  const b = read?.start.length ?? 0;
  if (a !== b) return `${a} notes were meant, ${b} were read.`;
  if (!meant || !read) return null;
  let starts = 0;
  let ends = 0;
  for (let i = 0; i < a; i++) {
    if (
      meant.start[i] !== read.start[i] ||
      meant.key[i] !== read.key[i] ||
      meant.velocity[i] !== read.velocity[i]
    )
      starts++;
    if (meant.end[i] !== read.end[i]) ends++;
  }
  if (starts > 0) return `${starts} notes differ in start, key or velocity.`;
  return ends > 0 ? `${ends} notes end elsewhere.` : null;
}
