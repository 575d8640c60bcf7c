import type { Tune, TuneCell } from '../demo/modules/tune';
import { writeIt } from '../demo/modules/write-it';
import { writeMod } from '../demo/modules/write-mod';
import { writeS3m } from '../demo/modules/write-s3m';
import { writeXm } from '../demo/modules/write-xm';
import { readModule } from '../src/core/sources/module/index';
import type { Module } from '../src/core/sources/module/module';

export const sine = (frames: number, period: number, gain = 0.8): Float32Array =>
  Float32Array.from({ length: frames }, (_, i) => gain * Math.sin((2 * Math.PI * i) / period));

/** A pattern by what stands in its rows; `length` counts for XM and IT alone. */
export const patternOf = (
  cells: Readonly<Record<number, readonly (TuneCell | null)[]>>,
  length = 64,
): Tune['patterns'][0] => Array.from({ length }, (_, r) => cells[r] ?? []);

export const EEL_TRAPS: Tune = {
  name: 'Eel traps',
  channels: 4,
  orders: [0, 1, 0],
  patterns: [
    patternOf({
      0: [
        { note: 60, sample: 1 },
        { note: 72, sample: 2 },
      ],
      4: [{ note: 64, sample: 1 }],
      60: [null, null, { note: 48, sample: 2 }],
    }),
    patternOf({
      0: [{ note: 67, sample: 1 }],
      32: [null, null, null, { note: 60, sample: 2 }],
    }),
  ],
  samples: [
    { name: 'reed', frames: sine(3200, 32), loop: [0, 3200] },
    { name: 'tick', frames: sine(400, 16), volume: 40 },
  ],
};

export const moduleWriters = {
  mod: writeMod,
  s3m: writeS3m,
  xm: writeXm,
  it: (t: Tune) => writeIt(t),
  'it with instruments': (t: Tune) => writeIt(t, true),
} as const;

export function openedModule(bytes: Uint8Array): ReturnType<typeof readModule> & object {
  const read = readModule(bytes);
  if (!read) throw new Error('It is no module.');
  return read;
}

/** A module of one pattern, or several in their order, with the two samples of the eel traps. */
export const moduleOf = (
  as: keyof typeof moduleWriters,
  patterns: readonly Readonly<Record<number, readonly (TuneCell | null)[]>>[],
  more: Partial<Tune> = {},
): Module =>
  openedModule(
    moduleWriters[as]({
      ...EEL_TRAPS,
      orders: patterns.map((_, i) => i),
      patterns: patterns.map((p) => patternOf(p)),
      ...more,
    }),
  ).module;
