import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { isIn, type Part } from '../../score/score';
import { spansOf } from './spans';
import { strip } from '../../steps/strip';

interface Gathered {
  total: number;
  ticks: number[];
  numbers: Set<number>;
}

function gather(
  parts: readonly Part[],
  wanted: (kind: number, data1: number) => boolean,
): Gathered {
  const out: Gathered = { total: 0, ticks: [], numbers: new Set() };
  for (const part of parts) {
    if (!isIn(part)) continue;
    const { kind, data1, tick, count: n } = part.events;
    for (let i = 0; i < n; i++) {
      if (!wanted(kind[i]!, data1[i]!)) continue;
      out.total++;
      out.ticks.push(tick[i]!);
      out.numbers.add(data1[i]!);
    }
  }
  return out;
}

export const channelEvents = defineRule({
  id: 'channel-events',
  summary: 'Controllers, programs, bends and aftertouch that the target accepts.',
  story: {
    why: 'A session writes level, pan and wheel whether or not anybody asked for them.',
    mends: 'They are taken out; what that does to the sound is worked out and said.',
  },
  block: 'events',
  reads: ['controllers', 'controllersWithout', 'bends', 'aftertouch', 'programs'],
  phase: 'events',
  codes: {
    controllers: says<{ countText: string; one: number; numbers: string; taken: string }>({
      title: 'Controllers not supported',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText} (${f.numbers}).`,
      then: (f, w) =>
        f.taken === 'others'
          ? `${w.Target} takes none of these, and may stop at the first one.`
          : f.taken === 'any'
            ? `${w.Target} keeps these for the player's own hands, and the two fight.`
            : `${w.Target} has no controllers and may stop at the first one.`,
    }),
    programs: says<{ countText: string; one: number }>({
      title: 'Program changes not supported',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText}.`,
      then: (_, w) => `${w.Target} has one sound and may stop at a program change.`,
    }),
    bends: says<{ countText: string; one: number }>({
      title: 'Pitch bends not supported',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText}.`,
      then: (_, w) => `${w.Target} cannot bend and may stop at one.`,
    }),
    aftertouch: says<{ countText: string; one: number }>({
      title: 'Aftertouch not supported',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText}.`,
      then: (_, w) => `${w.Target} knows no aftertouch and may stop at it.`,
    }),
  },
  check({ block, piece, report }) {
    const { parts } = piece.score;
    const { controllers, controllersWithout } = block;
    const allowed = Array.isArray(controllers) ? new Set(controllers) : null;
    const without = controllersWithout && new Set(controllersWithout);
    if ((controllers !== undefined && controllers !== 'any') || without) {
      const all = controllers === undefined || controllers === 'any';
      const found = gather(
        parts,
        (kind, number) =>
          kind === 0xb0 && ((!all && !allowed?.has(number)) || without?.has(number) === true),
      );
      const numbers = [...found.numbers].sort((a, b) => a - b);
      if (found.total > 0)
        report({
          code: 'controllers',
          spans: spansOf(found.ticks),
          data: {
            countText: count(found.total, 'controller event'),
            one: found.total === 1 ? 1 : 0,
            numbers: numbers.slice(0, 8).join(', '),
            taken: without ? 'any' : allowed ? 'others' : 'none',
          },
          measured: { value: found.total, unit: 'controller events' },
          allowed: without ? { controllersWithout } : { controllers },
          mends: [
            mend('Remove these events', strip, {
              kinds: ['controllers'],
              ...(allowed || without ? { controllers: numbers } : {}),
            }),
          ],
        });
    }
    const none = (
      code: 'programs' | 'bends' | 'aftertouch',
      accepted: string | undefined,
      kinds: readonly number[],
      word: string,
    ) => {
      if (accepted !== 'none') return;
      const found = gather(parts, (kind) => kinds.includes(kind));
      if (found.total === 0) return;
      report({
        code,
        spans: spansOf(found.ticks),
        data: { countText: count(found.total, word), one: found.total === 1 ? 1 : 0 },
        measured: { value: found.total, unit: code },
        allowed: { [code]: 'none' },
        mends: [mend('Remove these events', strip, { kinds: [code] })],
      });
    };
    none('programs', block.programs, [0xc0], 'program change');
    none('bends', block.bends, [0xe0], 'pitch bend');
    none('aftertouch', block.aftertouch, [0xa0, 0xd0], 'aftertouch event');
  },
});
