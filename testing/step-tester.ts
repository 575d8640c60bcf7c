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
        c.expect?.(rendition, before);
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
