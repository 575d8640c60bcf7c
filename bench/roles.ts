import { bandSongs } from '../demo/band-songs';
import type { BandSong } from '../demo/bands/band';
import { isDrumPart } from '../src/core/reading/importance/drums';
import { importanceOf } from '../src/core/reading/importance/importance';
import { sortByKey } from '../src/core/score/columns';
import type { NoteColumns, Part, Score } from '../src/core/score/score';
import { ticksPerQuarterOf } from '../src/core/score/score';
import { openSource } from '../src/core/sources/source';

/**
 * Who has the tune and the bass, by songs of which it is known, with the names hidden and one witness
 * after the other taken away or made to lie: `npm run bench roles`.
 */
interface Told {
  readonly is: (part: Part, what: 'lead' | 'bass') => boolean;
  readonly called: (part: Part) => string;
  readonly quarter: number;
}
type Turn = (part: Part, told: Told) => Part;

const withNotes = (part: Part, notes: Partial<NoteColumns>): Part => ({
  ...part,
  notes: { ...part.notes, ...notes },
});
const silent: Turn = (part) => ({ ...part, events: { ...part.events, count: 0 } });
const struck = (part: Part, velocity: number) =>
  withNotes(part, { velocity: part.notes.velocity.map(() => velocity) });
const moved = (part: Part, by: number) =>
  withNotes(part, {
    noteNumber: part.notes.noteNumber.map((key) => Math.max(0, Math.min(127, key + by))),
  });
const only =
  (what: 'lead' | 'bass', turn: Turn): Turn =>
  (part, told) =>
    told.is(part, what) ? turn(part, told) : part;

/** Every note a little elsewhere, by up to a twelfth of a quarter either way. */
function loosely(part: Part, { quarter }: Told): Part {
  let state = 7;
  const roll = () => ((state = (state * 16_807) % 2_147_483_647) % 1000) / 1000 - 0.5;
  const { notes } = part;
  const off = Array.from({ length: notes.count }, () => Math.round(roll() * quarter * 0.16));
  const start = notes.start.map((t, i) => Math.max(0, t + off[i]!));
  const end = notes.end.map((t, i) => Math.max(start[i]! + 1, t + off[i]!));
  const order = sortByKey(start);
  const picked = <T extends Int32Array | Uint8Array | Uint32Array>(of: T): T =>
    of.map((_, i) => of[order[i]!]!) as T;
  return withNotes(part, {
    start: picked(start),
    end: picked(end),
    noteNumber: picked(notes.noteNumber),
    velocity: picked(notes.velocity),
    id: picked(notes.id),
  });
}

const TURNS: Readonly<Record<string, Turn>> = {
  'names hidden': (part) => part,
  'no sounds and no levels': silent,
  'and all at one velocity': (part, told) => struck(silent(part, told), 90),
  'the tune the softest': only('lead', (part) => struck(part, 45)),
  'the tune an octave lower': only('lead', (part) => moved(part, -12)),
  'the bass an octave higher': only('bass', (part) => moved(part, 12)),
  'played loosely': loosely,
  'held chords above the tune': (part, { called }) =>
    /string|pad|organ|horns|violas$|viola$/i.test(called(part))
      ? withNotes(part, { noteNumber: part.notes.noteNumber.map((key) => 84 + (key % 12)) })
      : part,
};

function scoreOf({ bytes, name }: BandSong): Score {
  const { source } = openSource(bytes, { key: 'main', name, sha256: name });
  if (!source) throw new Error(`${name} cannot be read`);
  return source.score;
}

const share = ([right, of]: readonly [number, number]) => (right / Math.max(1, of)).toFixed(2);
console.log('| songs | tune | bass | drums |\n| --- | --- | --- | --- |');
for (const [name, turn] of Object.entries(TURNS)) {
  const [tune, bass, drums]: [number, number][] = [
    [0, 0],
    [0, 0],
    [0, 0],
  ];
  for (const song of bandSongs()) {
    const came = scoreOf(song);
    const names = new Map(came.parts.map((p) => [p.id, p.name]));
    const called = ({ id }: Part) => names.get(id)!;
    const told: Told = {
      is: (part, what) => song[what].includes(called(part)),
      called,
      quarter: ticksPerQuarterOf(came.division),
    };
    const parts = came.parts.map((p, i) => ({ ...turn(p, told), name: `Track ${i}` }));
    const found = importanceOf({ ...came, parts }).parts;
    for (const [of, by, what] of [
      [tune, 'tune', 'lead'],
      [bass, 'bass', 'bass'],
    ] as const) {
      if (song[what].length === 0) continue;
      const [most] = [...found].sort((a, b) => b[by] - a[by]);
      of![1]++;
      if (told.is(most!.part, what)) of![0]++;
    }
    for (const part of parts)
      if (part.notes.count > 0) {
        drums![1]++;
        if (isDrumPart(part) === song.drums.includes(called(part))) drums![0]++;
      }
  }
  console.log(`| ${[name, share(tune!), share(bass!), share(drums!)].join(' | ')} |`);
}
