import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { isReadonly, isRef, nextTick, toRaw, type Ref } from 'vue';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { eventually } from '../../../testing/eventually';
import { atRest, droppedFile, emptyBase, openJob } from '../../../testing/open-job';
import { waveBytes } from '../../core/sound/wave';
import { db } from '../storage/db';
import { readJob } from '../storage/jobs';
import { saveFile } from '../storage/save-file';
import { useCues } from './cues';
import { useHand } from './hand';
import { useHandover } from './handover';
import { useHandsOn } from './hands-on';
import { useJob } from './job';
import { useLiningUp } from './lining-up';
import { useLooking } from './looking';
import { useOtherExport } from './other-export';
import { usePlaying } from './playing';
import { useReceiving } from './receiving';
import { useRecording } from './recording';
import { useRehearsal } from './rehearsal';
import { useSeating } from './seating';
import { useShelf } from './shelf';
import { useWheel } from './wheel';

/** Every store that says something of the job that is open. */
const OF_THE_JOB: Readonly<Record<string, () => object>> = {
  cues: useCues,
  hand: useHand,
  handover: useHandover,
  'hands-on': useHandsOn,
  'lining-up': useLiningUp,
  looking: useLooking,
  'other-export': useOtherExport,
  playing: usePlaying,
  receiving: useReceiving,
  rehearsal: useRehearsal,
  seating: useSeating,
  wheel: useWheel,
};
/** What belongs to the hand or the machine, and goes with it from job to job. */
const KEPT = new Set([
  'cues.unit',
  'hands-on.chosen',
  'playing.speed',
  'wheel.matched',
  'wheel.kind',
]);

const plain = (value: unknown): unknown =>
  value instanceof Set || value instanceof Map
    ? [...value]
    : JSON.parse(JSON.stringify(value ?? null));
/** What a store holds by itself: neither worked out of something else nor kept from job to job. */
function* held(): Iterable<[name: string, holds: Ref<unknown>]> {
  for (const [store, use] of Object.entries(OF_THE_JOB))
    for (const [key, holds] of Object.entries(toRaw(use()) as Record<string, unknown>))
      if (isRef(holds) && !isReadonly(holds) && !KEPT.has(`${store}.${key}`))
        yield [`${store}.${key}`, holds];
}
const said = () => Object.fromEntries([...held()].map(([name, { value }]) => [name, plain(value)]));
/** Another value of the same kind, as somebody at work would have left it. */
function otherThan(value: unknown): unknown {
  if (typeof value === 'boolean') return !value;
  if (typeof value === 'number') return value + 7;
  if (typeof value === 'string') return `${value} of before`;
  if (value instanceof Set) return new Set(['of before']);
  if (Array.isArray(value)) return ['of before'];
  return value === null ? 'of before' : value;
}

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

describe('from job to job', () => {
  it('nothing of the one is left in the next', async () => {
    await openJob('demo-parlour-evening', 'parlour-keyboard');
    const fresh = said();
    setActivePinia(createPinia());
    await emptyBase();
    await openJob('demo-tide-table', 'tide-voices');
    said();
    for (const [, holds] of held()) holds.value = otherThan(holds.value);
    await openJob('demo-parlour-evening', 'parlour-keyboard');
    await nextTick();
    await atRest();
    expect(Object.keys(fresh).length).toBeGreaterThan(40);
    expect(said()).toEqual(fresh);
  });

  it('stops that were named at one job are named again at the next', async () => {
    await openJob('demo-paper-march', 'strip-organ');
    await useHandover().handOver({ anyway: true });
    expect(useHandover().rows).toHaveLength(1);
    const { sources, ...row } = useJob().record!;
    useJob().close();
    expect(useHandover().rows).toEqual([]);
    await db.jobs.put({ ...row, sources, id: 'twin', title: 'Its twin' });
    await useJob().open('twin');
    await atRest();
    await useHandover().handOver();
    expect(useHandover().asking).toBe(true);
    expect(useHandover().rows).toEqual([]);
  });

  it('what takes time goes to the job that it was asked for', async () => {
    const bells = await openJob('demo-salt-bell-round', 'bell-loft');
    const job = useJob();
    const notes = job.shown!.delivered.parts[0]!.columns;
    useLooking().chosen = new Set([notes.id[0]!]);
    useHand().nudge({ semitones: 1 });
    const done = useHand().close();
    const wave = droppedFile('beside.wav', waveBytes(new Int16Array(8000), 8000));
    const brought = useRecording().bring(wave);
    // By hand it is waited for; what is listened to may take seconds, and the desk goes on.
    await done;
    expect(job.plan!.now.steps.at(-1)).toMatchObject({ step: 'by-hand' });
    await openJob('demo-tide-table', 'tide-voices');
    expect(await brought).toBe(true);
    expect(job.record).not.toHaveProperty('sound');
    expect(job.plan!.now.steps).toEqual([]);
    await eventually(async () =>
      expect((await readJob(bells.id))?.sound).toMatchObject({ name: 'beside.wav' }),
    );
    const left = (await readJob(bells.id))!;
    expect(left.plans[0]!.now.steps.at(-1)).toMatchObject({ step: 'by-hand' });
  });

  it('a recording that is none is told though its job was left', async () => {
    await openJob('demo-salt-bell-round', 'bell-loft');
    const brought = useRecording().bring(droppedFile('notes.wav', Uint8Array.from([1, 2, 3])));
    useJob().close();
    expect(await brought).toBe(false);
    expect(useShelf().problems.join()).toMatch(/^notes\.wav: /);
    expect(useRecording().problem).toBeNull();
    expect(useShelf().busy).toBeNull();
  });

  it('a job that is left while it is written has its number taken all the same', async () => {
    const march = await openJob('demo-paper-march', 'strip-organ');
    const put = db.handovers.put.bind(db.handovers);
    vi.spyOn(db.handovers, 'put').mockImplementationOnce((row) => {
      useJob().close();
      return put(row);
    });
    await useHandover().handOver({ anyway: true });
    await eventually(async () => expect((await readJob(march.id))!.plans[0]!.handovers).toBe(1));
    expect(useHandover().rows).toEqual([]);
    expect(saveFile).toHaveBeenCalledTimes(1);

    // Left before there is anything: that is said, and the number is free.
    await useJob().open(march.id);
    await atRest();
    const writing = useHandover().handOver({ anyway: true });
    useJob().close();
    await writing;
    expect(saveFile).toHaveBeenCalledTimes(1);
    expect(useShelf().problems.join()).toContain('was left before its handover was written');
    expect((await readJob(march.id))!.plans[0]!.handovers).toBe(1);
  });
});
