import { turnInTime } from './advances';
import { carrierNote, markers, nameFile, setFormat } from './delivery';
import type { StepDefinition } from './define-step';
import { flags, holdRules, reduceChords } from './chart';
import { addNote, deleteNotes, moveNotes } from './editing';
import { setLength } from './length';
import { loop, placeMarker, stateSeam } from './loop';
import { repeat } from './repeat';
import { captions, metadata } from './facts';
import { addTriggerKeys, closeGaps, quantise } from './grid';
import { lanes, mapKeys, replaceByPattern } from './keys';
import { foldOctaves, transpose } from './pitch';
import { join, leaveOut, route, setChannel } from './routing';
import {
  dropShared,
  keepReach,
  limitOpen,
  keepVoices,
  lengthen,
  pairStuck,
  shorten,
  thin,
} from './spacing';
import { gatherSetUp, setController, setProgram, velocity } from './sound';
import { carve, split, takePlace } from './splitting';
import { dropDuplicates, strip } from './strip';
import * as timing from './timing';

/** All steps, in the order in which they are listed. */
export const steps: readonly StepDefinition[] = [
  route,
  leaveOut,
  split,
  join,
  carve,
  takePlace,
  setChannel,
  transpose,
  foldOctaves,
  mapKeys,
  replaceByPattern,
  lanes,
  setProgram,
  setController,
  gatherSetUp,
  velocity,
  moveNotes,
  addNote,
  deleteNotes,
  timing.restAtStart,
  timing.shift,
  timing.trimStart,
  timing.holdClock,
  timing.holdBars,
  timing.stateTempo,
  timing.clampTempo,
  timing.tempoToList,
  timing.thinTempo,
  timing.setMeter,
  timing.setPpq,
  setLength,
  loop,
  placeMarker,
  repeat,
  stateSeam,
  quantise,
  addTriggerKeys,
  keepVoices,
  thin,
  shorten,
  lengthen,
  closeGaps,
  limitOpen,
  keepReach,
  dropShared,
  pairStuck,
  reduceChords,
  holdRules,
  flags,
  strip,
  dropDuplicates,
  setFormat,
  markers,
  captions,
  turnInTime,
  metadata,
  carrierNote,
  nameFile,
] as unknown as readonly StepDefinition[];

export const findStep = (id: string): StepDefinition | undefined => steps.find((s) => s.id === id);
