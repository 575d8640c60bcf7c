import { ALL, alone, bare, claim, limit, meter, ms, ofLimit, type Claim } from './claim';

/** Tempos, meters, where it begins, and where it ends. */
export const TIME: readonly Claim[] = [
  claim('slowest-bpm', 'least', 'a tempo', 'tempo.lowestBpm', 9, 0.5, ['tempo'], {
    of: 'bpm',
    unit: 'BPM',
  }),
  claim('fastest-bpm', 'most', 'a tempo', 'tempo.highestBpm', 9, 0.5, ['tempo'], {
    of: 'bpm',
    unit: 'BPM',
  }),
  claim('tempos', 'most', 'tempos', 'tempo.mostEvents', 8, 0.6, ['tempo'], {
    sets: (bound) =>
      bare(bound) === 1
        ? [{ path: 'tempo.constant', value: true }]
        : [{ path: 'tempo.mostEvents', value: bound }],
  }),
  claim('odd-bpm', 'none', 'a tempo that is no whole BPM', 'tempo.wholeBpm', 5, 0.5, ['tempo'], {
    ...alone('tempo.wholeBpm', true),
  }),
  claim('only-bpm', 'only', 'tempos', 'tempo.onlyBpm', 3, 0.1, ['tempo'], { of: 'bpm' }),
  claim(
    'tempo-apart',
    'least',
    'from one tempo to the next',
    'tempo.apartMs',
    2,
    0.8,
    ['tempo'],
    ms,
  ),
  claim('meters', 'only', 'meters', 'meter.only', 7, 0.4, ['meter'], {
    listed: true,
    say: meter,
    sets: (bound) => [
      {
        path: 'meter.only',
        value: [bound].flat().map((code) => ({
          numerator: Math.floor((code as number) / 1000),
          denominator: (code as number) % 1000,
        })),
      },
    ],
  }),
  claim('meter-changes', 'none', 'several meters', 'meter.constant', 5, 0.8, ['meter'], {
    sets: () => [{ path: 'meter.constant', value: true }],
  }),
  claim(
    'first-ms',
    'least',
    'the first note',
    'start.leadInMs',
    9,
    0.5,
    ['start', 'tempo', 'end'],
    {
      ...ms,
      kind: 'start',
    },
  ),
  claim('first-bar', 'least', 'bars of rest first', 'start.leadInBars', 5, 0.4, ['start', 'end'], {
    kind: 'start',
  }),
  claim('in-bar-1', 'none', 'bars of rest first', 'start.inBar1', 4, 0.6, ['start', 'end'], {
    of: 'first-bar',
    ...alone('start.inBar1', true),
  }),
  claim(
    'busy-ms',
    'least',
    'the first event past tick 0',
    'start.quietMs',
    4,
    0.4,
    ['start', 'tempo', 'end', 'controllers', 'programs', 'bends'],
    { ...ms, kind: 'start' },
  ),
  claim(
    'over-bar',
    'none',
    'ticks past the last bar line',
    'end.wholeBars',
    6,
    0.2,
    ['end', 'lengths'],
    {
      ...alone('end.wholeBars', true),
    },
  ),
  // As limits: the block of the end asks for whole bars besides.
  ofLimit('bars', 'most', 'bars', ['bars', 'piece', 'Too many bars'], [6, 0.5], ALL, {
    kind: 'size',
  }),
  ofLimit('least-bars', 'least', 'bars', ['bars', 'piece', 'Too few bars'], [4, 0.5], ALL, {
    of: 'bars',
  }),
  claim('only-bars', 'only', 'lengths in bars', 'limits', 5, 0.1, ALL, {
    of: 'bars',
    ...limit('bars', 'piece', 'oneOf', 'Another length in bars'),
  }),
  claim('empty-bars', 'none', 'empty bars at the end', 'end.filled', 4, 0.6, ['end'], {
    ...alone('end.filled', true),
  }),
  claim(
    'uneven-ends',
    'none',
    'tracks that end at different ticks',
    'end.tracksEqual',
    3,
    0.3,
    ['end'],
    {
      ...alone('end.tracksEqual', true),
    },
  ),
  claim(
    'past-end',
    'none',
    'notes past the end of their track',
    'end.nothingPast',
    3,
    0.95,
    ['end', 'lengths'],
    { ...alone('end.nothingPast', true) },
  ),
  claim('tail-ms', 'least', 'from the last event to the end', 'end.tailMs', 4, 0.4, ['end'], ms),
  ofLimit(
    'clock-ms',
    'most',
    'the length',
    ['clock-ms', 'piece', 'Too long'],
    [5, 0.5],
    [...ALL, 'tempo'],
    { ...ms, kind: 'size' },
  ),
  ofLimit('least-clock', 'least', 'the length', ['clock-ms', 'piece', 'Too short'], [3, 0.5], ALL, {
    ...ms,
    of: 'clock-ms',
  }),
];
