import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Finding, Mend } from '../diagnostic/finding';
import { PHASES } from '../rules/define-rule';
import { findRule } from '../rules/index';
import { proof } from '../rules/proof';
import type { Rendition } from '../score/piece';
import type { Base } from '../sources/merge';
import type { StepCall } from '../steps/call';
import type { Target } from '../target/schema';
import { Trials, type MendTrial } from './trial';

export interface MendManyInput {
  readonly rendition: Rendition;
  readonly target: Target;
  readonly base: Base;
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
  readonly notesDropped: number;
  readonly says: string;
}

export interface MendManyResult {
  readonly rendition: Rendition;
  readonly applied: readonly Applied[];
  /** What is left. */
  readonly findings: readonly Finding[];
}

const MOST_ROUNDS = 10;

/** What a mend of a finding would cost; the rendition is not kept, many may be waiting. */
interface Candidate {
  readonly finding: Finding;
  readonly mend: Mend;
  readonly cost: number;
}

/** A mend may be needed again behind a later phase; more often than this two mends take turns. */
const MOST_USES = 2;

/**
 * Mends phase by phase, checking again after each. Within a phase the cheapest mend goes first;
 * others that touch its notes wait for the next round.
 */
export function mendMany(input: MendManyInput): MendManyResult {
  const { target, base, losslessOnly } = input;
  const checkpoint = input.checkpoint ?? (() => {});
  const left = new Set(input.leftAsIs?.map((l) => l.key));
  const trials = new Trials(base, target, checkpoint);
  const sound = input.recordingMs === undefined ? {} : { recordingMs: input.recordingMs };
  const judge = (rendition: Rendition) =>
    proof({ rendition, target, base, checkpoint, ...sound }).filter((f) => !left.has(f.key));
  const applied: Applied[] = [];
  const uses = new Map<string, number>();
  const useOf = ({ finding, mend }: Pick<Candidate, 'finding' | 'mend'>) =>
    `${finding.key}\n${mend.title}`;

  const candidate = (finding: Finding, rendition: Rendition): Candidate[] => {
    let best: Candidate | null = null;
    for (const mend of finding.mends) {
      if ((uses.get(useOf({ finding, mend })) ?? 0) >= MOST_USES) continue;
      const trial = trials.try(rendition, mend);
      if (trial.refused !== null || (losslessOnly && !trial.lossless)) continue;
      if (best === null || trial.cost < best.cost) best = { finding, mend, cost: trial.cost };
      if (trial.cost === 0) break;
    }
    return best ? [best] : [];
  };

  let rendition = input.rendition;
  let findings = judge(rendition);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let progress = false;
    for (const [i, phase] of PHASES.entries()) {
      checkpoint(round * PHASES.length + i, MOST_ROUNDS * PHASES.length);
      const here = findings.filter((f) => findRule(f.rule)!.phase === phase);
      const before = rendition;
      const best = here.flatMap((f) => candidate(f, before));
      best.sort((a, b) => a.cost - b.cost);
      const taken = new Set<number>();
      for (const c of best) {
        if (c.finding.notes.some((id) => taken.has(id))) continue;
        // What was tried alone may do otherwise behind the mends that went before it.
        const trial = trials.try(rendition, c.mend);
        if (trial.refused !== null || (losslessOnly && !trial.lossless)) continue;
        if (samePieces(trial.rendition, rendition)) continue;
        rendition = trial.rendition;
        uses.set(useOf(c), (uses.get(useOf(c)) ?? 0) + 1);
        applied.push(appliedOf(c, trial));
        if (!trial.lossless) for (const id of c.finding.notes) taken.add(id);
      }
      if (rendition === before) continue;
      progress = true;
      findings = judge(rendition);
    }
    if (!progress) break;
  }
  return { rendition, applied, findings };
}

const samePieces = (a: Rendition, b: Rendition) =>
  a.pieces.length === b.pieces.length && a.pieces.every((p, i) => p === b.pieces[i]);

const appliedOf = ({ finding, mend }: Candidate, trial: MendTrial): Applied => ({
  finding: finding.key,
  title: mend.title,
  steps: mend.steps,
  lossless: trial.lossless,
  shiftMs: trial.shiftMs,
  notesDropped: trial.notesDropped,
  says: trial.says,
});
