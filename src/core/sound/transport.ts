import type { Schedule } from './schedule';

/** What a transport drives: a synthesiser, or a recorder in a test. */
export interface Sounder {
  noteOn(channel: number, key: number, velocity: number): void;
  noteOff(channel: number, key: number): void;
  control(channel: number, controller: number, value: number): void;
  program(channel: number, program: number): void;
  bend(channel: number, value: number): void;
  pressure(channel: number, value: number): void;
  keyPressure(channel: number, key: number, value: number): void;
  /** All notes end and every channel is as at the start. */
  reset(): void;
  silence(): void;
}

const NOTHING: Schedule = {
  count: 0,
  ms: new Float64Array(0),
  status: new Uint8Array(0),
  data1: new Uint8Array(0),
  data2: new Uint8Array(0),
  part: new Uint32Array(0),
  endMs: 0,
};

/** A tail behind the last event, so that what sounds may fade. */
const TAIL_MS = 600;

/**
 * Sends events when their time has come. Time runs in milliseconds of the piece; speed changes how
 * fast it runs, not what sounds. Jumping restores programs, levels and bends up to the place.
 */
export class Transport {
  playing = false;
  positionMs = 0;
  private events = NOTHING;
  private next = 0;
  private ratio = 1;
  /** Until when something beside the events sounds: it goes on as long. */
  lastMs = 0;
  /** Stretches that follow each other round and round: one for a loop, two for its seam. */
  private loops: readonly { from: number; to: number }[] = [];
  private turn = 0;
  /** Where the time that passes now began: in the piece, and in milliseconds of the clock. */
  private slice = { from: 0, passed: 0 };
  /** How far into the time that passes now the event lies that is being sent; of the clock. */
  dueMs = 0;
  private muted = new Uint8Array(0);

  constructor(private readonly sounder: Sounder) {}

  load(events: Schedule, atMs: number) {
    this.events = events;
    if (this.playing) this.play(atMs);
    else this.positionMs = atMs;
  }

  play(atMs: number) {
    this.dueMs = 0;
    this.sounder.reset();
    this.seek(atMs);
    this.playing = true;
  }

  stop() {
    this.playing = false;
    this.sounder.silence();
  }

  /** Milliseconds of the piece in one of the clock. */
  get rate(): number {
    return this.ratio;
  }

  speed(ratio: number) {
    this.ratio = Math.min(2, Math.max(0.25, ratio));
  }

  setLoop(from: number, to: number) {
    this.setLoops([{ from, to }]);
  }

  /** Stretches that are played one behind the other, and again from the first. */
  setLoops(loops: readonly { from: number; to: number }[]) {
    this.loops = loops.filter(({ from, to }) => to > from + 1);
    this.turn = 0;
  }

  get looping(): boolean {
    return this.loops.length > 0;
  }

  clearLoop() {
    this.loops = [];
  }

  mute(muted: Uint8Array) {
    const newly = muted.some((m, i) => m === 1 && this.muted[i] !== 1);
    this.muted = Uint8Array.from(muted);
    // A muted part must not hang; what the others hold comes back with their next notes.
    if (newly && this.playing) this.sounder.silence();
  }

  /** Lets `ms` of real time pass. Returns false once the end was reached. */
  advance(ms: number): boolean {
    if (!this.playing) return true;
    let until = this.positionMs + ms * this.ratio;
    this.slice = { from: this.positionMs, passed: 0 };
    const loop = this.loops[this.turn];
    // A loop that ends behind the music comes round where the music ends.
    const to = loop ? Math.min(loop.to, Math.max(loop.from + 1, this.endMs)) : 0;
    if (loop && this.positionMs < to && until >= to) {
      this.send(to);
      this.dueMs = (to - this.slice.from) / this.ratio;
      this.turn = (this.turn + 1) % this.loops.length;
      const next = this.loops[this.turn]!;
      until = next.from + ((until - to) % Math.max(1, next.to - next.from));
      this.sounder.silence();
      this.seek(next.from);
      this.slice = { from: next.from, passed: this.dueMs };
    }
    this.send(until);
    this.positionMs = until;
    if (until > this.endMs + TAIL_MS) {
      this.stop();
      return false;
    }
    return true;
  }

  private get endMs(): number {
    return Math.max(this.events.endMs, this.lastMs);
  }

  private seek(atMs: number) {
    const { events } = this;
    this.positionMs = atMs;
    this.next = 0;
    while (this.next < events.count && events.ms[this.next]! < atMs) {
      if ((events.status[this.next]! & 0xf0) >= 0xb0) this.dispatch(this.next);
      this.next++;
    }
  }

  private send(until: number) {
    const { events } = this;
    while (this.next < events.count && events.ms[this.next]! < until) {
      const { from, passed } = this.slice;
      this.dueMs = passed + Math.max(0, events.ms[this.next]! - from) / this.ratio;
      this.dispatch(this.next++);
    }
  }

  private dispatch(i: number) {
    const { status, data1, data2, part } = this.events;
    const channel = status[i]! & 15;
    const a = data1[i]!;
    const b = data2[i]!;
    switch (status[i]! & 0xf0) {
      case 0x90:
        if (this.muted[part[i]!] !== 1) this.sounder.noteOn(channel, a, b);
        break;
      case 0x80:
        this.sounder.noteOff(channel, a);
        break;
      case 0xa0:
        this.sounder.keyPressure(channel, a, b);
        break;
      case 0xb0:
        this.sounder.control(channel, a, b);
        break;
      case 0xc0:
        this.sounder.program(channel, a);
        break;
      case 0xd0:
        this.sounder.pressure(channel, a);
        break;
      case 0xe0:
        this.sounder.bend(channel, b * 128 + a);
        break;
    }
  }
}
