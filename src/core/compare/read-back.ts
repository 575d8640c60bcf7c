import type { Piece } from '../plan/model';
import { readScore } from '../score/read-score';
import { isIn, type Part, type Score } from '../score/score';
import { divisionWord } from '../smf/file';
import { sortByKey } from '../score/columns';

/** What was delivered, read again and held against what was meant. */
export interface ReadBack {
  readonly same: boolean;
  readonly notesMeant: number;
  readonly notesRead: number;
  /** In words, one difference each. */
  readonly differences: readonly string[];
}

/**
 * Reads delivered bytes with the reader and compares them with the piece, tick for tick: format,
 * PPQ, notes by channel and key, tempos, meters, markers, and how many other channel events.
 */
export function readBack(piece: Piece, bytes: Uint8Array): ReadBack {
  const differences: string[] = [];
  const { head, score, damage } = readScore(bytes, { sourceKey: 'read-back' });
  const meant = notesByChannel(piece.score);
  const notesMeant = sum(meant);
  if (!head || !score)
    return { same: false, notesMeant, notesRead: 0, differences: ['It cannot be read.'] };
  if (damage.length > 0) differences.push(`${damage.length} places are damaged.`);
  if (head.format !== piece.delivery.format)
    differences.push(`The format is ${head.format}, not ${piece.delivery.format}.`);
  if (head.division !== divisionWord(piece.score.division))
    differences.push(`The division is ${head.division}.`);
  const read = notesByChannel(score);
  for (const channel of new Set([...meant.keys(), ...read.keys()])) {
    const said = compareNotes(meant.get(channel), read.get(channel));
    if (said) differences.push(`Channel ${channel}: ${said}`);
  }
  const lists = [
    ['tempos', tempoLine],
    ['meters', meterLine],
    ['markers', markerLine],
    ['other channel events', eventLine],
  ] as const;
  for (const [name, line] of lists)
    if (line(piece.score) !== line(score)) differences.push(`The ${name} differ.`);
  return { same: differences.length === 0, notesMeant, notesRead: sum(read), differences };
}

interface Flat {
  /** start, key, end, velocity of each note, in that order of sorting. */
  start: Int32Array;
  end: Int32Array;
  key: Uint8Array;
  velocity: Uint8Array;
}

const sum = (byChannel: Map<number, Flat>) =>
  [...byChannel.values()].reduce((n, flat) => n + flat.start.length, 0);

function notesByChannel(score: Score): Map<number, Flat> {
  const groups = new Map<number, Part[]>();
  for (const part of score.parts) {
    if (!isIn(part) || part.notes.count === 0) continue;
    groups.set(part.channel, [...(groups.get(part.channel) ?? []), part]);
  }
  return new Map([...groups].map(([channel, parts]) => [channel, flat(parts)]));
}

function flat(parts: readonly Part[]): Flat {
  const total = parts.reduce((n, p) => n + p.notes.count, 0);
  const all: Flat = {
    start: new Int32Array(total),
    end: new Int32Array(total),
    key: new Uint8Array(total),
    velocity: new Uint8Array(total),
  };
  let at = 0;
  for (const { notes } of parts) {
    all.start.set(notes.start, at);
    all.end.set(notes.end, at);
    all.key.set(notes.noteNumber, at);
    all.velocity.set(notes.velocity, at);
    at += notes.count;
  }
  // Ends are compared as a multiset of each key: which of two overlapping notes ends first is a
  // matter of pairing, and the bytes are the same either way.
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

const tempoLine = (s: Score) =>
  s.conductor.tempos.map((t) => `${t.tick}:${t.microsecondsPerQuarter}`).join(' ');
const meterLine = (s: Score) =>
  s.conductor.meters.map((m) => `${m.tick}:${m.numerator}/${m.denominator}`).join(' ');
const markerLine = (s: Score) =>
  s.conductor.markers.map((m) => `${m.tick}:${[...m.bytes].join(',')}`).join(' ');
const eventLine = (s: Score) => {
  const lines: string[] = [];
  for (const { events, channel, leftOut } of s.parts) {
    if (leftOut) continue;
    for (let i = 0; i < events.count; i++)
      lines.push(
        `${channel} ${events.tick[i]} ${events.kind[i]} ${events.data1[i]} ${events.data2[i]}`,
      );
  }
  return lines.sort().join('\n');
};
