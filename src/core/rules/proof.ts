import type { Finding, Severity } from '../diagnostic/finding';
import { SEVERITIES } from '../diagnostic/finding';
import type { Checkpoint, LeftAsIs, Piece, Rendition, SourceScore } from '../plan/model';
import { mapsOf, type Maps } from '../score/inventory';
import { linesOf, seatGroupsOf, type OutputLine } from '../score/lines';
import type { Part } from '../score/score';
import type { Target } from '../target/schema';
import { concerns, toFinding, type RuleDefinition } from './define-rule';
import { rules } from './index';

export interface ProofInput {
  readonly rendition: Rendition;
  readonly target: Target;
  readonly source: SourceScore;
  readonly checkpoint?: Checkpoint;
  /** Length of the sound that plays beside it, where it is known. */
  readonly recordingMs?: number;
  /** Only these rules; all where nothing is said. */
  readonly only?: readonly RuleDefinition[];
}

/** Holds a rendition against its target's rules. Findings come numbered order: first tick, part, code. */
export function proof(input: ProofInput): Finding[] {
  const { rendition, target, source, checkpoint, only } = input;
  const out: Finding[] = [];
  const list = only ?? rules;
  rendition.pieces.forEach((piece, index) => {
    const judged = judgedOf(piece, target);
    list.forEach((rule, i) => {
      checkpoint?.(index * list.length + i, rendition.pieces.length * list.length);
      if (rule.over === 'delivery' && index > 0) return;
      const context = { ...input, pieces: rendition.pieces, index };
      const found = checkRule(rule, judged, target, source, context);
      out.push(
        ...(rendition.pieces.length > 1 ? found.map((f) => ofPiece(f, piece, index, rule)) : found),
      );
    });
  });
  return inOrder(distinct(askedOnce(out)), rendition);
}

/** What is not given is said once, whichever rules need it. */
function askedOnce(findings: Finding[]): Finding[] {
  const asked = new Set<string>();
  return findings.filter((f) => {
    if (!f.code.startsWith('not-given-')) return true;
    if (asked.has(f.code)) return false;
    asked.add(f.code);
    return true;
  });
}

/** Of several pieces each has findings of its own. */
const ofPiece = (f: Finding, { delivery }: Piece, piece: number, rule: RuleDefinition): Finding =>
  rule.over === 'delivery'
    ? f
    : {
        ...f,
        piece,
        key: `${delivery.fileName}:${f.key}`,
        // Its mends are for this file alone.
        mends: f.mends.map((m) => ({
          ...m,
          steps: m.steps.map((s) => ({ ...s, scope: { ...s.scope, file: delivery.fileName } })),
        })),
      };

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
  readonly groups: () => readonly OutputLine[];
}

export function judgedOf(piece: Piece, target: Target): Judged {
  const seated = seatedOnly(piece, target);
  let lines: readonly OutputLine[] | null = null;
  let groups: readonly OutputLine[] | null = null;
  return {
    whole: piece,
    seated,
    maps: mapsOf(piece.score),
    lines: () => (lines ??= linesOf(seated)),
    groups: () => (groups ??= seatGroupsOf(seated)),
  };
}

export function checkRule(
  rule: RuleDefinition,
  { whole, seated, maps, lines, groups }: Judged,
  target: Target,
  source: SourceScore,
  context: { pieces: readonly Piece[]; index: number; recordingMs?: number },
): Finding[] {
  if (!concerns(rule, target)) return [];
  const block = rule.block === null ? true : target[rule.block];
  const severity = (block as { severity?: Severity }).severity;
  const found: Finding[] = [];
  rule.check({
    block: block as never,
    target,
    piece: rule.phase === 'seating' ? whole : seated,
    maps,
    lines,
    groups,
    pieces: context.pieces,
    index: context.index,
    recordingMs: context.recordingMs ?? told(whole.delivery.metadata?.soundMs),
    source,
    report: (f) => found.push(toFinding(rule, severity, f)),
    need: (what) =>
      found.push(
        toFinding(rule, severity, {
          code: `not-given-${what}`,
          severity: 'remark',
          noMend: 'Give it with the step “Metadata”.',
        }),
      ),
  });
  return found;
}

const told = (value: string | undefined): number | null =>
  value !== undefined && Number.isFinite(Number(value)) ? Number(value) : null;

/** A part without a seat is one finding, not one for each limit that it would breach there. */
function seatedOnly(piece: Piece, target: Target): Piece {
  const unseated = (p: Part) => !p.leftOut && p.seat === null && !p.seatChosen;
  const taken = target.seating?.unseated === 'taken';
  if (target.seats.length === 0 || taken || hasPlaces(target) || !piece.score.parts.some(unseated))
    return piece;
  const parts = piece.score.parts.map((p) => (unseated(p) ? { ...p, leftOut: true } : p));
  return { ...piece, score: { ...piece.score, parts } };
}

/** Whether its seats are files: then pieces take them, and parts do not. */
export const hasPlaces = (target: Target): boolean => target.seats.some((s) => s.kind === 'file');

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
