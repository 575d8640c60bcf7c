import { buildFile, TrackBuilder } from '../src/core/smf/build';
import {
  META_COPYRIGHT,
  META_KEY,
  META_LYRIC,
  META_MARKER,
  META_METER,
  META_TEMPO,
  META_TEXT,
  META_TRACK_NAME,
  META,
} from '../src/core/smf/file';
import { encodeUtf8 } from '../src/core/smf/text';
import { writeSmf } from '../src/core/smf/write';

/** Xorshift32: the same numbers on every machine. */
export function seeded(seed: number): (below: number) => number {
  let state = seed >>> 0 || 1;
  return (below) => {
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state % below;
  };
}

interface Entry {
  tick: number;
  rank: number;
  put: (to: TrackBuilder) => void;
}

/** A track in the making: events in any order, written in time. */
export class Track {
  private readonly entries: Entry[] = [];
  private last = 0;
  constructor(name?: string) {
    if (name !== undefined) this.text(0, META_TRACK_NAME, name);
  }

  private add(tick: number, rank: number, put: Entry['put']) {
    this.entries.push({ tick, rank, put });
    this.last = Math.max(this.last, tick);
    return this;
  }

  meta(tick: number, type: number, bytes: Uint8Array) {
    return this.add(tick, 1, (to) => to.longEvent(tick, META, type, bytes));
  }

  text(tick: number, type: number, text: string) {
    return this.meta(tick, type, encodeUtf8(text));
  }

  tempo(tick: number, bpm: number) {
    return this.tempoUs(tick, Math.round(60_000_000 / bpm));
  }

  /** A tempo in the file's own unit, microseconds a quarter. */
  tempoUs(tick: number, us: number) {
    return this.meta(tick, META_TEMPO, Uint8Array.of(us >> 16, (us >> 8) & 255, us & 255));
  }

  meter(tick: number, numerator: number, denominator: number) {
    const body = Uint8Array.of(numerator, Math.log2(denominator), 24, 8);
    return this.meta(tick, META_METER, body);
  }

  key(tick: number, fifths: number, minor = false) {
    return this.meta(tick, META_KEY, Uint8Array.of(fifths & 255, minor ? 1 : 0));
  }

  marker(tick: number, text: string) {
    return this.text(tick, META_MARKER, text);
  }

  sysex(tick: number, bytes: readonly number[]) {
    return this.add(tick, 1, (to) => to.longEvent(tick, 0xf0, 0, Uint8Array.from(bytes)));
  }

  event(tick: number, kind: number, channel: number, data1: number, data2 = 0) {
    return this.add(tick, 1, (to) => to.channelEvent(tick, kind | (channel - 1), data1, data2));
  }

  control(tick: number, channel: number, controller: number, value: number) {
    return this.event(tick, 0xb0, channel, controller, value);
  }

  program(tick: number, channel: number, program: number) {
    return this.event(tick, 0xc0, channel, program);
  }

  note(channel: number, tick: number, length: number, noteNumber: number, velocity: number) {
    this.add(tick, 2, (to) => to.channelEvent(tick, 0x90 | (channel - 1), noteNumber, velocity));
    return this.off(channel, tick + length, noteNumber);
  }

  /** A note-on without an end. */
  hang(channel: number, tick: number, noteNumber: number, velocity: number) {
    return this.add(tick, 2, (to) =>
      to.channelEvent(tick, 0x90 | (channel - 1), noteNumber, velocity),
    );
  }

  off(channel: number, tick: number, noteNumber: number) {
    return this.add(tick, 0, (to) => to.channelEvent(tick, 0x80 | (channel - 1), noteNumber, 64));
  }

  build(endTick = this.last) {
    const order = this.entries.map((_, i) => i);
    order.sort(
      (a, b) =>
        this.entries[a]!.tick - this.entries[b]!.tick ||
        this.entries[a]!.rank - this.entries[b]!.rank ||
        a - b,
    );
    const to = new TrackBuilder();
    for (const i of order) this.entries[i]!.put(to);
    return to.end(Math.max(endTick, this.last));
  }
}

export const smf = (format: number, ppq: number, tracks: readonly Track[], endTick?: number) =>
  writeSmf(
    buildFile(
      format,
      ppq,
      tracks.map((t) => t.build(endTick)),
    ),
  );

export { META_COPYRIGHT, META_LYRIC, META_TEXT };

export const DORIAN = [0, 2, 3, 5, 7, 9, 10] as const;
export const PENTATONIC = [0, 2, 4, 7, 9] as const;

/** The key of a degree of a scale that begins at `root`. */
export const degree = (scale: readonly number[], root: number, step: number): number => {
  const octave = Math.floor(step / scale.length);
  return root + 12 * octave + scale[step - octave * scale.length]!;
};

/**
 * A line of melody: a walk through a scale that turns back at its edges, in phrases of which the
 * first returns. Returns degrees, one a beat; null is a rest.
 */
export function wander(seed: number, beats: number, span: number, phrase = 8): (number | null)[] {
  const roll = seeded(seed);
  const walk = (length: number) => {
    let at = roll(span);
    return Array.from({ length }, (_, i) => {
      const step = roll(5) - 2;
      at = at + step < 0 || at + step >= span ? at - step : at + step;
      return i % phrase === phrase - 1 && roll(3) === 0 ? null : at;
    });
  };
  const a = walk(phrase);
  const out: (number | null)[] = [];
  for (let n = 0; out.length < beats; n++) out.push(...(n % 4 === 2 ? walk(phrase) : a));
  return out.slice(0, beats);
}
