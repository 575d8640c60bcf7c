import { defineRule, says } from '../define-rule';
import { sayDamage } from '../../diagnostic/damage';

export const damage = defineRule({
  id: 'damage',
  summary: 'What was wrong with the bytes of the source.',
  story: {
    why: 'A copy was cut off, a transfer flipped bytes, or a program wrote what the standard does not allow.',
    mends:
      'None: the source is never changed. What was readable is in the score; the handover is written clean.',
  },
  block: null,
  phase: 'integrity',
  over: 'delivery',
  codes: {
    damage: says<{ says: string; byteOffset: number }>({
      title: 'Source file is damaged',
      wrong: (f) => String(f.says),
      then: () => 'The handover is written clean; the source stays as it is.',
    }),
  },
  check({ base, report }) {
    const several = base.sources.length > 1;
    for (const source of base.sources)
      for (const d of source.damage)
        report({
          code: 'damage',
          severity: HARMLESS.has(d.code) ? 'remark' : 'caution',
          cause: `${several ? `${source.key}:` : ''}${d.code}@${d.byteOffset}`,
          data: {
            says: several ? `${source.name}: ${sayDamage(d)}` : sayDamage(d),
            byteOffset: d.byteOffset,
          },
          noMend: 'The source is never changed. Export it again, or leave it as is.',
        });
  },
});

/** Nothing of the music is touched by these. */
const HARMLESS = new Set([
  'leading-bytes',
  'header-length',
  'trailing-bytes',
  'end-of-track-missing',
  'running-status-cancelled',
  'system-byte',
]);
