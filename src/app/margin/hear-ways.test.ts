import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it } from 'vitest';
import { eventually } from '../../../testing/eventually';
import { button, mounted } from '../../../testing/mounted';
import { atRest, emptyBase, openJob } from '../../../testing/open-job';
import { StubPlayer } from '../../../testing/stub-player';
import { useJob } from '../stores/job';
import { usePlaying } from '../stores/playing';
import { leastAlike } from '../stores/where-differ';
import HearWays from './HearWays.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  StubPlayer.refusal = null;
  await emptyBase();
});

const upAt = (bar: number, bars: number) => ({
  step: 'transpose',
  params: { semitones: 1 },
  scope: { fromTick: (bar - 1) * 1440, toTick: (bar - 1 + bars) * 1440 },
  on: true,
});
const rest = { step: 'rest-at-start', params: { bars: 3 }, scope: {}, on: true };

async function ways(steps: object[]) {
  await openJob('demo-turn-of-the-tide', 'lantern-rail');
  const { wrapper } = await mounted(HearWays, {
    props: {
      label: 'Ways',
      ways: [
        { id: 'one', title: 'Way 1', steps },
        { id: 'two', title: 'Way 2', steps: [rest] },
      ],
    },
  });
  const hear = async (id: string) => {
    const named = { source: 'Source', one: 'Way 1', two: 'Way 2' }[id]!;
    await button(wrapper, named).trigger('click');
    await eventually(() => expect(button(wrapper, named).attributes('aria-pressed')).toBe('true'));
    await eventually(() => expect(usePlaying().playing).toBe(true));
  };
  return { wrapper, hear, playing: usePlaying() };
}

it('a way is heard where it differs most, and goes round in eight bars', async () => {
  const { wrapper, hear, playing } = await ways([upAt(15, 8)]);
  await hear('one');
  expect(wrapper.text()).toContain('Bars 15–22');
  expect(playing.tried.steps).toHaveLength(1);
  const { clock, bars } = useJob().shown!.delivered;
  expect(playing.loop!.fromMs).toBeCloseTo(clock.msAt(bars.barStart(14)), 3);
  expect(playing.loop!.toMs).toBeCloseTo(clock.msAt(bars.barStart(22)), 3);
});

it('the source and the other ways are switched in place', async () => {
  const { hear, playing } = await ways([upAt(15, 8)]);
  await hear('one');
  const from = playing.loop!.fromMs;
  StubPlayer.last.at = from + 700;
  await hear('source');
  expect([playing.listen, playing.tried.steps.length]).toEqual(['source', 0]);
  expect(playing.ms - playing.loop!.fromMs).toBeCloseTo(700, 3);
  // The second way is three bars later: so are its bars.
  StubPlayer.last.at = playing.loop!.fromMs + 900;
  await hear('two');
  expect(playing.listen).toBe('delivered');
  expect(playing.loop!.fromMs - from).toBeCloseTo(3 * 1875, 0);
  expect(playing.ms - playing.loop!.fromMs).toBeCloseTo(900, 3);
});

it('what was there before comes back: the loop, the place, what was listened to', async () => {
  const { wrapper, hear, playing } = await ways([upAt(15, 8)]);
  playing.listen = 'source';
  playing.setLoop({ fromMs: 1000, toMs: 3000 });
  playing.seek(1500);
  await hear('one');
  expect(playing.loop!.fromMs).toBeGreaterThan(3000);
  await button(wrapper, 'Stop').trigger('click');
  expect([playing.playing, playing.tried.steps.length]).toEqual([false, 0]);
  expect([playing.listen, playing.loop, playing.ms]).toEqual([
    'source',
    { fromMs: 1000, toMs: 3000 },
    1500,
  ]);
});

it('a plan that changes meanwhile ends it, and what was tried is not heard on it', async () => {
  const { wrapper, hear, playing } = await ways([upAt(15, 8)]);
  await hear('one');
  useJob().addSteps('rest', [rest as never]);
  await atRest();
  expect([playing.playing, playing.tried.steps.length, playing.loop]).toEqual([false, 0, null]);
  expect(wrapper.text()).not.toContain('Bars 15–22');
  await hear('one');
  expect(wrapper.text()).toContain('Bars 18–25');
});

it('what moved as a whole is no difference: the bars are those that also sound otherwise', async () => {
  await openJob('demo-turn-of-the-tide', 'lantern-rail');
  const { shown, peek } = useJob();
  const moved = (await peek([upAt(15, 8), rest] as never))!;
  const least = leastAlike(shown!.source, moved.piece, shown!.commonShiftMs + moved.shiftMs);
  expect(least).toEqual({ from: 17, to: 25 });
});
