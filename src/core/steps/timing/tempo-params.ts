import * as z from 'zod';
import { DEFAULT_TEMPO } from '../../time/tempo-map';
import type { TempoMark } from '../../score/score';

export const tempo = z.int().min(1).max(0xffffff).describe('Microseconds a quarter note');

export const tempoAtZero = (microsecondsPerQuarter: number): TempoMark => ({
  tick: 0,
  microsecondsPerQuarter,
  track: 0,
  order: 0,
});

/** The default counts as a tempo of the file: readers play it. */
export const withDefault = (tempos: readonly TempoMark[]): readonly TempoMark[] =>
  tempos[0]?.tick === 0 ? tempos : [tempoAtZero(DEFAULT_TEMPO), ...tempos];
