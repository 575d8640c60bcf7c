import { quoted } from '../diagnostic/words';
import { plainName } from '../smf/name';
import type { Target } from '../target/schema';
import { count, listed } from '../target/words';
import type { SetChange } from './changes';
import { sameName, wantedOf, type KnownSong } from './layout';
import { apart, fileStem, numbered, numberOf, spelt } from './names';
import type { SongSet } from './set';
import { sayBytes } from './write-card';

/** What is wrong with songs beside each other, and what can be done about it. */
export interface SetFinding {
  readonly rule: string;
  readonly key: string;
  readonly severity: 'stop' | 'caution' | 'remark';
  readonly title: string;
  readonly says: string;
  /** Keys of rows that it concerns, the first in order first. */
  readonly songs: readonly string[];
  readonly mends: readonly SetMend[];
}
export interface SetMend {
  readonly title: string;
  readonly change: SetChange;
}

export interface SetContext {
  readonly set: SongSet;
  /** In the order in which they are played; of songs that are put aside nothing is asked. */
  readonly songs: readonly (KnownSong & { readonly target: Target })[];
}
type Song = SetContext['songs'][number];
type Found = Omit<SetFinding, 'rule' | 'key'>;

export interface SetRule {
  readonly id: string;
  readonly title: string;
  check(context: SetContext): Found[];
}

const rule = (id: string, title: string, check: SetRule['check']): SetRule => ({
  id,
  title,
  check,
});

const keysOf = (songs: readonly Song[]) => songs.map((s) => s.row.key);
/** Songs by their titles; where one stands there twice, with what each is for. */
const titles = (songs: readonly Song[]) =>
  listed(
    songs.map((s) =>
      songs.some((o) => o !== s && o.title === s.title && o.target.id !== s.target.id)
        ? `${quoted(s.title)} for ${s.target.name}`
        : quoted(s.title),
    ),
  );

/** Songs by a value that several of them share; what has none is left out. */
function shared(songs: readonly Song[], of: (s: Song) => string | null): Song[][] {
  const by = new Map<string, Song[]>();
  for (const song of songs) {
    const value = of(song);
    if (value !== null) by.set(value, [...(by.get(value) ?? []), song]);
  }
  return [...by.values()].filter((g) => g.length > 1);
}

const nameNow = (song: Song): string => {
  const { row, facts, title, target } = song;
  if (row.name !== undefined) return row.name;
  if (facts.displayName !== null && target.metadata?.required.some((r) => r.key === 'displayName'))
    return facts.displayName;
  return facts.files[0] ? fileStem(facts.files[0].path) : title;
};

/** Names for all but the first of songs that have one: their own titles where those differ. */
function namesApart(songs: readonly Song[], all: readonly Song[]): Record<string, string> {
  const taken = new Set(all.filter((s) => !songs.includes(s)).map((s) => sameName(nameNow(s))));
  const names: Record<string, string> = {};
  for (const [i, song] of songs.entries()) {
    let name = i === 0 ? nameNow(song) : spelt(song.title, song.target);
    for (let n = 2; taken.has(sameName(name)); n++)
      name = apart(spelt(song.title, song.target), n, song.target);
    taken.add(sameName(name));
    if (i > 0) names[song.row.key] = name;
  }
  return names;
}

const asideMend = (songs: readonly Song[]): SetMend => ({
  title: `Put ${titles(songs)} aside`,
  change: { is: 'aside', keys: keysOf(songs), aside: true },
});

const GIVE_TARGETS: SetMend = {
  title: 'Give each target a folder',
  change: { is: 'folders', folders: 'target' },
};

/** One file of a song at a path where another’s lies. */
const sameFile = rule('same-file', 'Files that overwrite each other', ({ set, songs }) => {
  const at = new Map<string, Song[]>();
  for (const song of songs)
    for (const { path } of wantedOf(set, song).files) {
      const name = sameName(path);
      const there = at.get(name) ?? [];
      if (!there.includes(song)) at.set(name, [...there, song]);
    }
  const groups = new Map<string, { songs: Song[]; paths: string[] }>();
  for (const [path, of] of at) {
    if (of.length < 2) continue;
    const key = keysOf(of).join();
    const group = groups.get(key) ?? { songs: of, paths: [] };
    group.paths.push(path);
    groups.set(key, group);
  }
  return [...groups.values()].map(({ songs: of, paths }): Found => {
    // Files of places keep their names: such songs lie apart in folders.
    const byPlace = of.some(
      (s) => s.target.seats.some((t) => t.kind === 'file') && s.facts.displayName === null,
    );
    const apartTargets = new Set(of.map((s) => s.target.id)).size === of.length;
    return {
      severity: 'stop',
      title: `${count(paths.length, 'file')} of ${of.length} songs with one name`,
      says: `${titles(of)} both write ${listed(paths)}: on a card the later one replaces the other.`,
      songs: keysOf(of),
      mends: [
        ...(apartTargets ? [GIVE_TARGETS] : []),
        ...(byPlace
          ? []
          : [
              {
                title: `Rename ${titles(of.slice(1))} by title`,
                change: { is: 'names' as const, names: namesApart(of, songs) },
              },
            ]),
        ...(apartTargets
          ? []
          : [
              {
                title: 'Give each song a folder',
                change: { is: 'folders', folders: 'song' },
              } as const,
            ]),
        asideMend(of.slice(1)),
      ],
    };
  });
});

const shownName = (s: Song): string | null =>
  s.facts.displayName === null ? null : `${s.target.id} ${sameName(s.facts.displayName)}`;

const sameShown = rule('same-name', 'Names that are shown twice', ({ songs }) =>
  shared(songs, shownName).map((of) => ({
    severity: 'caution',
    title: `${of.length} songs are shown as ${quoted(of[0]!.facts.displayName ?? '')}`,
    says: `Whoever chooses on ${of[0]!.target.name} cannot tell ${titles(of)} apart.`,
    songs: keysOf(of),
    mends: [
      {
        title: `Rename ${titles(of.slice(1))} by title`,
        change: { is: 'names', names: namesApart(of, songs) },
      },
      asideMend(of.slice(1)),
    ],
  })),
);

const sameMusic = rule('same-music', 'Songs that are note for note the same', ({ songs }) =>
  shared(songs, (s) => (s.facts.notes === 0 ? null : `${s.target.id} ${s.facts.music}`)).map(
    (of) => ({
      severity: of.every((s) => s.row.job === of[0]!.row.job) ? 'remark' : 'caution',
      title: `${of.length} songs with the same notes`,
      says: `${titles(of)} deliver the same ${count(of[0]!.facts.notes, 'note')}.`,
      songs: keysOf(of),
      mends: [asideMend(of.slice(1))],
    }),
  ),
);

const sounds = rule('sounds', 'Companion sounds', ({ songs }) => {
  const twice = shared(songs, (s) => s.facts.sound && s.facts.sound.sha256)
    .filter((of) => new Set(of.map((s) => s.facts.sound!.name)).size > 1)
    .map((of): Found => ({
      severity: 'caution',
      title: `One recording under ${of.length} names`,
      says: `${listed(of.map((s) => s.facts.sound!.name))} are the same recording.`,
      songs: keysOf(of),
      mends: [],
    }));
  const takes = songs.filter((s) => s.target.outputs.some((o) => o.writer === 'sound'));
  const without = takes.filter((s) => !s.facts.sound);
  if (without.length === 0 || without.length === takes.length) return twice;
  const missing: Found = {
    severity: 'caution',
    title: `${count(without.length, 'song')} without a recording`,
    says: `${titles(without)}: the other songs bring a recording along.`,
    songs: keysOf(without),
    mends: [asideMend(without)],
  };
  return [...twice, missing];
});

/** Songs by the target that they are for. */
const byTarget = (songs: readonly Song[]): Song[][] => {
  const by = new Map<string, Song[]>();
  for (const s of songs) by.set(s.target.id, [...(by.get(s.target.id) ?? []), s]);
  return [...by.values()];
};

const numbers = rule('numbers', 'Numbers before the names', ({ songs }) =>
  byTarget(songs).flatMap((of): Found[] => {
    const digits = of[0]!.target.card?.digits;
    if (digits === undefined) return [];
    const wrong = of.filter((s, i) => numberOf(nameNow(s), digits) !== i + 1);
    if (wrong.length === 0) return [];
    const names = Object.fromEntries(
      of.map((s, i) => [s.row.key, numbered(spelt(nameNow(s), s.target), i + 1, digits, s.target)]),
    );
    return [
      {
        severity: 'stop',
        title: `${count(wrong.length, 'song')} without the right number`,
        says: `On ${of[0]!.target.name} names begin with the number of the song, from ${'1'.padStart(digits, '0')}, in order and without holes: ${titles(wrong)} do not.`,
        songs: keysOf(wrong),
        mends: [{ title: 'Number the songs in order', change: { is: 'names', names } }],
      },
    ];
  }),
);

const ALIKE = {
  tempo: { of: (s: Song) => s.facts.microsecondsPerQuarter, word: 'tempo' },
  ppq: { of: (s: Song) => s.facts.ppq, word: 'PPQ' },
  kit: { of: (s: Song) => s.facts.kit ?? '', word: 'kit' },
} as const;

const alike = rule('alike', 'What all songs have alike', ({ songs }) =>
  byTarget(songs).flatMap((of) =>
    (of[0]!.target.card?.same ?? []).flatMap((what): Found[] => {
      const { of: value, word } = ALIKE[what];
      const by = new Map<string | number, Song[]>();
      for (const s of of) by.set(value(s), [...(by.get(value(s)) ?? []), s]);
      if (by.size < 2) return [];
      // Those of the value that most have are right.
      const most = [...by.values()].reduce((a, b) => (b.length > a.length ? b : a));
      const other = of.filter((s) => !most.includes(s));
      return [
        {
          severity: 'stop',
          title: `${count(other.length, 'song')} with another ${word}`,
          says: `${of[0]!.target.name} wants one ${word} for all songs of a card: ${titles(other)} have another. Open them, and mend it there.`,
          songs: keysOf(other),
          mends: [asideMend(other)],
        },
      ];
    }),
  ),
);

const room = rule('card', 'What a card holds', ({ set, songs }) =>
  byTarget(songs).flatMap((of): Found[] => {
    const { card, name } = of[0]!.target;
    if (!card) return [];
    const files = of.flatMap((s) => wantedOf(set, s).files);
    // Where targets have a folder each, that is the card of each.
    const own = (path: string) =>
      set.folders === 'target' ? path.slice(path.indexOf('/') + 1) : path;
    const folders = new Set(files.flatMap((f) => foldersOf(own(f.path))));
    const bytes = files.reduce((n, f) => n + f.bytes, 0);
    const found: Found[] = [];
    const over = (title: string, says: string) =>
      found.push({
        severity: 'stop',
        title,
        says,
        songs: keysOf(of),
        mends: [asideMend(of.slice(-1))],
      });
    if (files.length > (card.mostFiles ?? Infinity))
      over(`${files.length} files`, `A card for ${name} holds ${count(card.mostFiles!, 'file')}.`);
    if (folders.size > (card.mostFolders ?? Infinity))
      over(
        `${count(folders.size, 'folder')}`,
        `A card for ${name} holds ${card.mostFolders === 0 ? 'no folder' : count(card.mostFolders!, 'folder')}.`,
      );
    if (bytes > (card.mostBytes ?? Infinity))
      over(sayBytes(bytes), `A card for ${name} holds ${sayBytes(card.mostBytes!)}.`);
    return found;
  }),
);

const foldersOf = (path: string): string[] => {
  const names = path.split('/').slice(0, -1);
  return names.map((_, i) => sameName(names.slice(0, i + 1).join('/')));
};

/** Longer than that no name of a file is on what cards are formatted with. */
const LONGEST_NAME = 255;

/** Why a card’s file system does not take a path; null where it does. */
export function refusedName(path: string): string | null {
  for (const name of path.split('/')) {
    if (new TextEncoder().encode(name).length > LONGEST_NAME)
      return `${[...name].slice(0, 24).join('')}… has more than ${LONGEST_NAME} bytes`;
    if ([...name].length <= 120 && plainName(name) !== name)
      return `${quoted(name)} is a name that some cards do not take`;
  }
  return null;
}

const cardNames = rule('card-names', 'Names that a card takes', ({ set, songs }) =>
  songs.flatMap((song): Found[] => {
    const why = wantedOf(set, song)
      .files.map((f) => refusedName(f.path))
      .find((w) => w !== null);
    if (!why) return [];
    const name = spelt(plainName(song.title) || 'song', song.target);
    return [
      {
        severity: 'stop',
        title: `A name of ${quoted(song.title)} that is not taken`,
        says: `${why}.`,
        songs: [song.row.key],
        mends: [
          {
            title: `Name it ${name}`,
            change: { is: 'names', names: { [song.row.key]: name } },
          },
          asideMend([song]),
        ],
      },
    ];
  }),
);

const mixed = rule('mixed-targets', 'Targets beside each other', ({ set, songs }) => {
  const of = byTarget(songs);
  if (of.length < 2 || set.folders === 'target') return [];
  return [
    {
      severity: 'caution',
      title: `Songs for ${of.length} targets in one place`,
      says: `${listed(of.map((g) => g[0]!.target.name))} read the same folder, and each finds files of the other.`,
      songs: keysOf(of.slice(1).flat()),
      mends: [GIVE_TARGETS],
    },
  ];
});

export const setRules: readonly SetRule[] = [
  sameFile,
  cardNames,
  numbers,
  alike,
  room,
  mixed,
  sameShown,
  sameMusic,
  sounds,
];

/** Everything that is wrong with the songs of a set beside each other; stops first. */
export function proofSet(context: SetContext): SetFinding[] {
  const all = setRules.flatMap(({ id, check }) =>
    check(context).map((f) => ({ ...f, rule: id, key: `${id}:${f.songs.join()}:${f.title}` })),
  );
  const order = ['stop', 'caution', 'remark'];
  return all.sort((a, b) => order.indexOf(a.severity) - order.indexOf(b.severity));
}
