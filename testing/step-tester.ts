import { describe, expect, it } from 'vitest';
import type { Effect, Scope } from '../src/core/steps/call';
import type { Rendition } from '../src/core/score/piece';
import type { SourceScore } from '../src/core/sources/source';
import { runStep } from '../src/core/plan/run-step';
import { findStep } from '../src/core/steps/index';
import { freeze, renditionOf, snapshot, targetWith } from './score-builder';
import { baseOf } from '../src/core/plan/base';

export interface StepCase {
  readonly name: string;
  readonly source: SourceScore;
  readonly params: unknown;
  readonly scope?: Scope;
  readonly effect?: Partial<Effect>;
  readonly refused?: RegExp;
  readonly expect?: (after: Rendition, before: Rendition) => void;
}

const anyTarget = targetWith({ seats: [] });

/**
 * What a step left, part by part, and sums that one note turned would change. Kept beside the tests;
 * where one changes, the difference is read before it is taken.
 */
function toldOf({ pieces }: Rendition): string {
  const lines: string[] = [];
  for (const { score, delivery } of pieces) {
    const meters = score.conductor.meters.map((m) => `${m.tick}:${m.numerator}/${m.denominator}`);
    lines.push(
      `${delivery.fileName}: ${some(score.conductor.tempos.map((t) => `${t.tick}:${t.microsecondsPerQuarter}`))}`,
      `  meters ${some(meters)}; ends ${some(score.tracks.map((t) => t.endTick))}`,
    );
    for (const { name, channel, seat, leftOut, notes: n } of score.parts) {
      const at = (i: number) => `${n.start[i]}–${n.end[i]} ${n.noteNumber[i]}/${n.velocity[i]}`;
      const sums = [n.start, n.end, n.noteNumber, n.velocity].map((of) =>
        Array.from(of.subarray(0, n.count)).reduce((a, b) => a + b, 0),
      );
      lines.push(
        `  ${name} ${channel} ${seat ?? '-'}${leftOut ? ' out' : ''}: ${n.count}, ${sums.join(' ')}`,
        `    ${some(Array.from({ length: n.count }, (_, i) => at(i)))}`,
      );
    }
  }
  return lines.join('\n');
}
const some = (list: readonly (string | number)[]) =>
  list.length > 8 ? [...list.slice(0, 6), '…', list.at(-1)!].join(', ') : list.join(', ');

type Row = readonly [part: string, start: number, end: number, key: number, velocity: number];

/** Every note that is delivered, by its id. */
function notesById({ pieces }: Rendition): Map<number, Row> {
  const all = new Map<number, Row>();
  for (const { score } of pieces)
    for (const { ref, notes: n, leftOut } of score.parts)
      for (let i = 0; i < n.count && !leftOut; i++)
        all.set(n.id[i]!, [
          JSON.stringify(ref),
          n.start[i]!,
          n.end[i]!,
          n.noteNumber[i]!,
          n.velocity[i]!,
        ]);
  return all;
}

/** A scope that excludes leaves alone: other parts, other bars, and all of it where nothing is in it. */
function leavesAlone(id: string, c: StepCase, before: Rendition): void {
  const { reach } = findStep(id)!;
  if (reach === 'piece' || before.pieces.length !== 1) return;
  const { parts, tracks } = before.pieces[0]!.score;
  const were = notesById(before);
  const within = (scope: Scope, isOutside: (row: Row) => boolean) => {
    const call = { step: id, params: c.params, scope };
    const are = notesById(runStep(before, call, baseOf(c.source)).rendition);
    for (const [note, row] of were)
      if (isOutside(row)) expect(are.get(note), JSON.stringify(scope)).toEqual(row);
  };
  const first = parts.find((p) => p.notes.count > 0);
  if (!first) return;
  const own = JSON.stringify(first.ref);
  within({ parts: [first.ref] }, ([part]) => part !== own);
  if (reach === 'parts') return;
  const end = Math.max(...tracks.map((t) => t.endTick));
  const half = Math.floor(end / 2);
  within({ fromTick: half }, ([, start]) => start < half);
  within({ fromTick: end + 1 }, () => true);
}

/**
 * What every step must pass: its input untouched, the same result twice, words for its parameters,
 * counts as expected, unknown parameters refused.
 */
export function testStep(id: string, cases: readonly StepCase[]): void {
  describe(id, () => {
    for (const c of cases)
      it(c.name, () => {
        const before = freeze(renditionOf(c.source, anyTarget));
        const seen = snapshot(before);
        const call = { step: id, params: c.params, scope: c.scope ?? {} };
        const { rendition, outcome } = runStep(before, call, baseOf(c.source));
        expect(snapshot(before)).toBe(seen);
        if (c.refused) {
          expect(outcome.refused).toMatch(c.refused);
          expect(rendition).toBe(before);
          return;
        }
        expect(outcome.refused).toBeNull();
        expect(outcome.effect).toMatchObject(c.effect ?? {});
        expect(outcome.effect!.says).not.toMatch(/undefined|NaN/);
        const again = runStep(before, call, baseOf(c.source));
        expect(snapshot(again.rendition)).toBe(snapshot(rendition));
        expect(`\n${JSON.stringify(outcome.effect)}\n${toldOf(rendition)}\n`).toMatchSnapshot();
        c.expect?.(rendition, before);
        if (c.scope === undefined) leavesAlone(id, c, before);
      });
    it('has words, and refuses parameters it does not know', () => {
      const step = findStep(id)!;
      const known = cases.find((c) => !c.refused) ?? cases[0]!;
      expect(step.describe(step.params.parse(known.params))).toMatch(/^[^$]{3,}$/);
      const strange = { ...(known.params as object), surprise: 1 };
      const run = runStep(
        renditionOf(known.source, anyTarget),
        {
          step: id,
          params: strange,
          scope: {},
        },
        baseOf(known.source),
      );
      expect(run.outcome.refused).toMatch(/surprise/);
    });
  });
}
