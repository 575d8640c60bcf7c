import type { RuleDefinition } from './define-rule';
import { flagKnown, holds, rungDensity } from './chart';
import * as end from './end';
import { channelEvents, repeatedEvents, systemEvents, text } from './events';
import { captionRule, metadata, strandNames } from './facts';
import { fileName, fileSize, format, namesApart, ppq } from './file';
import { chords, offGrid, rowLimits, rows } from './grid';
import { damage, division, overlap, sequences, stuck, strayOff, zeroLength } from './integrity';
import { barsAlike, noteCount, noteRange } from './notes';
import { channels, kitKeys, placeLength, places, placesFilled } from './places';
import { carrier, nothingDelivered, seating } from './seats';
import { program, setUp, silentChannel, velocity } from './sound';
import { apart, atOnce, hands, longest, openShare, sameKey, shortest, strikes } from './spacing';
import {
  clock,
  earlyEvents,
  firstNote,
  inBar1,
  restSwallowed,
  soundLeadIn,
  startRest,
} from './start';
import * as tempo from './tempo';

/** All rules, in the order in which they are listed and run. */
export const rules: readonly RuleDefinition[] = [
  damage,
  sequences,
  division,
  stuck,
  strayOff,
  overlap,
  zeroLength,
  seating,
  nothingDelivered,
  places,
  channels,
  strandNames,
  tempo.tempoAbsent,
  tempo.meterAbsent,
  tempo.tempoConstant,
  tempo.tempoRange,
  tempo.tempoAllowed,
  tempo.tempoCount,
  tempo.meterConstant,
  tempo.meterAllowed,
  tempo.sameInAll,
  ppq,
  clock,
  startRest,
  firstNote,
  earlyEvents,
  inBar1,
  restSwallowed,
  soundLeadIn,
  noteRange,
  kitKeys,
  noteCount,
  barsAlike,
  velocity,
  flagKnown,
  rows,
  rowLimits,
  chords,
  offGrid,
  atOnce,
  hands,
  sameKey,
  apart,
  strikes,
  shortest,
  longest,
  openShare,
  rungDensity,
  holds,
  channelEvents,
  program,
  setUp,
  silentChannel,
  systemEvents,
  repeatedEvents,
  text,
  captionRule,
  carrier,
  placeLength,
  end.wholeBars,
  end.filled,
  end.tracksEqual,
  end.loopMarker,
  end.seam,
  end.soundLength,
  end.wholeFrames,
  fileSize,
  format,
  fileName,
  namesApart,
  placesFilled,
  metadata,
  tempo.declaredBpm,
];

export const findRule = (id: string): RuleDefinition | undefined => rules.find((r) => r.id === id);
