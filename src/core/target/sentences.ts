import { FACT_WORDS } from './facts';
import { LIMIT_OVER, MEASURE_IDS, MEASURES, OVER_WORDS, type LimitOver } from './limit-schema';

/**
 * A target as sentences: what it says is read and written where it stands. Data alone; the fields in
 * a sentence are `{path}`, and their bounds come from the schema.
 *
 * `{path:kind}` names a kind that the schema does not tell (key, keys, meters, seats, writer), and
 * `{path|value=words|…}` gives the words of each choice.
 */
export interface Sentence {
  readonly text: string;
  /** What is set when it is said; `true` for what is said without a field. */
  readonly first: Readonly<Record<string, unknown>>;
  /** How it is offered while it is not said; none for what always stands there. */
  readonly offer?: string;
  /** The block goes as a whole when this is taken back: the rest of it cannot stand alone. */
  readonly whole?: string;
  /** Said first, where it is not: another sentence of the subject, by its offer. */
  readonly needs?: string;
}

/** A list of things with sentences of their own: seats, kits, levels. */
export interface Cards {
  readonly path: string;
  /** What one is called, and how one more is asked for. */
  readonly one: string;
  readonly more: string;
  /** What a new one begins with; `n` counts from 1. */
  readonly first: (n: number) => Readonly<Record<string, unknown>>;
  /** By the kind of the card, where there are several; else those under ''. */
  readonly kinds: Readonly<Record<string, { name: string; sentences: readonly Sentence[] }>>;
  readonly cards?: readonly Cards[];
}

export interface Subject {
  readonly id: string;
  readonly title: string;
  /** "Says nothing of velocity" */
  readonly of: string;
  readonly sentences: readonly Sentence[];
  readonly cards?: readonly Cards[];
}

const s = (
  text: string,
  first: Readonly<Record<string, unknown>>,
  offer?: string,
  more: Partial<Sentence> = {},
): Sentence => ({ text, first, ...(offer === undefined ? {} : { offer }), ...more });

const choices = <T extends string>(
  all: readonly T[],
  words: (of: T) => string,
  of?: (one: T) => readonly string[],
) =>
  all
    .map((one) => {
      const said = words(one);
      // Two measures of one name are told apart by what they are taken of.
      const twin = of && all.some((o) => o !== one && words(o) === said);
      return `${one}=${said}${twin ? ` (${OVER_WORDS[of(one)[0] as LimitOver]})` : ''}`;
    })
    .join('|');
const ANY = 'any=are taken|none=are refused';
const GRAVE = 'stop=must|caution=should|remark=worth knowing';

/** How grave a breach is, in words that stand before the sentence. */
export const SEVERITY_WORDS: readonly (readonly [string, string])[] = [
  ['stop', 'must'],
  ['caution', 'should'],
  ['remark', 'worth knowing'],
];

const SEAT = [
  s(
    'Its keys are {accepts.lowest:key} to {accepts.highest:key}',
    { 'accepts.lowest': 36, 'accepts.highest': 96 },
    'its keys',
  ),
  s('It has only the keys {accepts.only:keys}', { 'accepts.only': [60] }, 'the keys it has'),
  s('It may stay empty', { optional: true }, 'it may stay empty'),
  s(
    'It takes {takes|pitched=lines and chords|drums=drums|any=lines, chords and drums}',
    { takes: 'pitched' },
    'lines and chords, drums, or both',
  ),
  s(
    'It is for {part|tune=the tune|bass=the bass|chords=the chords|rest=what is left}',
    { part: 'tune' },
    'what of the music it is for',
  ),
  s('Several parts may sit there together', { several: true }, 'several parts at once'),
  s('The {hand|left=left|right=right} hand plays it', { hand: 'right' }, 'the hand that plays it'),
];
const named = s('It is called {name}', { name: '' });
const SOUNDS: Cards = {
  path: 'sounds',
  one: 'sound',
  more: 'a sound that can be tried on it',
  first: () => ({ name: 'Sound', program: 0 }),
  kinds: {
    '': { name: 'sound', sentences: [s('{name} is program {program:program}', { program: 0 })] },
  },
};
const SEATS: Cards = {
  path: 'seats',
  one: 'seat',
  more: 'a seat',
  first: (n) => ({ kind: 'channel', id: `seat-${n}`, name: `Seat ${n}`, channel: Math.min(16, n) }),
  kinds: {
    channel: {
      name: 'by channel',
      sentences: [
        named,
        s('It listens on channel {channel}', { channel: 1 }),
        s('Its track is called {track}', { track: 'Track' }, 'the name of its track'),
        ...SEAT,
      ],
    },
    track: {
      name: 'by the name of its track',
      sentences: [named, s('It is the track called {track}', { track: 'Track' }), ...SEAT],
    },
    voice: {
      name: 'a voice',
      sentences: [named, s('It sounds on channel {channel}', { channel: 1 }), ...SEAT],
    },
    laneGroup: {
      name: 'lanes',
      sentences: [
        named,
        s('It listens on channel {channel}', { channel: 1 }),
        s('Its lanes are the keys {laneNotes:keys}', { laneNotes: [60, 61, 62, 63] }),
        s('Its track is called {track}', { track: 'Track' }, 'the name of its track'),
        s('It is rung {rung} of the chart', { rung: 1 }, 'the rung that it is'),
        ...SEAT,
      ],
    },
    file: {
      name: 'a file',
      sentences: [
        named,
        s('Its file is called {fileName}', { fileName: 'part.mid' }),
        s('It is {onlyBars} bars long', { onlyBars: [4] }, 'the lengths it has'),
        s(
          'It has {leastBars} to {mostBars} bars',
          { leastBars: 1, mostBars: 16 },
          'its shortest and longest',
        ),
        s(
          'It is played {plays|lead-in=before the song|round=round and round|break=once, between rounds|crossing=from one round to another|end=last}',
          { plays: 'round' },
          'when it is played',
        ),
        s(
          'It leads from {from:seat} to {to:seat}',
          { from: '', to: '' },
          'the rounds it leads between',
        ),
        ...SEAT,
      ],
    },
  },
  cards: [SOUNDS],
};

/** Facts that are asked for most, in the order in which they are offered. */
const FACTS = Object.keys(FACT_WORDS);

/** What a target can say, by subject, in the order of the page. */
export const SUBJECTS: readonly Subject[] = [
  {
    id: 'what',
    title: 'What it is',
    of: 'what it is',
    sentences: [
      s('It is called {name}', { name: '' }),
      s('In one line: {summary}', { summary: '' }),
      s(
        'Sentences call it {words.target}; one note is a {words.note}, several are {words.notes}',
        { 'words.target': 'the player', 'words.note': 'note', 'words.notes': 'notes' },
        'what sentences call it and its notes',
        { whole: 'words' },
      ),
    ],
  },
  {
    id: 'seats',
    title: 'Who sits where',
    of: 'who sits where',
    sentences: [
      s(
        'A part without a seat {seating.unseated|stop=is refused|leave-out=is left out and listed|taken=is taken as it is}',
        { 'seating.unseated': 'leave-out' },
        'parts without a seat',
      ),
      s(
        'Its seats take {seating.takes|pitched=lines and chords|drums=drums|any=lines, chords and drums}',
        { 'seating.takes': 'pitched' },
        'lines and chords, drums, or both',
      ),
      s(
        'It listens to the channels {channels.only}',
        { 'channels.only': [1] },
        'the channels it listens to',
        { whole: 'channels' },
      ),
    ],
    cards: [SEATS],
  },
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
  {
    id: 'start',
    title: 'Start',
    of: 'the start',
    sentences: [
      s(
        'The first note comes at {start.leadInMs} ms or later',
        { 'start.leadInMs': 1000 },
        'the earliest first note',
      ),
      s(
        'Nothing but what stands at tick 0 comes before {start.quietMs} ms',
        { 'start.quietMs': 500 },
        'when it is awake',
      ),
      s(
        'The first note comes after {start.leadInBars} whole bars of rest',
        { 'start.leadInBars': 1 },
        'bars of rest first',
      ),
      s(
        'The music begins in bar 1, with no empty bar before it',
        { 'start.inBar1': true },
        'it begins in bar 1',
      ),
      s(
        'The rest at the start is in the sound file as well',
        { 'start.soundToo': true },
        'the rest is in the sound as well',
      ),
      s(
        '{clock.of|every-note=Every note|first-note=The first note} stands within {clock.withinMs} ms of its clock time; {clock.shift|common=one shift for all is allowed|none=no shift is allowed}',
        { 'clock.of': 'every-note', 'clock.withinMs': 5, 'clock.shift': 'common' },
        'clock time is held',
        { whole: 'clock' },
      ),
    ],
  },
  {
    id: 'tempo',
    title: 'Tempo and meter',
    of: 'tempo or meter',
    sentences: [
      s('One tempo, at the very start', { 'tempo.constant': true }, 'one tempo'),
      s(
        'Tempos lie between {tempo.lowestBpm} and {tempo.highestBpm} BPM',
        { 'tempo.lowestBpm': 60, 'tempo.highestBpm': 180 },
        'the slowest and the fastest',
      ),
      s(
        'It has only the tempos {tempo.onlyBpm} BPM',
        { 'tempo.onlyBpm': [120] },
        'a list of tempos',
      ),
      s('Tempos are whole numbers of BPM', { 'tempo.wholeBpm': true }, 'whole numbers of BPM'),
      s(
        'At most {tempo.mostEvents} changes of tempo',
        { 'tempo.mostEvents': 1 },
        'how many changes of tempo',
      ),
      s(
        'From one tempo to the next it takes {tempo.apartMs} ms',
        { 'tempo.apartMs': 1000 },
        'how soon the tempo changes again',
      ),
      s(
        'The BPM that is declared is within {tempo.declaredWithinBpm} of the first tempo',
        { 'tempo.declaredWithinBpm': 0.5 },
        'a declared BPM',
      ),
      s('One meter throughout', { 'meter.constant': true }, 'one meter'),
      s(
        'It has only the meters {meter.only:meters}',
        { 'meter.only': [{ numerator: 4, denominator: 4 }] },
        'a list of meters',
      ),
    ],
  },
  {
    id: 'end',
    title: 'End',
    of: 'the end',
    sentences: [
      s('The piece ends on a bar line', { 'end.wholeBars': true }, 'it ends on a bar line'),
      s(
        'It is {end.leastBars} to {end.mostBars} bars long',
        { 'end.leastBars': 1, 'end.mostBars': 64 },
        'the fewest and the most bars',
      ),
      s('It is {end.onlyBars} bars long', { 'end.onlyBars': [8] }, 'a list of lengths'),
      s('Something sounds in the last bar', { 'end.filled': true }, 'the last bar is filled'),
      s('All tracks end together', { 'end.tracksEqual': true }, 'all tracks end together'),
      s('No note sounds past the end', { 'end.nothingPast': true }, 'nothing past the end'),
      s(
        'The piece goes on for {end.tailMs} ms behind its last event',
        { 'end.tailMs': 1000 },
        'a tail behind the last event',
      ),
      s('It is played round again', { 'end.loops': true }, 'it goes round again'),
      s(
        'The loop begins at the one marker {end.loopMarker}',
        { 'end.loopMarker': 'LOOP' },
        'the marker of the loop',
      ),
      s('The loop is whole bars long', { 'end.loopWholeBars': true }, 'the loop is whole bars'),
      s(
        'It is as long as its sound file, within {end.soundWithinMs} ms',
        { 'end.soundWithinMs': 20 },
        'as long as its sound, in ms',
      ),
      s(
        'It is as long as its sound file, within {end.soundWithinFrames} frames',
        { 'end.soundWithinFrames': 1 },
        'as long as its sound, in frames',
      ),
    ],
  },
  {
    id: 'refuses',
    title: 'What it chokes on',
    of: 'events and text it cannot take',
    sentences: [
      s(
        'Controllers {events.controllers:controllers}',
        { 'events.controllers': 'none' },
        'controllers',
      ),
      s(
        'The controllers {events.controllersWithout} are refused',
        { 'events.controllersWithout': [64] },
        'controllers it refuses',
      ),
      s(
        'The controllers {events.controllersOnceAtStart} come once each, at the start',
        { 'events.controllersOnceAtStart': [7] },
        'controllers once at the start',
      ),
      s(
        'Program changes: {events.programs|any=taken|none=refused|one-at-start=at most one a channel, before its first note|of-seat=one at the start, out of the sounds of the seat}',
        { 'events.programs': 'none' },
        'program changes',
      ),
      s(
        'Channels without a note {events.silentChannels|any=may be there|none=may not be there}',
        { 'events.silentChannels': 'none' },
        'channels without a note',
      ),
      s(`Pitch bends {events.bends|${ANY}}`, { 'events.bends': 'none' }, 'pitch bends'),
      s(
        'Aftertouch {events.aftertouch|any=is taken|none=is refused}',
        { 'events.aftertouch': 'none' },
        'aftertouch',
      ),
      s(
        `System exclusive messages {events.sysex|${ANY}}`,
        { 'events.sysex': 'none' },
        'system exclusive',
      ),
      s(
        `Meta events that the standard does not name {events.unknownMeta|${ANY}}`,
        { 'events.unknownMeta': 'none' },
        'unknown meta events',
      ),
      s(
        'At most {text.mostTrackNames} tracks have a name',
        { 'text.mostTrackNames': 0 },
        'track names',
      ),
      s(
        'Markers: {text.markers|any=taken|none=refused|loop-marker=only that of the loop}',
        { 'text.markers': 'none' },
        'markers',
      ),
      s(
        'A marker has at most {text.longestMarker} letters',
        { 'text.longestMarker': 16 },
        'the longest marker',
      ),
      s(
        'Markers are in {text.markerLetters|any=any letters|printable-ascii=plain ASCII}',
        { 'text.markerLetters': 'printable-ascii' },
        'the letters of markers',
      ),
      s(
        'Lyrics, cue points and other text {text.others|any=are taken|none=are refused}',
        { 'text.others': 'none' },
        'other text',
      ),
    ],
  },
  {
    id: 'curves',
    title: 'Presets, switches and levels',
    of: 'presets, switches or levels',
    sentences: [
      s(
        'It has presets, each a program with its bank',
        { 'presets.list': [{ bank: 0, program: 0, name: 'Preset 1' }] },
        'presets',
        { whole: 'presets' },
      ),
      s(
        'A bank stands at most {presets.bankWithinMs} ms before its program',
        { 'presets.bankWithinMs': 20 },
        'how near a bank stands to its program',
        { needs: 'presets' },
      ),
      s(
        'The first preset stands at the very start',
        { 'presets.firstAtStart': true },
        'a preset at the start',
        { needs: 'presets' },
      ),
      s(
        'From one preset to the next it takes {presets.apartMs} ms',
        { 'presets.apartMs': 150 },
        'how soon another preset comes',
        { needs: 'presets' },
      ),
      s(
        'A preset takes {presets.loadMs} ms to load',
        { 'presets.loadMs': 35 },
        'how long a preset loads',
        { needs: 'presets' },
      ),
      s(
        'A preset stands {presets.leadLeastMs} to {presets.leadMostMs} ms before {presets.leadTo|markers=its marker|bars=its bar line}',
        { 'presets.leadLeastMs': 35, 'presets.leadMostMs': 120, 'presets.leadTo': 'markers' },
        'how early a preset stands',
        { needs: 'presets' },
      ),
      s(
        `A preset that is there already {presets.again|${GRAVE}} not be chosen again`,
        { 'presets.again': 'caution' },
        'presets chosen again',
        { needs: 'presets' },
      ),
      s(
        'It listens to controllers that move, or to the bend',
        { 'curves.list': [{ name: 'Expression', controllers: [11] }] },
        'switches and levels',
        { whole: 'curves' },
      ),
      s(
        'It takes {curves.perSecond} values a second of all of them together',
        { 'curves.perSecond': 300 },
        'how many values a second in all',
        { needs: 'switches and levels' },
      ),
    ],
    cards: [
      {
        path: 'presets.list',
        one: 'preset',
        more: 'a preset',
        first: (n) => ({ bank: 0, program: n - 1, name: `Preset ${n}` }),
        kinds: {
          '': {
            name: 'preset',
            sentences: [
              named,
              s('It is program {program} of bank {bank}', { program: 0, bank: 0 }),
              s('It switches on {on:numbers} by itself', { on: [80] }, 'what it switches on'),
            ],
          },
        },
      },
      {
        path: 'curves.list',
        one: 'curve',
        more: 'a switch or a level',
        first: (n) => ({ name: `Level ${n}`, controllers: [n === 1 ? 11 : 19 + n] }),
        kinds: {
          '': {
            name: 'curve',
            sentences: [
              named,
              s(
                'It is told by the controllers {controllers:numbers}',
                { controllers: [11] },
                'its controllers',
              ),
              s('It is the pitch bend', { bend: true }, 'the pitch bend'),
              s(
                'It knows only the values {values:numbers}',
                { values: [0, 127] },
                'the values it knows',
              ),
              s('It lies between {lowest} and {highest}', { lowest: 0, highest: 127 }, 'its range'),
              s(
                'It takes {perSecond} values a second',
                { perSecond: 50 },
                'how many values a second',
              ),
              s(
                'From one value to the next it takes {apartMs} ms',
                { apartMs: 25 },
                'how soon another value comes',
              ),
              s(
                'It moves by {mostJump} at once, and no further',
                { mostJump: 24 },
                'how far it jumps',
              ),
              s(
                'It moves from nothing to full in {slewMs} ms',
                { slewMs: 80 },
                'how fast it moves',
              ),
              s(
                'It rests for {settledMs} ms before a preset',
                { settledMs: 10 },
                'rest before a preset',
              ),
              s(
                'While a preset loads it is {whileLoading|missed=missed|heard=heard}',
                { whileLoading: 'missed' },
                'what becomes of it while a preset loads',
              ),
              s('At the end it stands at {rest}', { rest: 0 }, 'where it rests at the end'),
              s(
                'It {severity|stop=must|caution=should|remark=is worth knowing when it does not} hold',
                { severity: 'caution' },
                'how grave it is',
              ),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'lists',
    title: 'Captions, frames, strands, patterns',
    of: 'captions, frames, strands or patterns',
    sentences: [
      s(
        'The note {captions.noteNumber:key} turns to the next caption, of at most {captions.mostLines} lines of {captions.longestLine} characters',
        { 'captions.noteNumber': 127, 'captions.mostLines': 2, 'captions.longestLine': 32 },
        'captions',
        { whole: 'captions' },
      ),
      s(
        'It turns {captions.leadLeastMs} to {captions.leadMostMs} ms before the word is sung',
        { 'captions.leadLeastMs': 50, 'captions.leadMostMs': 400 },
        'how early a caption turns',
        { needs: 'captions' },
      ),
      s(
        'It runs at {frames.perSecond} frames a second, and ends by {frames.endings|round-again=going round again|rest-at-end=resting}',
        { 'frames.perSecond': [25], 'frames.endings': ['rest-at-end'] },
        'frames',
        { whole: 'frames' },
      ),
      s(
        'Everything can be shifted by {frames.shiftLowest} to {frames.shiftHighest} frames',
        { 'frames.shiftLowest': -25, 'frames.shiftHighest': 25 },
        'a shift in frames',
        { needs: 'frames' },
      ),
      s(
        'Each part is a strand of cues that carry {strands.values|note-name=the name of the note|note-number=the note number|velocity=the velocity|length=the length|none=nothing}',
        { 'strands.values': ['note-number'] },
        'strands of cues',
        { whole: 'strands' },
      ),
      s(
        'It listens to strands called {strands.names}',
        { 'strands.names': ['lamp'] },
        'the names of strands',
        { needs: 'strands of cues' },
      ),
      s(
        'The patterns {chains.patterns} are played in a chain of at most {chains.mostLinks} links, each at most {chains.mostRepeats} times, shifted by {chains.shiftLowest} to {chains.shiftHighest} semitones',
        {
          'chains.patterns': ['A', 'B'],
          'chains.mostLinks': 16,
          'chains.mostRepeats': 8,
          'chains.shiftLowest': -12,
          'chains.shiftHighest': 12,
        },
        'chains of patterns',
        { whole: 'chains' },
      ),
    ],
  },
  {
    id: 'files',
    title: 'Its files',
    of: 'its MIDI file or file names',
    sentences: [
      s(
        'It reads SMF format {file.formats|0=0|1=1|2=2}',
        { 'file.formats': [0] },
        'the SMF formats it reads',
      ),
      s(
        'It is given SMF format {file.deliverFormat|0=0|1=1}',
        { 'file.deliverFormat': 0 },
        'the format it is given',
      ),
      s(
        'Tracks {file.layout|as-is=stay as they are|single=become one|conductor-first=follow one for tempo and markers}',
        { 'file.layout': 'conductor-first' },
        'how tracks are laid out',
      ),
      s(
        'At most {file.mostNoteTracks} tracks have notes',
        { 'file.mostNoteTracks': 16 },
        'how many tracks with notes',
      ),
      s(
        'The file has at most {file.mostBytes} bytes',
        { 'file.mostBytes': 65536 },
        'how large the file may be',
      ),
      s(
        'Its PPQ is a multiple of {file.ppq.multipleOf}',
        { 'file.ppq.multipleOf': 24 },
        'a multiple for its PPQ',
      ),
      s(
        'Its PPQ lies between {file.ppq.lowest} and {file.ppq.highest}',
        { 'file.ppq.lowest': 24, 'file.ppq.highest': 960 },
        'the lowest and the highest PPQ',
      ),
      s('Its PPQ is {file.ppq.only}', { 'file.ppq.only': [480] }, 'a list of PPQs'),
      s(
        'A file name has at most {naming.longest} letters out of {naming.letters|any=any|A-Z0-9=A–Z and 0–9|a-z0-9=a–z and 0–9|A-Za-z0-9=A–Z, a–z and 0–9} and ends in {naming.ending}',
        { 'naming.longest': 8, 'naming.letters': 'A-Z0-9', 'naming.ending': '.mid' },
        'file names',
        { whole: 'naming' },
      ),
      s(
        'The name begins with {naming.prefixes}',
        { 'naming.prefixes': ['01'] },
        'how a name begins',
        { needs: 'file names' },
      ),
      s('The name is one of {naming.only}', { 'naming.only': ['A'] }, 'a list of names', {
        needs: 'file names',
      }),
      s(
        'In rehearsal {standIn|chart-game=a lane game|crate-pedal=a drum pedal|voices=voltage voices|frame-player=a frame deck|ledger=a game engine|prompter=a prompter|organ=a strip organ|tempo-reader=a tempo reader|cue-player=a cue player|pads=loop pads|effects-pedal=an effects pedal|dimmer-bank=a dimmer bank|sequencer=a sequencer|own-player=a player of its own format} stands in',
        { standIn: 'sequencer' },
        'what stands in for it in rehearsal',
      ),
    ],
    cards: [
      {
        path: 'formats',
        one: 'format',
        more: 'a file format of its own',
        first: (n) => ({
          formatVersion: 1,
          id: `own-${n}`,
          name: 'Own format',
          files: [
            {
              path: '{file}.txt',
              container: {
                kind: 'table',
                rows: { of: 'notes' },
                columns: [
                  { name: 'ms', value: { is: 'time', of: 'start', unit: 'ms' } },
                  { name: 'note', value: { is: 'key', as: 'number' } },
                ],
              },
            },
          ],
        }),
        kinds: {
          '': {
            name: 'format',
            sentences: [
              named,
              s('It is for {summary}', { summary: 'the far side' }, 'what it is for'),
              s('{files:format-files}', { files: [] }),
              s('All its files are packed into {zip}', { zip: 'delivery.zip' }, 'one pack of all'),
            ],
          },
        },
      },
      {
        path: 'outputs',
        one: 'file',
        more: 'a file that it gets',
        first: () => ({ writer: 'smf' }),
        kinds: {
          '': {
            name: 'file',
            sentences: [
              s(
                'It gets {writer|smf=a MIDI file|time-list=a list of notes with clock times|tempo-map=a tempo map|chart=a chart|captions=captions|crate=a folder of songs|frames=a list of frames|strands=a file of strands|hole-list=a list of holes|strip-sheet=a sheet to print|chain=a chain of patterns|sound-link=a sound with markers|sound=its sound as WAV|own-format=a file of its own format}',
                { writer: 'smf' },
              ),
              s(
                'With the columns {options.columns}',
                { 'options.columns': 'number, note, ms' },
                'its columns (list of notes)',
              ),
              s(
                'Decimals have a {options.decimal|point=point|comma=comma}',
                { 'options.decimal': 'comma' },
                'its decimal sign (list of notes)',
              ),
              s(
                'A sample has {options.bits|16=16|24=24} bits',
                { 'options.bits': 24 },
                'bits a sample (WAV)',
              ),
              s(
                'The format is {options.format:format}',
                { 'options.format': '' },
                'which format of its own',
              ),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'told',
    title: 'What it asks to be told',
    of: 'facts that go with the music',
    sentences: [],
    cards: [
      {
        path: 'metadata.required',
        one: 'fact',
        more: 'a fact that it asks for',
        first: (n) => ({ key: FACTS[n - 1] ?? `fact ${n}` }),
        kinds: {
          '': {
            name: 'fact',
            sentences: [
              s('It asks for the {key:fact}', { key: 'title' }),
              s('It has at most {longest} letters', { longest: 40 }, 'the longest it shows'),
              s(
                "Its letters are {letters|any=any|printable-ascii=plain ASCII|A-Za-z0-9 '-=letters, digits, space, hyphen}",
                { letters: 'printable-ascii' },
                'the letters it shows',
              ),
              s('It may be left open', { optional: true }, 'it may be left open'),
              s(
                'It is {kind|text=any text|number=a number|date=a date, such as 2026-11-29|choice=one of a list|file-name=the name of a file}',
                { kind: 'number' },
                'what kind of value it is',
              ),
              s('It is one of {choices}', { choices: ['Day', 'Night'] }, 'the values it can have'),
              s(
                'It is taken from {from|file-name=the name of the file|first-marker=the first marker|first-text=the first text event|track-name=the name of the first track}',
                { from: 'file-name' },
                'where the source knows it',
              ),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'there',
    title: 'What to do at the far side',
    of: 'what to do there',
    sentences: [s('{checklist:lines}', { checklist: [] })],
  },
];

/** A field in a sentence, or the words between two of them. */
export type SentencePart =
  | string
  | {
      readonly path: string;
      readonly kind: string | null;
      /** Value, as text, and what is said for it. */
      readonly choices: readonly (readonly [value: string, words: string])[];
    };

export function partsOf({ text }: Sentence): SentencePart[] {
  return text
    .split(/(\{[^}]*\})/)
    .filter((t) => t !== '')
    .map((t) => {
      if (!t.startsWith('{')) return t;
      const [head, ...choices] = t.slice(1, -1).split('|');
      const [path, kind = null] = head!.split(':');
      return {
        path: path!,
        kind,
        choices: choices.map((c): [string, string] => {
          const at = c.indexOf('=');
          return [c.slice(0, at), c.slice(at + 1)];
        }),
      };
    });
}

/** Every path that a sentence sets: of its fields, and of what is said without one. */
export function pathsOf(sentence: Sentence): string[] {
  const fields = partsOf(sentence).flatMap((p) => (typeof p === 'string' ? [] : [p.path]));
  return [...new Set([...fields, ...Object.keys(sentence.first)])];
}

export type Data = Readonly<Record<string, unknown>>;

export function valueAt(data: Data, path: string): unknown {
  let here: unknown = data;
  for (const key of path.split('.'))
    here = typeof here === 'object' && here !== null ? (here as Data)[key] : undefined;
  return here;
}

const isEmptied = (value: unknown) =>
  typeof value === 'object' &&
  value !== null &&
  !Array.isArray(value) &&
  Object.keys(value).every((k) => k === 'severity');

/** The data with one value set, or taken out with the blocks that it leaves empty. */
export function withValue(data: Data, path: string, value: unknown): Data {
  const [key, ...rest] = path.split('.') as [string, ...string[]];
  const next = { ...data };
  if (rest.length === 0) {
    if (value === undefined) delete next[key];
    else next[key] = value;
    return next;
  }
  const inner = withValue((data[key] ?? {}) as Data, rest.join('.'), value);
  if (value === undefined && isEmptied(inner)) delete next[key];
  else next[key] = inner;
  return next;
}

/** What always stands there is said; a sentence without a field is when its value is. */
export function isSaid(data: Data, sentence: Sentence): boolean {
  if (sentence.offer === undefined) return true;
  const plain = Object.entries(sentence.first).filter(([, v]) => v === true);
  if (plain.length > 0) return plain.every(([path]) => valueAt(data, path) === true);
  return pathsOf(sentence).some((path) => valueAt(data, path) !== undefined);
}

export function say(data: Data, sentence: Sentence, among: readonly Sentence[] = []): Data {
  const before = among.find((o) => o.offer === sentence.needs && o.offer !== undefined);
  let next = before && !isSaid(data, before) ? say(data, before) : data;
  for (const [path, value] of Object.entries(sentence.first)) {
    // One of two ends that is there already is not overwritten.
    if (valueAt(next, path) === undefined || value === true) next = withValue(next, path, value);
  }
  return next;
}

export const unsay = (data: Data, sentence: Sentence): Data =>
  sentence.whole === undefined
    ? pathsOf(sentence).reduce((d, path) => withValue(d, path, undefined), data)
    : withValue(data, sentence.whole, undefined);

/** A sentence in plain words, without its fields' frames: for what reads it aloud or lists it. */
export const plainText = (sentence: Sentence, data: Data): string =>
  partsOf(sentence)
    .map((p) => {
      if (typeof p === 'string') return p;
      const value = valueAt(data, p.path);
      if (value === undefined) return '…';
      return p.choices.find(([v]) => v === String(value))?.[1] ?? String(value);
    })
    .join('');

/** Where a problem of the data belongs: the subject, and the sentence in words; null for the whole. */
export function placeOf(path: string): { subject: Subject; sentence: Sentence | null } | null {
  const bare = path.replace(/\[\d+\]/g, '');
  const isAt = (own: string) =>
    bare === own || bare.startsWith(`${own}.`) || own.startsWith(`${bare}.`);
  for (const subject of SUBJECTS) {
    const sentence = subject.sentences.find((o) => pathsOf(o).some(isAt));
    if (sentence) return { subject, sentence };
    if (subject.cards?.some((c) => isAt(c.path))) return { subject, sentence: null };
  }
  return null;
}
