import type { RuleDefinition } from './define-rule';
import { flagKnown } from './chart/flags-known';
import { holds } from './chart/holds';
import { phraseBreaks } from './chart/phrases';
import { rungDensity } from './chart/rungs';
import { filled } from './end/filled-to-the-end';
import { loopMarker } from './end/loop-marker';
import { seam } from './end/seam';
import { soundLength } from './end/sound-length';
import { tracksEqual } from './end/tracks-equal';
import { wholeBars } from './end/length-in-bars';
import { tail } from './end/tail';
import { atRest } from './curves/at-rest';
import { curveJumps } from './curves/curve-jumps';
import { curveRate } from './curves/curve-rate';
import { curveSettled } from './curves/curve-settled';
import { curveSpacing } from './curves/curve-spacing';
import { curveRange } from './curves/curve-values';
import { switchKnown } from './curves/switch-known';
import { whileLoading } from './curves/while-loading';
import { bankOrder } from './presets/bank-order';
import { presetAgain } from './presets/preset-again';
import { presetAtStart } from './presets/preset-at-start';
import { presetLead } from './presets/preset-lead';
import { presetSpacing } from './presets/preset-spacing';
import { presetsKnown } from './presets/presets-known';
import { takesNoNotes } from './notes/no-notes';
import { quietStart } from './start/quiet-start';
import { tempoApart } from './tempo/tempo-apart';
import { channelEvents } from './events/channel-events';
import { repeatedEvents } from './events/repeated-events';
import { systemEvents } from './events/system-events';
import { text } from './events/text';
import { captionRule } from './facts/captions';
import { chainLinks } from './facts/chain-links';
import { metadata } from './facts/metadata';
import { strandNames } from './facts/strand-names';
import { fileName } from './file/file-name';
import { fileSize } from './file/file-size';
import { format } from './file/format';
import { longestWait } from './file/longest-wait';
import { namesApart } from './file/names-apart';
import { ppq } from './file/ppq';
import { chords } from './grid/chords-together';
import { offGrid } from './grid/off-grid';
import { rowLimits } from './grid/row-limits';
import { rows } from './grid/rows';
import { notesInFrames } from './frames/frame-notes';
import { wholeFrames } from './frames/whole-frames';
import { damage } from './integrity/damage';
import { division } from './integrity/division';
import { overlap } from './integrity/overlap';
import { sequences } from './integrity/sequences';
import { stuck } from './integrity/stuck-note';
import { strayOff } from './integrity/note-off-alone';
import { zeroLength } from './integrity/zero-length';
import { barsAlike } from './notes/bars-alike';
import { noteCount } from './notes/note-count';
import { noteRange } from './notes/note-range';
import { channels } from './places/channels';
import { kitKeys } from './places/kit-keys';
import { placeLength } from './places/place-length';
import { places } from './places/places';
import { placesFilled } from './places/places-filled';
import { carrier } from './seats/carrier-note';
import { nothingDelivered } from './seats/nothing-delivered';
import { seating } from './seats/seating';
import { program } from './sound/program';
import { setUp } from './sound/set-up-once';
import { silentChannel } from './sound/silent-channel';
import { velocity } from './sound/velocity';
import { apart } from './spacing/distance';
import { atOnce } from './spacing/at-once';
import { hands } from './spacing/hands';
import { longest } from './spacing/longest-note';
import { ownLimits } from './limits/own-limits';
import { openShare } from './spacing/open-share';
import { sameKey } from './spacing/same-key';
import { shortest } from './spacing/shortest-note';
import { strikes } from './spacing/strikes-a-second';
import { clock } from './start/clock-time';
import { earlyEvents } from './start/early-events';
import { firstNote } from './start/first-note';
import { inBar1 } from './start/in-bar-1';
import { restSwallowed } from './start/rest-swallowed';
import { soundApart } from './start/sound-apart';
import { soundLeadIn } from './start/sound-lead-in';
import { startRest } from './start/start-rest';
import { declaredBpm } from './tempo/declared-bpm';
import { meterAbsent } from './tempo/meter-absent';
import { meterAllowed } from './tempo/meter-allowed';
import { meterConstant } from './tempo/meter-constant';
import { sameInAll } from './tempo/same-in-all';
import { tempoAbsent } from './tempo/tempo-absent';
import { tempoAllowed } from './tempo/tempo-allowed';
import { tempoConstant } from './tempo/tempo-constant';
import { tempoCount } from './tempo/tempo-count';
import { tempoRange } from './tempo/tempo-range';

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
  tempoAbsent,
  meterAbsent,
  tempoConstant,
  tempoRange,
  tempoAllowed,
  tempoCount,
  tempoApart,
  meterConstant,
  meterAllowed,
  sameInAll,
  ppq,
  longestWait,
  clock,
  startRest,
  firstNote,
  earlyEvents,
  quietStart,
  inBar1,
  restSwallowed,
  soundApart,
  soundLeadIn,
  takesNoNotes,
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
  ownLimits,
  rungDensity,
  holds,
  phraseBreaks,
  notesInFrames,
  channelEvents,
  presetsKnown,
  presetAtStart,
  presetSpacing,
  bankOrder,
  presetLead,
  presetAgain,
  curveRange,
  curveRate,
  curveSpacing,
  whileLoading,
  curveSettled,
  curveJumps,
  switchKnown,
  program,
  setUp,
  silentChannel,
  systemEvents,
  repeatedEvents,
  text,
  captionRule,
  carrier,
  placeLength,
  wholeBars,
  filled,
  tracksEqual,
  loopMarker,
  seam,
  soundLength,
  atRest,
  tail,
  wholeFrames,
  fileSize,
  format,
  fileName,
  namesApart,
  placesFilled,
  chainLinks,
  metadata,
  declaredBpm,
];

export const findRule = (id: string): RuleDefinition | undefined => rules.find((r) => r.id === id);
