/** A module to be written: cells as somebody would note them, samples as numbers from −1 to 1. */
export interface TuneCell {
  /** Key (60 the middle C), or what ends a note. */
  readonly note?: number | 'off' | 'cut' | 'fade';
  readonly sample?: number;
  /** The volume column as the format counts it, or just 0 to 64. */
  readonly volume?: number;
  /** The format’s own digit or letter, and its parameter. */
  readonly fx?: readonly [string, number];
}

export interface TuneSample {
  readonly name: string;
  readonly frames: Float32Array;
  /** Hz at key 60; MOD has its own for all. */
  readonly rate?: number;
  readonly volume?: number;
  readonly loop?: readonly [number, number];
  readonly pingPong?: boolean;
  readonly wide?: boolean;
  readonly pan?: number;
  /** XM: the envelope of its instrument, in ticks and 0 to 64. */
  readonly envelope?: readonly (readonly [number, number])[];
  readonly sustain?: number;
  /** Points between which the envelope goes round. */
  readonly round?: readonly [number, number];
  /** XM: depth and speed of the sample’s own vibrato. */
  readonly wavers?: readonly [depth: number, speed: number];
  /** IT: what is a duplicate, and what becomes of it. */
  readonly duplicates?: readonly [kind: number, action: number];
  readonly fade?: number;
  /** IT. */
  readonly newNote?: number;
  readonly packed?: boolean;
}

export interface Tune {
  readonly name: string;
  readonly channels: number;
  readonly speed?: number;
  readonly tempo?: number;
  readonly orders: readonly number[];
  /** By pattern, row and channel; what is not there is empty. */
  readonly patterns: readonly (readonly (readonly (TuneCell | null)[])[])[];
  readonly samples: readonly TuneSample[];
  readonly linear?: boolean;
  readonly comment?: string;
  readonly highlight?: readonly [number, number];
}

/** Bytes one after the other, low byte first. */
export class Out {
  readonly bytes: number[] = [];

  u8(...values: number[]): this {
    for (const v of values) this.bytes.push(v & 0xff);
    return this;
  }
  u16(...values: number[]): this {
    for (const v of values) this.u8(v, v >> 8);
    return this;
  }
  u16be(...values: number[]): this {
    for (const v of values) this.u8(v >> 8, v);
    return this;
  }
  u32(...values: number[]): this {
    for (const v of values) this.u16(v & 0xffff, Math.floor(v / 0x10000));
    return this;
  }
  text(text: string, length: number): this {
    for (let i = 0; i < length; i++) this.u8(i < text.length ? text.charCodeAt(i) : 0);
    return this;
  }
  fill(length: number, value = 0): this {
    for (let i = 0; i < length; i++) this.bytes.push(value);
    return this;
  }
  upTo(place: number): this {
    return this.fill(Math.max(0, place - this.bytes.length));
  }
  all(bytes: Iterable<number>): this {
    for (const b of bytes) this.bytes.push(b & 0xff);
    return this;
  }
  put32(at: number, value: number): this {
    for (let i = 0; i < 4; i++) this.bytes[at + i] = Math.floor(value / 256 ** i) & 0xff;
    return this;
  }
  done(): Uint8Array {
    return Uint8Array.from(this.bytes);
  }
}

export const toInts = (frames: Float32Array, bits: 8 | 16): number[] =>
  Array.from(frames, (v) => {
    const one = 2 ** (bits - 1);
    return Math.max(-one, Math.min(one - 1, Math.round(v * one)));
  });
