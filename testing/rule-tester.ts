import { describe, expect, it } from 'vitest';
import type { Scope } from '../src/core/steps/call';
import type { Finding } from '../src/core/rules/finding';
import type { Rendition } from '../src/core/score/piece';
import type { SourceScore } from '../src/core/sources/source';
import { runPlan } from '../src/core/plan/run';
import type { RuleDefinition } from '../src/core/rules/define-rule';
import { proof } from '../src/core/rules/proof';
import { sayFinding } from '../src/core/rules/say';
import { mapsOf } from '../src/core/score/inventory';
import type { HeardSound } from '../src/core/sound/beside';
import type { Target } from '../src/core/target/schema';
import { freeze, renditionOf, snapshot, tryMend } from './score-builder';
import { baseOf } from '../src/core/plan/base';

export interface ValidCase {
  readonly name: string;
  readonly target: Target;
  readonly source: SourceScore;
  /** Steps that lead to the state that is tested. */
  readonly steps?: readonly { step: string; params: unknown; scope?: Scope }[];
  /** A recording that was brought in: its length, and where it was listened to what begins when. */
  readonly sound?: {
    readonly ms: number;
    readonly onsets?: readonly number[];
    /** What was heard in it, where more than its beginnings counts. */
    readonly heard?: HeardSound;
  };
}

export interface InvalidCase extends ValidCase {
  readonly code: string;
  readonly severity?: Finding['severity'];
  /** Ticks at which the finding stands. */
  readonly at?: readonly number[];
  readonly measured?: number;
  readonly notes?: number;
  /** What a mend leaves of the finding, by the mend's place; all others must remove it. */
  readonly remains?: Readonly<Record<number, string>>;
  /** Which mends lose nothing, by place. */
  readonly lossless?: readonly boolean[];
}

/**
 * What every rule must pass: silent on the valid cases, the expected finding on the invalid ones,
 * its input untouched, its sentences whole, and each of its mends removing the finding. All codes of
 * the rule must be covered.
 */
export function testRule(
  rule: RuleDefinition,
  cases: { valid: readonly ValidCase[]; invalid: readonly InvalidCase[] },
): void {
  const check = (rendition: Rendition, { target, source, sound }: ValidCase) =>
    proof({ rendition, target, base: baseOf(source), only: [rule], ...besideOf(sound) });
  const start = (c: ValidCase): Rendition => {
    const steps = (c.steps ?? []).map((s, i) => ({ scope: {}, ...s, key: String(i), on: true }));
    if (steps.length === 0) return freeze(renditionOf(c.source, c.target));
    const run = runPlan({ base: baseOf(c.source), target: c.target, plan: { steps } });
    // A case whose steps are refused would test something else.
    expect(run.outcomes.map((o) => o.refused)).toEqual(steps.map(() => null));
    return freeze(run.rendition);
  };

  describe(rule.id, () => {
    it('covers all its codes', () => {
      expect(new Set(cases.invalid.map((c) => c.code))).toEqual(new Set(Object.keys(rule.codes)));
    });
    for (const c of cases.valid)
      it(`accepts: ${c.name}`, () => {
        expect(check(start(c), c)).toEqual([]);
      });
    for (const c of cases.invalid)
      it(`finds: ${c.name}`, () => {
        const rendition = start(c);
        const before = snapshot(rendition);
        const findings = check(rendition, c);
        const finding = findings.find((f) => f.code === c.code);
        expect(finding, `codes: ${findings.map((f) => f.code).join()}`).toBeDefined();
        expect(snapshot(rendition)).toBe(before);
        expectSentences(finding!, c.target, rendition);
        expect(`\n${toldOf(finding!)}\n`).toMatchSnapshot();
        if (c.severity) expect(finding!.severity).toBe(c.severity);
        if (c.at) expect(finding!.spans.map((s) => s.fromTick)).toEqual(c.at);
        if (c.measured !== undefined) expect(finding!.measured?.value).toBeCloseTo(c.measured, 3);
        if (c.notes !== undefined) expect(finding!.notes.length).toBe(c.notes);
        expect(check(rendition, c).map((f) => f.key)).toEqual(findings.map((f) => f.key));
        // Where none makes sense the finding says why.
        if (finding!.mends.length === 0) expect(finding!.noMend).toBeTruthy();
        finding!.mends.forEach((mend, i) => {
          const trial = tryMend(rendition, mend, c.source, c.target);
          expect(trial.refused, mend.title).toBeNull();
          expect(snapshot(rendition)).toBe(before);
          if (c.lossless) expect(trial.lossless, mend.title).toBe(c.lossless[i]);
          const left = check(trial.rendition, c).filter((f) => f.key === finding!.key);
          if (c.remains?.[i]) expect(left.length, c.remains[i]).toBe(1);
          else expect(left, mend.title).toEqual([]);
        });
      });
  });
}

/**
 * All that a finding says, so that no case leaves its place, its end, its numbers or a mend unsaid.
 * Kept beside the tests; where one changes, the difference is read before it is taken.
 */
function toldOf({ code, severity, spans, notes, measured, allowed, mends, noMend }: Finding) {
  const all = (s: Finding['spans']) =>
    s.length > 8
      ? [...s.slice(0, 6), s.at(-1)!].map(sayTicks).join(' ')
      : s.map(sayTicks).join(' ');
  return [
    `${severity} ${code}, ${spans.length} places: ${all(spans)}`,
    `${notes.length} notes; ${measured ? `${round(measured.value)} ${measured.unit}` : 'no number'}`,
    `allowed: ${JSON.stringify(allowed ?? null)}`,
    ...mends.flatMap(({ title, steps }) => [
      `* ${title}`,
      ...steps.map((s) => `  ${s.step} ${json(s.params)} in ${json(s.scope)}`),
    ]),
    ...(noMend ? [`none: ${noMend}`] : []),
  ].join('\n');
}
const round = (n: number) => Math.round(n * 1000) / 1000;
const sayTicks = (s: Finding['spans'][number]) => `${s.fromTick}–${s.toTick}`;
const json = (value: unknown) => {
  const text = JSON.stringify(value, (_, v: unknown) => (typeof v === 'number' ? round(v) : v));
  return text.length > 400 ? `${text.slice(0, 400)}… of ${text.length}` : text;
};

function besideOf(sound: ValidCase['sound']) {
  if (!sound) return {};
  const { ms, onsets } = sound;
  const beside = { recordingMs: ms, soundName: 'quay.wav' };
  if (sound.heard) return { ...beside, heard: sound.heard };
  if (!onsets) return beside;
  const strength = new Float32Array(onsets.length).fill(0.8);
  const heard: HeardSound = {
    firstMs: onsets[0] ?? null,
    lastMs: onsets.at(-1) ?? null,
    onsets: { ms: Float64Array.from(onsets), strength },
  };
  return { ...beside, heard };
}

function expectSentences(finding: Finding, target: Target, rendition: Rendition) {
  const said = sayFinding(finding, target, mapsOf(rendition.pieces[0]!.score));
  for (const sentence of [said.title, said.wrong, said.then, said.where]) {
    expect(sentence).not.toMatch(/undefined|NaN|null|\$\{|\[object|!/);
    expect(sentence.length).toBeGreaterThan(2);
  }
  expect(said.wrong).toMatch(/\.$/);
  expect(said.then).toMatch(/\.$/);
  for (const mend of finding.mends) expect(mend.title).not.toMatch(/undefined|NaN|\$\{/);
}
