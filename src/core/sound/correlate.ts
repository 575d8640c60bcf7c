import FFT from 'fft.js';

const made = new Map<number, FFT>();
/** Its tables are worth keeping: windows of one size are many. */
function ofSize(size: number): FFT {
  const there = made.get(size) ?? new FFT(size);
  made.set(size, there);
  return there;
}

/**
 * How well rows of weights lie on one row, for every shift at once. The sum at a shift s is that of
 * `a[i] × row[i + s]`, for s from −(a.length − 1) to row.length − 1. n log n; the row is transformed
 * once for all that are laid on it.
 */
export class Correlator {
  private readonly fft: FFT;
  private readonly input: number[];
  private readonly spectrum: number[];
  private readonly mine: number[];
  private readonly product: number[];

  constructor(
    private readonly row: Float64Array,
    private readonly longest: number,
  ) {
    let size = 2;
    while (size < row.length + longest - 1) size *= 2;
    this.fft = ofSize(size);
    this.input = new Array<number>(size).fill(0);
    this.spectrum = this.fft.createComplexArray() as number[];
    this.mine = this.fft.createComplexArray() as number[];
    this.product = this.fft.createComplexArray() as number[];
    for (let i = 0; i < row.length; i++) this.input[i] = row[i]!;
    this.fft.realTransform(this.spectrum, this.input);
    this.fft.completeSpectrum(this.spectrum);
  }

  /** Sums by shift, the one of −(a.length − 1) first. */
  with(a: Float64Array): Float64Array {
    if (a.length > this.longest) throw new RangeError('longer than was said');
    const { fft, input, spectrum: y, mine: x, product } = this;
    input.fill(0);
    for (let i = 0; i < a.length; i++) input[a.length - 1 - i] = a[i]!;
    fft.realTransform(x, input);
    fft.completeSpectrum(x);
    for (let k = 0; k < fft.size; k++) {
      const [re, im] = [x[k * 2]!, x[k * 2 + 1]!];
      const [cos, sin] = [y[k * 2]!, y[k * 2 + 1]!];
      product[k * 2] = re * cos - im * sin;
      product[k * 2 + 1] = re * sin + im * cos;
    }
    fft.inverseTransform(x, product);
    const out = new Float64Array(a.length + this.row.length - 1);
    for (let i = 0; i < out.length; i++) out[i] = x[i * 2]!;
    return out;
  }
}
