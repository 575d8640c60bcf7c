import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Finding, Severity } from './finding';
import { SEVERITIES } from './finding';
import { toldByOf } from '../reading/lines';
import { readingOf, type Reading } from '../reading/reading';
import type { Piece, Rendition } from '../score/piece';
import type { Part } from '../score/score';
import type { Base } from '../sources/merge';
import { likeOf } from '../sources/like';
import { heardAfter, layoutFor, soundMs, type HeardSound, type Listened } from '../sound/beside';
import { scopeOnBase } from '../steps/scope';
import type { Target } from '../target/schema';
import {
  concerns,
  GIVE,
  toFinding,
  type Found,
  type Need,
  type RuleDefinition,
} from './define-rule';
import { rules } from './index';

export interface ProofInput {
  readonly rendition: Rendition;
  readonly target: Target;
  readonly base: Base;
  readonly checkpoint?: Checkpoint;
  /** Length of the sound that plays beside it, where it is known. */
  readonly recordingMs?: number;
  /** Its name, where it is brought in. */
  readonly soundName?: string;
  /** What was heard in it, where it was listened to. */
  readonly heard?: HeardSound;
  /** Only these rules; all where nothing is said. */
  readonly only?: readonly RuleDefinition[];
}

/** Holds a rendition against its target's rules. Findings come numbered order: first tick, part, code. */
export function proof(input: ProofInput): Finding[] {
  const { rendition, target, base, checkpoint, only } = input;
  const out: Finding[] = [];
  const list = (only ?? rules).filter((rule) => concerns(rule, target));
  const { pieces } = rendition;
  const several = pieces.length > 1;
  pieces.forEach((piece, index) => {
    const judged = judgedOf(piece, target, checkpoint);
    const check = checkerOf(judged, target, base, { ...input, pieces, index });
    list.forEach((rule, i) => {
      checkpoint?.(index * list.length + i, pieces.length * list.length);
      if (rule.over === 'delivery' && index > 0) return;
      for (const f of check(rule)) out.push(several ? ofPiece(f, piece, index, rule) : f);
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

/** A piece as rules see it: as it is, and without the parts that have no seat yet. */
interface Judged {
  readonly whole: Reading;
  readonly seated: Reading;
}

function judgedOf(piece: Piece, target: Target, checkpoint?: Checkpoint): Judged {
  const seated = seatedOnly(piece, target);
  const read = (of: Piece) => readingOf(of, checkpoint, toldByOf(target));
  const reading = read(seated);
  return { seated: reading, whole: seated === piece ? reading : read(piece) };
}

interface Beside {
  readonly pieces: readonly Piece[];
  readonly index: number;
  readonly recordingMs?: number;
  readonly soundName?: string;
  readonly heard?: HeardSound;
  readonly checkpoint?: Checkpoint;
}

/**
 * Holds one rule after the other against a piece. What rules are given is made once for all of them:
 * a mend of a whole song asks thousands of times.
 */
function checkerOf(
  { whole, seated }: Judged,
  target: Target,
  base: Base,
  beside: Beside,
): (rule: RuleDefinition) => readonly Finding[] {
  let rule: RuleDefinition;
  let severity: Severity | undefined;
  let found: Finding[] = [];
  const { piece } = whole;
  const given = (reading: Reading) => ({
    ...reading,
    block: null as unknown,
    target,
    pieces: beside.pieces,
    index: beside.index,
    recordingMs:
      beside.recordingMs === undefined
        ? told(piece.delivery.metadata?.soundMs)
        : soundMs(piece, beside.recordingMs),
    soundName: beside.soundName ?? null,
    listened: heardIn(whole, base, beside),
    base,
    report: (f: Found) => void found.push(onBase(toFinding(rule, severity, f), reading.piece)),
    need: (what: Need) =>
      void found.push(
        toFinding(rule, severity, {
          code: `not-given-${what}`,
          severity: 'remark',
          noMend: GIVE[what],
        }),
      ),
  });
  const ofSeated = given(seated);
  const ofWhole = whole === seated ? ofSeated : given(whole);
  return (next) => {
    rule = next;
    found = [];
    const block = rule.block === null ? true : target[rule.block];
    ({ severity } = block as { severity?: Severity });
    const input = rule.phase === 'seating' ? ofWhole : ofSeated;
    input.block = block;
    rule.check(input);
    return found;
  };
}

/** Rules speak of the ticks of the piece; what is stored in a plan counts in those of the base. */
function onBase(finding: Finding, { fromBase }: Piece): Finding {
  if (!fromBase || fromBase.stages.length === 0) return finding;
  return {
    ...finding,
    mends: finding.mends.map((mend) => ({
      ...mend,
      steps: mend.steps.map((step) => ({ ...step, scope: scopeOnBase(step.scope, fromBase) })),
    })),
  };
}

/** What is heard of the recording, as the plan of the piece leaves it. */
function heardIn(
  { piece, maps }: Reading,
  base: Base,
  { heard, recordingMs, checkpoint }: Beside,
): Listened | null {
  if (!heard) return null;
  const isEdited = piece.sound && recordingMs !== undefined;
  const now = isEdited ? heardAfter(heard, layoutFor(piece, recordingMs)) : heard;
  const like = likeOf(base, piece, maps.clock, checkpoint);
  return like ? { ...now, like } : now;
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

export function tallyOf(
  findings: readonly Finding[],
  left: readonly { readonly key: string }[] = [],
): Tally {
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
