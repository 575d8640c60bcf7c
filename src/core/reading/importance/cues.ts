import type { Part } from '../../score/score';
import { firstProgram } from './measures';
import { rolesIn } from './names';

/** Words that a list of cues is called by; a tune may be called by one of them beside others. */
const WORDS = /^(?:cues?|lights?|lamps?|lanterns?|shutters?|advances?|lines?|tracks?|list|\d+)$/u;

/**
 * Whether a part is cues for lamps, and no music. A name tells it where it says nothing else, and
 * no sound was chosen for it: a song may be called by a light, and be played on a piano.
 */
export const areCues = (part: Pick<Part, 'name' | 'events'>): boolean =>
  rolesIn(part.name).has('cues') &&
  part.name
    .toLowerCase()
    .split(/[^\p{L}\d]+/u)
    .every((word) => word === '' || WORDS.test(word)) &&
  firstProgram(part) === null;
