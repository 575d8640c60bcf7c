import { GM_DRUM_NAMES } from '../../../core/target/drum-names';
import type { Data } from '../../../core/target/sentences';

/** An answer that people give, and what the target says then. */
export interface Answer {
  readonly name: string;
  readonly says: string;
  readonly gives: (draft: Data) => Data;
}
export interface Question {
  readonly id: string;
  readonly title: string;
  readonly why: string;
  readonly answers: readonly Answer[];
  /** Subjects whose sentences stand under the answers, to be set finer. */
  readonly subjects: readonly string[];
}

const a = (name: string, says: string, gives: (draft: Data) => Data): Answer => ({
  name,
  says,
  gives,
});
/** Blocks are put in the place of those of another answer. */
const set =
  (blocks: Data, without: readonly string[] = []) =>
  (draft: Data): Data => {
    const next: Record<string, unknown> = { ...draft };
    for (const key of without) delete next[key];
    return { ...next, ...blocks };
  };
const words = (target: string, note: string, notes = `${note}s`) => ({ target, note, notes });
const seats = (count: number, one: (n: number) => Data) =>
  Array.from({ length: count }, (_, i) => one(i + 1));
const upTo = (from: number, to: number) =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i);

export const QUESTIONS: readonly Question[] = [
  {
    id: 'what',
    title: 'What is it?',
    why: 'So that sentences call it by its name, and something like it stands in at rehearsal.',
    subjects: ['what'],
    answers: [
      a(
        'A lane game',
        'Notes come down lanes and are struck.',
        set({
          words: words('the game', 'note'),
          outputs: [{ writer: 'chart' }, { writer: 'smf' }],
          standIn: 'chart-game',
        }),
      ),
      a(
        'A cue player',
        'Each note starts a light, a door, a picture.',
        set({
          words: words('the player', 'cue'),
          outputs: [{ writer: 'smf' }, { writer: 'time-list' }],
          standIn: 'cue-player',
        }),
      ),
      a(
        'A sequencer',
        'Hardware or software that plays the file.',
        set({
          words: words('the sequencer', 'note'),
          outputs: [{ writer: 'smf' }],
          standIn: 'sequencer',
        }),
      ),
      a(
        'A pedal or a drum machine',
        'It plays patterns on its own sounds.',
        set({
          words: words('the pedal', 'hit'),
          outputs: [{ writer: 'smf' }],
          standIn: 'sequencer',
        }),
      ),
      a(
        'A display',
        'Words or pictures turn with the music.',
        set({
          words: words('the display', 'turn'),
          outputs: [{ writer: 'smf' }, { writer: 'time-list' }],
          standIn: 'cue-player',
        }),
      ),
      a(
        'A sound engine',
        'A game or an installation that listens for events.',
        set({
          words: words('the engine', 'event'),
          outputs: [{ writer: 'smf' }],
          standIn: 'sequencer',
        }),
      ),
      a(
        'Something else',
        'Nothing is taken for granted.',
        set({ outputs: [{ writer: 'smf' }] }, ['words', 'standIn']),
      ),
    ],
  },
  {
    id: 'apart',
    title: 'How does it tell parts apart?',
    why: 'Each of them becomes a seat, and the parts of a song are given to seats.',
    subjects: ['seats'],
    answers: [
      a(
        'By channel',
        'Each listens on a channel of its own.',
        set(
          {
            seats: seats(4, (n) => ({
              kind: 'channel',
              id: `seat-${n}`,
              name: `Part ${n}`,
              channel: n,
            })),
            seating: { unseated: 'leave-out' },
          },
          ['channels'],
        ),
      ),
      a(
        'By the name of the track',
        'Tracks have to be called as it says.',
        set(
          {
            seats: seats(2, (n) => ({
              kind: 'track',
              id: `seat-${n}`,
              name: `Part ${n}`,
              track: `PART ${n}`,
            })),
            seating: { unseated: 'leave-out' },
          },
          ['channels'],
        ),
      ),
      a(
        'By lanes',
        'A key for each lane.',
        set(
          {
            seats: [
              {
                kind: 'laneGroup',
                id: 'lanes',
                name: 'Lanes',
                channel: 1,
                laneNotes: [60, 61, 62, 63],
              },
            ],
            seating: { unseated: 'leave-out' },
          },
          ['channels'],
        ),
      ),
      a(
        'By voices',
        'One note at a time on each channel.',
        set(
          {
            seats: seats(6, (n) => ({
              kind: 'voice',
              id: `voice-${n}`,
              name: `Voice ${n}`,
              channel: n,
            })),
            seating: { unseated: 'leave-out' },
            polyphony: { together: 1, over: 'seat' },
          },
          ['channels'],
        ),
      ),
      a(
        'A file for each',
        'Every part is delivered as a file.',
        set(
          {
            seats: seats(3, (n) => ({
              kind: 'file',
              id: `file-${n}`,
              name: `File ${n}`,
              fileName: `part-${n}.mid`,
            })),
          },
          ['channels', 'seating'],
        ),
      ),
      a(
        'Not at all',
        'It plays whatever is there.',
        set({ seats: [], seating: { unseated: 'taken' } }, ['channels']),
      ),
    ],
  },
  {
    id: 'keys',
    title: 'Which keys does it have?',
    why: 'What lies outside is moved by octaves, mapped or left out: never lost in silence.',
    subjects: ['keys', 'velocity'],
    answers: [
      a('All of them', 'Note numbers 0 to 127.', set({}, ['notes', 'kits'])),
      a(
        'Those of a piano',
        'A0 to C8, 88 keys.',
        set({ notes: { lowest: 21, highest: 108 } }, ['kits']),
      ),
      a(
        'Drums',
        'By the names of General MIDI, 35 to 81.',
        set({
          notes: { only: upTo(35, 81) },
          kits: [{ id: 'drums', name: 'Drums', keys: GM_DRUM_NAMES }],
        }),
      ),
      a(
        'A handful',
        'Painted on a keyboard below.',
        set({ notes: { only: [60, 62, 64, 65, 67] } }, ['kits']),
      ),
      a(
        'Two octaves',
        'C3 to C5, to be moved below.',
        set({ notes: { lowest: 48, highest: 72 } }, ['kits']),
      ),
    ],
  },
  {
    id: 'often',
    title: 'How many at once, and how soon again?',
    why: 'A hammer has to come back, a voice has to be free.',
    subjects: ['often', 'grid', 'lanes'],
    answers: [
      a('One at a time', 'On each seat.', set({ polyphony: { together: 1, over: 'seat' } })),
      a('Two', 'On each seat.', set({ polyphony: { together: 2, over: 'seat' } })),
      a('Up to eight', 'In all.', set({ polyphony: { together: 8, over: 'all' } })),
      a('As many as come', 'No limit is known.', set({}, ['polyphony'])),
      a('Not sooner than 100 ms', 'The same key, start to start.', (draft) => ({
        ...draft,
        spacing: { ...(draft['spacing'] as object), sameKeyApartMs: 100 },
      })),
      a('Eight strikes a second', 'More are lost.', (draft) => ({
        ...draft,
        spacing: { ...(draft['spacing'] as object), strikesASecond: 8 },
      })),
    ],
  },
  {
    id: 'start',
    title: 'When may it begin, and at what tempo?',
    why: 'Many need a moment before the first note, and many know one tempo alone.',
    subjects: ['start', 'tempo', 'end'],
    answers: [
      a('At once', 'A note at the very start is played.', set({}, ['start'])),
      a('After a bar', 'One whole bar of rest first.', set({ start: { leadInBars: 1 } })),
      a('After a second', 'Nothing before 1,000 ms.', set({ start: { leadInMs: 1000 } })),
      a('One tempo', 'A change of tempo is not followed.', (draft) => ({
        ...draft,
        tempo: { ...(draft['tempo'] as object), constant: true },
      })),
      a('60 to 180 BPM', 'Slower and faster ones are not played.', (draft) => ({
        ...draft,
        tempo: { ...(draft['tempo'] as object), lowestBpm: 60, highestBpm: 180 },
      })),
      a(
        '4/4 alone',
        'It counts in fours.',
        set({ meter: { constant: true, only: [{ numerator: 4, denominator: 4 }] } }),
      ),
    ],
  },
  {
    id: 'chokes',
    title: 'What does it choke on?',
    why: 'Events that it cannot take are taken out, and listed.',
    subjects: ['refuses'],
    answers: [
      a('Nothing is known', 'It passes over what it does not need.', set({}, ['events', 'text'])),
      a(
        'Anything but notes',
        'Controllers, programs, bends, aftertouch and messages.',
        set({
          events: {
            controllers: 'none',
            programs: 'none',
            bends: 'none',
            aftertouch: 'none',
            sysex: 'none',
          },
        }),
      ),
      a('Program changes', 'Its sounds are chosen on it.', (draft) => ({
        ...draft,
        events: { ...(draft['events'] as object), programs: 'none' },
      })),
      a('System exclusive', 'Messages for other makes.', (draft) => ({
        ...draft,
        events: { ...(draft['events'] as object), sysex: 'none' },
      })),
      a(
        'Text and markers',
        'Lyrics, cue points, names.',
        set({ text: { markers: 'none', others: 'none', mostTrackNames: 0 } }),
      ),
    ],
  },
  {
    id: 'file',
    title: 'What file does it take?',
    why: 'That is what is handed over in the end.',
    subjects: ['files', 'told', 'there'],
    answers: [
      a('MIDI, format 0', 'One track.', (draft) => ({
        ...draft,
        file: { ...(draft['file'] as object), formats: [0], deliverFormat: 0 },
        outputs: withWriter(draft, 'smf'),
      })),
      a('MIDI, format 1', 'Tempo first, then a track for each.', (draft) => ({
        ...draft,
        file: {
          ...(draft['file'] as object),
          formats: [1],
          deliverFormat: 1,
          layout: 'conductor-first',
        },
        outputs: withWriter(draft, 'smf'),
      })),
      a('Either', 'Any MIDI file that is well formed.', set({}, ['file'])),
      a('A list with clock times', 'CSV, a line for each note.', (draft) => ({
        ...draft,
        outputs: withWriter(draft, 'time-list'),
      })),
      a('A chart', 'JSON, lanes and times.', (draft) => ({
        ...draft,
        outputs: withWriter(draft, 'chart'),
      })),
      a('PPQ 480', 'And no other.', (draft) => ({
        ...draft,
        file: { ...(draft['file'] as object), ppq: { only: [480] } },
      })),
    ],
  },
];

function withWriter(draft: Data, writer: string): readonly Data[] {
  const now = (draft['outputs'] as readonly Data[] | undefined) ?? [];
  return now.some((o) => o['writer'] === writer) ? now : [...now, { writer }];
}

/** What a new target says before anything is answered. */
export const emptyTarget = (id: string): Data => ({
  schemaVersion: 1,
  id,
  version: '1.0.0',
  name: 'My target',
  summary: 'Described on this desk',
  seats: [],
  seating: { unseated: 'taken' },
  outputs: [{ writer: 'smf' }],
  checklist: [],
});
