import { turnInTime } from './advances';
import { carrierNote, markers, nameFile, setFormat } from './delivery';
import type { StepDefinition } from './define-step';
import { advanceEach } from './advance-each';
import { bringIntoReach } from './reach';
import { follow } from './follow';
import { fitVoices } from './spacing/fit-voices';
import { chain, strands } from './chain';
import { flags, holdRules, reduceChords } from './chart';
import { addNote, deleteNotes, moveNotes } from './editing';
import { makeLevels } from './levels';
import { byHand } from './by-hand';
import { setLength } from './length';
import { cutBars } from './cut-bars';
import { keepBars } from './keep-bars';
import { loop, placeMarker, stateSeam } from './loop';
import { repeat } from './repeat';
import { captions, metadata } from './facts';
import { addTriggerKeys, closeGaps, quantise } from './grid';
import { lanes, mapKeys, replaceByPattern } from './keys';
import { foldOctaves, transpose } from './pitch';
import { readLanes } from './read-lanes';
import { join, leaveOut, route, setChannel } from './routing';
import { dropShared } from './spacing/drop-shared';
import { holdLimit } from './spacing/hold-limit';
import { keepReach } from './spacing/keep-reach';
import { limitOpen } from './spacing/limit-open';
import { keepStrongest } from './spacing/keep-strongest';
import { keepVoices } from './spacing/keep-voices';
import { lengthen } from './spacing/lengthen';
import {
  soundCut,
  soundEnd,
  soundFollow,
  soundGap,
  soundLater,
  soundLevel,
  soundSilence,
} from './companion';
import { pairStuck } from './spacing/pair-stuck';
import { shorten } from './spacing/shorten';
import { oneLongNote, repeatsElsewhere } from './spacing/repeats';
import { thin } from './spacing/thin';
import { gatherSetUp, setController, setProgram, velocity } from './sound';
import { carve, split, takePlace } from './splitting';
import { dropDuplicates, strip } from './strip';
import { fitTempoStep } from './timing/fit-tempo';
import { clampTempo } from './timing/clamp-tempo';
import { holdBars } from './timing/one-tempo-holding-bars';
import { holdClock } from './timing/one-tempo-holding-clock';
import { restAtStart } from './timing/rest-at-start';
import { scaleTempo } from './timing/scale-tempo';
import { setMeter } from './timing/set-meter';
import { setPpq } from './timing/set-ppq';
import { shift } from './timing/shift';
import { stateTempo } from './timing/state-tempo';
import { tempoToList } from './timing/tempo-to-list';
import { spaceTempos } from './timing/space-tempos';
import { thinTempo } from './timing/thin-tempo';
import { leaveNotesOut } from './leave-notes-out';
import { drawCurve } from './curves/draw';
import { notesAsLevels } from './curves/lamps';
import { mapCurve } from './curves/map';
import { curveSteps, restCurve, settleCurve } from './curves/rest';
import { rampJumps, slewCurve, smoothCurve } from './curves/shape';
import { spaceCurve } from './curves/space';
import { thinCurve } from './curves/thin';
import { curveValues } from './curves/values';
import {
  changePreset,
  dropPresetRepeats,
  firstPreset,
  gatherBanks,
  leadPresets,
  presetsFromMarkers,
  spacePresets,
} from './presets/presets';
import { trimStart } from './timing/trim-start';

/** All steps, in the order in which they are listed. */
export const steps: readonly StepDefinition[] = [
  route,
  leaveOut,
  split,
  join,
  follow,
  carve,
  cutBars,
  keepBars,
  takePlace,
  readLanes,
  setChannel,
  transpose,
  foldOctaves,
  bringIntoReach,
  mapKeys,
  replaceByPattern,
  lanes,
  setProgram,
  setController,
  gatherSetUp,
  velocity,
  presetsFromMarkers,
  leadPresets,
  spacePresets,
  gatherBanks,
  firstPreset,
  changePreset,
  dropPresetRepeats,
  thinCurve,
  spaceCurve,
  settleCurve,
  slewCurve,
  rampJumps,
  smoothCurve,
  curveSteps,
  curveValues,
  mapCurve,
  notesAsLevels,
  restCurve,
  drawCurve,
  leaveNotesOut,
  moveNotes,
  addNote,
  byHand,
  deleteNotes,
  restAtStart,
  shift,
  trimStart,
  fitTempoStep,
  holdClock,
  holdBars,
  stateTempo,
  clampTempo,
  scaleTempo,
  tempoToList,
  thinTempo,
  spaceTempos,
  setMeter,
  setPpq,
  soundLater,
  soundEnd,
  soundGap,
  soundCut,
  soundSilence,
  soundLevel,
  soundFollow,
  setLength,
  loop,
  placeMarker,
  repeat,
  stateSeam,
  quantise,
  addTriggerKeys,
  keepVoices,
  keepStrongest,
  fitVoices,
  thin,
  repeatsElsewhere,
  oneLongNote,
  shorten,
  lengthen,
  closeGaps,
  limitOpen,
  holdLimit,
  keepReach,
  dropShared,
  pairStuck,
  reduceChords,
  makeLevels,
  holdRules,
  flags,
  strip,
  dropDuplicates,
  setFormat,
  markers,
  captions,
  turnInTime,
  advanceEach,
  chain,
  strands,
  metadata,
  carrierNote,
  nameFile,
] as unknown as readonly StepDefinition[];

export const findStep = (id: string): StepDefinition | undefined => steps.find((s) => s.id === id);
