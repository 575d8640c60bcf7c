import { CompareMemo, comparePieces, type Comparison } from '../compare/by-id';
import { compareCurves, sayCurveDifference, type CurveDifference } from '../compare/curves';
import { factsLost } from '../compare/facts';
import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Finding, Mend } from '../rules/finding';
import { findRule } from '../rules/index';
import { importanceOf } from '../reading/importance/importance';
import { isIn } from '../score/score';
import type { Piece, Rendition } from '../score/piece';
import type { Base } from '../sources/merge';
import type { Loss } from '../steps/define-step';
import { leaveNotesOut } from '../steps/leave-notes-out';
import { hearingOf } from '../target/hearing';
import type { Target } from '../target/schema';
import { count } from '../target/words';
import { runStep } from './run-step';

/** What a mend would do, worked out by doing it. */
export interface MendTrial {
  /** Against the state before and against the source. */
  readonly lossless: boolean;
  /** What every note moves by, where they all move alike. */
  readonly shiftMs: number;
  /** Notes that are changed beyond that, dropped or added. */
  readonly notesTouched: number;
  readonly notesDropped: number;
  /** Of parts that still play, but for where they rest while another has their seat. */
  readonly droppedOfSeats: number;
  /** By which mends are ranked, the cheapest first: a note that vanishes is dearer than any change. */
  readonly cost: number;
  readonly losses: readonly Loss[];
  /** What it costs, in the words of every screen: "keeps every note (12 moved)". */
  readonly costs: string;
  /** In words: what changes and by how much. */
  readonly says: string;
  readonly refused: string | null;
  readonly rendition: Rendition;
}

/** Notes that are otherwise than before, however they differ. */
export const touched = (c: Comparison): number => c.dropped + c.added + c.changed;

/** What a note that vanishes costs beside what is lost without it: few are better than many. */
const A_NOTE = 0.2;

/**
 * Notes that vanish, by how much they are missed, or become clicks ≫ another pitch class or place in the bar > an octave, a small shift, all
 * transposed alike > shortened, struck or with another sound.
 */
function costOf(c: Comparison, lossless: boolean, missed: number): number {
  if (lossless) return 0;
  const hard = c.classChanged + c.movedFar;
  const octaves = c.transposed === 0 ? c.keyChanged - c.classChanged : 0;
  const middle = c.moved - c.movedFar + Math.max(0, octaves);
  const soft = c.lengthChanged + c.velocityChanged + c.soundChanged + c.added;
  const all = c.transposed === 0 ? 0 : 50;
  // A click is heard as a fault, a note that is missed least is not heard to be gone.
  const gone = A_NOTE * c.dropped + missed + 10 * c.clicks;
  return (c.dropped + c.clicks > 0 ? 1e14 + gone * 1e7 : 1) + hard * 1000 + middle * 3 + soft + all;
}

/** What a change costs, in the same words everywhere. */
export function sayCost(c: Comparison, lossless: boolean, what = 'every note'): string {
  if (lossless) return 'loses nothing';
  if (c.dropped > 0)
    return `drops ${c.dropped.toLocaleString('en-GB')} of ${count(c.notesBefore, 'note')}`;
  const octaves = c.transposed === 0 ? c.keyChanged - c.classChanged : 0;
  const parts = [
    c.transposed === 0
      ? ''
      : `all ${c.transposed > 6 ? 12 - c.transposed : c.transposed} semitones ${c.transposed > 6 ? 'lower' : 'higher'}`,
    c.moved > 0 ? `${c.moved.toLocaleString('en-GB')} moved` : '',
    c.classChanged > 0 ? `${c.classChanged.toLocaleString('en-GB')} on another key` : '',
    octaves > 0 ? `${octaves.toLocaleString('en-GB')} in another octave` : '',
    c.lengthChanged > 0 ? `${c.lengthChanged.toLocaleString('en-GB')} shorter or longer` : '',
    c.clicks > 0 ? `${c.clicks.toLocaleString('en-GB')} of them clicks` : '',
    c.velocityChanged > 0
      ? `${c.velocityChanged.toLocaleString('en-GB')} with another velocity`
      : '',
    c.soundChanged > 0 ? `${c.soundChanged.toLocaleString('en-GB')} with another sound` : '',
    c.added > 0 ? `${c.added.toLocaleString('en-GB')} added` : '',
  ].filter(Boolean);
  return `keeps ${what}${parts.length > 0 ? ` (${parts.join(', ')})` : ''}`;
}

/** Parts that play before and are left out after, and their notes. */
function partsLeftOut(before: readonly Piece[], after: readonly Piece[]) {
  if (before.length !== after.length) return { parts: 0, notes: 0 };
  let parts = 0;
  let notes = 0;
  before.forEach(({ score }, i) => {
    const out = new Set(after[i]!.score.parts.filter((p) => p.leftOut).map((p) => p.id));
    for (const p of score.parts)
      if (!p.leftOut && p.notes.count > 0 && out.has(p.id)) {
        parts++;
        notes += p.notes.count;
      }
  });
  return { parts, notes };
}

/** What a part leaves out for some stretches, where another plays at its seat, tells who plays when. */
const isRest = ({ step, scope }: Mend['steps'][number]) =>
  step === leaveNotesOut.id && scope.stretches !== undefined;

const heardNotes = (r: Rendition): number =>
  r.pieces.reduce(
    (sum, { score }) => sum + score.parts.reduce((n, p) => n + (p.leftOut ? 0 : p.notes.count), 0),
    0,
  );

/**
 * Parts of which nothing plays after, whoever plays their notes then: a part that is followed for some
 * stretches, or whose notes went to another, is not silent.
 */
function silenced(before: readonly Piece[], after: readonly Piece[]) {
  const out = { parts: 0, notes: 0 };
  if (before.length !== after.length) return out;
  before.forEach(({ score }, i) => {
    const plays = new Set<number>();
    for (const { leftOut, notes } of after[i]!.score.parts)
      if (!leftOut) for (let n = 0; n < notes.count; n++) plays.add(notes.origin[n]!);
    for (const { leftOut, notes } of score.parts) {
      if (leftOut || notes.count === 0 || notes.origin.some((o) => plays.has(o))) continue;
      out.parts++;
      out.notes += notes.count;
    }
  });
  return out;
}

/**
 * Whole parts that are left out are named by their number, and notes of those who rest while another
 * plays by theirs; only what is lost of what plays is dropped.
 */
function sayWithout(
  c: Comparison,
  lossless: boolean,
  out: { readonly parts: number; readonly notes: number },
  resting: number,
): string {
  if (out.parts === 0 && resting === 0) return sayCost(c, lossless);
  const gone = out.notes + resting;
  const rest = {
    ...c,
    dropped: Math.max(0, c.dropped - gone),
    notesBefore: c.notesBefore - gone,
  };
  const whole = out.parts > 0 ? `${count(out.parts, 'part')} (${count(out.notes, 'note')})` : '';
  const some =
    resting > 0 ? `${count(resting, 'note')} of parts that rest while another plays` : '';
  const said = `leaves out ${[whole, some].filter(Boolean).join(' and ')}`;
  if (rest.notesBefore === 0) return said;
  const others =
    rest.dropped + c.changed + c.added > 0
      ? sayCost(rest, false, 'the others')
      : 'keeps the others as they are';
  return `${said}, ${others}`;
}

/** Where there are no notes, nothing is said of them. */
function sayWithCurves(said: string, notes: number, curves: readonly CurveDifference[]): string {
  if (curves.length === 0) return said;
  const some = curves.slice(0, 2).map(sayCurveDifference);
  const more = curves.length - some.length;
  const all = `${some.join('; ')}${more > 0 ? ` and ${more} more` : ''}`;
  return notes === 0 ? `changes ${all}` : `${said}; ${all}`;
}

/** How far a rendition stands from the source, and which notes of the source do. */
interface SinceSource extends Comparison {
  readonly otherwise: ReadonlySet<number>;
}

interface Remembered {
  readonly trial: Omit<MendTrial, 'rendition'>;
  readonly rendition: WeakRef<Rendition>;
}

/**
 * Tries mends on copies of a job's renditions. Lossless where every note keeps pitch, velocity and
 * what the target hears of its sound, and its clock time within 1 ms plus one shift that all share:
 * against the state before, and against the source as far as that still held.
 */
export class Trials {
  private readonly hearing;
  private readonly memo = new CompareMemo();
  private readonly sinceSource = new WeakMap<Rendition, SinceSource>();
  constructor(
    private readonly base: Base,
    target: Target,
    private readonly checkpoint: Checkpoint = () => {},
  ) {
    this.hearing = hearingOf(target);
  }

  private compare(
    before: readonly Piece[],
    after: readonly Piece[],
    otherwise?: Set<number>,
  ): Comparison {
    const { hearing, checkpoint, memo } = this;
    const gathers = otherwise ? { otherwise } : {};
    return comparePieces(before, after, { hearing, checkpoint, memo, ...gathers });
  }

  /** How far a rendition stands from what came. */
  fromSource(rendition: Rendition): SinceSource {
    const known = this.sinceSource.get(rendition);
    if (known) return known;
    const otherwise = new Set<number>();
    const made = this.compare(this.base.rendition.pieces, rendition.pieces, otherwise);
    const since = { ...made, otherwise };
    this.sinceSource.set(rendition, since);
    return since;
  }

  /** What was tried on a rendition that still stands; the result itself only as long as it is in use. */
  private readonly tried = new WeakMap<Rendition, Map<string, Remembered>>();

  try(rendition: Rendition, mend: Mend): MendTrial {
    const known = this.tried.get(rendition) ?? new Map<string, Remembered>();
    this.tried.set(rendition, known);
    const key = JSON.stringify(mend.steps);
    const before = known.get(key);
    const still = before?.rendition.deref();
    if (before && still) return { ...before.trial, rendition: still };
    const { rendition: next, ...trial } = this.tryAnew(rendition, mend);
    known.set(key, { trial, rendition: new WeakRef(next) });
    return { ...trial, rendition: next };
  }

  private tryAnew(rendition: Rendition, mend: Mend): MendTrial {
    let next = rendition;
    const losses: Loss[] = [];
    const said: string[] = [];
    let resting = 0;
    for (const step of mend.steps) {
      this.checkpoint(0, 1);
      const { rendition: after, outcome } = runStep(next, step, this.base);
      if (outcome.refused !== null) return refusedTrial(rendition, outcome.refused);
      if (isRest(step)) resting += heardNotes(next) - heardNotes(after);
      losses.push(...outcome.losses);
      if (outcome.effect) said.push(outcome.effect.says);
      next = after;
    }
    const alike = next.pieces.length === rendition.pieces.length;
    // What a step did not touch is the same object, and need not be looked at.
    const touchedOnes = next.pieces.flatMap((p, i) => (p === rendition.pieces[i] ? [] : [i]));
    const before = alike ? touchedOnes.map((i) => rendition.pieces[i]!) : rendition.pieces;
    const after = alike ? touchedOnes.map((i) => next.pieces[i]!) : next.pieces;
    const step = this.compare(before, after);
    const facts = factsLost(before, after, step.commonShiftMs, this.hearing);
    const curves = this.hearing.curves
      ? before.flatMap((piece, i) =>
          compareCurves(
            piece,
            after[i] ?? after[0]!,
            this.hearing,
            step.notesBefore > 0 ? step.commonShiftMs : null,
          ),
        )
      : [];
    const lossless =
      step.lossless &&
      facts.length === 0 &&
      curves.length === 0 &&
      (staysInPlace(step) || this.noFurther(rendition, next));
    const out = partsLeftOut(before, after);
    const missed = step.dropped > 0 ? this.weightOf(before) - this.weightOf(after) : 0;
    return {
      lossless,
      shiftMs: Math.round(step.commonShiftMs * 1000) / 1000,
      notesTouched: touched(step),
      notesDropped: step.dropped,
      droppedOfSeats: Math.max(0, step.dropped - out.notes - resting),
      cost: costOf(step, lossless, missed) + curves.length,
      costs: sayWithCurves(
        sayWithout(step, lossless, out.parts > 0 ? silenced(before, after) : out, resting),
        step.notesBefore,
        curves,
      ),
      losses,
      says: said.join('; '),
      refused: null,
      rendition: next,
    };
  }

  /** What of the music is in some pieces: each note of the source once, by what is lost without it. */
  private weightOf(pieces: readonly Piece[]): number {
    let sum = 0;
    const seen = this.base.rendition.pieces.map(({ score }) => new Uint8Array(score.lastId + 1));
    for (const { score, base = 0 } of pieces) {
      const { weight } = importanceOf(this.base.rendition.pieces[base]!.score);
      for (const part of score.parts) {
        if (!isIn(part)) continue;
        const { origin, count: notes } = part.notes;
        for (let i = 0; i < notes; i++) {
          const id = origin[i]!;
          if (seen[base]![id]) continue;
          seen[base]![id] = 1;
          sum += weight[id] ?? 0;
        }
      }
    }
    return sum;
  }

  /** Whether no note stands from the source otherwise that did not before. */
  private noFurther(before: Rendition, after: Rendition): boolean {
    const was = this.fromSource(before);
    const is = this.fromSource(after);
    if (is.dropped > was.dropped || is.added > was.added) return false;
    for (const id of is.otherwise) if (!was.otherwise.has(id)) return false;
    return true;
  }
}

/** Every note to the last digit where it was: it stands from the source as it stood before. */
const staysInPlace = (c: Comparison) => c.lossless && c.furthestMs < 1e-6 && c.furthestEndMs < 1e-6;

/** A stop that was not there before weighs less than a note that vanishes, and more than all else. */
const COST_OF_STOP = 1e12;

/** Whether several ways of a finding are told apart by what stands in the way behind each of them. */
export const isJudgedBehind = (finding: Finding): boolean =>
  finding.mends.length > 1 && findRule(finding.rule)?.phase === 'tempo and meter';

/**
 * A trial with the stops that come of it: a tempo that holds the bars may push notes closer together
 * than a target takes, one that holds the clock may leave them between its bars.
 */
export function judgedBehind(
  trial: MendTrial,
  before: readonly Finding[],
  after: readonly Finding[],
): MendTrial {
  const known = new Set(before.map((f) => f.key));
  const made = after.filter((f) => f.severity === 'stop' && !known.has(f.key));
  if (made.length === 0) return trial;
  const titles = [
    ...new Set(made.map((f) => findRule(f.rule)!.codes[f.code]!.title.toLowerCase())),
  ];
  const said = titles.slice(0, 2).join(', ') + (titles.length > 2 ? '…' : '');
  return {
    ...trial,
    // What loses nothing stays first: bars can be mended behind it, a clock that was left cannot.
    cost: trial.lossless ? trial.cost : trial.cost + made.length * COST_OF_STOP,
    costs: `${trial.costs}, then ${count(made.length, 'stop')}: ${said}`,
  };
}

const refusedTrial = (rendition: Rendition, refused: string): MendTrial => ({
  lossless: false,
  shiftMs: 0,
  notesTouched: 0,
  notesDropped: 0,
  droppedOfSeats: 0,
  cost: Infinity,
  costs: refused,
  losses: [],
  says: refused,
  refused,
  rendition,
});
