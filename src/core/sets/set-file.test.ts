import { expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import { formatPath, soundPath, sourcePath, type JobData } from '../plan/job-file';
import { changeSet } from './changes';
import { newSet } from './set';
import { readSetFiles, setFiles, type SetPack } from './set-file';

const hash = (n: number) => n.toString(16).padStart(64, '0');
const job = (n: number): JobData => ({
  id: `j${n}`,
  schemaVersion: 2,
  title: `Song ${n}`,
  changedAt: n,
  sources: [{ key: 'main', kind: 'smf', role: 'score', sha256: hash(n), name: `${n}.mid` }],
  ...(n === 3 ? { sound: { sha256: hash(900), name: 'tide.wav', ms: 1000 } } : {}),
  activeTarget: 'lantern-rail',
  plans: [
    {
      targetId: 'lantern-rail',
      version: '1',
      target: builtIn('lantern-rail'),
      past: [],
      now: { steps: [], leftAsIs: [], did: '' },
      future: [],
      handovers: 0,
    },
  ],
  tally: null,
});

/** More songs than have one digit: their files are not in the order of their names. */
function packed(): SetPack {
  const jobs = Array.from({ length: 12 }, (_, i) => job(i + 1));
  const rows = jobs.map((j, i) => ({
    is: 'song' as const,
    key: `k${i}`,
    job: j.id,
    target: 'lantern-rail',
  }));
  const files = new Map(
    jobs.map((_, i) => [sourcePath(hash(i + 1)), Uint8Array.of(i + 1)] as const),
  );
  files.set(soundPath(hash(900)), Uint8Array.of(9));
  files.set(formatPath(hash(5)), Uint8Array.of(5));
  return { set: changeSet(newSet('s', 'Quay'), { is: 'add', rows }), jobs, files, titles: {} };
}
const asRead = (files: ReturnType<typeof setFiles>) =>
  readSetFiles(new Map([...files].reverse().map((f) => [f.path, f.bytes])));

it('a set of many songs comes back whole and in its order, with what they need', () => {
  const pack = packed();
  const { pack: read } = asRead(setFiles(pack));
  expect(read!.set).toEqual(pack.set);
  expect(read!.jobs.map((j) => j.id)).toEqual(pack.jobs.map((j) => j.id));
  expect(new Map(read!.files)).toEqual(pack.files);
  expect(Object.values(read!.titles)).toContain('Song 12');
});

it('a light one names its jobs and holds none', () => {
  const { pack } = asRead(setFiles(packed(), true));
  expect(pack!.jobs).toEqual([]);
  expect(pack!.files.size).toBe(0);
  expect(pack!.titles['j12']).toBe('Song 12');
});

it('what is missing is named, and nothing is read', () => {
  const without = (path: string) => asRead(setFiles(packed()).filter((f) => f.path !== path));
  expect(without('set.json').problem).toMatch(/no set\.json/);
  expect(without(sourcePath(hash(11))).problem).toMatch(/lacks a source of “Song 11”/);
  expect(without(soundPath(hash(900))).problem).toMatch(/lacks a source of “Song 3”/);
  expect(without(formatPath(hash(5))).pack).toBeDefined();
});
