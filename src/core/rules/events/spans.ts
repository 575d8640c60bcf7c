import type { Span } from '../finding';
import { spanAt } from '../define-rule';

/** Distinct places, at most as many as can be shown. */
const MOST_SPANS = 500;

export function spansOf(ticks: readonly number[]): Span[] {
  const out: Span[] = [];
  let last = -1;
  for (const tick of Float64Array.from(ticks).sort()) {
    if (tick === last) continue;
    if (out.length === MOST_SPANS) break;
    out.push(spanAt(tick));
    last = tick;
  }
  return out;
}
