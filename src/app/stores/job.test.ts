import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { builtIn, conductor, smf, Track } from '../../../testing/score-builder';
import { db } from '../storage/db';
import { readJob } from '../storage/jobs';
import { EMPTY_STATE, newPlan, type JobRecord } from '../storage/job';
import { useJob } from './job';
import { useLooking } from './looking';
import { useShelf } from './shelf';

const [tide] = week;
const bytes = tide!.bytes();
const sha256 = createHash('sha256').update(bytes).digest('hex');
const record = (): JobRecord => ({
  id: 'tide',
  schemaVersion: 2,
  title: 'Turn of the tide',
  changedAt: 1,
  sources: [{ key: 'main', kind: 'smf', role: 'score', sha256, name: tide!.file }],
  activeTarget: 'lantern-rail',
  plans: tide!.targets.map((t) => newPlan(builtIn(t.id), { ...EMPTY_STATE, steps: t.steps })),
  tally: null,
});

/** The plan has run and every mend was tried. */
async function settled() {
  const job = useJob();
  await eventually(() => {
    expect(job.shown).not.toBeNull();
    expect(Object.keys(job.trials).length).toBe(job.findings.length);
  });
}
const first = (code: string) => useJob().findings.find((f) => f.code === code);

beforeEach(async () => {
  setActivePinia(createPinia());
  await Promise.all([
    db.jobs.clear(),
    db.histories.clear(),
    db.sources.clear(),
    db.handovers.clear(),
  ]);
  await db.sources.put({ sha256, name: tide!.file, bytes: bytes.slice().buffer });
  await db.jobs.put(record());
  await useJob().open('tide');
  await settled();
});

describe('the open job', () => {
  it('shows source and rendition, numbered findings and the tally, and keeps the tally', async () => {
    const job = useJob();
    expect(job.findings.map((f) => f.number)).toEqual(job.findings.map((_, i) => i + 1));
    expect(job.tally).toEqual({ stops: 7, cautions: 0, remarks: 1 });
    expect(job.losslessCount).toBe(4);
    expect((await db.jobs.get('tide'))!.tally).toEqual({
      stops: 7,
      cautions: 0,
      remarks: 1,
      kept: 100,
      choices: 0,
      // Cues for lamps are no music.
      figures: { tune: null, bass: null, beat: null, chords: null },
    });
    // What the plan did not touch crosses once.
    const [a, b] = [job.shown!.source.parts[3]!, job.shown!.delivered.parts[3]!];
    expect(a.columns).toBe(b.columns);
  });

  it('a mend is one change, saved, undone and done again', async () => {
    const job = useJob();
    const rest = first('rest-owed')!;
    job.addSteps(`${rest.title}: ${rest.mends[0]!.title}`, rest.mends[0]!.steps);
    await eventually(() => expect(first('rest-owed')).toBeUndefined());
    await eventually(async () =>
      expect((await db.jobs.get('tide'))!.plans[0]!.now.steps).toHaveLength(3),
    );
    expect(job.shown!.commonShiftMs).toBe(5625);
    job.undo();
    await eventually(() => expect(first('rest-owed')).toBeDefined());
    expect(job.said).toBe('Undone: Rest missing at the start: Put back 3 bars of rest');
    job.redo();
    await eventually(() => expect(first('rest-owed')).toBeUndefined());
    await eventually(async () => expect((await readJob('tide'))!.plans[0]!.past).toHaveLength(1));
    expect((await db.jobs.get('tide'))!.plans[0]!.past).toEqual([]);
  });

  it('all that loses nothing is one change', async () => {
    const job = useJob();
    await job.mendAll('lossless');
    await eventually(() => expect(job.tally.stops).toBe(3));
    expect(job.plan!.past).toHaveLength(1);
    expect(job.said).toBe('4 mends applied; 3 stops and 0 cautions remain.');
  });

  it('trying out shows what would be, and keeps nothing', async () => {
    const job = useJob();
    const before = JSON.stringify(job.plan);
    const tried = await job.tryOut(first('rest-owed')!.mends[0]!.steps);
    expect(tried!.piece.firstTick).toBe(4320);
    expect(tried!.shiftMs).toBeCloseTo(5625, 0);
    expect(job.shown!.delivered.firstTick).toBe(0);
    expect(JSON.stringify(job.plan)).toBe(before);
  });

  it('left as is counts no more, with its reason, until it is taken back', async () => {
    const job = useJob();
    const { key, title } = first('too-short')!;
    job.leaveAsIs(key, 'A blink is wanted', title);
    expect(job.tally.stops).toBe(6);
    expect(first('too-short')!.reason).toBe('A blink is wanted');
    job.takeBack(key, title);
    expect(job.tally.stops).toBe(7);
  });

  it('each target has a plan of its own', async () => {
    const job = useJob();
    await job.chooseTarget(builtIn('bell-loft'));
    await settled();
    expect(job.target!.id).toBe('bell-loft');
    expect(first('rest-owed')).toBeUndefined();
    expect(job.plan!.now.steps.map((s) => s.key)).toEqual(['seat-bells', 'leave-cues']);
    await job.chooseTarget(builtIn('tempo-carrier'));
    await settled();
    expect(job.record!.plans.map((p) => p.targetId)).toEqual([
      'lantern-rail',
      'bell-loft',
      'tempo-carrier',
    ]);
  });

  it('a newer export takes the place of the source, and what no longer fits is listed', async () => {
    const job = useJob();
    const newer = smf(1, 480, [
      conductor(96, 3, 4),
      new Track('Lamp cues').note(16, 4320, 240, 40, 90),
    ]);
    const hash = await useShelf().takeSource({ name: 'tide 2.mid', bytes: newer.slice().buffer });
    await job.replaceSource(hash!, 'tide 2.mid');
    await settled();
    expect(job.sourcesNow).toMatchObject([{ key: 'main', name: 'tide 2.mid', sha256: hash }]);
    const steps = job.shown!.steps;
    expect(steps[0]!.missing.parts.map((p) => p.track)).toEqual(['Shutter cues']);
    expect(steps[1]!.refused).toMatch(/not in this source/);
    // It is a change like any other: the source from before comes back.
    job.undo();
    await eventually(() => expect(job.shown!.steps[1]!.refused).toBeNull());
    expect(job.sourcesNow[0]!.sha256).toBe(sha256);
    expect(job.findings.length).toBeGreaterThan(3);
  });

  it('a mend that is applied twice in one breath is one change', async () => {
    const job = useJob();
    const rest = first('rest-owed')!;
    job.applyMend('Rest', rest.mends[0]!.steps);
    job.applyMend('Rest', rest.mends[0]!.steps);
    await eventually(() => expect(first('rest-owed')).toBeUndefined());
    expect(job.plan!.past).toHaveLength(1);
    expect(job.plan!.now.steps).toHaveLength(3);
  });

  const kettleSource = async () => {
    const drums = smf(1, 96, [conductor(96, 3, 4), new Track('Kettle').note(9, 0, 48, 40, 90)]);
    return (await useShelf().takeSource({ name: 'kettle.mid', bytes: drums.slice().buffer }))!;
  };

  it('a further source joins the score, follows as it is told, and goes again', async () => {
    const job = useJob();
    await job.addSources([{ sha256: await kettleSource(), name: 'kettle.mid' }]);
    expect(job.shown!.uses.map((u) => [u.name, u.rules])).toEqual([
      [tide!.file, true],
      ['kettle.mid', false],
    ]);
    const kettle = () => job.shown!.source.parts.find((p) => p.name === 'Kettle')!;
    expect(kettle().columns.start[0]).toBe(0);
    const key = job.sourcesNow[1]!.key;
    job.useSource(key, { follows: 'bars', offset: 96 }, 'a quarter later');
    await eventually(() => expect(kettle().columns.start[0]).toBe(480));
    await job.removeSource(key);
    expect(job.shown!.uses).toHaveLength(1);
    job.undo();
    await eventually(() => expect(job.shown!.uses).toHaveLength(2));
    expect(kettle().columns.start[0]).toBe(480);
  });

  it('another target has the same sources, placed as they are', async () => {
    const job = useJob();
    await job.addSources([{ sha256: await kettleSource(), name: 'kettle.mid' }]);
    const key = job.sourcesNow[1]!.key;
    job.useSource(key, { follows: 'bars', offset: 96 }, 'a quarter later');
    await eventually(() => expect(job.shown!.uses[1]!.offset).toBe(96));
    await job.removeSource(key);
    await job.chooseTarget(builtIn('parlour-keyboard'));
    // What was taken out before stays out, though undo of the other plan still names it.
    expect(job.sourcesNow).toHaveLength(1);
    await job.chooseTarget(builtIn('lantern-rail'));
    job.undo();
    await eventually(() => expect(job.shown!.uses).toHaveLength(2));
    await job.chooseTarget(builtIn('song-board'));
    await eventually(() => expect(job.shown!.uses[1]).toMatchObject({ offset: 96 }));
  });

  it('how far mending may go: figures first, then one change that undo takes back', async () => {
    const job = useJob();
    const found = (await job.reachesOf(true)!.result)!;
    expect(found.lossless).toMatchObject({ seated: 62, kept: 62, open: 0, out: { parts: 0 } });
    expect(found.lossless.remaining.stops).toBe(3);
    expect(found.keep.remaining.stops).toBeLessThanOrEqual(3);
    expect(found.keep.kept).toBe(62);
    expect(found.drop.remaining.stops).toBe(0);
    expect(found.drop.kept).toBeLessThan(62);
    expect(job.plan!.past).toHaveLength(0);
    expect(job.mendsMany).toBe(true);
    await job.mendAll('drop', true);
    await eventually(() => expect(job.tally.stops).toBe(0));
    expect(job.mendsMany).toBe(false);
    expect(job.plan!.now.did).toBe(`Mend everything (${found.drop.applied.length})`);
    job.undo();
    await eventually(() => expect(job.tally.stops).toBe(7));
  });

  it('steps in another order, a recipe, another title: each is kept', async () => {
    const job = useJob();
    const [first, second] = job.plan!.now.steps;
    job.setSteps([second!, first!], 'Steps in another order');
    await eventually(() => expect(job.shown!.steps[0]!.key).toBe(second!.key));
    job.undo();
    await eventually(() => expect(job.shown!.steps[0]!.key).toBe(first!.key));
    const plan = { steps: job.plan!.now.steps };
    const { id, version } = job.target!;
    job.useRecipe({ recipeVersion: 2, name: 'Again', target: { id, version }, plan, leftAsIs: [] });
    await eventually(() => expect(job.said).toBe('Recipe: Again'));
    expect(job.plan!.now.steps).toHaveLength(2);
    await job.rename('  Tide, once more ');
    expect((await readJob('tide'))!.title).toBe('Tide, once more');
    await job.rename('   ');
    expect(job.record!.title).toBe('Tide, once more');
  });

  it('another target, changed on the shelf: the job keeps its own until it is given the new one', async () => {
    const job = useJob();
    const own = job.target!;
    const changed = { ...own, version: '9.0.0', polyphony: { ...own.polyphony!, together: 9 } };
    await job.chooseTarget(changed);
    expect(job.target!.version).toBe(own.version);
    await job.repin(changed);
    await eventually(() => expect(job.findings.some((f) => f.code === 'at-once')).toBe(false));
    expect(job.target!.version).toBe('9.0.0');
  });

  it('a step that nobody knows does nothing and says so', async () => {
    const job = useJob();
    job.addSteps('Odd', [{ step: 'fly', params: {}, scope: {}, on: true }]);
    await eventually(() => expect(job.shown!.steps).toHaveLength(3));
    expect(job.shown!.steps[2]!.refused).toBe('There is no step named "fly".');
  });
});

describe('what is looked at', () => {
  it('walks through the findings and chooses what they name', () => {
    const looking = useLooking();
    looking.walk(1);
    expect(looking.openFinding!.number).toBe(1);
    looking.walk(-1);
    expect(looking.openFinding!.number).toBe(useJob().findings.length);
    looking.lookAt(first('too-short')!.key);
    looking.chooseNamed();
    expect(looking.chosen.size).toBe(1);
  });

  it('names the chosen notes so that a plan finds them again', async () => {
    const job = useJob();
    const looking = useLooking();
    looking.lookAt(first('too-short')!.key);
    looking.chooseNamed();
    const notes = await looking.addresses();
    expect(notes).toMatchObject([
      { part: { track: 'Shutter cues' }, noteNumber: 55, occurrence: 0 },
    ]);
    job.addSteps('Up', [
      { step: 'transpose', params: { semitones: 1 }, scope: { notes }, on: true },
    ]);
    await eventually(() => expect(job.shown!.steps[2]?.effect).toBe('1 note transposed'));
  });

  it('before is the source, and a part is chosen with its notes', () => {
    const job = useJob();
    const looking = useLooking();
    looking.before = true;
    expect(looking.piece).toBe(job.shown!.source);
    looking.before = false;
    looking.walkParts(1);
    expect(looking.chosen.size).toBe(job.shown!.delivered.parts[0]!.columns.count);
  });
});

describe('the shelf', () => {
  it('makes a job of each file that can be used, and says why of the others', async () => {
    const shelf = useShelf();
    const made = await shelf.dropFiles([
      new File([bytes as Uint8Array<ArrayBuffer>], 'my_own-tune.mid'),
      new File(['hello'], 'letter.mid'),
    ]);
    expect(made).toHaveLength(1);
    expect((await db.jobs.get(made[0]!))!.title).toBe('my own tune');
    expect(shelf.problems).toEqual([
      expect.stringMatching(/^letter\.mid: This is not a MIDI file/),
    ]);
  });

  it('a job out and in again is another job with the same plan', async () => {
    const shelf = useShelf();
    const packed = await shelf.exportJob(record());
    const id = await shelf.importJob(packed.slice().buffer, 'tide.quilljob');
    expect(id).not.toBe('tide');
    expect((await db.jobs.get(id!))!.plans[0]!.now.steps).toHaveLength(2);
  });

  it('a removed job takes its bytes along, unless another job has them', async () => {
    const shelf = useShelf();
    await db.jobs.put({ ...record(), id: 'twin' });
    await shelf.removeJob('tide');
    expect(await db.sources.get(sha256)).toBeDefined();
    await shelf.removeJob('twin');
    expect(await db.sources.get(sha256)).toBeUndefined();
  });
});
