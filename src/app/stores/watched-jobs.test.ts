import { describe, expect, it } from 'vitest';
import type { JobRecord } from '../storage/job';
import { jobsOf } from './watched-jobs';

const job = (id: string, ...sources: [name: string, sha256: string][]) =>
  ({
    id,
    title: id,
    plans: [{ targetId: 't', now: {} }],
    activeTarget: 't',
    sources: sources.map(([name, sha256], i) => ({ key: `${id}-${i}`, name, sha256 })),
  }) as unknown as JobRecord;
const loft = job('loft', ['tide.mid', 'one']);
const crate = job('crate', ['drums.mid', 'two'], ['takes/tide.mid', 'one']);
const other = job('other', ['tide.mid', 'three']);
const ids = (...of: Parameters<typeof jobsOf>) => jobsOf(...of).map((w) => [w.job.id, w.key]);

describe('what a saved file is a newer export of', () => {
  it('every job that came from the very same file, and no other song of that name', () => {
    expect(ids('song/tide.mid', null, [loft, other, crate])).toEqual([
      ['loft', 'loft-0'],
      ['crate', 'crate-1'],
    ]);
  });
  it('the one that is open decides which file it is', () => {
    expect(ids('tide.mid', other, [loft, other, crate])).toEqual([['other', 'other-0']]);
    expect(ids('tide.mid', crate, [loft, other, crate])).toEqual([
      ['crate', 'crate-1'],
      ['loft', 'loft-0'],
    ]);
  });
  it('none where no source has the name', () => {
    expect(ids('quay.mid', loft, [loft, crate])).toEqual([]);
  });
});
