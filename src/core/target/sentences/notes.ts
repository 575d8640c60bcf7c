import { LIMIT_OVER, MEASURE_IDS, MEASURES, OVER_WORDS } from '../limit-schema';
import { GRAVE, choices, named, s, type Subject } from './sentence';

/** What is said of keys, counts, limits, grids, lanes and velocity. */
export const NOTES: readonly Subject[] = [
  {
    id: 'keys',
    title: 'Keys',
    of: 'keys',
    sentences: [
      s(
        'Its keys are {notes.lowest:key} to {notes.highest:key}',
        { 'notes.lowest': 36, 'notes.highest': 96 },
        'the lowest and the highest',
      ),
      s(
        'Of these, {notes.without:keys} are not there',
        { 'notes.without': [61] },
        'keys that are missing',
      ),
      s('It has only the keys {notes.only:keys}', { 'notes.only': [60, 62, 64] }, 'a list of keys'),
      s('It takes no notes at all', { 'notes.none': true }, 'no notes at all'),
      s('It holds {notes.most} notes in all', { 'notes.most': 1000 }, 'how many notes in all'),
      s(
        `Repeats that are note for note alike: {notes.barsAlike|${GRAVE}}`,
        { 'notes.barsAlike': 'remark' },
        'repeats that are all alike',
      ),
      s(
        'A soft note {carrier.noteNumber:key} at velocity {carrier.velocity} goes through the whole length, on channel {carrier.channel} of the track {carrier.track}',
        {
          'carrier.noteNumber': 0,
          'carrier.velocity': 1,
          'carrier.channel': 1,
          'carrier.track': 'Carrier',
        },
        'a note that carries the length',
        { whole: 'carrier' },
      ),
    ],
    cards: [
      {
        path: 'kits',
        one: 'set of named keys',
        more: 'a set of named keys, of which a song uses one',
        first: (n) => ({
          id: `set-${n}`,
          name: `Set ${n}`,
          keys: [{ noteNumber: 36, name: 'Low' }],
        }),
        kinds: {
          '': { name: 'set', sentences: [named, s('Its keys: {keys:named-keys}', { keys: [] })] },
        },
      },
    ],
  },
  {
    id: 'often',
    title: 'How many, how soon, how long',
    of: 'how many notes at once, or how soon again',
    sentences: [
      s(
        'At most {polyphony.together} notes sound at once {polyphony.over|seat=on a seat|all=in all}',
        { 'polyphony.together': 1, 'polyphony.over': 'seat' },
        'how many notes at once',
        { whole: 'polyphony' },
      ),
      s(
        'They lie within {polyphony.spanSemitones} semitones',
        { 'polyphony.spanSemitones': 12 },
        'how far a hand reaches',
        { needs: 'how many notes at once' },
      ),
      s(
        'This holds for the seats {polyphony.seats:seats}',
        { 'polyphony.seats': [] },
        'only some seats',
        { needs: 'how many notes at once' },
      ),
      s(
        'The same key on two seats at once {polyphony.sharedNotes|any=may sound|none=may not sound}',
        { 'polyphony.sharedNotes': 'none' },
        'one key on two seats at once',
        { needs: 'how many notes at once' },
      ),
      s(
        'The same key comes again after {spacing.sameKeyApartMs} ms or later',
        { 'spacing.sameKeyApartMs': 120 },
        'how soon the same key',
      ),
      s(
        'Two notes of a seat begin {spacing.apartMs} ms apart or more',
        { 'spacing.apartMs': 60 },
        'how soon any other note',
      ),
      s(
        'A seat takes at most {spacing.strikesASecond} strikes in any second',
        { 'spacing.strikesASecond': 8 },
        'how many strikes a second',
      ),
      s(
        'A seat sounds for at most {spacing.mostOpenMs} ms of any {spacing.openInMs} ms',
        { 'spacing.mostOpenMs': 1500, 'spacing.openInMs': 2000 },
        'how much of the time it may sound',
      ),
      s(
        'A note lasts {length.shortestMs} ms or longer',
        { 'length.shortestMs': 40 },
        'the shortest note',
      ),
      s(
        'A note lasts {length.longestMs} ms at most',
        { 'length.longestMs': 4000 },
        'the longest note',
      ),
    ],
  },
  {
    id: 'limits',
    title: 'Limits of its own',
    of: 'limits of its own',
    sentences: [],
    cards: [
      {
        path: 'limits',
        one: 'limit',
        more: 'a limit: a measure and its bounds',
        first: () => ({
          measure: 'run',
          over: 'note',
          most: 4,
          title: 'Too many repeats',
          why: 'What goes over it is not played',
        }),
        kinds: {
          '': {
            name: 'limit',
            sentences: [
              s(
                `The {measure|${choices(
                  MEASURE_IDS,
                  (m) => MEASURES[m].words,
                  (m) => MEASURES[m].over,
                )}} of {over|${choices(LIMIT_OVER, (o) => OVER_WORDS[o])}} is limited`,
                { measure: 'run', over: 'note' },
              ),
              s('It is at most {most}', { most: 4 }, 'the most'),
              s('It is at least {least}', { least: 1 }, 'the least'),
              s('It is one of {oneOf}', { oneOf: [0] }, 'a list of values'),
              s('It is a multiple of {multipleOf}', { multipleOf: 1 }, 'a multiple'),
              s(
                'Only the seats {where.seats:seats} are meant',
                { 'where.seats': undefined },
                'only some seats',
              ),
              s(
                'Only the keys {where.keys:keys} are meant',
                { 'where.keys': [60] },
                'only some keys',
              ),
              s(
                'Only velocities {where.softest} to {where.hardest} are meant',
                { 'where.softest': 1, 'where.hardest': 127 },
                'only some velocities',
              ),
              s(
                'Only the bars {where.fromBar} to {where.toBar} are meant',
                { 'where.fromBar': 1, 'where.toBar': 8 },
                'only some bars',
              ),
              s(
                'What breaks it {does|drop=is not played|refuse=makes it refuse the file}',
                { does: 'refuse' },
                'what a breach does',
              ),
              s(
                'It {severity|stop=must|caution=should|remark=is worth knowing when it does not} hold',
                { severity: 'caution' },
                'how grave a breach is',
              ),
              s('A breach is called {title}: {why}', {
                title: 'Too many repeats',
                why: 'What goes over it is not played',
              }),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'grid',
    title: 'Rows and chords',
    of: 'rows or chords',
    sentences: [
      s(
        'It has {grid.rowsPerSecond} rows a second',
        { 'grid.rowsPerSecond': [10] },
        'rows a second',
      ),
      s('At most {grid.mostInRow} notes stand in a row', { 'grid.mostInRow': 8 }, 'notes in a row'),
      s(
        'One key in two rows running: {grid.sameKeyNextRow|any=allowed|none=not allowed}',
        { 'grid.sameKeyNextRow': 'none' },
        'one key in two rows running',
      ),
      s(
        'It holds at most {grid.mostRows} rows',
        { 'grid.mostRows': 4000 },
        'how many rows it holds',
      ),
      s('A row is {grid.rowMm} mm long', { 'grid.rowMm': 4 }, 'how long a row is'),
      s(
        'The notes of a chord begin within {grid.chordWithinMs} ms',
        { 'grid.chordWithinMs': 20 },
        'how close the notes of a chord are',
      ),
      s(
        'Chords lie on the keys {grid.chordLowest:key} to {grid.chordHighest:key}',
        { 'grid.chordLowest': 48, 'grid.chordHighest': 72 },
        'the keys of chords',
      ),
      s(
        'Each chord comes with one of the keys {grid.triggerLowest:key} to {grid.triggerHighest:key}',
        { 'grid.triggerLowest': 24, 'grid.triggerHighest': 35 },
        'a key that goes with each chord',
      ),
    ],
  },
  {
    id: 'lanes',
    title: 'Lanes and rungs',
    of: 'holds, phrases, flags or rungs',
    sentences: [
      s(
        'A note of {chart.holdMs} ms or longer is a hold',
        { 'chart.holdMs': 300 },
        'what is a hold',
      ),
      s(
        'Behind a hold its lane stays free for {chart.releaseGapMs} ms',
        { 'chart.releaseGapMs': 100 },
        'the gap behind a hold',
      ),
      s(
        'A phrase ends after {chart.phraseBreakBeats} empty beats',
        { 'chart.phraseBreakBeats': 8 },
        'where a phrase ends',
      ),
      s(
        'A note may carry the flags {chart.flags}',
        { 'chart.flags': ['bright'] },
        'flags of notes',
      ),
    ],
    cards: [
      {
        path: 'chart.rungs',
        one: 'rung',
        more: 'a rung of difficulty',
        first: (n) => ({
          rung: n,
          strikesASecond: 2 + n,
          together: Math.min(2, n),
          releaseGapMs: 200,
        }),
        kinds: {
          '': {
            name: 'rung',
            sentences: [
              s(
                'Rung {rung} takes {strikesASecond} strikes a second and {together} at once; behind a hold its lane stays free for {releaseGapMs} ms',
                { rung: 1, strikesASecond: 3, together: 1, releaseGapMs: 200 },
              ),
              s(
                'Its lanes are the keys {laneNotes:keys}',
                { laneNotes: [60, 61] },
                'the keys of its lanes',
              ),
              s('Holds that begin apart may overlap', { holdsOverlap: true }, 'holds may overlap'),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'velocity',
    title: 'Velocity',
    of: 'velocity',
    sentences: [
      s(
        'It plays velocities {velocity.lowest} to {velocity.highest}',
        { 'velocity.lowest': 1, 'velocity.highest': 127 },
        'the softest and the hardest',
      ),
      s(
        'It ignores velocity: every note is delivered with {velocity.deliveredAs}',
        { 'velocity.deliveredAs': 100 },
        'all delivered alike',
      ),
      s(
        `All notes struck alike: {velocity.allAlike|${GRAVE}}`,
        { 'velocity.allAlike': 'remark' },
        'all struck alike is told',
      ),
    ],
  },
];
