import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import type { Target } from '../target/schema';
import { changeSet } from './changes';
import { nameSteps, numbered, numberOf, spelt } from './names';
import { proofSet, refusedName, setRules } from './rules';
import { newSet, parseSet, songsOf, type SongSet } from './set';
import type { SongFacts } from './song-facts';

interface Made {
  readonly title: string;
  readonly target?: Target;
  readonly paths?: readonly string[];
  readonly facts?: Partial<SongFacts>;
}

const loft = builtIn('bell-loft');
const crate = builtIn('stomp-crate');
const rail = builtIn('lantern-rail');
const hash = (n: number) => n.toString(16).padStart(64, '0');

/** A set of songs, and what it is found wrong with: facts follow the names that the set gives. */
function made(list: readonly Made[]) {
  const rows = list.map((m, i) => ({
    is: 'song' as const,
    key: `k${i}`,
    job: `j${i}`,
    target: (m.target ?? rail).id,
  }));
  const set = changeSet(newSet('s', 'Quay'), { is: 'add', rows });
  const look = (now: SongSet) =>
    proofSet({
      set: now,
      songs: songsOf(now).map((row) => {
        const n = Number(row.key.slice(1));
        const { title, target = rail, paths = [`${title}.mid`], facts = {} } = list[n]!;
        const display = facts.displayName === undefined ? null : facts.displayName;
        const named = row.name === undefined ? paths : [`${row.name}.mid`];
        const shown = display === null ? null : (row.name ?? display);
        return {
          row,
          title,
          target,
          facts: {
            lengthMs: 1000,
            tally: { stops: 0, cautions: 0, remarks: 0, leftAsIs: 0 },
            kept: 100,
            choices: 0,
            figures: null,
            kit: null,
            microsecondsPerQuarter: 500_000,
            ppq: 480,
            music: hash(n),
            notes: 10,
            sound: null,
            ...facts,
            displayName: shown,
            files: (shown === null
              ? named
              : paths.map((p) => `${shown}/${p.split('/').at(-1)}`)
            ).map((path) => ({ path, bytes: 1000, sha256: hash(n) })),
          },
        };
      }),
    });
  return { set, look };
}

const digits = { ...rail, id: 'numbered', card: { digits: 2 } };
const cases: Readonly<Record<string, readonly Made[]>> = {
  'same-file': [
    { title: 'Tide one', paths: ['TIDE.mid'] },
    { title: 'Tide two', paths: ['tide.mid'] },
    { title: 'Wren' },
  ],
  'same-name': [
    { title: 'Quay', target: crate, facts: { displayName: 'b' }, paths: ['b/b1.mid'] },
    { title: 'Wren', target: crate, facts: { displayName: 'B' }, paths: ['B/b2.mid'] },
  ],
  'same-music': [
    { title: 'Wren', facts: { music: hash(9) } },
    { title: 'Wren again', facts: { music: hash(9) } },
  ],
  sounds: [
    {
      title: 'A',
      target: builtIn('fog-pier'),
      facts: { sound: { name: 'a.wav', sha256: hash(1) } },
    },
    {
      title: 'B',
      target: builtIn('fog-pier'),
      facts: { sound: { name: 'b.wav', sha256: hash(1) } },
    },
  ],
  numbers: [
    { title: 'Wren', target: digits, paths: ['02 Wren.mid'] },
    { title: 'Tide', target: digits, paths: ['Tide.mid'] },
  ],
  alike: [
    { title: 'A', target: { ...rail, card: { same: ['ppq'] } } },
    { title: 'B', target: { ...rail, card: { same: ['ppq'] } } },
    { title: 'C', target: { ...rail, card: { same: ['ppq'] } }, facts: { ppq: 96 } },
  ],
  card: Array.from({ length: 65 }, (_, i) => ({ title: `S${i}`, target: loft })),
  'mixed-targets': [{ title: 'A' }, { title: 'B', target: loft, paths: ['B.mid'] }],
  'card-names': [{ title: 'con', paths: ['CON.mid'] }, { title: 'ok' }],
};

describe('every rule over a set', () => {
  it.each(setRules.map((r) => r.id))('%s: found, and each of its mends ends it', (id) => {
    const { set, look } = made(cases[id]!);
    const found = look(set).filter((f) => f.rule === id);
    expect(found).not.toEqual([]);
    for (const f of found)
      for (const mend of f.mends) {
        const after = look(changeSet(set, mend.change));
        expect(
          after.filter((g) => g.rule === id && g.songs.join() === f.songs.join()),
          mend.title,
        ).toEqual([]);
      }
  });
  it('songs that have nothing to do with each other give no finding', () => {
    const { set, look } = made([{ title: 'Wren' }, { title: 'Tide' }, { title: 'Heron' }]);
    expect(look(set)).toEqual([]);
  });
  it('names that cards refuse are told, in any folder', () => {
    for (const path of ['CON.mid', 'aux', 'a/nul.mid', 'dot.', 'x'.repeat(256), 'ä'.repeat(200)])
      expect(refusedName(path), path).not.toBeNull();
    for (const path of ['console.mid', 'a/b c.mid', 'é'.repeat(100)])
      expect(refusedName(path), path).toBeNull();
  });
});

it('names are in the letters of their target, and numbers stand before them', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), fc.nat(98), (title, n) => {
      expect(spelt(title, loft)).toMatch(/^[A-Z0-9]{1,8}$/);
      const name = numbered(spelt(title, loft), n + 1, 2, loft);
      expect(name.length).toBeLessThanOrEqual(8);
      expect(numberOf(name, 2) ?? numberOf(name.slice(0, 2), 2)).not.toBeNull();
    }),
  );
});

it('no song is called as a device is', () => {
  expect(['con', 'Com 1', '火の歌', 'lpt9xxxx'].map((title) => spelt(title, loft))).toEqual([
    'CON1',
    'COM11',
    'SONG',
    'LPT9XXXX',
  ]);
});

it('a change of a set is undone by the set before it, and order loses nothing', () => {
  const { set } = made([{ title: 'A' }, { title: 'B' }, { title: 'C' }]);
  fc.assert(
    fc.property(fc.shuffledSubarray(['k0', 'k1', 'k2', 'strange']), (keys) => {
      const moved = changeSet(set, { is: 'order', keys });
      expect(moved.rows.map((r) => r.key).sort()).toEqual(['k0', 'k1', 'k2']);
    }),
  );
  expect(parseSet(JSON.stringify(set)).set).toEqual(set);
  expect(parseSet('{"schemaVersion":2}').problem).toMatch(/later/i);
  expect(parseSet('{').problem).toMatch(/not whole/);
});

it('what a card holds is told to the edge: as many are allowed, one more is a stop', () => {
  const card = { mostFiles: 3, mostFolders: 2, mostBytes: 3000 };
  const paths = ['one/a.mid', 'two/b.mid', 'two/c.mid', 'three/d.mid'];
  const says = (n: number, only: Partial<typeof card>) => {
    const list = paths.slice(0, n).map((path, i) => ({
      title: `S${i}`,
      target: { ...rail, card: only },
      paths: [path],
    }));
    return made(list)
      .look(made(list).set)
      .filter((f) => f.rule === 'card')
      .map((f) => [f.severity, f.title, f.says, f.songs.length]);
  };
  expect(says(3, card)).toEqual([]);
  const rails = 'A card for Lantern rail holds';
  expect(says(4, card)).toEqual([
    ['stop', '4 files', `${rails} 3 files.`, 4],
    ['stop', '3 folders', `${rails} 2 folders.`, 4],
    ['stop', '4.0 kB', `${rails} 3.0 kB.`, 4],
  ]);
  expect(says(4, {})).toEqual([]);
  expect(says(1, { mostFolders: 0 })).toEqual([['stop', '1 folder', `${rails} no folder.`, 1]]);
});

it('of songs of one name the first keeps its own', () => {
  const { set, look } = made(cases['same-file']!);
  const mend = look(set)
    .flatMap((f) => f.mends)
    .find((m) => m.change.is === 'names')!;
  const { names } = mend.change as { names: Record<string, string> };
  expect(Object.keys(names)).toEqual(['k1']);
});

it('a file of a song ends as its target says', () => {
  const steps = (target: Target) => nameSteps('02 tide', target, 1).map((s) => s.params);
  expect(steps(rail)).toContainEqual({ name: '02 tide.mid' });
  const { naming } = rail;
  expect(steps({ ...rail, naming: { ...naming!, ending: '.cue' } })).toContainEqual({
    name: '02 tide.cue',
  });
  expect(nameSteps('02 tide', rail, 2)).toEqual([]);
});
