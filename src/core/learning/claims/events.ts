import { alone, claim, type Claim, type Rest } from './claim';
import type { Setting } from '../../target/settle';

/** Events that are no notes, and text. */
export const EVENTS: readonly Claim[] = [
  claim('controllers', 'none', 'controllers', 'events.controllers', 7, 0.2, ['controllers'], {
    ...alone('events.controllers', 'none'),
  }),
  claim('controller-numbers', 'only', 'controllers', 'events.controllers', 6, 0.3, ['controllers']),
  claim(
    'once-at-start',
    'has',
    'once on each channel, at tick 0, controller',
    'events.controllersOnceAtStart',
    2,
    0.3,
    ['controllers'],
    {
      sets: (bound) => [{ path: 'events.controllersOnceAtStart', value: [bound].flat() }],
    },
  ),
  claim('programs', 'none', 'program changes', 'events.programs', 7, 0.15, ['programs'], {
    ...alone('events.programs', 'none'),
  }),
  claim(
    'late-programs',
    'none',
    'program changes behind the first',
    'events.programs',
    5,
    0.8,
    ['programs'],
    {
      ...alone('events.programs', 'one-at-start'),
    },
  ),
  claim('program-numbers', 'only', 'programs', 'presets.list', 3, 0.1, ['programs'], {
    sets: (bound) => [
      {
        path: 'presets.list',
        value: [bound].flat().map((program) => ({
          bank: 0,
          program,
          name: `Program ${String(program)}`,
        })),
      },
    ],
  }),
  claim('bends', 'none', 'pitch bends', 'events.bends', 7, 0.7, ['bends'], {
    ...alone('events.bends', 'none'),
  }),
  claim('aftertouch', 'none', 'aftertouch', 'events.aftertouch', 5, 0.9, ['aftertouch'], {
    ...alone('events.aftertouch', 'none'),
  }),
  claim(
    'silent-channels',
    'none',
    'channels without a note',
    'events.silentChannels',
    3,
    0.9,
    ['controllers', 'programs', 'bends'],
    {
      ...alone('events.silentChannels', 'none'),
    },
  ),
  claim('sysex', 'none', 'system exclusive messages', 'events.sysex', 7, 0.8, ['sysex'], {
    ...alone('events.sysex', 'none'),
  }),
  claim('unknown-meta', 'none', 'unknown meta events', 'events.unknownMeta', 4, 0.9, ['texts'], {
    ...alone('events.unknownMeta', 'none'),
  }),
  claim('markers', 'none', 'markers', 'text.markers', 6, 0.6, ['markers'], {
    ...alone('text.markers', 'none'),
  }),
  claim('marker-length', 'most', 'letters in a marker', 'text.longestMarker', 4, 0.8, ['markers']),
  claim(
    'odd-markers',
    'none',
    'markers with other signs than plain ASCII',
    'text.markerLetters',
    4,
    0.9,
    ['markers'],
    {
      ...alone('text.markerLetters', 'printable-ascii'),
    },
  ),
  claim('texts', 'none', 'lyrics and other text', 'text.others', 6, 0.6, ['texts'], {
    ...alone('text.others', 'none'),
  }),
  claim('track-names', 'most', 'track names', 'text.mostTrackNames', 2, 0.5, ['texts', 'tracks']),
];

/** Claims about the values of each controller that these files have: as many as there are. */
export const controllerClaims = (numbers: readonly number[]): Claim[] =>
  numbers.flatMap((n) => {
    const of = `controller-${n}`;
    const name = `Controller ${n}`;
    const curve = (rest: object): Setting[] => [
      { path: 'curves.list', adds: { name, controllers: [n], ...rest } },
    ];
    const one = (
      id: string,
      bounds: 'least' | 'most',
      says: string,
      key: string,
      usual: number,
      rest: Rest = {},
    ) =>
      claim(`${of}-${id}`, bounds, says, 'curves.list', usual, 0.5, ['controllers'], {
        of,
        sets: (bound) => curve({ [key]: bound }),
        ...rest,
      });
    return [
      one('lowest', 'least', `a value of controller ${n}`, 'lowest', 2),
      one('highest', 'most', `a value of controller ${n}`, 'highest', 2),
      one('second', 'most', `values of controller ${n} in a second`, 'perSecond', 3, {
        of: `${of}-second`,
      }),
      one('apart', 'least', `from one value of controller ${n} to the next`, 'apartMs', 2, {
        of: `${of}-apart`,
        unit: 'ms',
      }),
    ];
  });
