import { expect, it } from 'vitest';
import { learnTarget } from '../learning/learn';
import { CLAIMS } from '../learning/claims';
import { weekSource } from '../../../testing/score-builder';
import { week } from '../../../demo/week';
import { parseTarget } from './parse';
import { asCautions, settle, settledPaths } from './settle';
import type { Data } from './sentences';
import { UNSAID } from './unsaid';

const bare = UNSAID as unknown as Data;

it('what was played wrongly is a caution in every word that a reason has, beside what was learnt', () => {
  const { target } = learnTarget([weekSource(week[0]!)].flat(), 'Learnt');
  let mild = 0;
  for (const claim of CLAIMS)
    for (const data of [bare, target as unknown as Data]) {
      const sets = claim.sets(claim.listed ? [4] : 4);
      const plain = parseTarget(settle(data, sets));
      if (!plain.target) continue;
      const wanted = asCautions(data, sets, 'second horn late');
      const said = settle(data, wanted);
      const { target: with_, problems } = parseTarget(said);
      expect(problems, claim.id).toEqual([]);
      expect(with_!.checklist).toContain('second horn late');
      for (const path of settledPaths(said, wanted)) expect(path).not.toMatch(/undefined/);
      const [path] = sets.map((s) => s.path.split('.')[0]!);
      if (path === 'limits') {
        expect(with_!.limits!.at(-1)).toMatchObject({
          severity: 'caution',
          why: 'second horn late',
        });
        mild++;
      } else if (data[path!] === undefined && 'severity' in ((said[path!] as object) ?? {})) {
        expect((said[path!] as Data)['severity'], claim.id).toBe('caution');
        mild++;
      } else if (data[path!] !== undefined)
        expect((said[path!] as Data)['severity']).toBe((data[path!] as Data)['severity']);
    }
  expect(mild).toBeGreaterThan(CLAIMS.length / 2);
});

it('a limit that stands there already is not said again', () => {
  const limit = { path: 'limits', adds: { most: 4, measure: 'notes', over: 'bar', title: 'Many' } };
  const there = settle(bare, [
    { path: 'limits', adds: { measure: 'notes', over: 'bar', most: 4, title: 'Full', why: 'so' } },
  ]);
  expect(asCautions(there, [limit], '')).toEqual([]);
  const looser = { ...limit, adds: { ...limit.adds, most: 5 } };
  expect(asCautions(there, [looser], '')).toHaveLength(1);
});

it('without a word of what was heard nothing is noted, and a limit says that it was wrong', () => {
  const limit = { path: 'limits', adds: { measure: 'notes', over: 'bar', most: 4, title: 'Many' } };
  const [one, ...others] = asCautions(bare, [limit], ' ');
  expect(one).toMatchObject({
    adds: { severity: 'caution', why: 'Files that break it are played wrongly' },
  });
  expect(others).toEqual([]);
});
