import type { OutputFile } from '../outputs/define-writer';
import { countSmf } from '../outputs/counts/of-files';
import {
  countPiece,
  KIND_ORDER,
  mostOf,
  sumCounts,
  type Counts,
  type Kind,
} from '../outputs/counts/kinds';
import { findWriter } from '../outputs/index';
import type { Piece } from '../score/piece';
import { decodeWave } from '../sound/decode-wave';
import type { Base } from '../sources/merge';
import { hearLink } from '../standin/link';
import type { Target } from '../target/schema';

/** A kind of fact: how many came in, how many the delivered files hold, and what that comes to. */
export interface LedgerRow {
  readonly kind: string;
  readonly had: number;
  readonly added: number;
  readonly carried: number;
  readonly dropped: number;
}

/** What a file holds, by kind, as it was counted in its bytes. */
export type FileCounts = Readonly<Record<string, number>>;

export interface Ledger {
  /** had + added = carried + dropped, for each kind. */
  readonly rows: readonly LedgerRow[];
  /** By path. */
  readonly files: ReadonlyMap<string, FileCounts>;
}

/** What a file holds, read by the counter of its writer. */
export function countFile(file: OutputFile, target: Target): Counts {
  if (file.writer === 'sound-link') return countLink(file, target);
  return findWriter(file.writer ?? '')?.count(file.bytes, file.path, target) ?? new Map();
}

/** The files that a link sends, as its far end hears them. */
function countLink({ bytes }: OutputFile, target: Target): Counts {
  const { samples } = decodeWave(bytes);
  if (!samples) return new Map();
  const { files } = hearLink(samples.channels[0]!, samples.rate);
  return sumCounts(files.map((f) => countSmf(f.bytes, f.path, target) ?? new Map()));
}

/**
 * What came in against what was delivered, counted on both sides. Files that hold one piece carry
 * what the fullest of them holds; pieces are summed; a file of all pieces stands beside them.
 */
export function ledgerOf(
  base: Pick<Base, 'rendition' | 'behind'>,
  pieces: readonly Piece[],
  files: readonly OutputFile[],
  target: Target,
  sound: boolean,
): Ledger {
  const had = sumCounts(base.rendition.pieces.map(countPiece));
  for (const { what, count } of base.behind)
    if (KIND_ORDER.includes(what as Kind))
      had.set(what as Kind, (had.get(what as Kind) ?? 0) + count);
  if (sound) had.set('sounds', 1);
  const counted = files.map((file) => ({ file, counts: countFile(file, target) }));
  const ofPiece = pieces.map((_, i) =>
    mostOf(counted.filter(({ file }) => file.holds === i).map((c) => c.counts)),
  );
  const ofAll = counted.filter(({ file }) => file.holds === undefined).map((c) => c.counts);
  const carried = mostOf([sumCounts(ofPiece), ...ofAll]);
  // One sound plays beside all pieces.
  if (carried.has('sounds')) carried.set('sounds', 1);
  return {
    rows: kindsIn(had, carried).map((kind) => {
      const [came, goes] = [had.get(kind) ?? 0, carried.get(kind) ?? 0];
      return {
        kind,
        had: came,
        added: Math.max(0, goes - came),
        carried: goes,
        dropped: Math.max(0, came - goes),
      };
    }),
    files: new Map(counted.map(({ file, counts }) => [file.path, inOrder(counts)])),
  };
}

const inOrder = (counts: Counts): FileCounts =>
  Object.fromEntries(kindsIn(counts).map((kind) => [kind, counts.get(kind)!]));

/** Kinds in their order; controllers by number, behind pedals. */
function kindsIn(...all: readonly Counts[]): Kind[] {
  const rank = (kind: Kind) => {
    const at = KIND_ORDER.indexOf(kind);
    return at < 0 ? KIND_ORDER.indexOf('pedal changes') + 0.5 : at;
  };
  const kinds = new Set(all.flatMap((c) => [...c.keys()]));
  const number = (kind: Kind) => Number(/\d+/.exec(kind)?.[0] ?? 0);
  return [...kinds].sort((a, b) => rank(a) - rank(b) || number(a) - number(b));
}
