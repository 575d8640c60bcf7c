import type { Sounder } from '../../../core/sound/transport';

/** A note that is heard alone, whatever the music does. Times from now, in milliseconds. */
export interface Strike {
  readonly afterMs: number;
  readonly lengthMs: number;
  /** From 0; 9 is the drums’. */
  readonly channel: number;
  readonly key: number;
  readonly velocity: number;
  /** 0–127; null leaves the channel as it is. */
  readonly program: number | null;
}

/** Strikes single notes and ends them again; the next call takes the place of what still waits. */
export class Striker {
  private now = 0;
  private waiting: { readonly atMs: number; readonly strike: Strike }[] = [];
  private sounding: { readonly untilMs: number; readonly channel: number; readonly key: number }[] =
    [];

  constructor(private readonly sounder: Sounder) {}

  strike(list: readonly Strike[]) {
    for (const { channel, key } of this.sounding) this.sounder.noteOff(channel, key);
    this.sounding = [];
    this.waiting = list.map((strike) => ({ atMs: this.now + strike.afterMs, strike }));
  }

  /** Beside what waits; where the moment is past, at once. */
  add(list: readonly Strike[], fromMs: number) {
    for (const strike of list)
      this.waiting.push({ atMs: this.now + fromMs + strike.afterMs, strike });
  }

  advance(ms: number) {
    this.now += ms;
    if (this.waiting.length === 0 && this.sounding.length === 0) return;
    this.sounding = this.sounding.filter((s) => {
      if (s.untilMs > this.now) return true;
      this.sounder.noteOff(s.channel, s.key);
      return false;
    });
    this.waiting = this.waiting.filter(({ atMs, strike }) => {
      if (atMs > this.now) return true;
      const { channel, key, velocity, program, lengthMs } = strike;
      if (program !== null) this.sounder.program(channel, program);
      this.sounder.noteOn(channel, key, velocity);
      this.sounding.push({ untilMs: atMs + lengthMs, channel, key });
      return false;
    });
  }
}
