import FFT from 'fft.js';
import { mixInto, type Samples } from './samples';

/** The power of each frequency of one window, or of two that are heard together: their sum. */
export class Spectrum {
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly input: number[];
  private readonly both: number[];
  private readonly out: number[];

  constructor(readonly size: number) {
    this.fft = new FFT(size);
    this.window = Float64Array.from(
      { length: size },
      (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / size),
    );
    this.input = new Array<number>(size).fill(0);
    this.both = this.fft.createComplexArray() as number[];
    this.out = this.fft.createComplexArray() as number[];
  }

  /** @param powers `size / 2 + 1` values, in full scale squared */
  powers(powers: Float64Array, sides: readonly Float32Array[]): void {
    const { fft, window, size, out } = this;
    const [left, right] = sides;
    // Half a window is its mean, and half of a tone lies in the other half of the spectrum.
    const scale = (4 / size) ** 2;
    if (!right) {
      for (let i = 0; i < size; i++) this.input[i] = left![i]! * window[i]!;
      fft.realTransform(out, this.input);
      for (let k = 0; k <= size / 2; k++)
        powers[k] = (out[2 * k]! * out[2 * k]! + out[2 * k + 1]! * out[2 * k + 1]!) * scale;
      return;
    }
    // Two real windows as one complex one: what they have at k lies at k and at −k.
    for (let i = 0; i < size; i++) {
      this.both[2 * i] = left![i]! * window[i]!;
      this.both[2 * i + 1] = right[i]! * window[i]!;
    }
    fft.transform(out, this.both);
    for (let k = 0; k <= size / 2; k++) {
      const j = (size - k) % size;
      const here = out[2 * k]! * out[2 * k]! + out[2 * k + 1]! * out[2 * k + 1]!;
      const there = out[2 * j]! * out[2 * j]! + out[2 * j + 1]! * out[2 * j + 1]!;
      powers[k] = ((here + there) / 2) * scale;
    }
  }
}

/** Recordings are listened to at about so many samples a second: beginnings are heard as well, sooner. */
const RATE = 22_050;

/** Windows of a recording at a rate of about 22 kHz, for each side. */
export class Windows {
  /** Samples of the recording that one of a window is the mean of. */
  readonly each: number;
  readonly rate: number;
  private readonly raw: Float32Array;
  private readonly fresh: readonly Float32Array[];

  constructor(
    private readonly sides: readonly Samples[],
    seconds: number,
  ) {
    const { rate } = sides[0]!;
    this.each = Math.max(1, Math.round(rate / RATE));
    this.rate = rate / this.each;
    const size = 2 ** Math.round(Math.log2(this.rate * seconds));
    this.raw = new Float32Array(size * this.each);
    this.fresh = sides.map(() => new Float32Array(size));
  }

  get size(): number {
    return this.fresh[0]!.length;
  }

  /** The windows that begin at a sample of their own rate. */
  at(from: number): readonly Float32Array[] {
    const { each, raw } = this;
    this.sides.forEach((side, s) => {
      mixInto(raw, side, from * each);
      const to = this.fresh[s]!;
      if (each === 1) to.set(raw);
      else
        for (let i = 0; i < to.length; i++) {
          let sum = 0;
          for (let k = 0; k < each; k++) sum += raw[i * each + k]!;
          to[i] = sum / each;
        }
    });
    return this.fresh;
  }
}
