import * as z from 'zod';
import { BEND } from '../../reading/curves';
import { plain } from '../../target/words';
import { defineStep, done } from '../define-step';
import { changeCurves, sayWanted, wants } from './change';
import { WANTED } from './wanted';

const bound = z.number().min(0).max(16_383).optional();

export const curveValues = defineStep({
  id: 'curve-values',
  reach: 'stretch',
  title: 'Change values of a curve',
  summary:
    'Turns a curve upside down, scales and offsets its values, keeps them within bounds, or brings each to the nearest of a list.',
  params: z.strictObject({
    ...WANTED,
    invert: z.boolean().optional().describe('Upside down'),
    scale: z.number().min(0).max(100).optional().describe('In per cent is 0.01 to 1'),
    offset: z.number().min(-16_383).max(16_383).optional(),
    lowest: bound,
    highest: bound,
    only: z
      .array(z.int().min(0).max(16_383))
      .min(1)
      .max(128)
      .optional()
      .describe('Values it knows'),
  }),
  describe: (p) => {
    const said = [
      p.invert ? 'upside down' : '',
      p.scale === undefined ? '' : `times ${plain(p.scale)}`,
      p.offset === undefined
        ? ''
        : `${p.offset < 0 ? 'less' : 'plus'} ${plain(Math.abs(p.offset))}`,
      p.lowest === undefined ? '' : `from ${plain(p.lowest)}`,
      p.highest === undefined ? '' : `up to ${plain(p.highest)}`,
      p.only ? `to the nearest of ${p.only.slice(0, 6).join(', ')}` : '',
    ].filter(Boolean);
    return `${sayWanted(p)} ${said.join(', ')}`;
  },
  apply(input) {
    const { invert, scale = 1, offset = 0, lowest, highest, only } = input.params;
    let [changed, clipped] = [0, 0];
    const result = changeCurves(input, wants(input.params), (points, { kind }) => {
      const full = kind === BEND ? 16_383 : 127;
      const [low, high] = [lowest ?? 0, Math.min(full, highest ?? full)];
      return points.map((p) => {
        const turned = invert ? full - p.value : p.value;
        const exact = Math.round(turned * scale + offset);
        const kept = Math.max(low, Math.min(high, exact));
        if (kept !== exact) clipped++;
        const value = only ? nearestOf(only, kept) : kept;
        if (value === p.value) return p;
        changed++;
        return { ...p, value };
      });
    });
    return done(result.piece, { events: changed, eventWords: 'values changed' }, [
      { what: 'values cut at a bound', count: clipped },
    ]);
  },
});

/** Of two that are equally near the higher: what is half on is on. */
export const nearestOf = (list: readonly number[], value: number): number =>
  list.reduce((best, v) => {
    const [d, was] = [Math.abs(v - value), Math.abs(best - value)];
    return d < was || (d === was && v > best) ? v : best;
  });
