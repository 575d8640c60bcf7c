import type { Value } from '../../formats/own/schema';
import { valueOf } from '../own/values';
import type { World } from '../own/world';
import type { Attempt, Candidate } from './candidates';

/** How the numbers of a column are written. */
export interface Form {
  decimals?: number;
  exact?: boolean;
  trim?: boolean;
  digits?: number;
}

const PPQS = [24, 48, 96, 120, 192, 240, 384, 480, 960, 1000];
/** Frames of pictures and of lamps, and samples of sound. */
const RATES = [
  10, 20, 24, 25, 30, 40, 50, 60, 100, 120, 8000, 11_025, 16_000, 22_050, 32_000, 44_100, 48_000,
  88_200, 96_000,
];

/** Where a row is, how long it lasts, from where to where: in every unit that files count in. */
export function times(
  values: readonly number[],
  { list, at }: Candidate,
  world: World,
  shape: Form,
  attempt: Attempt,
) {
  const ROUND_WORDS = { nearest: '', down: ', rounded down', up: ', rounded up' } as const;
  const scale = 10 ** (shape.decimals ?? 0);
  /** Offsets that are worth a try: none, and what the first row leaves over. */
  const tryAll = (make: Omit<Time, 'is' | 'of'>, says: string) => {
    for (const of of ['start', 'length', 'end'] as const)
      for (const from of ['start', 'last', 'bar'] as const) {
        if (from !== 'start' && of === 'length') continue;
        for (const round of ['nearest', 'down', 'up'] as const) {
          const value: Time = {
            is: 'time',
            of,
            ...make,
            ...(from === 'start' ? {} : { from }),
            ...(round === 'nearest' ? {} : { round }),
            ...shape,
          };
          const words = `${of} in ${says}${from === 'last' ? ' from the row before' : from === 'bar' ? ' from its bar' : ''}${ROUND_WORDS[round]}`;
          attempt(value, words);
          if (of === 'length')
            attempt({ ...value, addsUp: true }, `${words}, from rounded start to rounded end`);
          if (from !== 'start' || of === 'length') continue;
          const said = valueOf(value, at[0]!.row, at[0]!.beside);
          if (said === null || !('whole' in said)) continue;
          const add = Math.round((values[0]! - said.whole / scale) * scale) / scale;
          if (add !== 0 && Math.abs(add) < 1e7)
            attempt({ ...value, add }, `${words}, ${add} added`);
        }
      }
  };
  tryAll({ unit: 'ms' }, 'ms');
  tryAll({ unit: 'seconds' }, 'seconds');
  tryAll({ unit: 'us' }, 'microseconds');
  for (const of of ['start', 'end', 'length'] as const) clocks(of, shape, attempt);
  const ppqs = new Set([world.ppq, ...PPQS]);
  const far = list.findLastIndex((r) => r.tick > 0);
  if (far >= 0) {
    const ratio = Math.round((values[far]! * world.ppq) / list[far]!.tick);
    if (ratio > 1 && ratio <= 1_000_000) ppqs.add(ratio);
  }
  const lasting = (r: (typeof list)[number]) => r.endTick - r.tick;
  const longest = list.reduce((best, r, i) => (lasting(r) > lasting(list[best]!) ? i : best), 0);
  if (lasting(list[longest]!) > 0) {
    const ratio = Math.round((values[longest]! * world.ppq) / lasting(list[longest]!));
    if (ratio > 1 && ratio <= 1_000_000) ppqs.add(ratio);
  }
  for (const ppq of ppqs) tryAll({ unit: 'ticks', ppq }, `ticks at PPQ ${ppq}`);
  tryAll({ unit: 'quarters' }, 'quarters');
  tryAll({ unit: 'beats' }, 'beats');
  for (const first of [0, 1] as const) {
    attempt({ is: 'time', of: 'start', unit: 'bar', first, ...shape }, `bar, from ${first}`);
    attempt(
      { is: 'time', of: 'start', unit: 'beat', first, ...shape },
      `beat of the bar, from ${first}`,
    );
  }
  tryAll({ unit: 'bars' }, 'bars with fractions');
  tryAll({ unit: 'bars', first: 0 }, 'bars with fractions, from 0');
  for (const ppq of ppqs)
    attempt(
      { is: 'time', of: 'start', unit: 'tick-of-beat', ppq, ...shape },
      `tick of the beat at PPQ ${ppq}`,
    );
  const rates = new Set(RATES);
  const late = list.findLastIndex((r) => world.maps.clock.msAt(r.tick) > 0);
  if (late >= 0) {
    const rate = (values[late]! * 1000) / world.maps.clock.msAt(list[late]!.tick);
    if (rate > 0.1 && rate < 100_000)
      for (const near of [Math.round(rate), Math.round(rate * 2) / 2, Math.round(rate * 100) / 100])
        if (near > 0) rates.add(near);
  }
  const ms =
    world.maps.clock.msAt(list[longest]!.endTick) - world.maps.clock.msAt(list[longest]!.tick);
  if (ms > 0) {
    const rate = Math.round((values[longest]! * 1000) / ms);
    if (rate > 0 && rate < 100_000) rates.add(rate);
  }
  for (const rate of rates) tryAll({ unit: 'frames', rate }, `frames at ${rate} a second`);
}

type Time = Extract<Value, { is: 'time' }>;
const OF_WORDS = { start: '', end: ', of its end', length: ', of its length' };

/** Parts of a clock: each says what is left of the part before it. */
function clocks(of: Time['of'], shape: object, attempt: Attempt): void {
  const part = (more: Pick<Time, 'unit'> & Partial<Time>, says: string) =>
    attempt({ is: 'time', of, ...more, ...shape }, `${says}${OF_WORDS[of]}`);
  part({ unit: 'hours' }, 'whole hours');
  part({ unit: 'minutes', from: 'hour' }, 'minutes of the hour');
  part({ unit: 'minutes' }, 'whole minutes');
  for (const unit of ['seconds', 'ms'] as const) {
    part({ unit, from: 'minute' }, `${unit} of the minute`);
    part({ unit, from: 'minute', round: 'down' }, `${unit} of the minute, rounded down`);
  }
  part({ unit: 'ms', from: 'second' }, 'ms of the second');
  for (const rate of [24, 25, 30, 50, 60, 100])
    part({ unit: 'frames', rate, from: 'second' }, `frames of the second, at ${rate} a second`);
}
