import type { RuleDefinition } from './define-rule';
import { channelEvents, repeatedEvents, systemEvents, text } from './events';
import { fileName, format, ppq } from './file';
import { damage, overlap, stuck, strayOff, zeroLength } from './integrity';
import { noteRange } from './notes';
import { carrier, seating } from './seats';
import { apart, atOnce, sameKey, shortest } from './spacing';
import { clock, firstNote, startRest } from './start';
import {
  meterAbsent,
  meterConstant,
  tempoAbsent,
  tempoConstant,
  tempoCount,
  tempoRange,
} from './tempo';

/** All rules, in the order in which they are listed and run. */
export const rules: readonly RuleDefinition[] = [
  damage,
  stuck,
  strayOff,
  overlap,
  zeroLength,
  seating,
  tempoAbsent,
  meterAbsent,
  tempoConstant,
  tempoRange,
  tempoCount,
  meterConstant,
  ppq,
  clock,
  startRest,
  firstNote,
  noteRange,
  atOnce,
  sameKey,
  apart,
  shortest,
  channelEvents,
  systemEvents,
  repeatedEvents,
  text,
  carrier,
  format,
  fileName,
];

export const findRule = (id: string): RuleDefinition | undefined => rules.find((r) => r.id === id);
