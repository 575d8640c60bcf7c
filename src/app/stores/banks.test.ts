import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { atRest, droppedFile, emptyBase, hugeFile, openJob } from '../../../testing/open-job';
import { StubPlayer } from '../../../testing/stub-player';
import { useJob } from './job';
import { usePlaying } from './playing';

const SHIPPED = Uint8Array.of(1, 2, 3);
const bank = (name: string, ...bytes: number[]) => droppedFile(name, Uint8Array.from(bytes));
const sounding = () => (StubPlayer.last.bank ? [...new Uint8Array(StubPlayer.last.bank)] : null);

beforeEach(async () => {
  setActivePinia(createPinia());
  StubPlayer.refusal = null;
  await emptyBase();
  vi.stubGlobal('fetch', async () => ({ arrayBuffer: async () => SHIPPED.slice().buffer }));
});
async function open() {
  await openJob('demo-tide-table', 'tide-voices');
  const playing = usePlaying();
  return { playing, banks: playing.banks, job: useJob() };
}

describe('sound banks', () => {
  it('those that ship sound where nothing else was said', async () => {
    const { playing, banks } = await open();
    await playing.play();
    expect([sounding(), banks.name.value]).toEqual([null, null]);
    expect([...new Uint8Array(await banks.bytesNow())]).toEqual([1, 2, 3]);
  });

  it('one of the user’s own is heard, kept, and stands for this job alone', async () => {
    const { banks, job, playing } = await open();
    expect(await banks.take(bank('quay.sf2', 7, 7))).toBeNull();
    expect([sounding(), banks.name.value, job.record!.bank]).toEqual([
      [7, 7],
      'quay.sf2',
      'quay.sf2',
    ]);
    expect(banks.kept.value).toEqual(['quay.sf2']);
    await playing.play();
    playing.stop();
    await openJob('demo-paper-march', 'strip-organ');
    await atRest();
    await eventually(() => expect(sounding()).toEqual([1, 2, 3]));
    await job.open('demo-tide-table');
    await atRest();
    await eventually(() => expect(sounding()).toEqual([7, 7]));
  });

  it('one that cannot be read is refused with why, and nothing changes', async () => {
    const { banks, job } = await open();
    StubPlayer.refusal = 'no samples';
    expect(await banks.take(bank('torn.sf2', 0))).toBe(
      'torn.sf2: it is no sound bank that can be read (no samples).',
    );
    expect([banks.kept.value, job.record!.bank]).toEqual([[], undefined]);
  });

  it('one that is too large is not read', async () => {
    const { banks } = await open();
    expect(await banks.take(hugeFile('all.sf2', 2 ** 40))).toMatch(/^all\.sf2: it has 1,099,511/);
  });

  it('for all jobs, for this one, or what ships for this one', async () => {
    const { banks, job, playing } = await open();
    await banks.take(bank('quay.sf2', 7));
    await banks.take(bank('pier.sf2', 8));
    await playing.play();
    playing.stop();
    await banks.choose('pier.sf2', true);
    expect([job.record!.bank, banks.wanted.value]).toEqual([undefined, 'pier.sf2']);
    await banks.choose('quay.sf2', false);
    expect(banks.wanted.value).toBe('quay.sf2');
    await eventually(() => expect(sounding()).toEqual([7]));
    // None for this job, whatever stands for the others.
    await banks.choose(null, false);
    expect(banks.wanted.value).toBeNull();
    await eventually(() => expect(sounding()).toEqual([1, 2, 3]));
  });

  it('one that is no longer in the browser is said, and those that ship sound', async () => {
    const { banks, job, playing } = await open();
    await banks.take(bank('quay.sf2', 7));
    await banks.drop('quay.sf2');
    expect([banks.kept.value, job.record!.bank]).toEqual([[], undefined]);
    await job.setBank('gone.sf2');
    await playing.play();
    expect(playing.problem).toMatch(/^The sound bank gone\.sf2 is not in this browser/);
    expect([banks.name.value, playing.playing]).toEqual([null, true]);
  });
});
