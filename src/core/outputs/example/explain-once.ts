import type { RowKind, Rows, Value } from '../../formats/own/schema';
import { rowsOf } from '../own/rows';
import { valueOf, writeSaid } from '../own/values';
import type { World } from '../own/world';
import type { Explained } from './candidates';
import { decimalsOf, NUMBER, toNumber } from './columns';

/** What explains a value that stands once: a fact of the piece, a count, else what it says. */
export function explainOnce(
  cell: string,
  plain: boolean,
  world: World,
): Explained & { readonly sure: boolean } {
  const numeric = NUMBER.test(cell) && (plain || !/^0\d/.test(cell));
  if (numeric) {
    const n = toNumber(cell);
    const decimals = decimalsOf(cell);
    const counts: readonly RowKind[] = [
      'notes',
      'strikes',
      'events',
      'bars',
      'seats',
      'parts',
      'markers',
      'tempos',
    ];
    const facts = [
      'bpm',
      'ppq',
      'bars',
      'numerator',
      'denominator',
      'lengthMs',
      'lengthSeconds',
      'lengthTicks',
    ];
    for (const round of ['nearest', 'down', 'up'] as const)
      for (const key of facts) {
        // Small numbers are met by chance.
        if (Math.abs(n) < 5 && key !== 'numerator' && key !== 'denominator') continue;
        const value: Value = {
          is: 'fact',
          key,
          kind: 'number',
          ...(decimals > 0 ? { decimals } : {}),
          ...(round === 'nearest' ? {} : { round }),
        };
        const said = valueOf(value, null, { world, inside: null, before: null, index: 0 });
        if (said === null) continue;
        const text = writeSaid(said, value, cell.includes(',') ? ',' : '.');
        if (plain ? Number(text) === n : text === cell)
          return { value, says: `the ${FACTS[key]}`, sure: true };
      }
    for (const of of counts) {
      const rows: Rows = of === 'bars' ? { of, empty: true } : { of };
      const count = world.counts.get(of) ?? rowsOf(rows, world, null).length;
      world.counts.set(of, count);
      if (count === n && n > 3)
        return { value: { is: 'count', of: rows }, says: `how many ${of} there are`, sure: true };
    }
  }
  for (const key of ['title', 'file', 'maker'])
    if (world.facts.get(key) === cell && cell.length > 1)
      return { value: { is: 'fact', key }, says: `the ${key}`, sure: true };
  const constant: Value = { is: 'constant', value: plain && numeric ? toNumber(cell) : cell };
  return { value: constant, says: `always “${cell}”`, sure: false };
}

const FACTS: Readonly<Record<string, string>> = {
  bpm: 'first tempo in BPM',
  ppq: 'PPQ',
  bars: 'number of bars',
  numerator: 'beats of a bar',
  denominator: 'unit of a beat',
  lengthMs: 'length in ms',
  lengthSeconds: 'length in seconds',
  lengthTicks: 'length in ticks',
};
