import { ALL, NOTES, claim, type Claim } from './claim';

/** What a target may be strict about in the file, its name and its channels. */
export const FILE: readonly Claim[] = [
  claim('format', 'only', 'SMF formats', 'file.formats', 9, 0.5, ['format', 'tracks', 'texts'], {
    listed: true,
    sets: (bound) => {
      const known = Array.isArray(bound) ? (bound as number[]) : [bound as number];
      return [
        { path: 'file.formats', value: known },
        { path: 'file.deliverFormat', value: known[0] },
      ];
    },
  }),
  claim('ppq', 'ppq', 'PPQ', 'file.ppq', 9, 0.4, ['ppq', 'rhythm', 'lengths', 'start', 'end']),
  claim('note-tracks', 'most', 'tracks with notes', 'file.mostNoteTracks', 6, 0.5, [
    ...NOTES,
    'texts',
    'controllers',
    'programs',
  ]),
  claim('bytes', 'most', 'bytes of the file', 'file.mostBytes', 2, 0.5, ALL),
  claim('name-length', 'most', 'letters in the name', 'naming', 2, 0.5, [], {
    kind: 'name',
    sets: (bound) => [
      { path: 'naming.longest', value: bound },
      { path: 'naming.letters', orElse: 'any' },
      { path: 'naming.ending', orElse: '.mid' },
    ],
  }),
  ...(
    [
      ['name-any', 'a name with other signs than letters and digits', 'A-Za-z0-9', 0.5],
      ['name-lower', 'a name of other letters than A–Z and 0–9', 'A-Z0-9', 0.1],
      ['name-upper', 'a name of other letters than a–z and 0–9', 'a-z0-9', 0.2],
    ] as const
  ).map(([id, says, letters, ordinary]) =>
    claim(id, 'none', says, 'naming', 4, ordinary, [], {
      kind: 'name',
      sets: () => [
        { path: 'naming.letters', value: letters },
        { path: 'naming.longest', orElse: 64 },
        { path: 'naming.ending', orElse: '.mid' },
      ],
    }),
  ),
  claim(
    'channels',
    'only',
    'channels with notes',
    'channels.only',
    9,
    0.3,
    ['channels', 'tracks'],
    {
      listed: true,
    },
  ),
  claim('must-have', 'has', 'notes on channel', 'seats', 4, 0.4, NOTES, {
    of: 'channels',
    sets: (bound) =>
      [bound].flat().map((channel) => ({
        path: 'seats',
        adds: {
          kind: 'channel',
          id: `channel-${String(channel)}`,
          name: `Channel ${String(channel)}`,
          channel,
        },
      })),
  }),
];
