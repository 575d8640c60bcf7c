import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { recordingOf } from '../../../demo/recordings';
import { eventually } from '../../../testing/eventually';
import { mounted } from '../../../testing/mounted';
import { droppedFile, emptyBase } from '../../../testing/open-job';
import { conductor, smf, Track } from '../../../testing/score-builder';
import { db } from '../storage/db';
import { useShelf } from '../stores/shelf';
import DropChoice from './DropChoice.vue';
import { answerFor, sortDropped } from './sort-dropped';
import type { AskedDrop } from './use-drops';

const song = (key: number) =>
  smf(1, 480, [conductor(120), new Track('Bell').note(1, 0, 480, key, 90)], 960);
const [quay, rope, barge] = [song(60), song(64), song(67)];
const midi = (name: string, bytes: Uint8Array) => droppedFile(name, bytes);

function dropped(files: readonly File[]): AskedDrop {
  const sorted = sortDropped(files, ({ name }) => ({ name, type: '', json: null }));
  const where = { page: 'other' as const, readOnly: false, recipe: false };
  const answer = answerFor(sorted, where, (f) => f.name);
  return { nth: 1, ask: 'ask-many', files: sorted.scores, answer };
}

async function answered(drop: AskedDrop, way: string) {
  const openWith = vi.fn(async () => undefined);
  const { wrapper, path } = await mounted(DropChoice, { props: { drop, openWith }, path: '/' });
  const inDialog = () =>
    [...document.body.querySelectorAll('button')].find((b) => b.textContent.includes(way));
  await eventually(() => expect(inDialog()).toBeDefined());
  inDialog()!.click();
  await eventually(() => expect(wrapper.emitted('close')).toHaveLength(1));
  return { openWith, path };
}

const soundsOf = async () =>
  Object.fromEntries(
    (await db.jobs.toArray()).map((j) => [j.sources[0]!.name, j.sound?.name ?? null]),
  );

beforeEach(async () => {
  setActivePinia(createPinia());
  document.body.innerHTML = '';
  await emptyBase();
});

describe('songs and their recordings, dropped together', () => {
  const all = () =>
    dropped([
      midi('quay.mid', quay),
      midi('rope.mid', rope),
      midi('barge.mid', barge),
      droppedFile('Quay.wav', recordingOf(quay, {})),
      droppedFile('rope.wav', recordingOf(rope, {})),
    ]);
  const beside = { 'quay.mid': 'Quay.wav', 'rope.mid': 'rope.wav', 'barge.mid': null };

  it.each([
    ['A set, a song each', /^\/sets\//],
    ['A job each', /^\/$/],
  ])('%s: each recording lies beside its song, and no job is opened for it', async (way, there) => {
    const { path, openWith } = await answered(all(), way);
    await eventually(async () => expect(await soundsOf()).toEqual(beside));
    expect(path()).toMatch(there);
    expect(openWith).not.toHaveBeenCalled();
    expect(useShelf().problems).toEqual([]);
    const kept = await db.sources.toArray();
    expect(kept.map((s) => s.name)).toEqual(expect.arrayContaining(['Quay.wav', 'rope.wav']));
  });

  it('one that is spoilt is said and keeps none of the others', async () => {
    const drop = dropped([
      midi('quay.mid', quay),
      midi('rope.mid', rope),
      droppedFile('quay.wav', new TextEncoder().encode('no sound at all')),
      droppedFile('rope.wav', recordingOf(rope, {})),
    ]);
    await answered(drop, 'A set, a song each');
    await eventually(async () =>
      expect(await soundsOf()).toEqual({ 'quay.mid': null, 'rope.mid': 'rope.wav' }),
    );
    expect(useShelf().problems.join()).toMatch(/^quay\.wav: /);
  });

  it('given up: what is left is listed, and is beside no job', async () => {
    await answered(all(), 'A job each');
    const shelf = useShelf();
    await eventually(() => expect(shelf.busy?.says).toBe('Listening to Quay.wav'));
    shelf.busy!.cancel();
    await eventually(() => expect(shelf.problems).toHaveLength(1));
    const sounds = await soundsOf();
    // Small ones are heard in no time: it may have been kept already.
    const left = sounds['quay.mid'] ? 'rope.wav' : 'Quay.wav, rope.wav';
    expect(shelf.problems).toEqual([`${left}: not brought in. Open the job, and drop it there.`]);
    expect(sounds['rope.mid']).toBeNull();
    expect(shelf.busy).toBeNull();
  });

  it('one job of all has one recording: the others are listed', async () => {
    const { openWith } = await answered(all(), 'One job, the parts of one score');
    await eventually(() => expect(openWith).toHaveBeenCalledOnce());
    expect(useShelf().problems).toEqual([
      'rope.wav: a job has one recording beside it. Drop the one that is meant.',
    ]);
  });
});
