import { comparePieces } from '../compare/by-id';
import { figuresOf } from '../compare/figures';
import type { Figures } from '../compare/say-figures';
import type { Checkpoint } from '../diagnostic/checkpoint';
import { proof, tallyOf, type Tally } from '../rules/proof';
import type { Rendition } from '../score/piece';
import { isIn, type Part } from '../score/score';
import type { Base } from '../sources/merge';
import { hearingOf } from '../target/hearing';
import type { Target } from '../target/schema';
import { mendMany } from './mend';
import type { Plan } from './plan';
import { runPlan } from './run';
import { touched } from './trial';

/** How a job's sources fit one target, and what it would take. */
export interface Fit {
  readonly now: Tally;
  /** After every mend that there is, applied to a copy. */
  readonly mended: Tally;
  readonly mends: number;
  readonly lossy: number;
  /** Notes of the parts that play, and how many of them are still there after mending. */
  readonly seated: number;
  readonly kept: number;
  readonly out: Kept['out'];
  /** What a listener follows of it, after mending. */
  readonly figures: Figures;
  /** What somebody has to choose, or would be chosen as the likeliest. */
  readonly choices: number;
  /** Notes that the mends change beyond a shift of all, drop or add. */
  readonly notesChanged: number;
  readonly notes: number;
}

export interface FitInput {
  readonly base: Base;
  readonly target: Target;
  readonly plan: Plan;
  readonly checkpoint?: Checkpoint;
}

/** Tries sources on a target: holds them against the rules, then mends a copy and holds it again. */
export function fitOf({ base, target, plan, checkpoint }: FitInput): Fit {
  const steps = checkpoint ? { checkpoint } : {};
  const { rendition } = runPlan({ base, target, plan, ...steps });
  const now = tallyOf(proof({ rendition, target, base, ...steps }));
  const done = mendMany({ rendition, target, base, reach: 'drop', accept: true, ...steps });
  const compared = comparePieces(rendition.pieces, done.rendition.pieces, {
    hearing: hearingOf(target),
    ...steps,
  });
  return {
    now,
    mended: tallyOf(done.findings),
    mends: done.applied.length,
    lossy: done.applied.filter((a) => !a.lossless).length,
    ...keptOf(rendition, done.rendition),
    figures: figuresOf(base.rendition, done.rendition, target),
    choices: done.choices.length + done.chosen,
    notesChanged: touched(compared),
    notes: rendition.pieces.reduce(
      (n, { score }) => n + score.parts.reduce((m, p) => m + (isIn(p) ? p.notes.count : 0), 0),
      0,
    ),
  };
}

/** What is still there after mending, told by the parts that play then and by those that do not. */
export interface Kept {
  /** Notes before, of the parts that play after. */
  readonly seated: number;
  /** Of those, the notes that are still there. */
  readonly kept: number;
  /** Parts that were not left out before and of which nothing plays after. */
  readonly out: { readonly parts: number; readonly notes: number };
}

export function keptOf(before: Rendition, after: Rendition): Kept {
  let highest = -1;
  const each = (r: Rendition, use: (origin: ArrayLike<number>, part: Part) => void) => {
    for (const { score } of r.pieces) for (const part of score.parts) use(part.notes.origin, part);
  };
  each(before, (origin) => {
    for (let i = 0; i < origin.length; i++) if (origin[i]! > highest) highest = origin[i]!;
  });
  const there = new Uint8Array(highest + 1);
  each(after, (origin, part) => {
    if (isIn(part)) for (let i = 0; i < origin.length; i++) there[origin[i]!] = 1;
  });
  let seated = 0;
  let kept = 0;
  const out = { parts: 0, notes: 0 };
  each(before, (origin, part) => {
    let here = 0;
    for (let i = 0; i < origin.length; i++) here += there[origin[i]!]!;
    kept += here;
    if (here > 0) seated += origin.length;
    else if (!part.leftOut && origin.length > 0) {
      out.parts++;
      out.notes += origin.length;
    }
  });
  return { seated, kept, out };
}
