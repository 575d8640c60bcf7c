import { figuresOf } from '../core/compare/figures';
import type { Checkpoint } from '../core/diagnostic/checkpoint';
import type { Finding } from '../core/rules/finding';
import { keptOf } from '../core/plan/fit';
import { mendMany, type MendReach } from '../core/plan/mend';
import { tallyOf } from '../core/rules/proof';
import { sayFinding } from '../core/rules/say';
import type { Maps } from '../core/score/inventory';
import { soundOf, type Ran } from './known';
import { MOST_SPANS, type FindingView, type MendAllReply, type RunRequest } from './protocol';

export function findingView(f: Finding, request: RunRequest, maps: readonly Maps[]): FindingView {
  const said = sayFinding(f, request.target, maps[f.piece ?? 0]!);
  return {
    key: f.key,
    rule: f.rule,
    code: f.code,
    severity: f.severity,
    ...said,
    part: f.part,
    piece: f.piece ?? null,
    spans: f.spans.slice(0, MOST_SPANS),
    notes: f.notes.slice(),
    mends: f.mends,
    choice: f.choice ?? null,
    noMend: f.noMend ?? null,
  };
}

export function mendReply(
  { base, run }: Ran,
  request: RunRequest & { readonly accept?: boolean },
  reach: MendReach,
  checkpoint: Checkpoint,
): MendAllReply {
  const { target, accept = false, leftAsIs } = request;
  const sound = soundOf(request);
  const { rendition } = run;
  const asked = { rendition, target, base, reach, accept, leftAsIs, checkpoint, ...sound };
  const done = mendMany(asked);
  return {
    applied: done.applied.map(({ title, lossless, says, steps }) => ({
      title,
      lossless,
      says,
      steps,
    })),
    remaining: tallyOf(done.findings, leftAsIs),
    ...keptOf(rendition, done.rendition),
    figures: figuresOf(base.rendition, done.rendition, target),
    open: done.choices.length,
    chosen: done.chosen,
  };
}

export const CHANGE_WORDS = [
  ['dropped', 'left out or dropped'],
  ['added', 'added'],
  ['moved', 'moved on the clock'],
  ['lengthChanged', 'of another length'],
  ['keyChanged', 'on another key'],
  ['velocityChanged', 'of another velocity'],
  ['soundChanged', 'with another program, level or bend'],
] as const;
