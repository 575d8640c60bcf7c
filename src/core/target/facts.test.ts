import { expect, it } from 'vitest';
import { deliver } from '../../../testing/rehearsing';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { METADATA_KEYS } from '../score/piece';
import { findStep } from '../steps/index';
import { factKey, factWords, sayFact } from './facts';
import { builtInTargets } from './index';

it('no fact is called by its key where that is several words in one', () => {
  for (const key of METADATA_KEYS) {
    expect(factWords(key)).not.toMatch(/[a-z][A-Z]/);
    expect(factKey(factWords(key)), 'words that are typed are understood').toBe(key);
  }
});

it('what stands for an ending or a kit is said in words, in steps and in mends', () => {
  expect(sayFact('ending', 'rest-at-end')).toBe('rest at the end');
  expect(sayFact('title', 'rest-at-end')).toBe('rest-at-end');
  const { describe } = findStep('metadata')!;
  expect(describe({ ending: 'round-again', frameShift: '2' } as never)).toBe(
    'ending “round again”, frame shift “2”',
  );
  const source = song([conductor(), new Track('A').note(1, 480, 240, 60, 90)]);
  const asks = builtInTargets.filter((t) =>
    t.metadata?.required.some(({ key }) => key === 'ending' || key === 'kit'),
  );
  expect(asks.length).toBeGreaterThan(0);
  for (const { id } of asks) {
    const titles = deliver(source, builtIn(id)).findings.flatMap((f) =>
      f.code === 'metadata-missing' ? f.mends.map((m) => m.title) : [],
    );
    const said = titles.filter((t) => /as the (ending|kit)$/.test(t));
    expect(said.length, id).toBeGreaterThan(0);
    for (const title of said) expect(title).not.toMatch(/“[a-z]+-[a-z-]+”/);
  }
});
