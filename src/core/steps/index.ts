import { carrierNote, markers, nameFile, setFormat } from './delivery';
import type { StepDefinition } from './define-step';
import { foldOctaves, transpose } from './pitch';
import { join, leaveOut, route, setChannel } from './routing';
import { keepVoices, lengthen, pairStuck, shorten, thin } from './spacing';
import { dropDuplicates, strip } from './strip';
import * as timing from './timing';

/** All steps, in the order in which they are listed. */
export const steps: readonly StepDefinition[] = [
  route,
  leaveOut,
  join,
  setChannel,
  transpose,
  foldOctaves,
  timing.restAtStart,
  timing.shift,
  timing.trimStart,
  timing.holdClock,
  timing.holdBars,
  timing.stateTempo,
  timing.clampTempo,
  timing.thinTempo,
  timing.setMeter,
  timing.setPpq,
  keepVoices,
  thin,
  shorten,
  lengthen,
  pairStuck,
  strip,
  dropDuplicates,
  setFormat,
  markers,
  carrierNote,
  nameFile,
] as unknown as readonly StepDefinition[];

export const findStep = (id: string): StepDefinition | undefined => steps.find((s) => s.id === id);
