import { describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import {
  conductor,
  renditionOf,
  song,
  sourceFromBytes,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { toSchedule } from '../../core/wire/to-view';
import { Transport, type Sounder } from '../../core/sound/transport';

class Recorder implements Sounder {
  log: string[] = [];
  noteOn = (c: number, k: number) => this.log.push(`on ${c} ${k}`);
  noteOff = (c: number, k: number) => this.log.push(`off ${c} ${k}`);
  control = (c: number, n: number, v: number) => this.log.push(`cc ${c} ${n} ${v}`);
  program = (c: number, p: number) => this.log.push(`program ${c} ${p}`);
  bend = (c: number, v: number) => this.log.push(`bend ${c} ${v}`);
  pressure = () => this.log.push('pressure');
  keyPressure = () => this.log.push('key pressure');
  reset = () => this.log.push('reset');
  silence = () => this.log.push('silence');
  take() {
    const out = this.log;
    this.log = [];
    return out;
  }
}

const piece = (source: ReturnType<typeof song>) =>
  renditionOf(source, targetWith({ seats: [] })).pieces[0]!;
const simple = song([
  conductor(120),
  new Track('A')
    .program(0, 1, 14)
    .control(480, 1, 7, 90)
    .note(1, 0, 480, 60, 90)
    .note(1, 480, 480, 60, 90),
  new Track('B').note(2, 960, 480, 40, 90),
]);
const ready = () => {
  const recorder = new Recorder();
  const transport = new Transport(recorder);
  transport.load(toSchedule(piece(simple), { leftOutToo: false }), 0);
  return { recorder, transport };
};

describe('the schedule', () => {
  it('is in clock order, ends before beginnings at one tick', () => {
    const s = toSchedule(piece(simple), { leftOutToo: false });
    const at500 = [...s.status].filter((_, i) => s.ms[i] === 500).map((x) => x & 0xf0);
    expect(at500).toEqual([0x80, 0xb0, 0x90]);
    expect(s.endMs).toBe(1500);
  });
  it('ends every note that it begins, stuck ones too', () => {
    for (const job of week.slice(0, 5)) {
      const s = toSchedule(piece(sourceFromBytes(job.bytes())), { leftOutToo: true });
      const count = (kind: number) => s.status.filter((x) => (x & 0xf0) === kind).length;
      expect(count(0x80)).toBe(count(0x90));
      for (let i = 1; i < s.count; i++) expect(s.ms[i]!).toBeGreaterThanOrEqual(s.ms[i - 1]!);
    }
  });
});

describe('the transport', () => {
  it('sends what is due, no sooner', () => {
    const { recorder, transport } = ready();
    transport.play(0);
    expect(recorder.take()).toEqual(['reset']);
    transport.advance(10);
    expect(recorder.take()).toEqual(['program 0 14', 'on 0 60']);
    transport.advance(480);
    expect(recorder.take()).toEqual([]);
    transport.advance(20);
    expect(recorder.take()).toEqual(['off 0 60', 'cc 0 7 90', 'on 0 60']);
  });
  it('at half speed the same takes twice as long', () => {
    const { recorder, transport } = ready();
    transport.speed(0.5);
    transport.play(0);
    transport.advance(900);
    expect(recorder.take()).not.toContain('off 0 60');
    transport.advance(120);
    expect(recorder.take()).toContain('off 0 60');
    expect(transport.positionMs).toBe(510);
  });
  it('a jump restores programs and levels, and sounds no note of the past', () => {
    const { recorder, transport } = ready();
    transport.play(900);
    expect(recorder.take()).toEqual(['reset', 'program 0 14', 'cc 0 7 90']);
  });
  it('a loop comes back to its start, to the sample', () => {
    const { recorder, transport } = ready();
    transport.setLoop(0, 250);
    transport.play(0);
    let ons = 0;
    for (let i = 0; i < 100; i++) {
      transport.advance(10);
      ons += recorder.take().filter((e) => e === 'on 0 60').length;
    }
    expect(ons).toBe(4);
    expect(transport.positionMs).toBeLessThan(250);
  });
  it('a muted part is silent, the others sound', () => {
    const { recorder, transport } = ready();
    transport.mute(Uint8Array.of(1, 0));
    transport.play(0);
    transport.advance(1200);
    expect(recorder.take().filter((e) => e.startsWith('on'))).toEqual(['on 1 40']);
  });
  it('ends behind the last event', () => {
    const { transport } = ready();
    transport.play(1400);
    expect(transport.advance(300)).toBe(true);
    expect(transport.advance(500)).toBe(false);
    expect(transport.playing).toBe(false);
  });
});
