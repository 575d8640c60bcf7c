import { channelOf, eventsOn, forChannel } from './channels';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { setController } from '../../steps/sound';
import { strip } from '../../steps/strip';

export const setUp = defineRule({
  id: 'set-up-once',
  summary: 'Exactly one of each set-up controller on a seat, at tick 0.',
  story: {
    why: 'Every save adds its own set-up to the one that was there.',
    mends: 'The first value is kept, once, at the start; what is missing gets the usual value.',
  },
  block: 'events',
  reads: ['controllersOnceAtStart'],
  phase: 'events',
  codes: {
    'set-up-missing': says<{ name: string; numbers: string }>({
      title: 'Set-up missing',
      wrong: (f) => `“${f.name}” has no controller ${f.numbers}.`,
      then: (_, w) => `${w.Target} keeps what the last song left there.`,
    }),
    'set-up-again': says<{ name: string; numbers: string }>({
      title: 'Set-up sent more than once',
      wrong: (f) => `“${f.name}” sets controller ${f.numbers} several times, or not at tick 0.`,
      then: (_, w) => `${w.Target} expects each exactly once, at tick 0, and stops at another.`,
    }),
  },
  check({ channels, block, report }) {
    const wanted = block.controllersOnceAtStart;
    if (!wanted) return;
    for (const { parts } of channels()) {
      const on = channelOf(parts);
      if (on.notes === 0) continue;
      const missing: number[] = [];
      const again: number[] = [];
      const ticks: number[] = [];
      const first = new Map<number, number>();
      for (const number of wanted) {
        const at = eventsOn(parts, (kind, data1) => kind === 0xb0 && data1 === number);
        if (at[0]) first.set(number, at[0].part.events.data2[at[0].index]!);
        if (at.length === 0) missing.push(number);
        else if (at.length > 1 || at[0]!.tick !== 0) {
          again.push(number);
          ticks.push(...at.filter((e, i) => i > 0 || e.tick > 0).map((e) => e.tick));
        }
      }
      const setAll = (title: string, numbers: number[]) =>
        forChannel(
          title,
          numbers.flatMap((controller) => {
            const value = first.get(controller);
            const params = { controller, ...(value === undefined ? {} : { value }) };
            return mend('', setController, params, [on.first]).steps;
          }),
          on.others.length > 0 && numbers.some((n) => first.has(n))
            ? mend('', strip, { kinds: ['controllers' as const], controllers: numbers }, on.others)
                .steps
            : [],
        );
      const base = { ...on.named, allowed: { controllersOnceAtStart: wanted } };
      if (missing.length > 0)
        report({
          code: 'set-up-missing',
          ...base,
          spans: [spanAt(0)],
          data: { name: on.name, numbers: missing.join(', ') },
          measured: { value: missing.length, unit: 'controllers' },
          mends: [setAll('Write the usual values at the start', missing)],
        });
      if (again.length > 0)
        report({
          code: 'set-up-again',
          ...base,
          spans: [...new Set(ticks)].slice(0, 200).map(spanAt),
          data: { name: on.name, numbers: again.join(', ') },
          measured: { value: ticks.length, unit: 'controller events' },
          mends: [setAll('Keep the first value, at the start', again)],
        });
    }
  },
});
