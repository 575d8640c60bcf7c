import { expect, it } from 'vitest';
import { bytesOfWanted, MemoryCard, sha, wantedSong } from '../../../testing/card';
import { MANIFEST, parseManifest } from './manifest';
import { songsOnCard } from './on-card';
import { writeCard } from './write-card';

it('a card is told song by song: what is there, what somebody changed, what is missing', async () => {
  const card = new MemoryCard();
  await writeCard(card, {
    set: { id: 's', title: 'Quay' },
    card: 'Friday',
    day: '2031-05-04',
    wanted: [
      { ...wantedSong('a', { 'rail/a.mid': 'one', 'rail/a.csv': '1,2' }), folder: 'rail/' },
      wantedSong('b', { 'b.mid': 'two' }),
    ],
    bytesOf: bytesOfWanted,
    removeGone: false,
    overTheirs: new Set(),
    sha256: sha,
  });
  const { manifest } = parseManifest(card.files.get(MANIFEST)!);
  const there = async () => {
    const hashes = new Map<string, string>();
    for (const [path, bytes] of card.files) hashes.set(path, await sha(bytes));
    return songsOnCard(manifest!, card.files, hashes).map(({ key, files, contradicts }) => ({
      key,
      files: files.map((f) => f.path),
      contradicts: contradicts.map((c) => `${c.file}: ${c.says}`),
    }));
  };
  const [a, b] = [
    { key: 'a', files: ['a.mid', 'a.csv'], contradicts: [] as string[] },
    { key: 'b', files: ['b.mid'], contradicts: [] as string[] },
  ];
  expect(await there()).toEqual([a, b]);
  card.files.set('b.mid', new TextEncoder().encode('two, by somebody'));
  card.files.delete('rail/a.csv');
  expect(await there()).toEqual([
    {
      ...a,
      files: ['a.mid'],
      contradicts: ['a.csv: The manifest lists it, and it is not there.'],
    },
    { ...b, contradicts: ['b.mid: It is not the file that was handed over.'] },
  ]);
});
