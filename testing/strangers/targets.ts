import { builtInTargets } from '../../src/core/target/index';
import { parseTarget } from '../../src/core/target/parse';
import type { Target } from '../../src/core/target/schema';
import type { Roll } from './tune';

/** Blocks that can stand in the target of anybody, whatever its device. */
const MOVED = [
  'file',
  'tempo',
  'meter',
  'start',
  'end',
  'notes',
  'polyphony',
  'spacing',
  'length',
  'events',
  'text',
  'naming',
  'velocity',
  'grid',
  'clock',
] as const;

/**
 * A target that nobody made: one of ours, some of whose blocks are another's, or are not there. Null
 * where they are at odds, which its reading says.
 */
export function anyTarget({ below, pick }: Roll): Target | null {
  const of = pick(builtInTargets);
  const data: Record<string, unknown> = { ...of };
  for (const block of MOVED) {
    const chance = below(100);
    // What takes no notes at all takes none of a device of notes.
    const others = builtInTargets.filter(
      (t) => t !== of && t[block] !== undefined && !(block === 'notes' && t.notes?.none),
    );
    if (chance < 25) data[block] = pick(others)[block];
    else if (chance < 32 && block !== 'file') delete data[block];
  }
  return parseTarget(JSON.parse(JSON.stringify(data))).target ?? null;
}
