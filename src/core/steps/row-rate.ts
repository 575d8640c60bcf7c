import { callStep } from './define-step';
import type { StepCall } from './call';
import { metadata } from './facts';
import { quantise } from './grid';
import { scaleTempo } from './timing/scale-tempo';

/** One rate for the whole song, at a speed that suits it, and every note on its rows. */
export const toRowRate = (rowsPerSecond: number, percent = 100): StepCall[] => [
  ...(percent === 100 ? [] : [callStep(scaleTempo, { percent })]),
  callStep(metadata, { rowsPerSecond: String(rowsPerSecond) }),
  callStep(quantise, { rowsPerSecond }),
];
