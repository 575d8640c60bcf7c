import { figuresOf } from '../core/compare/figures';
import type { Checkpoint } from '../core/diagnostic/checkpoint';
import type { Finding } from '../core/rules/finding';
import { keptOf } from '../core/plan/fit';
import { mendMany, type MendReach } from '../core/plan/mend';
import { tallyOf } from '../core/rules/proof';
import { sayFinding } from '../core/rules/say';
import { lettersOf } from '../core/reading/chain';
import { deliveredEnd } from '../core/reading/ends';
import { mapsOf, type Maps } from '../core/score/inventory';
import type { Piece } from '../core/score/piece';
import { isIn } from '../core/score/score';
import type { Target } from '../core/target/schema';
import { slotsOf } from '../core/target/slots';
import { soundOf, type Ran } from './known';
import { MOST_SPANS, type MendAllReply } from './protocol';
import { type FindingView, type PieceFile, type RunRequest } from './run-protocol';

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

/** The files of a delivery, each with the place that it takes. */
export function pieceFiles(pieces: readonly Piece[], target: Target): PieceFile[] {
  const slots = slotsOf(target, '');
  const letters = lettersOf(pieces, target);
  return pieces.map((piece, i) => {
    const { fileName: name, place = null } = piece.delivery;
    const bars = mapsOf(piece.score).bars.barsAt(deliveredEnd(piece));
    return {
      name,
      place: slots.find((s) => s.holds({ name, place }))?.id ?? letters[i] ?? null,
      bars: Math.round(bars * 1000) / 1000,
      notes: piece.score.parts.reduce((n, p) => n + (isIn(p) ? p.notes.count : 0), 0),
    };
  });
}
