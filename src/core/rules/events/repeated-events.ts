import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { dropDuplicates } from '../../steps/strip';
import { repeatsOf } from '../../reading/news';
import { spansOf } from './spans';

export const repeatedEvents = defineRule({
  id: 'repeated-events',
  summary: 'Controllers, programs and bends that say again what is already so.',
  story: {
    why: 'A session says level and pan again at every save.',
    mends: 'What says nothing new is dropped; it sounds the same.',
  },
  block: null,
  phase: 'events',
  codes: {
    repeated: says<{ countText: string; one: number }>({
      title: 'Repeated controllers',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'repeats' : 'repeat'} the value that is already in force.`,
      then: (_, w) =>
        `It sounds the same, but some readers, ${w.target} perhaps among them, stumble over doubled set-up.`,
    }),
  },
  check({ piece, report }) {
    let total = 0;
    const ticks: number[] = [];
    for (const [{ events }, again] of repeatsOf(piece.score)) {
      total += again.count;
      for (let i = 0; i < events.count; i++) if (again.at[i]) ticks.push(events.tick[i]!);
    }
    if (total === 0) return;
    report({
      code: 'repeated',
      severity: 'remark',
      spans: spansOf(ticks),
      data: { countText: count(total, 'event'), one: total === 1 ? 1 : 0 },
      measured: { value: total, unit: 'events' },
      mends: [
        mend('Remove the repeated controllers', dropDuplicates, { notes: false, events: true }),
      ],
    });
  },
});
