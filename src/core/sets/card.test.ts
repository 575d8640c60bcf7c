import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bytesOfWanted, MemoryCard, Pulled, sha, wantedSong } from '../../../testing/card';
import { isPart } from './compare-card';
import type { WantedSong } from './layout';
import { BEGUN, isInside, MANIFEST, parseManifest } from './manifest';
import { readCard, writeCard, type CardOrder } from './write-card';

const order = (wanted: readonly WantedSong[], more: Partial<CardOrder> = {}): CardOrder => ({
  set: { id: 's', title: 'Quay' },
  card: 'Boathouse, Friday',
  day: '2031-05-04',
  wanted,
  bytesOf: bytesOfWanted,
  removeGone: false,
  overTheirs: new Set(),
  sha256: sha,
  ...more,
});
const ACUTE = 'Été.mid'.normalize('NFC');
const text = (card: MemoryCard, path: string) => new TextDecoder().decode(card.files.get(path));
const first = [
  wantedSong('a', { 'a.mid': 'first song', 'a-times.csv': '1,2' }),
  wantedSong('b', { 'deep/b.mid': 'second song' }),
];
const handed = async (songs = first) => {
  const card = new MemoryCard();
  await writeCard(card, order(songs));
  return card;
};

describe('a set is handed over into a folder', () => {
  it('writes all, then nothing, then what changed', async () => {
    const card = await handed();
    expect([...card.files.keys()].sort()).toEqual(['a-times.csv', 'a.mid', 'deep/b.mid', MANIFEST]);
    card.written = 0;
    const again = await writeCard(card, order(first, { day: '2031-05-05' }));
    expect(again).toMatchObject({ written: [], bytes: 0, handover: null });
    expect(card.written).toBe(0);
    const changed = [first[0]!, wantedSong('b', { 'deep/b.mid': 'second song, newer' })];
    const { comparison } = await readCard(card, changed, sha, { set: 's' });
    expect(comparison.songs.map((s) => s.standing)).toEqual(['same', 'changed']);
    const third = await writeCard(card, order(changed));
    expect(third).toMatchObject({ written: ['deep/b.mid'], handover: 2 });
  });

  it('a song that is gone stays until it is ticked; a file that its song has no more goes', async () => {
    const card = await handed();
    const next = [wantedSong('a', { 'a.mid': 'first song' })];
    const { comparison } = await readCard(card, next, sha, { set: 's' });
    expect(comparison.stale).toEqual(['a-times.csv']);
    expect(comparison.gone).toMatchObject([{ title: 'B', files: [{ path: 'deep/b.mid' }] }]);
    await writeCard(card, order(next));
    expect([...card.files.keys()].sort()).toEqual(['a.mid', 'deep/b.mid', MANIFEST]);
    await writeCard(card, order(next, { removeGone: true }));
    expect([...card.files.keys()].sort()).toEqual(['a.mid', MANIFEST]);
  });

  it('what somebody changed, renamed or put there is asked, kept, and written where it is said', async () => {
    const card = await handed();
    card.files.set('a.mid', new TextEncoder().encode('mine now'));
    card.files.set('Good.mid', card.files.get('deep/b.mid')!);
    card.files.delete('deep/b.mid');
    card.files.set('holiday.jpg', Uint8Array.of(1));
    const { comparison } = await readCard(card, first, sha, { set: 's' });
    expect(comparison.songs.map((s) => [s.standing, s.theirs.map((t) => t.says)])).toEqual([
      ['theirs', ['was changed on the card']],
      ['theirs', ['is called Good.mid now']],
    ]);
    expect(comparison.notOurs).toEqual(['holiday.jpg']);
    const left = await writeCard(card, order(first));
    expect(left.written).toEqual([]);
    expect(left.keptTheirs).toEqual(['a.mid', 'Good.mid']);
    expect(text(card, 'a.mid')).toBe('mine now');
    // Asked again it is still theirs.
    const again = await readCard(card, first, sha, { set: 's' });
    expect(again.comparison.songs.map((s) => s.standing)).toEqual(['theirs', 'theirs']);
    await writeCard(card, order(first, { overTheirs: new Set(['a', 'b']) }));
    expect(text(card, 'a.mid')).toBe('first song');
    expect([...card.files.keys()].sort()).toEqual([
      'a-times.csv',
      'a.mid',
      'deep/b.mid',
      'holiday.jpg',
      MANIFEST,
    ]);
  });

  it('a song that could not be made stays, and what is of another set is never taken for ours', async () => {
    const card = await handed();
    const [a] = first;
    await writeCard(card, order([a!], { unmade: new Set(['b']), removeGone: true }));
    expect(card.files.has('deep/b.mid')).toBe(true);
    const { comparison } = await readCard(card, first, sha, { set: 's' });
    expect(comparison.songs.map((s) => s.standing)).toEqual(['same', 'same']);
    // Another set whose rows have the same keys.
    const other = [wantedSong('a', { 'z.mid': 'of another set' })];
    const set = { id: 'other', title: 'Other' };
    const seen = await readCard(card, other, sha, { set: 'other' });
    expect(seen.comparison.stale).toEqual([]);
    expect(seen.comparison.gone.map((g) => g.title)).toEqual(['A', 'B']);
    await writeCard(card, order(other, { set }));
    expect([...card.files.keys()].sort()).toEqual(
      ['a-times.csv', 'a.mid', 'deep/b.mid', MANIFEST, 'z.mid'].sort(),
    );
  });

  it('an accent in another form is the same name', async () => {
    const wanted = [wantedSong('e', { [ACUTE]: 'summer' })];
    const card = await handed(wanted);
    card.files.set(ACUTE.normalize('NFD'), card.files.get(ACUTE)!);
    card.files.delete(ACUTE);
    const { comparison } = await readCard(card, wanted, sha, { set: 's' });
    expect(comparison.songs[0]!.standing).toBe('same');
  });

  it('names that a card cannot tell apart are one file, whatever their case and accents', async () => {
    const card = await handed([wantedSong('e', { [ACUTE]: 'summer' })]);
    const bytes = card.files.get(ACUTE)!;
    card.files.delete(ACUTE);
    card.files.set('ÉTÉ.MID'.normalize('NFD'), bytes);
    const wanted = [wantedSong('e', { [ACUTE]: 'summer' })];
    const { comparison } = await readCard(card, wanted, sha, { set: 's' });
    expect(comparison.songs[0]).toMatchObject({ standing: 'theirs' });
    await writeCard(card, order(wanted, { overTheirs: new Set(['e']) }));
    expect([...card.files.keys()].filter((p) => p !== MANIFEST)).toHaveLength(1);
  });

  it('not enough room, a read-only card, a later version: nothing is written, and it is said', async () => {
    const card = await handed();
    const before = new Map(card.files);
    const next = [wantedSong('a', { 'a.mid': 'x'.repeat(5000) })];
    card.room = 4000;
    await expect(writeCard(card, order(next))).rejects.toThrow(
      /room for 4.0 kB, and the songs need 5.0 kB/,
    );
    card.room = null;
    card.readOnly = true;
    await expect(writeCard(card, order(next))).rejects.toThrow(/cannot be written to/);
    card.readOnly = false;
    const later = text(card, MANIFEST).replace('"version": 1', '"version": 2');
    card.files.set(MANIFEST, new TextEncoder().encode(later));
    await expect(writeCard(card, order(next))).rejects.toThrow(/later version/i);
    card.files.set(MANIFEST, before.get(MANIFEST)!);
    expect(card.files).toEqual(before);
  });

  it('given up before the first renaming, nothing has changed', async () => {
    const card = await handed();
    const before = new Map(card.files);
    let asked = 0;
    const next = first.map((s) => wantedSong(s.key, { [s.files[0]!.path]: `${s.key} anew` }));
    const call = writeCard(card, order(next, { givenUp: () => ++asked > 1 }));
    await expect(call).rejects.toThrow(/given up/);
    expect(card.files).toEqual(before);
  });

  it('pulled anywhere: every file is whole, old or new, and the next handover finishes', async () => {
    const files = fc.dictionary(
      fc.constantFrom('a.mid', 'b.mid', 'c/d.mid', 'c/e.csv', 'f.mid'),
      fc.constantFrom('one', 'two', 'three and more'),
      { minKeys: 1, maxKeys: 5 },
    );
    const songs = (all: Record<string, string>) =>
      Object.entries(all).map(([path, says]) => wantedSong(path.slice(0, 3), { [path]: says }));
    const join = (list: WantedSong[]) => [...new Map(list.map((s) => [s.key, s])).values()];
    await fc.assert(
      fc.asyncProperty(files, files, files, fc.boolean(), async (was, next, later, removeGone) => {
        for (let cut = 0; ; cut++) {
          const card = new MemoryCard();
          card.files.set('not-ours.txt', Uint8Array.of(7));
          await writeCard(card, order(join(songs(was))));
          const old = new Map(card.files);
          card.pullAfter(cut);
          const wanted = join(songs(next));
          const whole = await writeCard(card, order(wanted, { removeGone })).then(
            () => true,
            (error: unknown) => {
              if (!(error instanceof Pulled)) throw error;
              return false;
            },
          );
          for (const [path, bytes] of card.files) {
            if (isPart(path) || path === MANIFEST || path === BEGUN) continue;
            const mine = wanted.flatMap((s) => s.files).find((f) => f.path === path);
            const isNew = mine?.sha256 === (await sha(bytes));
            expect(isNew || old.get(path) === bytes, `${path} is old or new, cut ${cut}`).toBe(
              true,
            );
          }
          if (card.files.has(MANIFEST))
            expect(parseManifest(card.files.get(MANIFEST)!).problem).toBeUndefined();
          card.pullAfter(Infinity);
          // Meanwhile the set was changed once more: nothing of the cut one is taken for somebody’s.
          const last = join(songs(later));
          const seen = await readCard(card, last, sha, { set: 's' });
          expect(seen.comparison.songs.filter((s) => s.standing === 'theirs')).toEqual([]);
          await writeCard(card, order(last, { removeGone: true }));
          const there = [...card.files.keys()].filter((p) => p !== MANIFEST).sort();
          const meant = [...last.flatMap((s) => s.files.map((f) => f.path)), 'not-ours.txt'];
          expect(there).toEqual(meant.sort());
          for (const f of last.flatMap((s) => s.files))
            expect(await sha(card.files.get(f.path)!)).toBe(f.sha256);
          if (whole) break;
        }
      }),
      { numRuns: 25 },
    );
  });
});

it('a manifest names nothing outside of its folder', () => {
  for (const path of ['/etc/x', '../x', 'a/../../x', 'a\\b', 'c:/x', 'a//b', './a', 'a/'])
    expect(isInside(path), path).toBe(false);
  expect(isInside('a/b c.mid')).toBe(true);
  const made = {
    format: 'quill-manifest',
    version: 1,
    set: { id: 'x', title: 'X' },
    card: '',
    handover: 1,
    written: '',
    songs: [
      {
        key: 'k',
        title: 'T',
        target: 't',
        folder: '',
        files: [{ path: '../out.mid', bytes: 1, sha256: '0'.repeat(64) }],
      },
    ],
  };
  const { problem } = parseManifest(new TextEncoder().encode(JSON.stringify(made)));
  expect(problem).toMatch(/does not lie in this folder/);
});
