import type { Finding } from './finding';
import type { Maps } from '../score/inventory';
import type { Target } from '../target/schema';
import { count, wordsOf } from '../target/words';
import { placeCode, sayClock } from '../time/meter-map';
import { NEEDS, type Need } from './define-rule';
import { findRule } from './index';

/** A finding in words; made last, from code and facts. */
export interface SaidFinding {
  readonly title: string;
  /** What is wrong. */
  readonly wrong: string;
  /** What the target will do. */
  readonly then: string;
  /** `bar 13 · 0:22.232`, and how many further places there are. */
  readonly where: string;
}

export function sayFinding(finding: Finding, target: Target, maps: Maps): SaidFinding {
  const rule = findRule(finding.rule);
  const text = rule?.codes[finding.code] ?? NEEDS[finding.code.replace('not-given-', '') as Need];
  if (!text) throw new Error(`no text for ${finding.rule}/${finding.code}`);
  const words = wordsOf(target);
  return {
    title: text.named?.(finding.data) ?? text.title,
    wrong: text.wrong(finding.data, words),
    then: text.then(finding.data, words),
    where: sayWhere(finding, maps),
  };
}

function sayWhere({ spans }: Finding, { bars, clock }: Maps): string {
  const first = spans[0];
  if (!first) return 'the whole piece';
  const { bar, beat } = bars.placeAt(first.fromTick);
  const place = `bar ${bar}${beat > 1 ? ` beat ${beat}` : ''}`;
  const more = spans.length - 1;
  const further = more === 0 ? '' : ` · and ${count(more, 'more place')}`;
  return `${place} · ${sayClock(clock.msAt(first.fromTick))}${further}`;
}

export const placeOf = (finding: Finding, { bars }: Maps): string | null =>
  finding.spans[0] ? placeCode(bars.placeAt(finding.spans[0].fromTick)) : null;
