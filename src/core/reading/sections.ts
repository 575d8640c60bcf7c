import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, ticksPerQuarterOf } from '../score/score';
import { barPrints, barStarts } from './bar-prints';
import { deliveredEnd } from './ends';

/** A stretch of bars that is heard once or again and again. */
export interface Section {
  /** From the marker that stands where it begins first; else its letter, A the first. */
  readonly name: string;
  readonly bars: number;
  /** Bars from 1 at which it begins. */
  readonly at: readonly number[];
}

export interface Sections {
  /** In the order in which they are heard first. */
  readonly sections: readonly Section[];
  /** What follows what: the piece from its first bar to its last, by index of the section. */
  readonly order: readonly { readonly section: number; readonly fromBar: number }[];
  /** Numbers of bars that are one alike; 0 where nothing is struck. */
  readonly prints: readonly number[];
}

const kept = new WeakMap<Piece, Sections>();
/** Of more bars than that no sections are sought: a file that counts so many is no song. */
const MOST_BARS = 5000;
/** Phrases that bars are gathered in, the longest that repeats as well as a shorter one first. */
const PHRASES = [8, 4, 2, 1];
/** Of the bars that repeat by single ones so many have to repeat by the phrase as well. */
const AS_WELL = 0.8;

/**
 * The sections of a piece: bars that are equal up to velocity are one, phrases of them that repeat
 * are one, and phrases that only ever follow each other are one section. Markers part them too.
 */
export function sectionsOf(piece: Piece): Sections {
  const there = kept.get(piece);
  if (there) return there;
  const found = find(piece);
  kept.set(piece, found);
  return found;
}

function find(piece: Piece): Sections {
  const { score } = piece;
  const { bars } = mapsOf(score);
  const parts = score.parts.filter((p) => isIn(p) && p.notes.count > 0);
  const end = deliveredEnd(piece);
  const none = { sections: [], order: [], prints: [] };
  if (parts.length === 0 || bars.barCount(end) > MOST_BARS) return none;
  const starts = barStarts({ bars }, end);
  const ppq = ticksPerQuarterOf(score.division);
  const prints = numbered(barPrints(parts, starts, ppq), '');
  const marks = new Map<number, string>();
  for (const m of score.conductor.markers)
    if (m.tick < end && !marks.has(bars.barAt(m.tick))) marks.set(bars.barAt(m.tick), m.text);
  const blocks = blocksOf(prints, new Set(marks.keys()));
  const joined = join(blocks, new Set(marks.keys()));
  return named(joined, marks, prints);
}

/** Equal texts get equal numbers, from 1; the empty one 0. */
function numbered(texts: readonly string[], empty: string): number[] {
  const numbers = new Map<string, number>();
  return texts.map((t) => {
    if (t === empty) return 0;
    const n = numbers.get(t) ?? numbers.size + 1;
    numbers.set(t, n);
    return n;
  });
}

interface Block {
  /** From 0. */
  readonly from: number;
  readonly bars: number;
  /** Equal for equal blocks. */
  readonly id: string;
}

/** Bars in phrases: from each marker anew, by the longest phrase that repeats nearly as well as bars. */
function blocksOf(prints: readonly number[], marks: ReadonlySet<number>): Block[] {
  const edges = [0, ...[...marks].filter((m) => m > 0 && m < prints.length)].sort((a, b) => a - b);
  const cut = (phrase: number): Block[] => {
    const out: Block[] = [];
    edges.forEach((edge, i) => {
      const until = edges[i + 1] ?? prints.length;
      for (let from = edge; from < until; from += phrase) {
        const bars = Math.min(phrase, until - from);
        out.push({ from, bars, id: prints.slice(from, from + bars).join() });
      }
    });
    return out;
  };
  const repeats = (blocks: readonly Block[]) => {
    const times = new Map<string, number>();
    for (const b of blocks) times.set(b.id, (times.get(b.id) ?? 0) + 1);
    return blocks.reduce((sum, b) => sum + (times.get(b.id)! > 1 ? b.bars : 0), 0);
  };
  const single = repeats(cut(1));
  for (const phrase of PHRASES) {
    const blocks = cut(phrase);
    if (phrase === 1 || repeats(blocks) >= single * AS_WELL)
      return blocks.flatMap((b) => rounds(b, prints));
  }
  return [];
}

/** A phrase that is the same few bars again and again is those bars. */
function rounds({ from, bars, id }: Block, prints: readonly number[]): Block[] {
  for (let d = 1; d < bars; d++) {
    if (bars % d !== 0) continue;
    let same = true;
    for (let i = d; i < bars && same; i++) same = prints[from + i] === prints[from + i - d];
    if (!same) continue;
    const own = prints.slice(from, from + d).join();
    return Array.from({ length: bars / d }, (_, k) => ({ from: from + k * d, bars: d, id: own }));
  }
  return [{ from, bars, id }];
}

/** Blocks that only ever follow each other are one, as long as no marker stands between them. */
function join(blocks: readonly Block[], marks: ReadonlySet<number>): Block[][] {
  const next = new Map<string, Set<string>>();
  const before = new Map<string, Set<string>>();
  const note = (map: Map<string, Set<string>>, key: string, value: string) =>
    map.set(key, (map.get(key) ?? new Set()).add(value));
  for (let i = 0; i <= blocks.length; i++) {
    const [a, b] = [blocks[i - 1]?.id ?? '^', blocks[i]?.id ?? '$'];
    note(next, a, b);
    note(before, b, a);
  }
  const out: Block[][] = [];
  blocks.forEach((b, i) => {
    const last = blocks[i - 1];
    const one =
      last !== undefined &&
      last.id !== b.id &&
      next.get(last.id)!.size === 1 &&
      before.get(b.id)!.size === 1 &&
      !marks.has(b.from);
    if (one) out.at(-1)!.push(b);
    else out.push([b]);
  });
  return out;
}

function named(
  runs: readonly Block[][],
  marks: ReadonlyMap<number, string>,
  prints: readonly number[],
): Sections {
  const byId = new Map<string, number>();
  const sections: { name: string; bars: number; at: number[] }[] = [];
  const order = runs.map((run) => {
    const id = run.map((b) => b.id).join('|');
    const fromBar = run[0]!.from + 1;
    let section = byId.get(id);
    if (section === undefined) {
      section = sections.length;
      byId.set(id, section);
      const bars = run.reduce((n, b) => n + b.bars, 0);
      sections.push({ name: marks.get(fromBar - 1) ?? letter(section), bars, at: [] });
    }
    sections[section]!.at.push(fromBar);
    return { section, fromBar };
  });
  return { sections, order, prints };
}

/** A … Z, A1 … */
const letter = (n: number): string =>
  String.fromCharCode(65 + (n % 26)) + (n >= 26 ? Math.floor(n / 26) : '');
