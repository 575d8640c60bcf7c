import type { Value } from '../../../core/formats/own/schema';

/** Values that files hold most, each under the words that people choose it by. */
export interface ValueChoice {
  readonly id: string;
  readonly words: string;
  readonly value: Value;
}

const v = (id: string, words: string, value: Value): ValueChoice => ({ id, words, value });
const start = (more: object): Value => ({ is: 'time', of: 'start', unit: 'ms', ...more });
const length = (more: object): Value => ({ is: 'time', of: 'length', unit: 'ms', ...more });

export const VALUE_CHOICES: readonly ValueChoice[] = [
  v('ms', 'start in ms', start({})),
  v('seconds', 'start in seconds, three decimals', start({ unit: 'seconds', decimals: 3 })),
  v('clock', 'start as a clock, 0:12.500', {
    is: 'joined',
    parts: [
      start({ unit: 'minutes' }),
      ':',
      start({ unit: 'seconds', from: 'minute', decimals: 3, digits: 2 }),
    ],
  }),
  v('place', 'start as bar:beat:tick at PPQ 480', {
    is: 'joined',
    parts: [
      start({ unit: 'bar' }),
      ':',
      start({ unit: 'beat' }),
      ':',
      start({ unit: 'tick-of-beat', ppq: 480 }),
    ],
  }),
  v('ticks', 'start in ticks at PPQ 480', start({ unit: 'ticks', ppq: 480 })),
  v('quarters', 'start in quarters, three decimals', start({ unit: 'quarters', decimals: 3 })),
  v('frames', 'start in frames at 25 a second', start({ unit: 'frames', rate: 25 })),
  v('gap', 'ms since the row before', start({ from: 'last' })),
  v('length-ms', 'length in ms', length({})),
  v('length-ticks', 'length in ticks at PPQ 480', length({ unit: 'ticks', ppq: 480 })),
  v(
    'length-seconds',
    'length in seconds, three decimals',
    length({ unit: 'seconds', decimals: 3 }),
  ),
  v('end-ms', 'end in ms', { is: 'time', of: 'end', unit: 'ms' }),
  v('key', 'note number', { is: 'key', as: 'number' }),
  v('name', 'name of the note', { is: 'key', as: 'name' }),
  v('lane', 'lane, from 1', { is: 'key', as: 'lane', first: 1 }),
  v('lane-0', 'lane, from 0', { is: 'key', as: 'lane', first: 0 }),
  v('velocity', 'velocity', { is: 'velocity' }),
  v('percent', 'velocity from 0 to 100', { is: 'velocity', most: 100 }),
  v('share', 'velocity from 0 to 1, two decimals', { is: 'velocity', most: 1, decimals: 2 }),
  v('seat', 'name of the seat', { is: 'seat', as: 'name' }),
  v('part', 'name of the part', { is: 'part', as: 'name' }),
  v('channel', 'channel, from 1', { is: 'channel', first: 1 }),
  v('number', 'number of the row, from 1', { is: 'row-number', first: 1 }),
  v('title', 'the title', { is: 'fact', key: 'title' }),
];

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** Under which choice a value stands; null where it was described otherwise. */
export const choiceOf = (value: Value): string | null =>
  VALUE_CHOICES.find((c) => same(c.value, value))?.id ?? null;
