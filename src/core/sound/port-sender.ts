import type { Schedule } from './schedule';
import { Chase } from './chase';
import { Transport, type Sounder } from './transport';

/** A MIDI output. Times in milliseconds of the page's clock. */
export interface PortOut {
  send(bytes: readonly number[], atMs: number): void;
  /** Forgets what was sent ahead and is not out yet, where the port can. */
  clear?(): void;
}

/** How far ahead messages are sent, so that a page that is late is not heard. */
export const AHEAD_MS = 150;
/** A page in the background is woken once a second. */
export const AHEAD_HIDDEN_MS = 1500;
/** Up to here the port is led back to the place of the screen; beyond, it begins there anew. */
const FAR_MS = 80;
const NEAR_MS = 4;
/** Of the time that passes, so that nobody hears it. */
const LEAD_SHARE = 0.02;

/**
 * Plays a schedule to a MIDI port: ahead of time, each message with the time at which it is due.
 * The transport is the one that the synthesiser has; the clock is handed in.
 */
export class PortSender {
  /** Later for the port than for the screen, milliseconds; a port that is slow takes less. */
  delayMs = 0;
  /** System exclusives go out only where the user allowed them. */
  exclusives = false;
  private readonly transport: Transport;
  private chase: Chase | null = null;
  private schedule: Schedule | null = null;
  private nextExclusive = 0;
  /** Up to here, by the page's clock, everything is sent. */
  private sentMs = 0;
  private readonly sounding = new Set<number>();

  constructor(private readonly out: PortOut) {
    this.transport = new Transport(this.sounder);
  }

  get playing(): boolean {
    return this.transport.playing;
  }

  load(schedule: Schedule, positionMs: number, nowMs: number) {
    this.schedule = schedule;
    if (!this.playing) return this.transport.load(schedule, positionMs);
    this.hush(nowMs);
    // A transport that plays goes on at the place with what it is given.
    this.transport.stop();
    this.transport.load(schedule, positionMs);
    this.play(positionMs, nowMs);
  }

  /** Tells the channels what is in force there, and plays on from it. */
  play(positionMs: number, nowMs: number) {
    this.hush(nowMs);
    this.sentMs = nowMs;
    const chase = new Chase();
    this.chase = chase;
    this.transport.play(positionMs);
    this.chase = null;
    this.resetUsed(nowMs);
    chase.tell(this.sounder);
    const list = this.schedule?.exclusives ?? [];
    this.nextExclusive = list.findIndex((e) => e.ms >= positionMs - 1e-6);
    if (this.nextExclusive < 0) this.nextExclusive = list.length;
    // What is set by an exclusive before the place is in force there too.
    for (const e of list.slice(0, this.nextExclusive)) this.sendExclusive(e.bytes, nowMs);
  }

  stop(nowMs: number) {
    this.transport.stop();
    this.hush(nowMs);
  }

  /** Sends what is due up to a moment from now; false once the end was reached. */
  tick(nowMs: number, aheadMs = AHEAD_MS): boolean {
    if (!this.playing) return true;
    const passed = nowMs + aheadMs - this.sentMs;
    if (passed <= 0) return true;
    const before = this.transport.positionMs;
    const lead = this.lead(passed);
    this.apart -= lead;
    const goes = this.transport.advance(passed + lead);
    this.sendExclusives(before, this.transport.positionMs);
    this.sentMs = nowMs + aheadMs;
    return goes;
  }

  /** Where the screen is: what the port is off by is made up little by little, or at once. */
  sync(positionMs: number, nowMs: number) {
    if (!this.playing) return;
    // What was sent ahead is round the loop already, and the screen is not.
    if (this.transport.looping && this.transport.positionMs < positionMs) return;
    const there = this.transport.positionMs - (this.sentMs - nowMs) * this.transport.rate;
    const apart = positionMs - there;
    if (Math.abs(apart) > FAR_MS) this.play(positionMs, nowMs);
    else this.apart = Math.abs(apart) < NEAR_MS ? 0 : apart / this.transport.rate;
  }
  private apart = 0;
  private lead(passed: number): number {
    const most = passed * LEAD_SHARE;
    return Math.max(-most, Math.min(most, this.apart));
  }

  speed(ratio: number) {
    this.transport.speed(ratio);
  }
  setLoops(loops: readonly { from: number; to: number }[]) {
    this.transport.setLoops(loops);
  }
  mute(muted: Uint8Array) {
    this.transport.mute(muted);
  }

  /** A single note, beside the music: to hear whether anything arrives. */
  test(nowMs: number, channel = 0, key = 60) {
    this.out.send([0x90 | channel, key, 96], nowMs);
    this.out.send([0x80 | channel, key, 64], nowMs + 400);
  }

  /** Ends all notes on all channels, whoever began them. */
  panic(nowMs: number) {
    this.out.clear?.();
    this.endSounding(nowMs);
    for (let c = 0; c < 16; c++)
      for (const controller of [64, 123, 120]) this.out.send([0xb0 | c, controller, 0], nowMs);
  }

  private get used(): readonly number[] {
    const { schedule } = this;
    const there = new Set<number>();
    for (let i = 0; schedule && i < schedule.count; i++) there.add(schedule.status[i]! & 15);
    return [...there].sort((a, b) => a - b);
  }

  private resetUsed(nowMs: number) {
    for (const c of this.used) this.out.send([0xb0 | c, 121, 0], nowMs + this.delayMs);
  }

  /** What sounds ends now, and what is sent ahead of now ends when it has begun. */
  private hush(nowMs: number) {
    this.out.clear?.();
    this.endSounding(nowMs);
    const late = Math.max(nowMs, this.sentMs + this.delayMs + 1);
    for (const c of this.schedule ? this.used : []) {
      this.out.send([0xb0 | c, 64, 0], late);
      this.out.send([0xb0 | c, 123, 0], late);
    }
  }

  private endSounding(nowMs: number) {
    const late = Math.max(nowMs, this.sentMs + this.delayMs + 1);
    for (const n of this.sounding) this.out.send([0x80 | (n >> 7), n & 127, 64], late);
    this.sounding.clear();
  }

  private sendExclusive(bytes: Uint8Array, atMs: number) {
    if (this.exclusives) this.out.send([0xf0, ...bytes], atMs);
  }

  private sendExclusives(from: number, to: number) {
    const list = this.schedule?.exclusives ?? [];
    // A loop that went round takes them up again from there.
    if (to < from)
      this.nextExclusive = Math.max(
        0,
        list.findIndex((e) => e.ms >= to),
      );
    for (; this.nextExclusive < list.length; this.nextExclusive++) {
      const e = list[this.nextExclusive]!;
      if (e.ms >= to) return;
      const due = this.sentMs + Math.max(0, e.ms - from) / this.transport.rate;
      this.sendExclusive(e.bytes, due + this.delayMs);
    }
  }

  private due(): number {
    return this.sentMs + this.transport.dueMs + this.delayMs;
  }

  private readonly sounder: Sounder = {
    noteOn: (channel, key, velocity) => {
      if (this.chase) return;
      this.sounding.add((channel << 7) | key);
      this.out.send([0x90 | channel, key, velocity], this.due());
    },
    noteOff: (channel, key) => {
      if (this.chase) return;
      this.sounding.delete((channel << 7) | key);
      this.out.send([0x80 | channel, key, 64], this.due());
    },
    control: (channel, controller, value) =>
      this.chase
        ? this.chase.control(channel, controller, value)
        : this.out.send([0xb0 | channel, controller, value], this.due()),
    program: (channel, program) =>
      this.chase
        ? this.chase.program(channel, program)
        : this.out.send([0xc0 | channel, program], this.due()),
    bend: (channel, value) =>
      this.chase
        ? this.chase.bend(channel, value)
        : this.out.send([0xe0 | channel, value & 127, value >> 7], this.due()),
    pressure: (channel, value) =>
      this.chase
        ? this.chase.pressure(channel, value)
        : this.out.send([0xd0 | channel, value], this.due()),
    keyPressure: (channel, key, value) => {
      if (!this.chase) this.out.send([0xa0 | channel, key, value], this.due());
    },
    reset: () => this.chase?.reset(),
    silence: () => {
      const at = this.due();
      for (const n of this.sounding) this.out.send([0x80 | (n >> 7), n & 127, 64], at);
      this.sounding.clear();
    },
  };
}
