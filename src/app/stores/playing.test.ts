import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it } from 'vitest';
import { atRest, emptyBase, openJob } from '../../../testing/open-job';
import { StubPlayer } from '../../../testing/stub-player';
import { useJob } from './job';
import { useLooking } from './looking';
import { usePlaying } from './playing';
import { useSettings } from './settings';

const player = () => StubPlayer.last;
beforeEach(async () => {
  setActivePinia(createPinia());
  StubPlayer.refusal = null;
  await emptyBase();
});
/** Turn of the tide: 3/4 at 96 BPM, a bar is 1.875 s; three bars of rest are owed. */
async function open() {
  await openJob('demo-turn-of-the-tide', 'lantern-rail');
  return { job: useJob(), playing: usePlaying(), looking: useLooking() };
}
const rest = { step: 'rest-at-start', params: { bars: 3 }, scope: {}, on: true } as const;

describe('the pulse', () => {
  it('plays, stops where it is, and goes on from there', async () => {
    const { playing } = await open();
    await playing.play();
    expect([playing.playing, player().playing, player().at]).toEqual([true, true, 0]);
    player().at = 4321;
    playing.stop();
    expect([playing.playing, playing.ms]).toEqual([false, 4321]);
    await playing.play();
    expect(player().at).toBe(4321);
  });

  it('pressed twice while it starts it plays once', async () => {
    const { playing } = await open();
    await Promise.all([playing.play(), playing.play()]);
    expect(player().schedules).toHaveLength(1);
  });

  it('at the end it stands at the beginning again; from behind the end it begins there', async () => {
    const { playing } = await open();
    await playing.play();
    player().events.onEnd();
    expect([playing.playing, playing.ms]).toEqual([false, 0]);
    playing.seek(10_000_000);
    await playing.play();
    expect(player().at).toBe(0);
  });

  it('the schedule is made once for a plan, and anew for another while it plays', async () => {
    const { playing, job } = await open();
    await playing.play();
    playing.stop();
    await playing.play();
    expect(player().schedules).toHaveLength(1);
    job.addSteps('rest', [rest]);
    await atRest();
    await eventually(() => expect(player().schedules).toHaveLength(2));
  });

  it('what is not heard: muted parts, and all others where one is heard alone', async () => {
    const { playing } = await open();
    const ids = playing.piece!.parts.map((p) => p.id);
    await playing.play();
    playing.toggleMute(ids[1]!);
    expect(player().mutes).toEqual(ids.map((_, i) => (i === 1 ? 1 : 0)));
    playing.toggleAlone(ids[0]!);
    playing.toggleAlone(ids[1]!);
    // Muted stays muted, also where it is one of those.
    expect(player().mutes).toEqual(ids.map((_, i) => (i === 0 ? 0 : 1)));
    playing.toggleMute(ids[1]!);
    playing.toggleAlone(ids[0]!);
    expect(player().mutes).toEqual(ids.map((_, i) => (i === 1 ? 0 : 1)));
  });

  it('speed and volume go to the player, also while it plays', async () => {
    const { playing } = await open();
    playing.speed = 50;
    useSettings().volume = 30;
    await playing.play();
    expect([player().speed, player().volume]).toEqual([0.5, 0.3]);
    playing.speed = 150;
    await eventually(() => expect(player().speed).toBe(1.5));
  });

  it('a device that cannot start is told, and nothing hangs', async () => {
    const { playing } = await open();
    StubPlayer.refusal = 'no device';
    await playing.play();
    expect(playing.problem).toBe('The sound cannot start: no device');
    expect([playing.playing, playing.starting]).toEqual([false, false]);
    StubPlayer.refusal = null;
    await playing.play();
    expect([playing.problem, playing.playing]).toEqual([null, true]);
  });

  it('left while it is made ready it does not begin to sound', async () => {
    const { playing } = await open();
    const starting = playing.play();
    useJob().close();
    await starting;
    expect([playing.playing, player().playing]).toEqual([false, false]);
  });
});

describe('source and delivery', () => {
  it('are the same moment of the music, the loop with it', async () => {
    const { playing, job } = await open();
    job.addSteps('rest', [rest]);
    await atRest();
    expect(job.shown!.commonShiftMs).toBe(5625);
    playing.seek(7500);
    playing.setLoop({ fromMs: 7500, toMs: 9375 });
    playing.listen = 'source';
    await eventually(() => expect(playing.ms).toBe(1875));
    expect(playing.loop).toEqual({ fromMs: 1875, toMs: 3750 });
    playing.listen = 'delivered';
    await eventually(() => expect(playing.ms).toBe(7500));
    expect(player().loop).toEqual([{ from: 7500, to: 9375 }]);
  });

  it('the playhead stands on the sheet where the music is, whichever of both is shown', async () => {
    const { playing, job, looking } = await open();
    job.addSteps('rest', [rest]);
    await atRest();
    const bar = 3 * 480;
    playing.seek(7500);
    expect(playing.shownTick).toBe(4 * bar);
    looking.before = true;
    // The source has it three bars before.
    expect(playing.shownTick).toBe(bar);
    playing.seekShown(2 * bar);
    expect(playing.ms).toBe(5625 + 3750);
    playing.listen = 'source';
    await eventually(() => expect(playing.ms).toBe(3750));
    expect(playing.shownTick).toBe(2 * bar);
    looking.before = false;
    expect(playing.shownTick).toBe(5 * bar);
  });

  it('a mend that is looked at moves nothing that sounds', async () => {
    const { playing, job, looking } = await open();
    const owed = job.findings.find((f) => f.code === 'rest-owed')!;
    playing.seek(1875);
    await looking.tryOut(owed.mends[0]!);
    expect(looking.trial!.shiftMs).toBe(5625);
    expect(playing.ms).toBe(1875);
    expect(playing.shownTick).toBe(4 * 1440);
  });
});

describe('what goes round', () => {
  it('the bars of the chosen notes, else of the finding, else four from here on', async () => {
    const { playing, job, looking } = await open();
    playing.seek(2000);
    playing.loopHere();
    expect(playing.loop).toEqual({ fromMs: 1875, toMs: 1875 * 5 });
    playing.loopHere();
    expect([playing.loop, player().loop]).toEqual([null, []]);
    const found = job.findings.find((f) => (f.spans[0]?.fromTick ?? 0) > 0)!;
    looking.lookAt(found.key);
    playing.loopHere();
    const bar = job.shown!.delivered.bars.barAt(found.spans[0]!.fromTick);
    expect(playing.loop!.fromMs).toBeCloseTo(bar * 1875, 6);
    expect(playing.ms).toBeCloseTo(bar * 1875, 6);
    playing.loopHere();
    const { columns } = job.shown!.delivered.parts.find((p) => p.columns.count > 9)!;
    looking.chosen = new Set([columns.id[4]!, columns.id[9]!]);
    playing.loopHere();
    const bars = [4, 9].map((i) => job.shown!.delivered.bars.barAt(columns.start[i]!));
    expect(playing.loop!.fromMs).toBeCloseTo(bars[0]! * 1875, 6);
    expect(playing.loop!.toMs).toBeGreaterThanOrEqual((bars[1]! + 1) * 1875 - 1e-6);
  });

  it('a seam is two stretches', async () => {
    const { playing } = await open();
    playing.setLoop({ fromMs: 8000, toMs: 10_000, then: { fromMs: 0, toMs: 2000 } });
    expect(player().loop).toEqual([
      { from: 8000, to: 10_000 },
      { from: 0, to: 2000 },
    ]);
  });

  it('one bar of one part, and then all are heard as before', async () => {
    const { playing } = await open();
    const [first, second] = playing.piece!.parts;
    playing.toggleAlone(second!.id);
    await playing.hearBar({ part: first!.id, at: 1440 });
    expect(player().at).toBe(1875);
    expect(player().mutes[0]).toBe(0);
    expect([...playing.alone]).toEqual([first!.id]);
    player().at = 3750;
    await eventually(() => expect(playing.playing).toBe(false));
    expect(playing.ms).toBe(3750);
    expect([...playing.alone]).toEqual([second!.id]);
  });
});
