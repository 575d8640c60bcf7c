import { expect, it } from 'vitest';
import type { Fit } from '../../core/plan/fit';
import { sayFit } from './say-fit';

const FIT: Fit = {
  now: { stops: 3, cautions: 0, remarks: 0, leftAsIs: 0 },
  mended: { stops: 0, cautions: 0, remarks: 0, leftAsIs: 0 },
  mends: 2,
  lossy: 0,
  seated: 200,
  kept: 200,
  out: { parts: 0, notes: 0 },
  figures: { tune: 1, bass: 0.805, beat: null, chords: null },
  choices: 0,
  notesChanged: 0,
  notes: 300,
};

it('what is kept is told beside what is left out', () => {
  const said = (fit: Partial<Fit>) => sayFit({ ...FIT, ...fit });
  const out = { parts: 2, notes: 100 };
  expect(said({})).toMatch(/^keeps every note · tune 100 %, bass 8[01] %$/);
  expect(said({ kept: 199 })).toMatch(/^kept 99 % · tune/);
  expect(said({ out })).toMatch(/^leaves out 2 parts, keeps all of the others · tune/);
  expect(said({ out, kept: 50 })).toMatch(/^leaves out 2 parts, keeps 25 % of the others ·/);
  expect(said({ seated: 0, kept: 0, out })).toBe('tempo and markers alone go over');
  const mended = { stops: 1, cautions: 0, remarks: 0, leftAsIs: 0 };
  expect(said({ seated: 0, kept: 0, mended })).toBe('nothing would play · 1 stop would remain');
  expect(said({ now: mended, choices: 1, mended })).toMatch(/ · 1 choice · 1 stop would remain$/);
  expect(said({ now: { stops: 0, cautions: 1, remarks: 0, leftAsIs: 0 }, mends: 0 })).toBe(
    'fits as it is',
  );
});
