import { Unusable, print } from '../files';
import type { Status } from '../proofing';
import { songsIn } from '../folders';
import { mendSet } from './mend-set';
import { openSet } from './open-set';
import { type OpenSet } from './opened';
import { makeSet } from './new-set';
import { takeNewer } from './newer';
import type { SetOptions } from './options';
import { lookAt, sayLooked, songJson, statusFor } from './look-at';
import { handOverSet, statusOf } from './hand-over';

/** `set new FILE SONGS…`, `set FILE proof`, `set FILE hand-over --out DIR`, `set FILE status DIR`. */
export async function setCommand(args: string[], options: SetOptions): Promise<Status> {
  const [first, second, ...more] = args;
  if (first === 'new') {
    if (second === undefined) throw new Unusable('Name the set to make, such as quay.quillset.');
    return makeSet(second, more, options);
  }
  if (first === undefined || second === undefined)
    throw new Unusable(
      'Say a set and what to do: set FILE proof, mend, newer FILES…, hand-over or status DIR.',
    );
  const open = openSet(first);
  switch (second) {
    case 'proof':
      return proofTheSet(open, options);
    case 'mend':
      return mendSet(open, options);
    case 'hand-over':
      return handOverSet(open, options);
    case 'newer':
      return takeNewer(open, songsIn(more));
    case 'status':
      if (more[0] === undefined) throw new Unusable('Name the folder: set FILE status DIR.');
      return statusOf(open, more[0], options);
    default:
      throw new Unusable(`set FILE ${second}: there are proof, mend, newer, hand-over and status.`);
  }
}

async function proofTheSet(open: OpenSet, options: SetOptions): Promise<Status> {
  const looked = await lookAt(open);
  if (options.json)
    print(
      JSON.stringify({
        set: open.set.title,
        songs: looked.songs.map(songJson),
        findings: looked.findings,
      }),
    );
  else sayLooked(open, looked, null);
  return statusFor(looked);
}
