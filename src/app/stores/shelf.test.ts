import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import {
  atRest,
  droppedFile,
  emptyBase,
  hashOf,
  hugeFile,
  openJob,
  songFile,
} from '../../../testing/open-job';
import { builtIn, conductor, smf, song, Track } from '../../../testing/score-builder';
import { WebLocks } from '../../../testing/web-locks';
import { written } from '../../../testing/written';
import { packFiles } from '../../core/outputs/pack';
import { ferryLamps, heronSteps } from '../../../demo/own-targets';
import { lockName } from '../storage/locks';
import { db } from '../storage/db';
import { readJob } from '../storage/jobs';
import { useHandover } from './handover';
import { useJob } from './job';
import { heldJob } from './job/lock';
import { useShelf } from './shelf';
import { useTargets } from './targets';

let locks: WebLocks;
afterEach(() => void Reflect.deleteProperty(navigator, 'locks'));
beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
  locks = new WebLocks();
  Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
});
const tune = (name: string) =>
  droppedFile(name, smf(1, 480, [conductor(), new Track('T').note(1, 0, 480, 60, 90)]));

describe('what is dropped on the shelf', () => {
  it('each file becomes a job with a name of its own; what cannot be one is said', async () => {
    const shelf = useShelf();
    const made = await shelf.dropFiles([
      tune('low_water-at-the--quay.mid'),
      droppedFile('letter.mid', new TextEncoder().encode('Dear crew')),
      droppedFile('empty.mid', new Uint8Array(0)),
      hugeFile('year.mid', 2 ** 40),
      tune('.mid'),
    ]);
    expect(made).toHaveLength(2);
    const jobs = await db.jobs.bulkGet(made);
    expect(jobs.map((j) => j!.title)).toEqual(['low water at the quay', 'Untitled']);
    // Nothing is judged before it was said what it is for.
    expect(jobs.every((j) => j!.targetOpen === true)).toBe(true);
    expect(shelf.problems).toEqual([
      expect.stringMatching(/^letter\.mid: This is not a MIDI file/),
      expect.stringMatching(/^empty\.mid: The file is empty/),
      expect.stringMatching(/^year\.mid: The file has 1,099,511,627,776 bytes; sources may have/),
    ]);
    expect(shelf.busy).toBeNull();
  });

  it('what it is for is said once: until then nothing is judged, and what was done stays', async () => {
    const shelf = useShelf();
    const [id] = await shelf.dropFiles([songFile('demo-turn-of-the-tide')]);
    const job = useJob();
    await job.open(id!);
    await atRest();
    expect([job.target!.id, job.findings]).toEqual(['unsaid', []]);
    expect(job.shown!.delivered.parts.some((p) => p.leftOut)).toBe(false);
    const handover = useHandover();
    await handover.handOver({ anyway: true });
    expect(handover.problem).toMatch(/^Choose a target first/);
    expect(await db.handovers.count()).toBe(0);
    job.addSteps('up', [{ step: 'transpose', params: { semitones: 2 }, scope: {}, on: true }]);
    await atRest();
    await job.chooseTarget(builtIn('lantern-rail'));
    await atRest();
    expect(job.record!.plans.map((p) => p.targetId)).toEqual(['lantern-rail']);
    expect(job.record!.targetOpen).toBeUndefined();
    expect(job.findings.length).toBeGreaterThan(0);
    expect(job.plan!.now.steps).toMatchObject([{ step: 'transpose' }]);
    job.undo();
    await atRest();
    expect([job.target!.id, job.plan!.now.steps]).toEqual(['lantern-rail', []]);
  });

  it('two drops of one file are two jobs on the same bytes', async () => {
    const shelf = useShelf();
    const made = await shelf.dropFiles([tune('a.mid'), tune('a.mid')]);
    expect(new Set(made).size).toBe(2);
    expect(await db.sources.count()).toBe(1);
  });

  it('a chart knows the game that it was written for', async () => {
    const ebb = new Track('Ebb').note(5, 1920, 120, 41, 90);
    const { files } = written(builtIn('marsh-duel'), song([conductor(), ebb]), [
      { step: 'metadata', params: { title: 'Ebb', maker: 'Ada Fenn', bpm: '120' } },
    ]);
    const shelf = useShelf();
    const [id] = await shelf.dropFiles([droppedFile('ebb.chart.json', files[0]!.bytes)]);
    expect(await db.jobs.get(id!)).toMatchObject({ title: 'ebb', activeTarget: 'marsh-duel' });
    expect((await db.jobs.get(id!))!.targetOpen).toBeUndefined();
  });

  it('a full database is said for each file, and the others go on', async () => {
    const shelf = useShelf();
    const put = vi.spyOn(db.sources, 'put');
    put.mockRejectedValueOnce(
      Object.assign(new Error('full'), { name: 'QuotaExceededError' }) as never,
    );
    const made = await shelf.dropFiles([tune('a.mid'), tune('b.mid')]);
    put.mockRestore();
    expect(made).toHaveLength(1);
    expect(shelf.problems).toHaveLength(1);
    expect(shelf.problems[0]).toMatch(/^a\.mid: /);
  });
});

describe('a job as a file', () => {
  it('comes back as it was: its plan, its past, its source; beside the one that is there', async () => {
    await openJob('demo-tide-table', 'tide-voices');
    const job = useJob();
    job.addSteps('up', [{ step: 'transpose', params: { semitones: 2 }, scope: {}, on: true }]);
    await atRest();
    const shelf = useShelf();
    const bytes = (await shelf.exportById('demo-tide-table'))!;
    const [id] = await shelf.dropFiles([droppedFile('tide.quilljob', bytes)]);
    expect(id).not.toBe('demo-tide-table');
    await job.open(id!);
    await atRest();
    expect(job.plan!.now.steps).toMatchObject([{ step: 'transpose', params: { semitones: 2 } }]);
    job.undo();
    await atRest();
    expect(job.plan!.now.steps).toEqual([]);
    expect(shelf.problems).toEqual([]);
  });

  it('a source of a format of one’s own is read alike elsewhere, without its target', async () => {
    await useTargets().take(JSON.stringify(ferryLamps));
    const shelf = useShelf();
    const lamps = new TextEncoder().encode(
      'lamps of Low water\r\n000020 03 for 5 at 50%\r\n000040 12 for 5 at 100%\r\ndark\r\n',
    );
    const [made] = await shelf.dropFiles([droppedFile('LAMPS.TXT', lamps)]);
    const record = (await readJob(made!))!;
    // It is for the target that it was written for.
    expect(record).toMatchObject({ activeTarget: 'ferry-lamps' });
    expect(record.targetOpen).toBeUndefined();
    const bytes = (await shelf.exportById(made!))!;
    await shelf.removeJob(made!);
    await useTargets().remove('ferry-lamps');
    await db.sources.clear();
    const [id] = await shelf.dropFiles([droppedFile('lamps.quilljob', bytes)]);
    const job = useJob();
    await job.open(id!);
    await atRest();
    expect(shelf.problems).toEqual([]);
    expect(job.source).toMatchObject({ readAs: 'Ferry lamps', inventory: { notes: 2 } });
  });

  it.each([
    ['no pack', new TextEncoder().encode('PK nothing')],
    ['a pack of nothing', packFiles([])],
    ['a job that is no JSON', packFiles([{ path: 'job.json', bytes: Uint8Array.of(123) }])],
    [
      'a path that leaves it',
      packFiles([{ path: '../job.json', bytes: new TextEncoder().encode('{}') }]),
    ],
    [
      'a job of the future',
      packFiles([
        {
          path: 'job.json',
          bytes: new TextEncoder().encode(JSON.stringify({ schemaVersion: 99 })),
        },
      ]),
    ],
  ])('%s is said, and nothing is kept of it', async (_, bytes) => {
    const shelf = useShelf();
    expect(await shelf.dropFiles([droppedFile('torn.quilljob', bytes)])).toEqual([]);
    expect(shelf.problems).toEqual([expect.stringMatching(/^torn\.quilljob: [A-Z].{10,}/)]);
    expect([await db.jobs.count(), await db.sources.count()]).toEqual([0, 0]);
  });

  it('a title and words of any length go along', async () => {
    await openJob('demo-tide-table', 'tide-voices');
    const job = useJob();
    await job.rename(` ${'low water '.repeat(80)}`);
    job.addSteps('w'.repeat(5000), [
      { step: 'transpose', params: { semitones: 2 }, scope: {}, on: true },
    ]);
    await atRest();
    const shelf = useShelf();
    const bytes = (await shelf.exportById('demo-tide-table'))!;
    expect(await shelf.dropFiles([droppedFile('tide.quilljob', bytes)])).toHaveLength(1);
    expect(shelf.problems).toEqual([]);
  });

  it('one of a later version says that it is, and what to do', async () => {
    const shelf = useShelf();
    const later = { schemaVersion: 99, id: 'a' };
    const job = { path: 'job.json', bytes: new TextEncoder().encode(JSON.stringify(later)) };
    await shelf.dropFiles([droppedFile('next.quilljob', packFiles([job]))]);
    expect(shelf.problems).toEqual([
      'next.quilljob: It was written by a later version: its schemaVersion is 99, and up to 2 are read here. Open it where it was written, or take a newer Wary Quill.',
    ]);
  });

  it('one that is gone is none', async () => {
    expect(await useShelf().exportById('nowhere')).toBeNull();
  });
});

describe('two tabs on one job', () => {
  it('the second reads only, and may write once the first lets go', async () => {
    const said: string[] = [];
    const tab = (name: string) =>
      heldJob('a', {
        granted: () => undefined,
        taken: () => void said.push(`${name} reads`),
        free: async () => void said.push(`${name} writes`),
      });
    const first = tab('first');
    await Promise.resolve();
    const second = tab('second');
    await eventually(() => expect(said).toEqual(['second reads']));
    first.release();
    await eventually(() => expect(said).toEqual(['second reads', 'second writes']));
    second.release();
    await eventually(() => expect(locks.names).toEqual([]));
  });

  it('left before it was granted a job holds no lock', async () => {
    const told = { granted: () => undefined, taken: () => {}, free: async () => {} };
    const first = heldJob('a', told);
    heldJob('a', told).release();
    first.release();
    await eventually(() => expect(locks.names).toEqual([]));
    // It can be had again at once.
    const third = heldJob('a', { ...told, taken: () => expect.unreachable() });
    await eventually(() => expect(locks.names).toEqual([lockName('a')]));
    third.release();
  });

  it('one that is open elsewhere is not removed, and what it is of stays', async () => {
    const shelf = useShelf();
    const [id] = await shelf.dropFiles([songFile('demo-tide-table')]);
    let close: () => void = () => {};
    void locks.request(lockName(id!), {}, () => new Promise<void>((done) => (close = done)));
    await shelf.removeJob(id!);
    expect(shelf.problems).toEqual([expect.stringMatching(/open in another tab/)]);
    expect(await db.jobs.count()).toBe(1);
    close();
    await eventually(() => expect(locks.names).toEqual([]));
    await shelf.removeJob(id!);
    expect([await db.jobs.count(), await db.sources.count()]).toEqual([0, 0]);
  });

  it('bytes that another job still has are not taken from it', async () => {
    const shelf = useShelf();
    const [one, other] = await shelf.dropFiles([tune('a.mid'), tune('b.mid')]);
    await shelf.removeJob(one!);
    expect((await db.jobs.get(other!))!.sources[0]!.sha256).toBe(
      (await db.sources.toArray())[0]!.sha256,
    );
  });
});

describe('the lantern week', () => {
  const files = new Map<string, Uint8Array>();
  const week = {
    jobs: [
      {
        id: 'demo-a',
        title: 'A',
        file: 'a.mid',
        further: [{ key: 'more', file: 'b.mid' }],
        sound: 'a.wav',
        soundMs: 1500,
        targets: [{ id: 'bell-loft', steps: [] }],
      },
      {
        id: 'demo-b',
        title: 'B',
        file: 'b.mid',
        targets: [
          { id: 'nowhere', steps: [] },
          { id: 'lantern-rail', steps: [] },
        ],
      },
    ],
  };
  beforeEach(() => {
    for (const name of ['a.mid', 'b.mid'])
      files.set(name, smf(1, 480, [conductor(), new Track(name).note(1, 0, 480, 60, 90)]));
    files.set('a.wav', Uint8Array.of(1, 2, 3));
    vi.stubGlobal('fetch', async (path: string) => ({
      json: async () => week,
      arrayBuffer: async () => files.get(path.split('/').at(-1)!)!.slice().buffer,
    }));
  });

  it('brings its jobs with all of their sources; what is there is left alone', async () => {
    const shelf = useShelf();
    expect(await shelf.seedDemo()).toBe(true);
    const jobs = await db.jobs.orderBy('changedAt').reverse().toArray();
    expect(jobs.map((j) => j.title)).toEqual(['A', 'B']);
    expect(jobs[0]!.sources.map((s) => [s.key, s.name])).toEqual([
      ['main', 'a.mid'],
      ['more', 'b.mid'],
    ]);
    expect(jobs[0]!.sound).toEqual({
      sha256: hashOf(files.get('a.wav')!),
      name: 'a.wav',
      ms: 1500,
    });
    await db.jobs.update('demo-a', { title: 'Mine' });
    await shelf.seedDemo();
    expect((await db.jobs.get('demo-a'))!.title).toBe('Mine');
  });

  it('targets of somebody’s own come with it and with their examples, once', async () => {
    const own = { target: heronSteps, pack: 'heron-steps.quilltarget' };
    files.set('heron-steps.quilltarget', Uint8Array.of(80, 75, 3, 4));
    const job = {
      id: 'demo-h',
      title: 'H',
      file: 'a.mid',
      targets: [{ id: 'heron-steps', steps: [] }],
    };
    const more = {
      jobs: [...week.jobs, job],
      ownTargets: [own, { target: { id: 'spoilt' }, pack: 'none' }],
    };
    vi.stubGlobal('fetch', async (path: string) => ({
      json: async () => more,
      arrayBuffer: async () => files.get(path.split('/').at(-1)!)!.slice().buffer,
    }));
    const shelf = useShelf();
    expect(await shelf.seedDemo('demo-h')).toBe(true);
    const [row] = await db.targets.toArray();
    expect(row).toMatchObject({ id: 'heron-steps', learnt: [] });
    expect(new Uint8Array(row!.pack!)).toEqual(Uint8Array.of(80, 75, 3, 4));
    expect((await readJob('demo-h'))!.plans.map((p) => p.targetId)).toEqual(['heron-steps']);
    // One that was changed since is left alone.
    await db.targets.update('heron-steps', { learnt: ['tempo'] });
    await shelf.seedDemo();
    expect((await db.targets.get('heron-steps'))!.learnt).toEqual(['tempo']);
  });

  it('one alone where a link asks for it; none of the name is told', async () => {
    const shelf = useShelf();
    expect(await shelf.seedDemo('demo-b')).toBe(true);
    expect(await db.jobs.toCollection().primaryKeys()).toEqual(['demo-b']);
    expect(await shelf.seedDemo('demo-z')).toBe(false);
  });

  it('without a network it says so', async () => {
    vi.stubGlobal('fetch', async () => Promise.reject(new Error('offline')));
    const shelf = useShelf();
    expect(await shelf.seedDemo()).toBe(false);
    expect(shelf.problems).toHaveLength(1);
  });
});
