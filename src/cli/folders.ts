import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { isModuleName } from '../core/smf/name';
import { Unusable } from './files';

const MOST_FILES = 20_000;
const IS_MIDI = /\.(mid|midi|smf|kar|rmi)$/i;

/** What a file is passed by for: hidden ones always are. */
const isScore = (name: string) => IS_MIDI.test(name) || isModuleName(name);

/** Files as they are named, and every score in the folders that are named, by path; hidden ones are passed over. */
export function songsIn(
  paths: readonly string[],
  takes: (name: string) => boolean = isScore,
): string[] {
  const out: string[] = [];
  const walk = (folder: string) => {
    const entries = readdirSync(folder, { withFileTypes: true });
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (entry.name.startsWith('.')) continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else if (entry.isFile() && takes(entry.name)) out.push(path);
      if (out.length > MOST_FILES)
        throw new Unusable(`${folder}: more than ${MOST_FILES} scores; name a folder in it.`);
    }
  };
  for (const path of paths) {
    if (path !== '-' && existsSync(path) && statSync(path).isDirectory()) walk(path);
    else out.push(path);
  }
  return out;
}
