import type { Finding, Severity } from '../diagnostic/finding';
import { SEVERITIES } from '../diagnostic/finding';
import type { Checkpoint, LeftAsIs, Piece, Rendition, SourceScore } from '../plan/model';
import { mapsOf, type Maps } from '../score/inventory';
import { linesOf, type OutputLine } from '../score/lines';
import type { Part } from '../score/score';
import type { Target } from '../target/schema';
import { toFinding, type RuleDefinition } from './define-rule';
import { rules } from './index';

export interface ProofInput {
  readonly rendition: Rendition;
  readonly target: Target;
  readonly source: SourceScore;
  readonly checkpoint?: Checkpoint;
  /** Only these rules; all where nothing is said. */
  readonly only?: readonly RuleDefinition[];
}

/** Holds a rendition against its target's rules. Findings come numbered order: first tick, part, code. */
export function proof({ rendition, target, source, checkpoint, only }: ProofInput): Finding[] {
  const out: Finding[] = [];
  const list = only ?? rules;
  rendition.pieces.forEach((piece, index) => {
    const judged = judgedOf(piece, target);
    list.forEach((rule, i) => {
      checkpoint?.(index * list.length + i, rendition.pieces.length * list.length);
      out.push(...checkRule(rule, judged, target, source));
    });
  });
  return inOrder(distinct(out), rendition);
}

/** Keys name one finding each: where two causes look alike, the later ones are counted. */
function distinct(findings: Finding[]): Finding[] {
  const seen = new Map<string, number>();
  return findings.map((f) => {
    const times = (seen.get(f.key) ?? 0) + 1;
    seen.set(f.key, times);
    return times === 1 ? f : { ...f, key: `${f.key}~${times}` };
  });
}

/** A piece with what several rules need of it, each worked out once. */
interface Judged {
  readonly whole: Piece;
  readonly seated: Piece;
  readonly maps: Maps;
  readonly lines: () => readonly OutputLine[];
}

export function judgedOf(piece: Piece, target: Target): Judged {
  const seated = seatedOnly(piece, target);
  let lines: readonly OutputLine[] | null = null;
  return {
    whole: piece,
    seated,
    maps: mapsOf(piece.score),
    lines: () => (lines ??= linesOf(seated)),
  };
}

export function checkRule(
  rule: RuleDefinition,
  { whole, seated, maps, lines }: Judged,
  target: Target,
  source: SourceScore,
): Finding[] {
  const block = rule.block === null ? true : target[rule.block];
  if (block === undefined) return [];
  const severity = (block as { severity?: Severity }).severity;
  const found: Finding[] = [];
  rule.check({
    block: block as never,
    target,
    piece: rule.phase === 'seating' ? whole : seated,
    maps,
    lines,
    source,
    report: (f) => found.push(toFinding(rule, severity, f)),
  });
  return found;
}

/** A part without a seat is one finding, not one for each limit that it would breach there. */
function seatedOnly(piece: Piece, target: Target): Piece {
  const unseated = (p: Part) => !p.leftOut && p.seat === null && !p.seatChosen;
  if (target.seats.length === 0 || !piece.score.parts.some(unseated)) return piece;
  const parts = piece.score.parts.map((p) => (unseated(p) ? { ...p, leftOut: true } : p));
  return { ...piece, score: { ...piece.score, parts } };
}

function inOrder(findings: Finding[], rendition: Rendition): Finding[] {
  const partOrder = new Map(
    rendition.pieces.flatMap((p) => p.score.parts.map((part, i) => [part.id, i] as const)),
  );
  // What concerns the whole piece has no place: it comes last.
  const first = (f: Finding) => f.spans[0]?.fromTick ?? Infinity;
  const part = (f: Finding) => (f.part === null ? -1 : (partOrder.get(f.part) ?? 0));
  return findings.sort(
    (a, b) =>
      (first(a) === first(b) ? 0 : first(a) - first(b)) ||
      part(a) - part(b) ||
      (a.code < b.code ? -1 : a.code > b.code ? 1 : 0),
  );
}

export interface Tally {
  readonly stops: number;
  readonly cautions: number;
  readonly remarks: number;
  /** Findings that the user accepted with a reason; not counted above. */
  readonly leftAsIs: number;
}

export function tallyOf(findings: readonly Finding[], left: readonly LeftAsIs[] = []): Tally {
  const accepted = new Set(left.map((l) => l.key));
  const [stops, cautions, remarks] = SEVERITIES.map(
    (s) => findings.filter((f) => f.severity === s && !accepted.has(f.key)).length,
  );
  return {
    stops: stops!,
    cautions: cautions!,
    remarks: remarks!,
    leftAsIs: findings.filter((f) => accepted.has(f.key)).length,
  };
}
