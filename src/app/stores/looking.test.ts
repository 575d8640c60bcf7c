import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { nextTick } from 'vue';
import { bandSongs } from '../../../demo/band-songs';
import { atRest, emptyBase, openJob, openSong } from '../../../testing/open-job';
import { useJob } from './job';
import { useLooking } from './looking';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});
async function open() {
  await openJob('demo-turn-of-the-tide', 'lantern-rail');
  return { job: useJob(), looking: useLooking() };
}

describe('what the eye is on', () => {
  it('goes from finding to finding in the order of the sheet, and round', async () => {
    const { job, looking } = await open();
    const keys = job.findings.map((f) => f.key);
    expect(keys.length).toBeGreaterThan(3);
    for (const key of keys) {
      looking.walk(1);
      expect(looking.finding).toBe(key);
    }
    looking.walk(1);
    expect(looking.finding).toBe(keys[0]);
    looking.walk(-1);
    expect(looking.finding).toBe(keys.at(-1));
    expect(looking.goTo!.tick).toBe(job.findings.at(-1)!.spans[0]?.fromTick ?? looking.goTo!.tick);
  });

  it('after a mend the walk goes on from where it stood', async () => {
    const { job, looking } = await open();
    looking.walk(1);
    looking.walk(1);
    const [, second, third] = job.findings.map((f) => f.key);
    expect(looking.finding).toBe(second);
    const mend = job.findings[1]!.mends[0]!;
    job.addSteps(mend.title, mend.steps);
    await atRest();
    expect(job.findings.some((f) => f.key === second)).toBe(false);
    looking.walk(1);
    expect(looking.finding).toBe(third);
  });

  it('outlines none where a finding names every note that plays', async () => {
    const { bytes, name: file } = bandSongs().find((s) => s.name === 'piano-for-two-hands-1.mid')!;
    await openSong({ id: 'piano', title: 'Piano', file, bytes, targetId: 'lantern-rail' });
    const [job, looking] = [useJob(), useLooking()];
    const finding = job.findings.find((f) => f.code === 'unseated')!;
    const counts = looking.piece!.parts.map((p) => p.columns.count);
    expect(finding.notes).toHaveLength(counts.reduce((a, b) => a + b));
    looking.lookAt(finding.key);
    expect(looking.outlined.size).toBe(0);
    looking.chooseNamed();
    expect(looking.outlined.size).toBe(finding.notes.length);
  });

  it('outlines what a finding names, or what is chosen instead', async () => {
    const { job, looking } = await open();
    const found = job.findings.find((f) => f.notes.length > 1)!;
    looking.lookAt(found.key);
    expect([...looking.outlined]).toEqual([...found.notes]);
    looking.chooseNamed();
    expect([...looking.chosen]).toEqual([...found.notes]);
    expect(looking.chosenSpan!.toTick).toBeGreaterThan(looking.chosenSpan!.fromTick);
    const [id] = found.notes;
    looking.chosen = new Set([id!]);
    expect([...looking.outlined]).toEqual([id]);
    looking.clear();
    expect([looking.outlined.size, looking.chosenSpan, looking.finding]).toEqual([0, null, null]);
  });

  it('walks through the parts that have notes, both ways', async () => {
    const { job, looking } = await open();
    const names = () => job.shown!.delivered.parts.find((p) => p.id === looking.part)!.name;
    const parts = job.shown!.delivered.parts.filter((p) => p.columns.count > 0);
    looking.walkParts(-1);
    expect(names()).toBe(parts.at(-1)!.name);
    looking.walkParts(1);
    expect(names()).toBe(parts[0]!.name);
    expect(looking.chosen.size).toBe(parts[0]!.columns.count);
    looking.choosePart(null);
    expect([looking.part, looking.chosen.size]).toEqual([null, 0]);
  });

  it('a mend is looked at and let go; a late answer is of another note', async () => {
    const { job, looking } = await open();
    const owed = job.findings.find((f) => f.code === 'rest-owed')!;
    const other = job.findings.find((f) => f.key !== owed.key && f.mends.length > 0)!;
    looking.lookAt(owed.key);
    await nextTick();
    await looking.tryOut(owed.mends[0]!);
    expect(looking.isTried(owed.mends[0]!)).toBe(true);
    expect(looking.piece).toBe(looking.trial!.piece);
    await looking.tryOut(owed.mends[0]!);
    expect([looking.trial, looking.piece === job.shown!.delivered]).toEqual([null, true]);
    const late = looking.tryOut(owed.mends[0]!);
    looking.lookAt(other.key);
    await late;
    expect(looking.trial).toBeNull();
  });

  it('before and after are two pieces', async () => {
    const { job, looking } = await open();
    looking.before = true;
    expect(looking.piece).toBe(job.shown!.source);
    looking.before = false;
    expect(looking.piece).toBe(job.shown!.delivered);
  });

  it('chosen notes are named as a plan names them: by part, start, key and occurrence', async () => {
    const { job, looking } = await open();
    const part = job.shown!.delivered.parts.find((p) => p.columns.count > 3)!;
    const { columns } = part;
    looking.chosen = new Set([columns.id[2]!]);
    expect(await looking.addresses()).toEqual([
      {
        part: part.ref,
        startTick: columns.start[2],
        noteNumber: columns.noteNumber[2],
        occurrence: 0,
      },
    ]);
    // The plan moved it: its address is still that of its source.
    const [before] = await looking.addresses();
    job.addSteps('rest', [{ step: 'rest-at-start', params: { bars: 3 }, scope: {}, on: true }]);
    await atRest();
    const moved = job.shown!.delivered.parts.find((p) => p.id === part.id)!.columns;
    looking.chosen = new Set([moved.id[2]!]);
    expect(moved.start[2]).toBe(columns.start[2]! + 3 * 1440);
    expect(await looking.addresses()).toEqual([before]);
  });
});
