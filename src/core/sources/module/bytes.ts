import { decodeText } from '../../smf/text';

/** What a module says that cannot be so, or is not there: the place, and what was done. */
export interface ModuleDoubt {
  readonly at: number;
  readonly says: string;
}

/** Of all samples of a module together: 256 MB of them. */
const MOST_FRAMES = 64 * 1024 * 1024;

/**
 * Bytes that never run out: behind their end they are zero, and that they ended is noted once. Reading
 * bytes one after the other and at places share it.
 */
export class Bytes {
  at = 0;
  readonly doubts: ModuleDoubt[] = [];
  #ended = false;
  #framesLeft = MOST_FRAMES;

  constructor(readonly all: Uint8Array) {}

  get length(): number {
    return this.all.length;
  }

  doubt(at: number, says: string): void {
    if (this.doubts.length < 200) this.doubts.push({ at, says });
  }

  u8(at = this.at++): number {
    const byte = this.all[at];
    if (byte === undefined && !this.#ended) {
      this.#ended = true;
      this.doubt(this.all.length, 'The file ends before it is whole; what is missing is silent.');
    }
    return byte ?? 0;
  }

  i8 = (at?: number): number => (this.u8(at) << 24) >> 24;

  u16(at?: number): number {
    const from = at ?? this.at;
    if (at === undefined) this.at += 2;
    return this.u8(from) | (this.u8(from + 1) << 8);
  }

  u16be(at: number): number {
    return (this.u8(at) << 8) | this.u8(at + 1);
  }

  u32(at?: number): number {
    const from = at ?? this.at;
    if (at === undefined) this.at += 4;
    return this.u16(from) + this.u16(from + 2) * 0x10000;
  }

  is(at: number, text: string): boolean {
    return [...text].every((c, i) => this.all[at + i] === c.charCodeAt(0));
  }

  /** A text of fixed width: up to its first zero, without control letters and spaces behind. */
  text(at: number, length: number): string {
    const raw = this.all.subarray(Math.min(at, this.length), Math.min(at + length, this.length));
    const zero = raw.indexOf(0);
    const said = zero < 0 ? raw : raw.subarray(0, zero);
    return decodeText(said)
      .text.replace(/[\u0000-\u001f\u007f-\u009f]/g, ' ')
      .trimEnd();
  }

  /** How many of so many frames may still be held: samples that share their bytes could fill all memory. */
  frames(wanted: number, what: string): number {
    const may = Math.max(0, Math.min(wanted, this.#framesLeft));
    if (may < wanted)
      this.doubt(
        this.length,
        `${what} has more frames than all samples together may have; what is beyond is silent.`,
      );
    this.#framesLeft -= may;
    return may;
  }

  /** How many of `length` bytes from `at` are there; what is missing is noted by its name. */
  there(at: number, length: number, what: string): number {
    const has = Math.max(0, Math.min(length, this.length - at));
    if (has < length)
      this.doubt(at, `${what} should have ${length} bytes; ${has} of them are in the file.`);
    return has;
  }
}

/** Samples of one byte each. */
export function frames8(b: Bytes, at: number, length: number, what: string, unsigned = false) {
  const out = new Float32Array(b.frames(b.there(at, length, what), what));
  for (let i = 0; i < out.length; i++) {
    const byte = b.all[at + i]!;
    out[i] = (unsigned ? byte - 128 : (byte << 24) >> 24) / 128;
  }
  return out;
}

/** Samples of two bytes each, the low one first; `length` in frames. */
export function frames16(b: Bytes, at: number, length: number, what: string, unsigned = false) {
  const out = new Float32Array(b.frames(b.there(at, length * 2, what) >> 1, what));
  for (let i = 0; i < out.length; i++) {
    const word = b.all[at + 2 * i]! | (b.all[at + 2 * i + 1]! << 8);
    out[i] = (unsigned ? word - 32768 : (word << 16) >> 16) / 32768;
  }
  return out;
}

/** Each value is the last one and what is stored; `bits` wide, with the overflow of its width. */
export function deltas(values: Float32Array, bits: 8 | 16): Float32Array {
  const one = 2 ** (bits - 1);
  const shift = 32 - bits;
  let sum = 0;
  for (let i = 0; i < values.length; i++) {
    sum = ((sum + Math.round(values[i]! * one)) << shift) >> shift;
    values[i] = sum / one;
  }
  return values;
}

/** A loop inside its sample, or none. */
export function loopOf(from: number, to: number, length: number, pingPong: boolean) {
  const end = Math.min(to, length);
  return from >= 0 && end - from > 1 ? { from, to: end, pingPong } : null;
}
