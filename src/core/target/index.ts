import bellLoft from './built-in/bell-loft.json';
import brineBox from './built-in/brine-box.json';
import cueLedger from './built-in/cue-ledger.json';
import ferryBarrel from './built-in/ferry-barrel.json';
import fogPier from './built-in/fog-pier.json';
import frameDeck from './built-in/frame-deck.json';
import lampGallery from './built-in/lamp-gallery.json';
import lanternRail from './built-in/lantern-rail.json';
import marshDuel from './built-in/marsh-duel.json';
import parlourKeyboard from './built-in/parlour-keyboard.json';
import patternPads from './built-in/pattern-pads.json';
import reedLadder from './built-in/reed-ladder.json';
import songBoard from './built-in/song-board.json';
import stompCrate from './built-in/stomp-crate.json';
import stripOrgan from './built-in/strip-organ.json';
import tempoCarrier from './built-in/tempo-carrier.json';
import tideVoices from './built-in/tide-voices.json';
import twoHandScroll from './built-in/two-hand-scroll.json';
import type { Target } from './schema';

const data: readonly unknown[] = [
  lanternRail,
  bellLoft,
  tempoCarrier,
  marshDuel,
  reedLadder,
  stompCrate,
  patternPads,
  stripOrgan,
  ferryBarrel,
  tideVoices,
  fogPier,
  songBoard,
  twoHandScroll,
  frameDeck,
  cueLedger,
  parlourKeyboard,
  brineBox,
  lampGallery,
];

/**
 * The targets that ship with it, in the order of the shelf. A test holds each against the schema, so
 * that no start has to.
 */
export const builtInTargets = data as readonly Target[];

export const findTarget = (id: string): Target | undefined =>
  builtInTargets.find((target) => target.id === id);
