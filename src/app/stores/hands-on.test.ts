import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { atRest, emptyBase, openJob, openSong } from '../../../testing/open-job';
import { conductor, smf, Track } from '../../../testing/score-builder';
import { StubPlayer } from '../../../testing/stub-player';
import { db } from '../storage/db';
import { useHandsOn } from './hands-on';
import { useJob } from './job';
import { usePlaying } from './playing';
import { usePort } from './port';
import { useRehearsal } from './rehearsal';

let fromPort: Parameters<ReturnType<typeof usePort>['onInput']>[0];

const step = (id: string, params: unknown) => ({
  key: id,
  step: id,
  params,
  scope: {},
  on: true,
});
/** Songs that their devices take as they are. */
const songs = {
  'marsh-duel': {
    bytes: () => {
      const ebb = new Track('Ebb');
      for (let i = 0; i < 8; i++) ebb.note(5, 1920 + i * 480, 120, [41, 44, 46, 49][i % 4]!, 90);
      return smf(1, 480, [conductor(120), ebb], 4 * 1920);
    },
    steps: [step('metadata', { title: 'Ebb', maker: 'Ada Fenn', bpm: '120' })],
  },
  'stomp-crate': {
    bytes: () => {
      const drums = conductor(120);
      for (let i = 0; i < 16; i++) drums.note(10, i * 480, 120, 36, 90);
      return smf(0, 480, [drums], 4 * 1920);
    },
    steps: [
      step('carve', {
        places: [
          { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 2 },
          { place: 'k1', fileName: 'k1.mid', fromBar: 3, bars: 1 },
        ],
      }),
      step('metadata', { displayName: 'Quay stomp', kit: 'quay' }),
    ],
  },
  'tide-voices': {
    bytes: () => smf(1, 480, [conductor(120), new Track('V').note(1, 0, 1920, 60, 90)], 1920),
    steps: [],
  },
  'lantern-rail': {
    bytes: () => smf(1, 480, [conductor(120), new Track('L').note(16, 5760, 480, 30, 90)]),
    steps: [],
  },
} as const;
const key = (code: string, more: KeyboardEventInit = {}, kind = 'keydown') => {
  const event = new KeyboardEvent(kind, { code, bubbles: true, cancelable: true, ...more });
  window.dispatchEvent(event);
  return event;
};

beforeEach(async () => {
  setActivePinia(createPinia());
  StubPlayer.refusal = null;
  vi.spyOn(usePort(), 'onInput').mockImplementation((hear) => {
    fromPort = hear;
    return () => (fromPort = () => {});
  });
  await emptyBase();
});
afterEach(() => useHandsOn().leave());

async function open(targetId: keyof typeof songs) {
  const { bytes, steps } = songs[targetId];
  await openSong({
    id: targetId,
    title: targetId,
    file: 'song.mid',
    bytes: bytes(),
    targetId,
    steps,
  });
  const rehearsal = useRehearsal();
  const hands = useHandsOn();
  rehearsal.open = true;
  await eventually(() => expect(rehearsal.reply).not.toBeNull());
  expect(rehearsal.reply!.played.refused).toEqual([]);
  return { job: useJob(), rehearsal, hands, playing: usePlaying() };
}

describe('a device in hand', () => {
  it('takes the keys, and gives them back with Escape', async () => {
    const { hands } = await open('marsh-duel');
    expect(hands.possible).toBe(true);
    const [doing] = (await (hands.take(), Promise.resolve(hands.hands!))).doings;
    const [code] = hands.codesOf(doing!);
    expect(key(code!).defaultPrevented).toBe(true);
    expect([...hands.held]).toEqual([doing!.id]);
    key(code!, {}, 'keyup');
    expect([...hands.held]).toEqual([]);
    // What is no key of it goes on through the page, as Tab and shortcuts do.
    for (const other of [
      key('F9'),
      key('Tab'),
      key(code!, { ctrlKey: true }),
      key(code!, { metaKey: true }),
    ])
      expect(other.defaultPrevented).toBe(false);
    expect(key('Escape').defaultPrevented).toBe(true);
    expect(hands.on).toBe(false);
    expect(key(code!).defaultPrevented).toBe(false);
    expect(hands.seen).toBeNull();
  });

  it('a key that is held down strikes once', async () => {
    const { hands } = await open('marsh-duel');
    await hands.take();
    const [doing] = hands.hands!.doings;
    const [code] = hands.codesOf(doing!);
    key(code!);
    const first = hands.last;
    key(code!, { repeat: true });
    key(code!, { repeat: true });
    expect(hands.last).toBe(first);
  });

  it('a stroke at its time is told in milliseconds, one beside it is counted so', async () => {
    const { hands, rehearsal, playing } = await open('marsh-duel');
    await hands.take();
    const strike = rehearsal.reply!.played.events.find((e) => e.seat === 'ebb')!;
    playing.seek(strike.atUs / 1000);
    const lane = hands.hands!.doings.find((d) => d.id.endsWith(String(strike.key)))!;
    hands.press(lane.id);
    expect(Math.abs(hands.last!.errorUs!)).toBeLessThan(2000);
    expect(hands.tally.struck).toBe(1);
    hands.release(lane.id);
    hands.restart();
    expect([hands.tally.struck, hands.last]).toEqual([0, null]);
  });

  it('pads and keys of a MIDI input do what keys do', async () => {
    const { hands } = await open('marsh-duel');
    await hands.take();
    const doing = hands.hands!.doings.find((d) => d.codes.some((c) => c.startsWith('Note')))!;
    const note = Number(doing.codes.find((c) => c.startsWith('Note'))!.slice(4));
    const at = performance.now();
    fromPort({ bytes: [0x93, note, 100], atMs: at });
    expect([...hands.held]).toEqual([doing.id]);
    // A strike of velocity 0 lets go.
    fromPort({ bytes: [0x93, note, 0], atMs: at });
    expect([...hands.held]).toEqual([]);
    fromPort({ bytes: [0x93, note, 100], atMs: at });
    fromPort({ bytes: [0x83, note, 64], atMs: at });
    expect([...hands.held]).toEqual([]);
    fromPort({ bytes: [0xb3, 1, 100], atMs: at });
    hands.leave();
    fromPort({ bytes: [0x93, note, 100], atMs: at });
    expect([...hands.held]).toEqual([]);
  });

  it('a key that is chosen is kept, who had it takes the other, and all can be as shipped', async () => {
    const { hands } = await open('marsh-duel');
    await hands.take();
    const [one, two] = hands.hands!.doings;
    const [first, second] = [hands.codesOf(one!)[0]!, hands.codesOf(two!)[0]!];
    hands.assigning = one!.id;
    key(second);
    expect(hands.assigning).toBeNull();
    expect([hands.codesOf(one!)[0], hands.codesOf(two!)[0]]).toEqual([second, first]);
    // Pads and MIDI keys stay.
    expect(hands.codesOf(one!).slice(1)).toEqual(one!.codes.slice(1));
    await eventually(async () =>
      expect(JSON.stringify(await db.settings.get('hands'))).toContain(second),
    );
    hands.assigning = two!.id;
    key('Escape');
    expect([hands.assigning, hands.on]).toEqual([null, true]);
    hands.asShipped();
    expect(hands.codesOf(one!)).toEqual(one!.codes);
  });

  it('another plan is another device: what is in hand is taken anew', async () => {
    const { hands, job } = await open('marsh-duel');
    await hands.take();
    const before = hands.hands;
    job.addSteps('up', [{ step: 'rest-at-start', params: { bars: 2 }, scope: {}, on: true }]);
    await atRest();
    await eventually(() => expect(hands.hands).not.toBe(before));
    expect(hands.on).toBe(true);
  });

  it('the stage left, it is out of hand', async () => {
    const { hands, rehearsal } = await open('marsh-duel');
    await hands.take();
    rehearsal.open = false;
    await eventually(() => expect(hands.on).toBe(false));
  });
});

describe('a device with a clock of its own', () => {
  it('the crate begins with its foot, not with the pulse, and ends what sounds', async () => {
    const { hands, playing } = await open('stomp-crate');
    await playing.play();
    await hands.take();
    expect([playing.playing, StubPlayer.last.held]).toEqual([false, true]);
    hands.press('left');
    expect(hands.says).toBe('Plays b1.');
    hands.restart();
    await eventually(() => expect(hands.on).toBe(true));
    hands.leave();
    expect(StubPlayer.last.held).toBe(false);
  });

  it('without a sound device it is said, and it stays out of hand', async () => {
    const { hands, playing } = await open('tide-voices');
    StubPlayer.refusal = 'no device';
    await hands.take();
    expect(hands.on).toBe(false);
    expect(playing.problem).toBe('The sound cannot start: no device');
    StubPlayer.refusal = null;
    await hands.take();
    expect(hands.on).toBe(true);
    StubPlayer.last.seconds = 0.5;
    key('Space');
    expect(hands.says).not.toBe('');
  });

  it('who can only be watched cannot be taken', async () => {
    const { hands } = await open('lantern-rail');
    expect(hands.possible).toBe(false);
    await hands.take();
    expect(hands.on).toBe(false);
  });
});

describe('an effects pedal under the foot', () => {
  async function pedal() {
    await openJob('demo-salt-in-the-wires', 'brine-box');
    const [rehearsal, hands, job] = [useRehearsal(), useHandsOn(), useJob()];
    rehearsal.open = true;
    await eventually(() => expect(rehearsal.reply).not.toBeNull());
    // What is not loaded cannot be stamped.
    expect(hands.possible).toBe(false);
    const stops = job.shown!.findings!.filter((f) => f.severity === 'stop');
    job.addSteps(
      'mended',
      stops.flatMap((f) => f.mends[0]?.steps ?? []),
    );
    await atRest();
    await eventually(() => expect(hands.possible).toBe(true));
    await hands.take();
    const curve = (number: number) => {
      const all = job.shown!.delivered.parts.flatMap((p) => p.turns?.curves ?? []);
      return all.find((c) => c.number === number)!;
    };
    return { rehearsal, hands, job, curve, playing: usePlaying() };
  }

  it('what is stamped and turned waits, outlives Escape, and goes into the plan', async () => {
    const { hands, job, curve, playing } = await pedal();
    playing.seek(7000);
    const tick = Math.round(job.shown!.delivered.clock.tickAt(7000));
    const [before, steps] = [[...curve(82).tick], job.plan!.now.steps.length];
    expect(before).not.toContain(tick);
    expect(key('KeyJ').defaultPrevented).toBe(true);
    key('KeyJ', {}, 'keyup');
    const at = performance.now();
    // Any controller of the input turns the dial; bank and mode do not.
    fromPort({ bytes: [0xb2, 1, 100], atMs: at });
    fromPort({ bytes: [0xb2, 0, 3], atMs: at });
    fromPort({ bytes: [0xb2, 123, 0], atMs: at });
    expect(hands.recorded).toEqual({ stamps: 1, turns: 1 });
    expect(Math.round(hands.dialAt() * 127)).toBe(100);
    key('Escape');
    expect([hands.on, hands.recorded.stamps, playing.byFoot]).toEqual([false, 1, null]);
    hands.keepRecorded();
    await atRest();
    expect(hands.recorded).toEqual({ stamps: 0, turns: 0 });
    expect(job.plan!.now.steps.slice(steps).map((s) => s.step)).toEqual([
      'draw-curve',
      'draw-curve',
    ]);
    expect([...curve(82).tick]).toContain(tick);
    const i = curve(11).tick.indexOf(tick);
    expect(curve(11).value[i]).toBe(100);
    job.undo();
    job.undo();
    await atRest();
    expect([...curve(82).tick]).toEqual(before);
  });

  it('is heard in the place of what is there, a switch by its controller too, and can be let go', async () => {
    const { hands, playing } = await pedal();
    playing.seek(7000);
    const foot = () => playing.byFoot!(7_000_000);
    const before = foot().on;
    fromPort({ bytes: [0xb8, 80, 127], atMs: performance.now() });
    fromPort({ bytes: [0xb8, 80, 0], atMs: performance.now() });
    expect(foot().on).toEqual([!before[0], ...before.slice(1)]);
    hands.dropRecorded();
    expect(foot().on).toEqual(before);
    expect(hands.recorded).toEqual({ stamps: 0, turns: 0 });
  });

  it('another plan leaves what waits as it is', async () => {
    const { hands, job, playing } = await pedal();
    playing.seek(7000);
    hands.press('80');
    hands.release('80');
    const inHand = hands.hands;
    job.addSteps('up', [{ step: 'metadata', params: { title: 'Salt' }, scope: {}, on: true }]);
    await atRest();
    await eventually(() => expect(hands.hands).not.toBe(inHand));
    expect(hands.recorded.stamps).toBe(1);
  });
});
