import { FACT_WORDS } from '../../../../core/target/facts';
import type { Rows, Value } from '../../../../core/formats/own/schema';

/** Values that files hold most, each under the words that people choose it by. */
export interface ValueChoice {
  readonly id: string;
  readonly words: string;
  readonly value: Value;
}

const v = (id: string, words: string, value: Value): ValueChoice => ({ id, words, value });
const start = (more: object): Value => ({ is: 'time', of: 'start', unit: 'ms', ...more });
const time = (of: 'start' | 'end' | 'length', more: object): Value =>
  ({ is: 'time', of, ...more }) as Value;

const UNITS = [
  ['ms', 'ms'],
  ['seconds', 'seconds'],
  ['us', 'microseconds'],
  ['ticks', 'ticks'],
  ['quarters', 'quarters'],
  ['beats', 'beats'],
  ['bars', 'bars with fractions'],
  ['frames', 'frames'],
] as const;
const unit = (of: 'start' | 'end' | 'length') =>
  UNITS.map(([id, words]) =>
    v(
      `${of}-${id}`,
      `${of} in ${words}`,
      time(of, {
        unit: id,
        ...(id === 'ticks' ? { ppq: 480 } : {}),
        ...(id === 'frames' ? { rate: 25 } : {}),
        ...(['seconds', 'quarters', 'beats', 'bars'].includes(id) ? { decimals: 3 } : {}),
      }),
    ),
  );
const facts = Object.entries(FACT_WORDS).map(([key, words]) =>
  v(`fact-${key}`, `the ${words}`, {
    is: 'fact',
    key,
    ...(key === 'bpm' ? { kind: 'number', decimals: 2 } : {}),
  }),
);

export const VALUE_CHOICES: readonly ValueChoice[] = [
  ...unit('start'),
  v('clock', 'start as a clock, 0:12.500', {
    is: 'joined',
    parts: [
      start({ unit: 'minutes' }),
      ':',
      start({ unit: 'seconds', from: 'minute', decimals: 3, digits: 2 }),
    ],
  }),
  v('long-clock', 'start as a clock, 00:00:12.500', {
    is: 'joined',
    parts: [
      start({ unit: 'hours', digits: 2 }),
      ':',
      start({ unit: 'minutes', from: 'hour', digits: 2 }),
      ':',
      start({ unit: 'seconds', from: 'minute', decimals: 3, digits: 2 }),
    ],
  }),
  v('frame-clock', 'start as a clock with frames, 00:00:12:14', {
    is: 'joined',
    parts: [
      start({ unit: 'hours', digits: 2 }),
      ':',
      start({ unit: 'minutes', from: 'hour', digits: 2 }),
      ':',
      start({ unit: 'seconds', from: 'minute', round: 'down', digits: 2 }),
      ':',
      start({ unit: 'frames', rate: 25, from: 'second', digits: 2 }),
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
  v('joined', 'several values together', {
    is: 'joined',
    parts: [start({ unit: 'bar' }), '.', start({ unit: 'beat' })],
  }),
  v('list', 'a list in one place', {
    is: 'list',
    each: { of: 'notes' },
    between: ' ',
    parts: [{ is: 'key', as: 'name' }],
  }),
  v('case', 'one of several, by what it is of', {
    is: 'case',
    cases: [{ when: { longerMs: 250 }, value: { is: 'constant', value: 'hold' } }],
    otherwise: { is: 'constant', value: 'tap' },
  }),
  v('bar', 'its bar', start({ unit: 'bar' })),
  v('beat', 'its beat in the bar', start({ unit: 'beat' })),
  v('of-beat', 'its ticks in the beat', start({ unit: 'tick-of-beat', ppq: 480 })),
  v('in-bar', 'quarters from its bar', start({ unit: 'quarters', from: 'bar', decimals: 3 })),
  v('of-bar', 'the part of its bar before it', start({ unit: 'bars', from: 'bar', decimals: 4 })),
  v('gap', 'ms since the row before', start({ from: 'last' })),
  v('gap-ticks', 'ticks since the row before', start({ unit: 'ticks', ppq: 480, from: 'last' })),
  ...unit('length'),
  ...unit('end'),
  v('key', 'note number', { is: 'key', as: 'number' }),
  v('name', 'name of the note', { is: 'key', as: 'name' }),
  v('lane', 'its lane', { is: 'key', as: 'lane', first: 1 }),
  v('above', 'keys above the lowest', { is: 'key', as: 'number', from: 36 }),
  v('index', 'number of the key from the lowest', { is: 'key', as: 'index', from: 36, first: 1 }),
  v('in-list', 'number of the key in a list', { is: 'key', as: 'index', keys: [36, 38], first: 1 }),
  v('bits', 'a bit for each key', { is: 'key', as: 'bits', keys: [36, 38] }),
  v('velocity', 'velocity', { is: 'velocity' }),
  v('velocity-of', 'velocity of one key of a strike', { is: 'velocity', key: 36 }),
  v('share', 'velocity on a scale', { is: 'velocity', least: 0, most: 100 }),
  v('on-off', 'whether it begins or ends', { is: 'on-off', on: 'on', off: 'off' }),
  v('struck', 'what the cell of the grid holds', { is: 'struck', yes: 'x', no: '.' }),
  v('flag', 'whether it has a flag', { is: 'flags', flag: 'accent', yes: '1', no: '0' }),
  v('flags', 'its flags', { is: 'flags' }),
  v('seat', 'name of the seat', { is: 'seat', as: 'name' }),
  v('seat-number', 'number of the seat', { is: 'seat', as: 'number', first: 1 }),
  v('part', 'name of the part', { is: 'part', as: 'name' }),
  v('channel', 'channel', { is: 'channel', first: 1 }),
  v('program', 'program', { is: 'program', first: 0 }),
  v('rung', 'level', { is: 'rung', as: 'number', first: 1 }),
  v('bpm', 'tempo in BPM', { is: 'bpm', decimals: 2 }),
  v('us', 'tempo in microseconds a quarter', { is: 'us-per-quarter' }),
  v('numerator', 'beats of the meter', { is: 'numerator' }),
  v('denominator', 'what a beat of the meter is', { is: 'denominator' }),
  v('signature', 'key signature', { is: 'signature' }),
  v('text', 'its text', { is: 'text' }),
  v('marker', 'the marker in force', { is: 'marker' }),
  v('controller', 'number of the controller', { is: 'controller' }),
  v('value', 'value of the controller', { is: 'value' }),
  v('number', 'number of the row', { is: 'row-number', first: 1 }),
  v('count', 'how many rows there are', { is: 'count', of: { of: 'notes' } }),
  v('constant', 'always the same', { is: 'constant', value: '' }),
  ...facts,
  v('fact-ppq', 'the PPQ of the piece', { is: 'fact', key: 'ppq', kind: 'number' }),
  v('fact-length', 'its length in ms', { is: 'fact', key: 'lengthMs', kind: 'number' }),
  v('fact-file', 'the name of the file', { is: 'fact', key: 'file' }),
];

/** Parts of a value that are said beside its choice, each in a field of its own. */
export interface Detail {
  readonly key: string;
  readonly before: string;
  /** Of `keys` note numbers with spaces between. */
  readonly kind: 'number' | 'text' | 'rows' | 'choice' | 'keys';
  readonly options?: readonly (readonly [value: string, words: string])[];
  readonly after?: string;
  /** What holds where nothing is said. */
  readonly unsaid?: string | number;
}
const number = (key: string, before: string, after = '', unsaid?: number): Detail => ({
  key,
  before,
  kind: 'number',
  ...(after ? { after } : {}),
  ...(unsaid === undefined ? {} : { unsaid }),
});
const words = (key: string, before: string, unsaid?: string): Detail => ({
  key,
  before,
  kind: 'text',
  ...(unsaid === undefined ? {} : { unsaid }),
});
const DECIMALS = number('decimals', 'with', 'decimals', 0);
const ROUND: Detail = {
  key: 'round',
  before: 'rounded',
  kind: 'choice',
  unsaid: 'nearest',
  options: [
    ['nearest', 'to the nearest'],
    ['down', 'down'],
    ['up', 'up'],
  ],
};
const TOLD: Detail = {
  key: 'told',
  before: 'written',
  kind: 'choice',
  unsaid: '',
  options: [
    ['', 'always'],
    ['true', 'only where somebody told it'],
  ],
};
const DIGITS = number('digits', 'of at least', 'digits', 1);
const KEYS: Detail = { key: 'keys', before: 'the keys', kind: 'keys' };
const HEX: Detail = {
  key: 'hex',
  before: 'written',
  kind: 'choice',
  unsaid: '',
  options: [
    ['', 'in tens'],
    ['small', 'in sixteens, to f'],
    ['capital', 'in sixteens, to F'],
  ],
};
const WHOLE = [DIGITS, HEX];
const FIRST = number('first', 'counted from', '', 0);

/** What can be said of a value beside what it is. */
export function detailsOf(value: Value): readonly Detail[] {
  switch (value.is) {
    case 'time': {
      const ticks = value.unit === 'ticks' || value.unit === 'tick-of-beat';
      return [
        ...(ticks ? [number('ppq', 'at PPQ')] : []),
        ...(value.unit === 'frames' ? [number('rate', 'at', 'a second')] : []),
        ...(value.unit === 'bar' || value.unit === 'beat'
          ? [number('first', 'counted from', '', 1)]
          : [DECIMALS, ROUND, number('add', 'plus', '', 0)]),
        ...WHOLE,
      ];
    }
    case 'key':
      if (value.as === 'index')
        return value.keys ? [KEYS, FIRST, ...WHOLE] : [number('from', 'of'), FIRST, ...WHOLE];
      if (value.as === 'bits') return [KEYS, ...WHOLE];
      if (value.as === 'lane') return [FIRST, ...WHOLE];
      return value.as === 'number' && value.from !== undefined
        ? [number('from', 'the lowest being'), ...WHOLE]
        : value.as === 'number'
          ? WHOLE
          : [];
    case 'velocity':
      if (value.key !== undefined && value.most === undefined)
        return [number('key', 'the key'), ...WHOLE];
      return value.most === undefined
        ? WHOLE
        : [number('least', 'from', '', 0), number('most', 'to'), DECIMALS, ROUND, ...WHOLE];
    case 'seat':
    case 'channel':
    case 'program':
    case 'rung':
      return value.is === 'seat' && value.as !== 'number'
        ? []
        : [number('first', 'counted from', '', value.is === 'seat' ? 0 : 1)];
    case 'row-number':
      return [FIRST, ...WHOLE];
    case 'bpm':
    case 'us-per-quarter':
      return [DECIMALS, ROUND];
    case 'struck':
      return [
        words('yes', 'a note'),
        words('no', 'nothing'),
        words('held', 'sounding on', ''),
        words('last', 'its last cell', ''),
        number('key', 'of key', 'alone'),
      ];
    case 'on-off':
      return [words('on', 'begins'), words('off', 'ends')];
    case 'flags':
      return value.flag === undefined
        ? [words('between', 'parted by', ' ')]
        : [words('flag', ''), words('yes', 'yes'), words('no', 'no')];
    case 'constant':
      return [words('value', '')];
    case 'count':
      return [{ key: 'of', before: 'of each', kind: 'rows' }];
    case 'fact':
      return value.kind === 'number'
        ? [number('times', 'times', '', 1), DECIMALS, ROUND, TOLD]
        : [words('otherwise', 'else', ''), TOLD];
    default:
      return [];
  }
}

const bare = (value: Value): string => {
  const out = { ...(value as unknown as Record<string, unknown>) };
  for (const { key } of detailsOf(value)) delete out[key];
  if (value.is === 'list') for (const key of ['each', 'between', 'parts']) delete out[key];
  // A flag by itself is one kind, several another: its name is a detail.
  const named = ['flag', 'most', 'keys'].map((key) => key in value);
  const ofKey = value.is === 'velocity' && value.key !== undefined;
  return JSON.stringify([out, ...named, ofKey, 'from' in value && value.is]);
};
const BY_BARE = new Map(VALUE_CHOICES.map((c) => [bare(c.value), c.id]));

/** Under which choice a value stands, whatever its details; null where it was described otherwise. */
export const choiceOf = (value: Value): string | null =>
  BY_BARE.get(bare(value)) ?? (value.is === 'joined' || value.is === 'case' ? value.is : null);

/** A value with a detail said otherwise; what is empty is not said. */
export function withDetail(value: Value, { key, kind }: Detail, said: string): Value {
  const next = { ...(value as unknown as Record<string, unknown>) };
  const isKept = kind === 'text' && (key === 'yes' || key === 'no' || key === 'value');
  if ((said === '' && !isKept) || said === 'nearest') delete next[key];
  else if (key === 'told') next[key] = said === 'true';
  else if (kind === 'keys')
    next[key] = said
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map(Number);
  else next[key] = kind === 'number' ? Number(said) : said;
  return next as unknown as Value;
}

/** Rows as they are first chosen: a grid has cells of a sixteenth, all of them. */
export const newRows = (of: Rows['of']): Rows => ({
  of,
  ...(of === 'cells' ? { perQuarter: 4, empty: true } : {}),
  ...(of === 'bars' ? { empty: true } : {}),
  ...(of === 'frames' ? { rate: 25 } : {}),
});
