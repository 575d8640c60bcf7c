import type { Damage } from '../../diagnostic/damage';
import type { Module } from './module';
import type { SampleReading } from './samples-in';
import type { ModuleSong } from './songs';
import type { Performance } from './strikes';

/** A module with all that does not depend on how it is read. */
export interface KnownModule {
  readonly module: Module;
  readonly songs: readonly ModuleSong[];
  /** Which of them was played, from 0. */
  readonly song: number;
  readonly played: Performance;
  readonly samples: readonly SampleReading[];
  readonly doubts: readonly Damage[];
}
