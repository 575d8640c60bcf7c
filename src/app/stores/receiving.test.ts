import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { emptyBase, openSong } from '../../../testing/open-job';
import { conductor, smf, Track } from '../../../testing/score-builder';
import { Microphone } from '../audio/microphone';
import { useReceiving } from './receiving';

const mic = {
  refuses: null as string | null,
  samples: new Float32Array(0) as Float32Array,
  closed: 0,
  heard: () => {},
};
const microphone = {
  rate: 44_100,
  level: 0.5,
  get samples() {
    return mic.samples;
  },
  get seconds() {
    return mic.samples.length / 44_100;
  },
  close: () => void mic.closed++,
} as Microphone;

beforeEach(async () => {
  setActivePinia(createPinia());
  Object.assign(mic, { refuses: null, samples: new Float32Array(0), closed: 0 });
  vi.spyOn(Microphone, 'open').mockImplementation(async (heard) => {
    if (mic.refuses) throw new Error(mic.refuses);
    mic.heard = heard;
    return microphone;
  });
  await emptyBase();
});
async function open(targetId: string) {
  await openSong({
    id: 'link',
    title: 'Tide',
    file: 'tide.mid',
    bytes: smf(1, 480, [conductor(), new Track('V').note(1, 0, 1920, 60, 90)], 1920),
    targetId,
  });
  return useReceiving();
}

describe('the far end of the sound link', () => {
  it('at once: everything comes through, frame by frame', async () => {
    const receiving = await open('tide-voices');
    await receiving.hear(true);
    expect(receiving.problem).toBeNull();
    expect(receiving.heard!.problem).toBeNull();
    expect(receiving.says).toMatch(/^Done: 1 pattern, 2 files, at 100\.0 % of its speed\.$/);
    expect(receiving.over).toBe(true);
    expect(receiving.frames).toEqual({ good: receiving.total, bad: 0 });
    expect(receiving.seconds).toBe(receiving.lengthSeconds);
    expect(receiving.lengthSeconds!).toBeGreaterThan(2.5);
  });

  it('while it runs only what was heard so far counts', async () => {
    const receiving = await open('tide-voices');
    await receiving.hear(true);
    const { frames, lengthSeconds } = receiving;
    receiving.seconds = lengthSeconds! / 2;
    expect(receiving.frames.good).toBeLessThan(frames.good);
    expect([receiving.over, receiving.says]).toEqual([false, 'Receives.']);
    receiving.seconds = 0;
    expect(receiving.frames).toEqual({ good: 0, bad: 0 });
  });

  it('a target without a link says so, and rests', async () => {
    const receiving = await open('bell-loft');
    await receiving.hear(true);
    expect([receiving.problem, receiving.from]).toEqual(['No sound link is delivered.', 'rest']);
  });

  it('a microphone that is refused says why, and rests', async () => {
    const receiving = await open('tide-voices');
    mic.refuses = 'Permission denied';
    await receiving.listen();
    expect(receiving.problem).toBe('The microphone cannot be used: Permission denied');
    expect(receiving.from).toBe('rest');
  });

  it('a microphone listens until all has come through, and is closed then', async () => {
    const receiving = await open('tide-voices');
    vi.useFakeTimers({ toFake: ['setTimeout'] });
    try {
      await receiving.hear(true);
      const { frames } = receiving;
      // What was sent is what the microphone hears, a part of it first.
      const sent = await sentSamples();
      mic.samples = sent.subarray(0, Math.floor(sent.length * 0.6));
      const listening = receiving.listen();
      await vi.advanceTimersByTimeAsync(0);
      expect([receiving.from, receiving.says]).toEqual(['microphone', 'Listens for the leader.']);
      mic.heard();
      expect(receiving.level).toBe(0.5);
      await vi.advanceTimersByTimeAsync(1500);
      await eventually(() => expect(receiving.heard).not.toBeNull());
      expect(receiving.over).toBe(false);
      mic.samples = sent;
      mic.heard();
      await vi.advanceTimersByTimeAsync(1500);
      await listening;
      expect(receiving.says).toMatch(/^Done: 1 pattern/);
      expect([receiving.frames.good, mic.closed]).toEqual([frames.good, 1]);
    } finally {
      vi.useRealTimers();
    }
  });

  it('left, it closes the microphone and asks no more', async () => {
    const receiving = await open('tide-voices');
    void receiving.listen();
    await eventually(() => expect(receiving.from).toBe('microphone'));
    await Promise.resolve();
    receiving.rest();
    await eventually(() => expect(mic.closed).toBe(1));
    expect([receiving.from, receiving.level]).toEqual(['rest', 0]);
  });
});

/** The sound of the open job as its writer makes it. */
async function sentSamples(): Promise<Float32Array> {
  const { engine } = await import('./engine');
  const { useJob } = await import('./job');
  const request = { ...useJob().request()!, known: [], samples: null, rate: 44_100, memory: [] };
  const reply = (await engine().ask('receive', request).result)!;
  return reply.sound!.samples as Float32Array;
}
