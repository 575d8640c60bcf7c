import type { Target } from '../../../core/target/schema';
import type { SceneDefinition } from '../scene';
import { banks } from './banks';
import { barrel } from './barrel';
import { bells } from './bells';
import { board } from './board';
import { frames } from './frames';
import { gallery } from './gallery';
import { horns } from './horns';
import { keyboard } from './keyboard';
import { lanterns } from './lanterns';
import { names } from './names';
import { crate } from './crate';
import { places } from './places';
import { rungs } from './rungs';
import { ruler } from './ruler';
import { scroll } from './scroll';
import { stomps } from './stomps';
import { strip } from './strip';
import { traces } from './traces';

export const scenes: readonly SceneDefinition[] = [
  lanterns,
  bells,
  ruler,
  banks,
  rungs,
  crate,
  places,
  strip,
  barrel,
  traces,
  horns,
  board,
  scroll,
  frames,
  names,
  stomps,
  gallery,
  keyboard,
];

/**
 * The scene of a target, by what its data says of it and never by its id: what it is given decides,
 * then what it asks of notes. One of the user's own gets what its seats and outputs call for.
 */
export function sceneOf(target: Target): SceneDefinition {
  const writes = new Set(target.outputs.map((o) => o.writer));
  const kinds = new Set(target.seats.map((s) => s.kind));
  if (writes.has('chart')) return target.seats.length > 3 ? rungs : banks;
  if (writes.has('crate')) return crate;
  if (writes.has('chain') || kinds.has('voice')) return traces;
  if (writes.has('frames')) return frames;
  if (writes.has('strands')) return names;
  if (writes.has('captions')) return board;
  if (writes.has('hole-list')) return strip;
  if (writes.has('tempo-map')) return ruler;
  // What listens to no notes is seen by what it listens to.
  if (target.presets) return stomps;
  if (target.curves) return gallery;
  if (writes.has('time-list')) return lanterns;
  if (target.spacing?.mostOpenMs !== undefined) return horns;
  if (target.end?.loopMarker !== undefined) return barrel;
  if (target.naming?.prefixes !== undefined) return places;
  if (target.seats.some((s) => 'hand' in s && s.hand)) return scroll;
  // Single keys that are struck and ring: one instrument with a few keys.
  if (target.seats.length === 1 && target.notes !== undefined) return bells;
  return keyboard;
}
