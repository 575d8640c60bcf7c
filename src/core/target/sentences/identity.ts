import { named, s, type Cards, type Subject } from './sentence';

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

/** What a target is, and who sits where. */
export const IDENTITY: readonly Subject[] = [
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
];
