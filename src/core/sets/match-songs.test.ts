import { expect, it } from 'vitest';
import { smfWeek } from '../../../demo/week';
import { openSource } from '../sources/source';
import { fingerprintOf, likeness, matchSongs, plainStem } from './match-songs';

const opened = smfWeek
  .map((j) => ({
    name: j.file,
    source: openSource(j.bytes(), { key: 'main', name: j.file, sha256: '0' }).source!,
  }))
  .filter((o) => o.source);
const prints = opened.map(({ name, source }) => ({
  key: name,
  names: [name],
  print: fingerprintOf(source),
}));

/** The same music otherwise: a fourth higher, every delta of another grid, and one part gone. */
function newer(source: (typeof opened)[number]['source']) {
  const parts = source.score.parts.length > 2 ? source.score.parts.slice(1) : source.score.parts;
  return {
    score: {
      ...source.score,
      parts: parts.map((p) => ({
        ...p,
        notes: {
          ...p.notes,
          start: p.notes.start.map((t) => t * 2 + 7),
          noteNumber: p.channel === 10 ? p.notes.noteNumber : p.notes.noteNumber.map((k) => k + 5),
        },
      })),
    },
  };
}

it('newer exports find their songs by music alone, and strangers find none', () => {
  const files = opened.map(({ source }, i) => ({
    key: `export ${i}`,
    names: [`export ${i}.mid`],
    print: fingerprintOf(newer(source)),
  }));
  const stranger = { key: 'stranger', names: ['stranger.mid'], print: new Set([1, 2, 3, 4]) };
  const found = matchSongs([...files, stranger], prints);
  const right = found.filter((m, i) => m.song === opened[i]?.name);
  // Songs of fewer strikes than a run have no music to be known by.
  const tellable = prints.filter((p) => p.print.size > 8).length;
  expect(right.length).toBeGreaterThanOrEqual(tellable - 1);
  expect(found.filter((m, i) => m.song !== null && m.song !== opened[i]?.name)).toEqual([]);
  expect(found.at(-1)).toEqual({ file: 'stranger', song: null, by: null, sure: 0 });
});

it('the very name is sure, what exports add to it is taken off, and two of one name are told by music', () => {
  expect(plainStem('Salt bell round (final) v2.mid')).toBe('salt bell round');
  expect(plainStem('salt_bell_round-2031-05-04.mid')).toBe('salt bell round');
  const [a, b] = [new Set([1, 2, 3]), new Set([7, 8, 9])];
  const songs = [
    { key: 'one', names: ['wren.mid'], print: a },
    { key: 'two', names: ['WREN v2.mid'], print: b },
  ];
  expect(matchSongs([{ key: 'f', names: ['wren v3.mid'], print: b }], songs)[0]).toMatchObject({
    song: 'two',
    by: 'music',
  });
  expect(matchSongs([{ key: 'f', names: ['Wren.mid'], print: b }], songs)[0]).toMatchObject({
    song: 'one',
    sure: 1,
  });
  expect(likeness(new Set(), a)).toBe(0);
});

it('a song that was written anew is known by its name without what exports add to it', () => {
  const songs = [
    { key: 'bell', names: ['salt bell round.mid'], print: new Set([1, 2, 3]) },
    { key: 'wren', names: ['wren.mid'], print: new Set([4, 5, 6]) },
  ];
  const file = (name: string) => ({ key: name, names: [name], print: new Set([7, 8, 9]) });
  const found = matchSongs([file('Salt_bell_round (final) v3.mid'), file('heron v3.mid')], songs);
  expect(found).toMatchObject([
    { song: 'bell', by: 'name', sure: 0.6 },
    { song: null, by: null },
  ]);
});
