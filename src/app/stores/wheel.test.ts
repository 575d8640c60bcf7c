import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { atRest, emptyBase, openJob } from '../../../testing/open-job';
import { StubPlayer } from '../../../testing/stub-player';
import { useJob } from './job';
import * as loudness from './loudness';
import { usePlaying } from './playing';
import { useSeating } from './seating';
import { useWheel } from './wheel';

const steps = () => useJob().plan!.now.steps;
beforeEach(async () => {
  setActivePinia(createPinia());
  StubPlayer.refusal = null;
  // The ninth program is ten decibels louder than all others.
  vi.spyOn(loudness, 'loudnessOf').mockImplementation(async (_part, tried) => {
    const { program } = (tried?.steps[0]?.params ?? {}) as { program?: number };
    return program === 8 ? -10 : -20;
  });
  await emptyBase();
});
async function open(id: string, target: string) {
  await openJob(id, target);
  return { wheel: useWheel(), playing: usePlaying(), seating: useSeating() };
}

describe('the try-out wheel', () => {
  it('begins with what is there, goes round both ways, and keeps nothing by itself', async () => {
    const { wheel, playing } = await open('demo-tide-table', 'tide-voices');
    playing.listen = 'source';
    wheel.toggle();
    wheel.kind = 'octave';
    await eventually(() => expect(wheel.now?.name).toBe('As it is'));
    // What is tried is heard as it would be delivered.
    expect([wheel.open, playing.listen]).toEqual([true, 'delivered']);
    wheel.turn(1);
    expect(wheel.now!.name).toBe('Up 1 octave');
    await eventually(() =>
      expect(playing.tried.steps).toMatchObject([{ step: 'transpose', params: { semitones: 12 } }]),
    );
    wheel.turn(-4);
    expect(wheel.now!.name).toBe('Up 2 octaves');
    expect(steps()).toEqual([]);
    wheel.toggle();
    expect([wheel.open, playing.tried.steps]).toEqual([false, []]);
    expect(steps()).toEqual([]);
  });

  it('what could not be measured before the job was left is not tried at the next', async () => {
    const { wheel, playing } = await open('demo-tide-table', 'tide-voices');
    let fail: (why: Error) => void = () => {};
    vi.mocked(loudness.loudnessOf).mockReturnValue(
      new Promise((_, failed) => {
        fail = failed;
      }),
    );
    await playing.play();
    wheel.toggle();
    wheel.kind = 'octave';
    await eventually(() => expect(wheel.now?.name).toBe('As it is'));
    wheel.turn(1);
    await eventually(() => expect(loudness.loudnessOf).toHaveBeenCalled());
    await openJob('demo-parlour-evening', 'parlour-keyboard');
    fail(new Error('It was given up.'));
    await new Promise((done) => setTimeout(done));
    expect(playing.tried.steps).toEqual([]);
  });

  it('what is kept is one step for that part', async () => {
    const { wheel, seating } = await open('demo-tide-table', 'tide-voices');
    const [first] = seating.all.filter((p) => !p.leftOut);
    seating.pick(first!.id, false);
    wheel.toggle();
    wheel.kind = 'octave';
    await eventually(() => expect(wheel.now?.name).toBe('As it is'));
    wheel.turn(1);
    wheel.keep();
    await atRest();
    expect(wheel.open).toBe(false);
    expect(steps()).toMatchObject([
      { step: 'transpose', params: { semitones: 12 }, scope: { parts: [first!.ref] } },
    ]);
    // As it is: nothing to keep.
    wheel.toggle();
    wheel.keep();
    await atRest();
    expect(steps()).toHaveLength(1);
  });

  it('seats, kits and row rates are offered where the target has several', async () => {
    const { wheel } = await open('demo-tide-table', 'tide-voices');
    expect(wheel.kinds.map((k) => k.id)).toEqual(['sound', 'octave', 'key', 'seat']);
    await openJob('demo-paper-march', 'strip-organ');
    expect(wheel.kinds.map((k) => k.id)).toContain('rows');
    await openJob('demo-quay-stomp', 'stomp-crate');
    expect(wheel.kinds.map((k) => k.id)).toContain('kit');
    expect(wheel.kinds.map((k) => k.id)).not.toContain('rows');
  });

  it('a rate of rows says what it costs, and stands in the place of the one before', async () => {
    const { wheel } = await open('demo-paper-march', 'strip-organ');
    wheel.toggle();
    wheel.kind = 'rows';
    await eventually(() => expect(wheel.candidates.length).toBeGreaterThan(2));
    expect(wheel.whole).toBe(true);
    expect(wheel.candidates.filter((c) => c.calls === null)).toHaveLength(1);
    const rated = (list: readonly { step: string; params: unknown }[]) =>
      list.filter((s) => s.step === 'metadata');
    wheel.turn(1);
    wheel.keep();
    await atRest();
    expect(rated(steps())).toHaveLength(1);
    wheel.toggle();
    await eventually(() => expect(wheel.now?.name).toMatch(/^As it is, \d+ rows a second$/));
    wheel.turn(-1);
    const other = /^(\d+) rows a second/.exec(wheel.now!.name)![1]!;
    wheel.keep();
    await atRest();
    // The one before is gone with all that went with it.
    expect(rated(steps()).map((s) => s.params)).toMatchObject([{ rowsPerSecond: other }]);
    expect(useJob().shown!.delivered.delivery.metadata!.rowsPerSecond).toBe(other);
  });

  it('candidates sound as loud as what is there, by what was measured', async () => {
    const { wheel, playing } = await open('demo-parlour-evening', 'parlour-keyboard');
    wheel.toggle();
    await playing.play();
    const louder = wheel.candidates.findIndex(
      (c) => (c.calls?.[0]?.params as { program?: number } | undefined)?.program === 8,
    );
    expect(louder).toBeGreaterThanOrEqual(0);
    wheel.turn(louder - wheel.at);
    await eventually(() => expect(playing.tried.db).toBe(-10));
    expect(playing.tried.part).toEqual(wheel.part!.ref);
    wheel.matched = false;
    await eventually(() => expect(playing.tried.db).toBe(0));
  });

  it('by itself it goes one further each time the loop comes round', async () => {
    const { wheel, playing } = await open('demo-tide-table', 'tide-voices');
    wheel.goThrough('octave');
    await eventually(() => expect(playing.playing).toBe(true));
    expect(playing.loop).not.toBeNull();
    const at = wheel.at;
    for (const ms of [500, 900, 1300]) playing.ms = ms;
    await Promise.resolve();
    expect(wheel.at).toBe(at);
    playing.ms = 10;
    await eventually(() => expect(wheel.at).toBe(at + 1));
    wheel.stop();
    expect([wheel.byItself, wheel.open]).toEqual([false, false]);
  });

  it('without a part there is nothing to try', async () => {
    const { wheel, seating } = await open('demo-harbour-office', 'tempo-carrier');
    expect(seating.all.every((p) => p.leftOut)).toBe(true);
    wheel.toggle();
    expect([wheel.open, wheel.candidates]).toEqual([false, []]);
  });

  it('presets of a pedal: for the section it is in, heard at once, kept as the table of presets', async () => {
    const { wheel, playing } = await open('demo-salt-in-the-wires', 'brine-box');
    // What hears no notes has no pitches and sounds to try.
    expect(wheel.kinds.map((k) => k.id)).toEqual(['preset']);
    const job = useJob();
    const { delivered } = job.shown!;
    const refrain = delivered.markers.find((m) => m.text === 'Refrain')!;
    playing.seek(delivered.clock.msAt(refrain.tick) + 1000);
    wheel.toggle();
    expect(wheel.candidates).toHaveLength(job.target!.presets!.list.length);
    const now = wheel.now!;
    expect([now.calls, now.name.slice(0, 2)]).toEqual([null, 'B2']);
    expect(now.says).toContain('at Refrain');
    const heard = () => StubPlayer.last.effects as { drive: boolean; tremolo: boolean };
    await eventually(() => expect(heard().tremolo).toBe(true));
    const rust = wheel.candidates.findIndex((c) => c.name === 'A5 Rust');
    wheel.turn(rust - wheel.at);
    await eventually(() => expect(heard()).toMatchObject({ drive: true, tremolo: false }));
    // Elsewhere it is as it was.
    playing.seek(delivered.clock.msAt(delivered.endTick) - 1000);
    playing.seek(100);
    await eventually(() => expect(heard().drive).toBe(false));
    expect(steps()).toEqual([]);
    wheel.keep();
    await atRest();
    expect(steps().map((s) => s.step)).toEqual(['presets-from-markers']);
    const { table } = steps()[0]!.params as { table: { marker: string; program: number }[] };
    expect(table.find((row) => row.marker === 'Refrain')).toMatchObject({ bank: 0, program: 4 });
    expect(table.length).toBeGreaterThan(3);
  });
});
