import type { Target } from '../target/schema';
import { chartGame } from './families/chart-game';
import { cratePedal } from './families/crate-pedal';
import { cuePlayer } from './families/cue-player';
import { dimmerBank } from './families/dimmer-bank';
import { effectsPedal } from './families/effects-pedal';
import { framePlayer } from './families/frame-player';
import { ledger } from './families/ledger';
import { ownPlayer } from './families/own-player';
import { organ } from './families/organ';
import { pads } from './families/pads';
import { prompter } from './families/prompter';
import { sequencer } from './families/sequencer';
import { tempoReader } from './families/tempo-reader';
import { voices } from './families/voices';
import { companion } from './companion';
import { Gathering, type DeliveredFile, type Played } from './played';

/** A family of devices, simulated by the target's data. */
export interface StandIn {
  readonly id: string;
  readonly name: string;
  /** Writers of which it needs at least one. */
  readonly reads: readonly string[];
  readonly play: (files: readonly DeliveredFile[], target: Target) => Played;
}

const has = (block: keyof Target) => (target: Target) => target[block] !== undefined;

/** The first whose files a target delivers, and whose block it has, is its device. */
const families: readonly (StandIn & { readonly suits: (target: Target) => boolean })[] = [
  {
    id: 'own-player',
    name: 'Player of its own',
    reads: ['own-format'],
    suits: () => true,
    play: ownPlayer,
  },
  { id: 'chart-game', name: 'Lane game', reads: ['chart'], suits: () => true, play: chartGame },
  { id: 'crate-pedal', name: 'Drum pedal', reads: ['crate'], suits: () => true, play: cratePedal },
  { id: 'voices', name: 'Voltage voices', reads: ['chain'], suits: () => true, play: voices },
  {
    id: 'frame-player',
    name: 'Frame deck',
    reads: ['frames'],
    suits: () => true,
    play: framePlayer,
  },
  { id: 'ledger', name: 'Game engine', reads: ['strands'], suits: () => true, play: ledger },
  { id: 'prompter', name: 'Prompter', reads: ['captions'], suits: () => true, play: prompter },
  { id: 'organ', name: 'Strip organ', reads: ['hole-list'], suits: () => true, play: organ },
  {
    id: 'tempo-reader',
    name: 'Tempo reader',
    reads: ['tempo-map'],
    suits: () => true,
    play: tempoReader,
  },
  {
    id: 'cue-player',
    name: 'Cue player',
    reads: ['time-list'],
    suits: () => true,
    play: cuePlayer,
  },
  {
    id: 'effects-pedal',
    name: 'Effects pedal',
    reads: ['patch-list', 'smf'],
    suits: has('presets'),
    play: effectsPedal,
  },
  {
    id: 'dimmer-bank',
    name: 'Dimmer bank',
    reads: ['level-table', 'smf'],
    suits: has('curves'),
    play: dimmerBank,
  },
  {
    id: 'pads',
    name: 'Loop pads',
    reads: ['smf'],
    suits: (t) => t.naming?.prefixes !== undefined && has('grid')(t),
    play: pads,
  },
  { id: 'sequencer', name: 'Sequencer', reads: ['smf'], suits: () => true, play: sequencer },
];

export const standIns: readonly StandIn[] = families;

/** The device of a target: as it says, else by what is delivered to it. */
export function standInOf(target: Target): StandIn | null {
  if (target.standIn !== undefined) return families.find((f) => f.id === target.standIn) ?? null;
  const writes = new Set(target.outputs.map((o) => o.writer));
  return families.find((f) => f.reads.some((w) => writes.has(w)) && f.suits(target)) ?? null;
}

/** What the target's device does with these files: never throws, whatever the bytes are. */
export function rehearse(files: readonly DeliveredFile[], target: Target): Played {
  const device = standInOf(target);
  if (!device) {
    const out = new Gathering();
    out.refuse('', 'target', 'No stand-in is there for this target.');
    return out.played;
  }
  const played = device.play(files, target);
  // Targets whose score names no sound still play beside one.
  const named = ['chart-game', 'frame-player', 'ledger'].includes(device.id);
  const sound = files.find((f) => f.path.endsWith('.wav') && !f.path.endsWith('-link.wav'));
  if (named || !sound) return played;
  const out = new Gathering();
  out.lengthUs = played.lengthUs;
  companion({ file: sound.path, lengthUs: null }, sound.path, files, target, out);
  return {
    ...played,
    refused: [...played.refused, ...out.refused],
    dropped: [...played.dropped, ...out.dropped],
    shows: [...played.shows, ...out.shows],
  };
}
