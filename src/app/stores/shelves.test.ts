import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { atRest, emptyBase, openJob, songFile } from '../../../testing/open-job';
import { builtIn } from '../../../testing/score-builder';
import type { Recipe } from '../../core/plan/plan';
import { watch } from 'vue';
import { unpackFiles } from '../../core/formats/unpack';
import { db } from '../storage/db';
import { saveFile } from '../storage/save-file';
import { useCues } from './cues';
import { useHandover } from './handover';
import { useJob } from './job';
import { useRecipes } from './recipes';
import { useRehearsal } from './rehearsal';
import { useShelf } from './shelf';
import { useTargets } from './targets';

beforeEach(async () => {
  setActivePinia(createPinia());
  vi.mocked(saveFile).mockClear();
  await emptyBase();
});

describe('handing over', () => {
  it('stops that are open are named once; a double click is one handover', async () => {
    await openJob('demo-horns-at-dusk', 'fog-pier');
    const handover = useHandover();
    await handover.handOver();
    expect(handover.asking).toBe(true);
    expect(saveFile).not.toHaveBeenCalled();
    await Promise.all([handover.handOver({ anyway: true }), handover.handOver({ anyway: true })]);
    expect(handover.rows.map((r) => r.number)).toEqual([1]);
    expect(saveFile).toHaveBeenCalledTimes(1);
    // The same stops need not be named again.
    await handover.handOver();
    expect(handover.asking).toBe(false);
    expect(handover.rows.map((r) => r.number)).toEqual([2, 1]);
    expect(useJob().plan!.handovers).toBe(2);
  });

  it('a change of the plan meanwhile takes nothing away from it', async () => {
    await openJob('demo-salt-bell-round', 'bell-loft');
    const handover = useHandover();
    const handing = handover.handOver({ anyway: true });
    useJob().addSteps('up', [{ step: 'transpose', params: { semitones: 1 }, scope: {}, on: true }]);
    await Promise.all([handing, atRest()]);
    expect(handover.rows.map((r) => r.number)).toEqual([1]);
    // What was handed over is the state that it was asked of.
    expect(JSON.stringify(handover.rows[0]!.receipt)).not.toContain('up 1 semitone');
    expect(useJob().plan!.now.steps).toHaveLength(1);
  });

  it('is counted for the target and the job that it is of', async () => {
    await openJob('demo-salt-bell-round', 'bell-loft');
    const handover = useHandover();
    const handing = handover.handOver({ anyway: true });
    await useJob().chooseTarget(builtIn('parlour-keyboard'));
    await handing;
    await atRest();
    const plans = () =>
      Object.fromEntries(useJob().record!.plans.map((p) => [p.targetId, p.handovers]));
    expect(plans()).toEqual({ 'bell-loft': 1, 'parlour-keyboard': 0 });
    // Left while it is written: the job that is open now knows nothing of it.
    const second = handover.handOver({ anyway: true });
    await openJob('demo-horns-at-dusk', 'fog-pier');
    await second;
    expect(useJob().plan!.handovers).toBe(0);
    await handover.load();
    expect(handover.rows).toEqual([]);
    expect(await db.handovers.where('jobId').equals('demo-horns-at-dusk').count()).toBe(0);
  });

  it('keeps the pack that was saved, file by file', async () => {
    await openJob('demo-salt-bell-round', 'bell-loft');
    const handover = useHandover();
    await handover.handOver({ anyway: true });
    const [row] = handover.rows;
    const [bytes, name] = vi.mocked(saveFile).mock.calls[0]!;
    expect(name).toBe('salt-bell-round-bell-loft-1.zip');
    const packed = unpackFiles(bytes as Uint8Array).files!;
    const files = await handover.filesOf(row!);
    expect(files.map((f) => f.path).sort()).toEqual([...packed.keys()].sort());
    expect(files.map((f) => f.path)).toContain('receipt.json');
    await handover.saveOne(row!, files.find((f) => f.path.endsWith('.mid'))!.path);
    expect(vi.mocked(saveFile).mock.calls.at(-1)![1]).toMatch(/\.mid$/);
    // A new look at the job finds it again.
    setActivePinia(createPinia());
    await useJob().open('demo-salt-bell-round');
    await atRest();
    const again = useHandover();
    await again.load();
    expect(again.rows.map((r) => [r.number, r.packName])).toEqual([[1, name]]);
  });

  it('a full database is said, and the files are saved all the same', async () => {
    await openJob('demo-salt-bell-round', 'bell-loft');
    const handover = useHandover();
    const put = vi
      .spyOn(db.handovers, 'put')
      .mockRejectedValueOnce(Object.assign(new Error('full'), { name: 'QuotaExceededError' }));
    await handover.handOver({ anyway: true });
    expect(handover.problem).toMatch(/no room left/);
    expect(saveFile).toHaveBeenCalledTimes(1);
    put.mockRestore();
  });
});

describe('the rehearsal', () => {
  it('is worked out while its stage is open, anew at each change of the plan', async () => {
    await openJob('demo-rope-walk', 'parlour-keyboard');
    const rehearsal = useRehearsal();
    expect(rehearsal.reply).toBeNull();
    rehearsal.open = true;
    await eventually(() => expect(rehearsal.reply).not.toBeNull());
    const first = rehearsal.reply!;
    expect(first.played.events.length).toBeGreaterThan(0);
    expect(rehearsal.scene!.describe(rehearsal.scene!.at(0))).not.toBe('');
    const job = useJob();
    const [part] = job.shown!.delivered.parts.filter((p) => p.columns.count > 0);
    job.addSteps('Softer', [
      { step: 'velocity', params: { scalePercent: 40 }, scope: { parts: [part!.ref] }, on: true },
    ]);
    await atRest();
    await eventually(() => expect(rehearsal.reply).not.toBe(first));
    expect(rehearsal.reply!.played.events.length).toBe(first.played.events.length);
  });

  it('what was heard stands at its music, for its target, with the number of the handover', async () => {
    await openJob('demo-salt-bell-round', 'bell-loft');
    const rehearsal = useRehearsal();
    const job = useJob();
    await rehearsal.jot('   ', 1000);
    expect(rehearsal.notes).toEqual([]);
    await rehearsal.jot(' Second bell late ', 1000);
    expect(rehearsal.notes.map((n) => [n.note.says, n.note.handover])).toEqual([
      ['Second bell late', null],
    ]);
    expect(rehearsal.notes[0]!.ms).toBeCloseTo(1000, -1);
    const before = rehearsal.notes[0]!.tick;
    job.addSteps('A bar of rest', [
      { step: 'rest-at-start', params: { bars: 1 }, scope: {}, on: true },
    ]);
    await atRest();
    expect(rehearsal.notes[0]!.tick).toBeGreaterThan(before);
    await useHandover().handOver({ anyway: true });
    await rehearsal.jot('Good now', 2000);
    expect(rehearsal.notes.at(-1)!.note.handover ?? rehearsal.notes[0]!.note.handover).toBe(1);
    const key = rehearsal.notes[0]!.note.key;
    await rehearsal.changeNote(key, { done: true });
    expect(rehearsal.notes.find((n) => n.note.key === key)!.note.done).toBe(true);
    await rehearsal.removeNote(key);
    expect(rehearsal.notes).toHaveLength(1);
  });
});

describe('recipes on many files', () => {
  const recipe: Recipe = {
    recipeVersion: 2,
    name: 'Horns, an octave down',
    target: { id: 'fog-pier', version: '1.0.0' },
    plan: {
      steps: [
        {
          key: 'down',
          step: 'transpose',
          params: { semitones: -12 },
          scope: { parts: [{ source: 'main', track: 'Horn 1', channel: 1, occurrence: 0 }] },
          on: true,
        },
      ],
    },
    leftAsIs: [],
  };
  const text = (content: string, name = 'a.recipe.json') =>
    ({ name, size: content.length, text: async () => content }) as unknown as File;

  it('are read from files; what is none is said and nothing is kept of it', async () => {
    const recipes = useRecipes();
    await recipes.take([text('{'), text(JSON.stringify(recipe))]);
    await eventually(() => expect(recipes.rows.map((r) => r.recipe.name)).toEqual([recipe.name]));
    expect(useShelf().problems.join()).toContain('a.recipe.json');
    recipes.save(recipes.rows[0]!);
    expect(vi.mocked(saveFile).mock.calls[0]![1]).toBe('horns-an-octave-down-fog-pier.recipe.json');
  });

  it('say for each file what is left, who sits where, and what was not found', async () => {
    const recipes = useRecipes();
    await recipes.take([songFile('demo-horns-at-dusk')]);
    expect(useShelf().problems.join()).toContain('Choose the recipe first');
    await recipes.keep(recipe, 'one');
    await eventually(() => expect(recipes.rows).toHaveLength(1));
    recipes.choose('one');
    const broken = {
      name: 'broken.mid',
      size: 4,
      arrayBuffer: async () => Uint8Array.of(1, 2, 3, 4).buffer,
    } as unknown as File;
    await recipes.take([
      songFile('demo-horns-at-dusk'),
      broken,
      songFile('demo-salt-bell-round', 'bells.mid'),
    ]);
    const [horns, none, bells] = recipes.outcomes;
    expect(horns!.result).toMatchObject({ notFound: [] });
    expect(horns!.result!.seated.some((s) => s.startsWith('Horn 1 → '))).toBe(true);
    expect(none!.result).toBeNull();
    expect(bells!.result!.notFound).toContain('Horn 1');
    expect([recipes.running, recipes.done]).toEqual([false, 3]);

    await recipes.makeJobs();
    const jobs = await db.jobs.toArray();
    expect(jobs.map((j) => j.title).sort()).toEqual(['bells', 'horns-at-dusk']);
    expect(jobs[0]!.plans[0]!.now.steps).toHaveLength(1);
    // Asked again nothing is made twice.
    await recipes.makeJobs();
    expect(await db.jobs.count()).toBe(2);
  });

  it('given up, the rest is not tried', async () => {
    const recipes = useRecipes();
    await recipes.keep(recipe, 'one');
    await eventually(() => expect(recipes.rows).toHaveLength(1));
    recipes.choose('one');
    const givenUp = watch(
      () => recipes.done,
      (n) => n === 2 && recipes.cancel(),
      { flush: 'sync' },
    );
    await recipes.run(
      Array.from({ length: 6 }, (_, i) => songFile('demo-horns-at-dusk', `${i}.mid`)),
    );
    givenUp();
    expect(recipes.running).toBe(false);
    expect(recipes.outcomes.filter((o) => o.result === null)).toHaveLength(4);
  });
});

describe('targets on the shelf', () => {
  it('a copy has an id and a name of its own, and is there after a new start', async () => {
    const targets = useTargets();
    await targets.load();
    const one = await targets.copy(builtIn('bell-loft'));
    const two = await targets.copy(builtIn('bell-loft'));
    expect([one, two]).toEqual(['bell-loft-striker-copy', 'bell-loft-striker-copy-2']);
    setActivePinia(createPinia());
    const again = useTargets();
    await again.load();
    expect(again.rows.map((r) => r.id).sort()).toEqual([one, two]);
    await again.remove(one!);
    expect(again.find(one!)).toBeUndefined();
    expect(again.isBuiltIn('bell-loft')).toBe(true);
  });

  it('a file is taken; one whose id is there gets another, one that is wrong is told how', async () => {
    const targets = useTargets();
    const mine = { ...builtIn('fog-pier'), name: 'Our pier' };
    expect(await targets.take(JSON.stringify(mine))).toEqual({ id: 'fog-pier-2' });
    const wrong = await targets.take(JSON.stringify({ ...mine, tempo: { bpm: 100 } }));
    expect('problems' in wrong && wrong.problems.length).toBeGreaterThan(0);
    expect(targets.rows).toHaveLength(1);
  });

  it('jobs pin a target as it was, until they are given the one of now', async () => {
    const targets = useTargets();
    await targets.load();
    await openJob('demo-horns-at-dusk', 'fog-pier');
    useJob().close();
    const newer = { ...builtIn('fog-pier'), version: '1.1.0' };
    const jobs = await db.jobs.toArray();
    expect(targets.jobsOf('fog-pier', jobs)).toHaveLength(1);
    expect(targets.jobsOf('bell-loft', jobs)).toEqual([]);
    await targets.giveToJobs(newer, jobs);
    const kept = await db.jobs.get('demo-horns-at-dusk');
    expect(kept!.plans[0]!.version).toBe('1.1.0');
    expect(kept!.tally).toBeNull();
  });
});

describe('cues', () => {
  it('are what begins together, with the marker in force and what was moved', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const cues = useCues();
    cues.partId = cues.parts.find((p) => p.name === 'Lamp cues')!.id;
    const list = cues.cues;
    expect(list.length).toBeGreaterThan(2);
    for (let i = 1; i < list.length; i++) expect(list[i]!.tick).toBeGreaterThan(list[i - 1]!.tick);
    expect(list.flatMap((c) => c.ids)).toHaveLength(cues.part!.columns.count);
    expect(list.every((c) => c.moved === 0)).toBe(true);
    expect(list.every((c) => c.onset === null)).toBe(true);
  });

  it('are walked through and moved by small and large steps of the unit that is chosen', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const cues = useCues();
    cues.partId = cues.parts.find((p) => p.name === 'Lamp cues')!.id;
    cues.walk(1);
    expect(cues.index).toBe(0);
    cues.walk(1);
    expect(cues.index).toBe(1);
    cues.walk(-99);
    expect(cues.index).toBe(0);
    expect([cues.stepMs(false), cues.stepMs(true)]).toEqual([10, 100]);
    cues.unit = 'frame';
    expect([cues.stepMs(false), cues.stepMs(true)]).toEqual([40, 200]);
    cues.unit = 'grid';
    // A sixteenth at 96 BPM.
    expect(cues.stepMs(false)).toBeCloseTo(156.25, 2);
    cues.unit = 'ms';
    cues.walk(1);
    const was = cues.chosen!.ms;
    cues.nudge(1, true);
    cues.nudge(-1, false);
    await eventually(() => expect(cues.chosen!.moved).toBeCloseTo(90, 0));
    expect(cues.chosen!.ms).toBeCloseTo(was + 90, 0);
    expect(useJob().plan!.now.steps).toHaveLength(1);
  });

  it('a part leads by a number: one step, however often it is changed', async () => {
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    const cues = useCues();
    cues.partId = cues.parts.find((p) => p.name === 'Lamp cues')!.id;
    for (const ms of [40, 65]) {
      cues.lead(ms);
      await atRest();
    }
    expect(cues.leadMs).toBe(65);
    expect(useJob().plan!.now.steps).toMatchObject([{ step: 'move-notes', params: { ms: -65 } }]);
  });
});
