import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { week } from '../../../demo/week';
import { sourceFromBytes } from '../../../testing/score-builder';
import { toSchedule } from '../wire/to-view';
import { Chase } from './chase';
import { AHEAD_MS, PortSender } from './port-sender';
import type { Sounder } from './transport';

const schedule = (source: ReturnType<typeof song>) =>
  toSchedule(renditionOf(source, targetWith({ seats: [] })).pieces[0]!, { leftOutToo: false });

/** A port that notes what it is sent; it can forget what is not due yet, or not. */
function port({ clears = true } = {}) {
  let log: { bytes: number[]; atMs: number }[] = [];
  let now = 0;
  const out = {
    send: (bytes: readonly number[], atMs: number) => void log.push({ bytes: [...bytes], atMs }),
    ...(clears ? { clear: () => void (log = log.filter((m) => m.atMs <= now)) } : {}),
  };
  const sender = new PortSender(out);
  return {
    sender,
    get log() {
      return log;
    },
    notes: () => log.filter((m) => (m.bytes[0]! & 0xf0) === 0x90),
    /** Wakes it as a page does, now and then late. */
    run(forMs: number, every: () => number = () => 25) {
      const until = now + forMs;
      while (now < until) {
        sender.tick(now);
        now = Math.min(until, now + every());
      }
      sender.tick(now);
    },
    get now() {
      return now;
    },
  };
}
/** What still sounds behind all that was sent, in order of time. */
function hanging(log: readonly { bytes: number[]; atMs: number }[]): number {
  const on = new Set<number>();
  for (const { bytes } of [...log].sort((a, b) => a.atMs - b.atMs)) {
    const [status, key] = bytes as [number, number];
    if ((status & 0xf0) === 0x90) on.add(((status & 15) << 7) | key);
    if ((status & 0xf0) === 0x80) on.delete(((status & 15) << 7) | key);
    if ((status & 0xf0) === 0xb0 && key === 123)
      for (const n of on) if (n >> 7 === (status & 15)) on.delete(n);
  }
  return on.size;
}

/** Notes one behind the other. */
function run(channel: number, step: number, keys: readonly number[], track = new Track('A')) {
  keys.forEach((key, i) => track.note(channel, i * step, step, key, 90));
  return track;
}
const beats = song([
  conductor(120),
  run(3, 120, [60, 62, 64, 65, 67, 69], new Track('A').program(0, 3, 14).control(0, 3, 7, 90)),
]);

describe('a MIDI port', () => {
  it('gets each note at its own time, however late the page is woken', () => {
    const p = port();
    p.sender.load(schedule(beats), 0, 0);
    p.sender.play(0, 0);
    let n = 0;
    p.run(2000, () => 5 + ((n++ * 37) % 90));
    const at = p.notes().map((m) => m.atMs);
    const wanted = schedule(beats);
    const due = [...wanted.ms].filter((_, i) => (wanted.status[i]! & 0xf0) === 0x90);
    expect(at.length).toBe(due.length);
    at.forEach((ms, i) => expect(Math.abs(ms - due[i]!)).toBeLessThan(0.001));
  });
  it('sends ahead, and no further than it has to', () => {
    const p = port();
    p.sender.load(schedule(beats), 0, 0);
    p.sender.play(0, 0);
    p.sender.tick(0);
    expect(p.notes().every((m) => m.atMs <= AHEAD_MS)).toBe(true);
    expect(p.notes().length).toBeGreaterThan(0);
  });
  it('at half speed and with a delay of its own', () => {
    const p = port();
    p.sender.delayMs = 35;
    p.sender.load(schedule(beats), 0, 0);
    p.sender.speed(0.5);
    p.sender.play(0, 0);
    p.run(3000);
    const wanted = schedule(beats);
    const due = [...wanted.ms].filter((_, i) => (wanted.status[i]! & 0xf0) === 0x90);
    p.notes().forEach((m, i) => expect(m.atMs).toBeCloseTo(due[i]! * 2 + 35, 3));
  });
  it('sets channels and programs before it plays from the middle', () => {
    const p = port();
    p.sender.load(schedule(beats), 0, 0);
    p.sender.play(600, 0);
    p.run(200);
    const before = p.log.filter((m) => m.atMs <= p.notes()[0]!.atMs).map((m) => m.bytes);
    expect(before).toContainEqual([0xc2, 14]);
    expect(before).toContainEqual([0xb2, 7, 90]);
    expect(p.notes()[0]!.bytes[1]).not.toBe(60);
  });
  it.each([true, false])('leaves nothing sounding when it stops (clears: %s)', (clears) => {
    for (const job of week.slice(0, 6)) {
      const s = schedule(sourceFromBytes(job.bytes()));
      const p = port({ clears });
      p.sender.load(s, 0, 0);
      p.sender.play(0, 0);
      p.run(3333);
      p.sender.stop(p.now);
      expect(hanging(p.log), job.file).toBe(0);
      p.sender.play(1000, p.now);
      p.run(400);
      p.sender.play(0, p.now);
      p.run(100);
      p.sender.panic(p.now);
      expect(hanging(p.log), job.file).toBe(0);
    }
  });
  it('a loop comes round to the millisecond, and nothing hangs over it', () => {
    const p = port();
    const long = song([conductor(120), new Track('A').note(1, 0, 1920, 60, 90)]);
    p.sender.load(schedule(long), 0, 0);
    p.sender.setLoops([{ from: 0, to: 500 }]);
    p.sender.play(0, 0);
    p.run(2100);
    expect(p.notes().map((m) => Math.round(m.atMs))).toEqual([0, 500, 1000, 1500, 2000]);
    const offs = p.log.filter((m) => m.bytes[0] === 0x80).map((m) => Math.round(m.atMs));
    expect(offs).toEqual([500, 1000, 1500, 2000]);
  });
  it('is led back to the screen: little by little when near, at once when far', () => {
    const p = port();
    const many = song([conductor(120), run(1, 60, Array(64).fill(60))]);
    p.sender.load(schedule(many), 0, 0);
    p.sender.play(0, 0);
    // The sound's clock runs 20 ms ahead of the page's.
    for (let i = 0; i < 40; i++) {
      p.sender.sync(p.now + 20, p.now);
      p.run(50);
    }
    const gaps = p.notes().map((m, i, all) => (i === 0 ? 0 : m.atMs - all[i - 1]!.atMs));
    expect(Math.min(...gaps.slice(1))).toBeGreaterThan(62.5 - 4);
    const there = p.notes().at(-1)!;
    expect((there.atMs + 20) % 62.5 < 5 || (there.atMs + 20) % 62.5 > 57.5).toBe(true);
    const count = p.notes().length;
    p.sender.sync(p.now - 900, p.now);
    p.run(100);
    expect(p.notes().length).toBeGreaterThan(count);
    expect(p.log.some((m) => m.bytes[1] === 121 && m.atMs > 1000)).toBe(true);
  });
  it('sends exclusives only where that is allowed, each once and in its place', () => {
    const with_ = song([
      conductor(120).sysex(480, [0x7d, 1, 2, 0xf7]),
      new Track('A').note(1, 0, 960, 60, 90),
    ]);
    for (const allowed of [false, true]) {
      const p = port();
      p.sender.exclusives = allowed;
      p.sender.load(schedule(with_), 0, 0);
      p.sender.play(0, 0);
      p.run(900);
      const sent = p.log.filter((m) => m.bytes[0] === 0xf0);
      expect(sent.map((m) => m.bytes)).toEqual(allowed ? [[0xf0, 0x7d, 1, 2, 0xf7]] : []);
      if (allowed) expect(sent[0]!.atMs).toBeCloseTo(500, 3);
    }
  });
});

describe('what is in force at a place', () => {
  it('is told once: banks first, then programs, parameters with what selects them', () => {
    const chase = new Chase();
    chase.program(0, 5);
    chase.control(0, 7, 10);
    chase.control(0, 7, 90);
    chase.control(0, 0, 2);
    for (const [c, v] of [
      [101, 0],
      [100, 0],
      [6, 12],
      [101, 0],
      [100, 1],
      [6, 64],
      [38, 3],
    ])
      // prettier-ignore
      chase.control(0, c!, v!);
    chase.bend(0, 9000);
    chase.noteOn();
    const log: string[] = [];
    const say =
      (what: string) =>
      (...given: number[]) =>
        void log.push(`${what} ${given.join(' ')}`);
    chase.tell({
      control: say('cc'),
      program: say('program'),
      bend: say('bend'),
      noteOn: say('on'),
    } as unknown as Sounder);
    expect(log).toEqual([
      'cc 0 0 2',
      'program 0 5',
      'cc 0 7 90',
      ...['cc 0 101 0', 'cc 0 100 0', 'cc 0 6 12'],
      ...['cc 0 101 0', 'cc 0 100 1', 'cc 0 6 64', 'cc 0 38 3'],
      ...['cc 0 101 0', 'cc 0 100 1'],
      'bend 0 9000',
    ]);
  });
});
