import { SpanList, defineRule, mend, says, spanAt } from '../define-rule';
import { count } from '../../target/words';
import { velocitiesLost } from '../../reading/as-delivered';
import { velocity as velocityStep } from '../../steps/sound';

export const velocity = defineRule({
  id: 'velocity',
  summary: 'How hard notes are struck: within the range of the target, and not all alike.',
  story: {
    why: 'An export wrote one value for all, or a controller scaled past the range.',
    mends:
      'Bring them within the range, set them as they are delivered, or vary them by a stored seed.',
  },
  block: 'velocity',
  phase: 'notes',
  codes: {
    'velocity-range': says<{
      lowest: number;
      highest: number;
      name: string;
      countText: string;
      one: number;
    }>({
      title: 'Velocity out of range',
      wrong: (f) =>
        `${f.countText} of “${f.name}” ${f.one ? 'is' : 'are'} struck outside ${f.lowest}–${f.highest}.`,
      then: (_, w) => `${w.Target} does not sound them as they are meant.`,
    }),
    'velocity-ignored': says<{ countText: string; one: number; as: number }>({
      title: 'Velocity is ignored',
      wrong: (f) => `${f.countText} ${f.one ? 'has' : 'have'} another velocity than ${f.as}.`,
      then: (f, w) => `${w.Target} knows no velocity: every note is delivered with ${f.as}.`,
    }),
    'velocity-alike': says<{ name: string; countText: string; value: number }>({
      title: 'All notes have one velocity',
      wrong: (f) => `All ${f.countText} of “${f.name}” have velocity ${f.value}.`,
      then: () => 'Perhaps the dynamics were lost in an export. It will sound like a machine.',
    }),
  },
  check({ heard, block, piece, target, report }) {
    const { lowest = 1, highest = 127, deliveredAs, allAlike } = block;
    const lost = velocitiesLost(piece, target);
    if (deliveredAs !== undefined && lost > 0)
      report({
        code: 'velocity-ignored',
        severity: 'remark',
        data: { countText: count(lost, 'note'), one: lost === 1 ? 1 : 0, as: deliveredAs },
        measured: { value: lost, unit: 'notes' },
        allowed: { deliveredAs },
        noMend: 'Nothing needs to be done: it is delivered so, and listed in the receipt.',
      });
    for (const part of heard()) {
      if (part.notes.count === 0) continue;
      const { velocity: values, count: n } = part.notes;
      const out = new SpanList();
      let alike = true;
      let worst = values[0]!;
      for (let i = 0; i < n; i++) {
        const value = values[i]!;
        if (value !== values[0]) alike = false;
        if (value < lowest || value > highest) {
          out.add(part, i);
          worst = value;
        }
      }
      const facts = (places: SpanList) => ({
        name: part.name,
        countText: count(places.count, 'note'),
        one: places.count === 1 ? 1 : 0,
      });
      if (out.count > 0)
        report({
          code: 'velocity-range',
          part,
          ...out.found,
          data: { ...facts(out), lowest, highest },
          measured: { value: worst, unit: 'velocity' },
          allowed: { lowest, highest },
          mends: [
            mend(`Bring them within ${lowest}–${highest}`, velocityStep, { lowest, highest }, [
              part,
            ]),
          ],
        });
      if (allAlike !== undefined && alike && n >= 8)
        report({
          code: 'velocity-alike',
          severity: allAlike,
          part,
          spans: [spanAt(part.notes.start[0]!)],
          notes: part.notes.id,
          data: { name: part.name, countText: count(n, 'note'), value: values[0]! },
          measured: { value: values[0]!, unit: 'velocity' },
          mends: [
            mend('Vary them a little, by a stored seed', velocityStep, { vary: 8, seed: 1 }, [
              part,
            ]),
          ],
        });
    }
  },
});
