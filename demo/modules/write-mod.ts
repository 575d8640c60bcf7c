import { Out, toInts, type Tune, type TuneCell } from './tune';

const ROWS = 64;

/** Periods of the oldest machine: 428 is the middle C. */
const periodOf = (key: number) => Math.round(428 * 2 ** ((60 - key) / 12));

export function writeMod(tune: Tune, signature = tune.channels === 4 ? 'M.K.' : ''): Uint8Array {
  const out = new Out().text(tune.name, 20);
  const data = tune.samples.map((s) => toInts(s.frames, 8));
  for (let s = 0; s < 31; s++) {
    const sample = tune.samples[s];
    const [from, to] = sample?.loop ?? [0, 2];
    out
      .text(sample?.name ?? '', 22)
      .u16be(((data[s]?.length ?? 0) + 1) >> 1)
      .u8(0, sample ? (sample.volume ?? 64) : 0)
      .u16be(from >> 1, (to - from) >> 1);
  }
  out.u8(tune.orders.length, 127);
  for (let i = 0; i < 128; i++) out.u8(tune.orders[i] ?? 0);
  const digits = String(tune.channels).padStart(2, '0');
  out.text(signature || (tune.channels < 10 ? `${tune.channels}CHN` : `${digits}CH`), 4);
  const count = Math.max(...tune.orders) + 1;
  for (let p = 0; p < count; p++)
    for (let row = 0; row < ROWS; row++)
      for (let c = 0; c < tune.channels; c++) cell(out, tune.patterns[p]?.[row]?.[c] ?? {});
  for (const values of data) out.all(values).fill(values.length & 1);
  return out.done();
}

function cell(out: Out, { note, sample = 0, volume, fx }: TuneCell): void {
  const period = typeof note === 'number' ? periodOf(note) : 0;
  const [letter, param] = fx ?? (volume === undefined ? ['0', 0] : ['C', volume]);
  out.u8(
    (sample & 0xf0) | (period >> 8),
    period,
    ((sample & 15) << 4) | parseInt(letter, 16),
    param,
  );
}
