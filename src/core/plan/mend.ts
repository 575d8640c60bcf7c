import { compareById, type Comparison } from '../compare/by-id';
import type { Finding, Mend } from '../diagnostic/finding';
import { PHASES } from '../rules/define-rule';
import { findRule } from '../rules/index';
import { proof } from '../rules/proof';
import type { Loss } from '../steps/define-step';
import type { Target } from '../target/schema';
import type { Checkpoint, Rendition, SourceScore, StepCall } from './model';
import { lazyIndex, runStep } from './run';
import type { NoteIndex } from './select';

/** What a mend would do, worked out by doing it. */
export interface MendTrial {
  readonly lossless: boolean;
  /** What every note moves by, where they all move alike. */
  readonly shiftMs: number;
  /** Notes that are changed beyond that, dropped or added. */
  readonly notesTouched: number;
  readonly losses: readonly Loss[];
  /** In words: what changes and by how much. */
  readonly says: string;
  readonly refused: string | null;
  readonly rendition: Rendition;
}

/**
 * Applies a mend to a copy and compares. Lossless where every note keeps pitch, velocity and sound,
 * and its clock time within 1 ms plus one shift that all share, against the rendition before and,
 * as long as that held, against the source.
 */
export function tryMend(rendition: Rendition, mend: Mend, notes: NoteIndex): MendTrial {
  let next = rendition;
  const losses: Loss[] = [];
  const said: string[] = [];
  for (const step of mend.steps) {
    const { rendition: after, outcome } = runStep(next, step, notes);
    if (outcome.refused !== null)
      return {
        lossless: false,
        shiftMs: 0,
        notesTouched: 0,
        losses: [],
        says: outcome.refused,
        refused: outcome.refused,
        rendition,
      };
    losses.push(...outcome.losses);
    if (outcome.effect) said.push(outcome.effect.says);
    next = after;
  }
  const carved = next.pieces.length !== rendition.pieces.length;
  const compared = carved
    ? []
    : next.pieces.map((piece, i) => compareById(rendition.pieces[i]!.score, piece.score));
  const lossless = !carved && compared.every((c) => c.lossless);
  const notesTouched = compared.reduce((sum, c) => sum + touched(c), 0);
  return {
    lossless,
    shiftMs: Math.round((compared[0]?.commonShiftMs ?? 0) * 1000) / 1000,
    notesTouched,
    losses,
    says: said.join('; '),
    refused: null,
    rendition: next,
  };
}

/** Notes that are otherwise than before, however they differ. */
export const touched = (c: Comparison): number => c.dropped + c.added + c.changed;

export interface MendManyInput {
  readonly rendition: Rendition;
  readonly target: Target;
  readonly source: SourceScore;
  readonly losslessOnly: boolean;
  /** Length of the sound that plays beside it, where it is known. */
  readonly recordingMs?: number;
  /** Findings that are left as is are not mended. */
  readonly leftAsIs?: readonly { readonly key: string }[];
  readonly checkpoint?: Checkpoint;
}

export interface Applied {
  readonly finding: string;
  readonly title: string;
  readonly steps: readonly StepCall[];
  readonly lossless: boolean;
  readonly shiftMs: number;
  readonly says: string;
}

export interface MendManyResult {
  readonly rendition: Rendition;
  readonly applied: readonly Applied[];
  /** What is left. */
  readonly findings: readonly Finding[];
}

const MOST_ROUNDS = 10;

/**
 * Mends phase by phase, checking again after each. Within a phase the best mend goes first: the
 * lossless one, then the one that touches the fewest notes; others that touch its notes wait for
 * the next round.
 */
export function mendMany(input: MendManyInput): MendManyResult {
  const { target, source, losslessOnly, checkpoint } = input;
  const left = new Set(input.leftAsIs?.map((l) => l.key));
  const notes = lazyIndex(source);
  const applied: Applied[] = [];
  let rendition = input.rendition;
  const sound = input.recordingMs === undefined ? {} : { recordingMs: input.recordingMs };
  const check = () =>
    proof({ rendition, target, source, ...sound }).filter((f) => !left.has(f.key));
  let findings = check();
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let progress = false;
    for (const [i, phase] of PHASES.entries()) {
      checkpoint?.(round * PHASES.length + i, MOST_ROUNDS * PHASES.length);
      const here = findings.filter((f) => findRule(f.rule)!.phase === phase);
      const best = here.flatMap((f) => bestMend(f, rendition, notes, losslessOnly));
      best.sort(
        (a, b) =>
          Number(b.trial.lossless) - Number(a.trial.lossless) ||
          a.trial.notesTouched - b.trial.notesTouched,
      );
      const taken = new Set<number>();
      let changed = false;
      for (const { finding, mend } of best) {
        const waits = finding.notes.length > 0 && finding.notes.some((id) => taken.has(id));
        if (waits) continue;
        // What was tried alone may do otherwise behind the mends that went before it.
        const trial = tryMend(rendition, mend, notes);
        if (trial.refused !== null || (losslessOnly && !trial.lossless)) continue;
        if (trial.rendition.pieces.every((p, k) => p === rendition.pieces[k])) continue;
        rendition = trial.rendition;
        applied.push({
          finding: finding.key,
          title: mend.title,
          steps: mend.steps,
          lossless: trial.lossless,
          shiftMs: trial.shiftMs,
          says: trial.says,
        });
        if (!trial.lossless) for (const id of finding.notes) taken.add(id);
        changed = true;
      }
      if (changed) {
        progress = true;
        findings = check();
      }
    }
    if (!progress) break;
  }
  return { rendition, applied, findings };
}

function bestMend(
  finding: Finding,
  rendition: Rendition,
  notes: NoteIndex,
  losslessOnly: boolean,
): { finding: Finding; mend: Mend; trial: MendTrial }[] {
  const trials = finding.mends
    .map((mend) => ({ finding, mend, trial: tryMend(rendition, mend, notes) }))
    .filter(({ trial }) => trial.refused === null && (!losslessOnly || trial.lossless));
  trials.sort(
    (a, b) =>
      Number(b.trial.lossless) - Number(a.trial.lossless) ||
      a.trial.notesTouched - b.trial.notesTouched,
  );
  return trials.slice(0, 1);
}
