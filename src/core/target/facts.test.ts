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

it('an ending is set by its words as well as its key, and by nothing else', () => {
  const source = song([conductor(), new Track('A').note(1, 480, 240, 60, 90)]);
  const set = (ending: string) => {
    const step = { key: 's', step: 'metadata', params: { ending }, scope: {}, on: true };
    return deliver(source, builtIn('bell-loft'), { steps: [step] }).rendition.pieces[0]!.delivery
      .metadata?.ending;
  };
  expect(set('rest at the end')).toBe('rest-at-end');
  expect(set('round-again')).toBe('round-again');
  expect([set('constructor'), set('never')]).toEqual([undefined, undefined]);
});

it('what stands for an ending or a kit is said in words, in steps and in mends', () => {
  expect(sayFact('ending', 'rest-at-end')).toBe('rest at the end');
  expect(sayFact('title', 'rest-at-end')).toBe('rest-at-end');
  const { describe } = findStep('metadata')!;
  expect(describe({ ending: 'round-again', frameShift: '2' } as never)).toBe(
    'ending “round again”, frame shift “2”',
  );
  // Names that every object has are facts and endings of nobody.
  expect([factWords('constructor'), sayFact('ending', 'toString')]).toEqual([
    'constructor',
    'toString',
  ]);
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
