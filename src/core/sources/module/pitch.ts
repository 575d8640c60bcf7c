import type { Module } from './module';
import { PAL_CLOCK } from './read-mod';

/**
 * Where a channel stands in pitch, in a unit of its format. Linear: 1⁄64 semitone, upward, so that key
 * 60 of a sample at 8363 Hz is 3840. By periods: quarters of a period of the oldest machine, downward.
 */
export class PitchScale {
  readonly #clock: number;
  readonly #whole: boolean;

  constructor({ format, linear }: Pick<Module, 'format' | 'linear'>) {
    this.linear = linear;
    this.#clock = format === 'mod' ? PAL_CLOCK * 4 : 8363 * 1712;
    this.#whole = format === 'mod';
  }

  readonly linear: boolean;

  /** Of a key, for a sample of `rate` Hz at key 60. */
  of(key: number, rate: number): number {
    if (this.linear) return 64 * (key + 12 * Math.log2(rate / 8363));
    const period = this.#clock / (rate * 2 ** ((key - 60) / 12));
    return this.#whole ? Math.max(4, Math.round(period / 4) * 4) : period;
  }

  /** Hz at which a sample runs. */
  frequency(pitch: number): number {
    return this.linear ? 8363 * 2 ** ((pitch / 64 - 60) / 12) : this.#clock / Math.max(1, pitch);
  }

  /** Up by units of 1⁄16 semitone (linear) or quarters of a period; the machine’s ends hold. */
  up(pitch: number, units: number, limits: boolean): number {
    if (this.linear) return Math.min(12 * 12 * 64, Math.max(0, pitch + units));
    const next = pitch - units;
    return limits
      ? Math.min(856 * 4, Math.max(113 * 4, next))
      : Math.max(4, Math.min(1 << 20, next));
  }

  /** One pitch towards another by so many units; never beyond it. */
  towards(pitch: number, target: number, units: number): number {
    return pitch < target ? Math.min(target, pitch + units) : Math.max(target, pitch - units);
  }

  /** Distance of two pitches in semitones. */
  semitones(from: number, to: number): number {
    return this.linear ? (to - from) / 64 : 12 * Math.log2(from / to);
  }
}
