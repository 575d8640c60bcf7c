import { LATEST_TICK, MOST_EVENTS } from '../smf/file';

/** What is wrong, and where: a line, or a path of JSON. */
export interface Fault {
  readonly place: string;
  readonly says: string;
}

/** Longest text that stands at a tick, in characters. */
const LONGEST_TEXT = 65_536;
const n = (value: number) => value.toLocaleString('en-GB');

/**
 * What every reader of a text format gives its numbers through before they become columns: ticks that
 * a column holds, in order, keys, channels and counts within MIDI. The first that is out of bounds is
 * kept with its place, and the reader gives up there; a place is only worked out then.
 */
export class Gate {
  fault: Fault | null = null;
  private last = 0;
  private events = 0;

  /** @param place where the number stands in the file that the user knows */
  constructor(private readonly latest = LATEST_TICK) {}

  refuse(place: string, says: string) {
    this.fault ??= { place, says };
  }

  /** A whole tick from 0 on; 0 where it is refused. */
  tick(value: number, place: () => string, what = 'A time'): number {
    if (Number.isFinite(value) && value >= 0 && value <= this.latest) return Math.round(value);
    this.refuse(
      place(),
      value < 0
        ? `${what} lies before the start.`
        : `${what} lies past tick ${n(this.latest)}, the latest that is kept. Split the file in two.`,
    );
    return 0;
  }

  /** A tick that does not stand before the one asked for last. */
  rising(value: number, place: () => string, what = 'A time'): number {
    const tick = this.tick(value, place, what);
    if (this.fault === null && tick < this.last)
      this.refuse(place(), `${what} lies before the one that stands above it.`);
    this.last = tick;
    return tick;
  }

  /** The end of what begins at a tick. */
  end(from: number, length: number, place: () => string, what = 'A length'): number {
    if (length < 0) this.refuse(place(), `${what} is below 0.`);
    return this.tick(from + Math.max(0, length), place, 'An end');
  }

  key(value: number, place: () => string): number {
    if (Number.isInteger(value) && value >= 0 && value <= 127) return value;
    this.refuse(place(), 'A note number is 0 to 127.');
    return 0;
  }

  /** Microseconds to a quarter in 24 bits, FF 51. */
  tempo(value: number, place: () => string): number {
    const us = Math.round(value);
    if (us >= 1 && us <= 0xffffff) return us;
    this.refuse(place(), 'A tempo lies between 3.58 and 60,000,000 BPM.');
    return 500_000;
  }

  text(value: string, place: () => string): string {
    if (value.length > LONGEST_TEXT)
      this.refuse(place(), `A text is longer than ${n(LONGEST_TEXT)} characters.`);
    return value;
  }

  /** Counts an event. */
  one(place: () => string) {
    if (++this.events > MOST_EVENTS)
      this.refuse(place(), `There are more than ${n(MOST_EVENTS)} events.`);
  }

  /** What was refused, as a reader gives it back; null where all went through. */
  get refused(): { readonly fault: Fault } | null {
    return this.fault === null ? null : { fault: this.fault };
  }
}
