import { compareMusic } from '../core/compare/by-music';
import { sayClock } from '../core/time/meter-map';
import { noteName } from '../core/target/words';
import { open, print, Unusable, whyNot } from './files';

/** Two files held against each other as music. Status 0 where they are the same, 1 where not. */
export function compareFiles(a: string, b: string, { json }: { json?: boolean }): 0 | 1 {
  const [one, two] = [a, b].map((file) => {
    const { opened } = open(file);
    if (!opened.source) throw new Unusable(whyNot(file, opened));
    return opened.source;
  });
  const found = compareMusic(one!.score, two!.score);
  const same = found.says.length === 1 && found.says[0] === 'the same music';
  if (json) {
    print(JSON.stringify({ a, b, ...found }));
    return same ? 0 : 1;
  }
  print(`${a} and ${b}: ${found.says.join(', ')}.`);
  print(
    `  ${found.same.toLocaleString('en-GB')} of ${found.notesA.toLocaleString('en-GB')} notes are the same, matched by ${found.matchedBy === 'clock' ? 'clock time' : 'quarters'}.`,
  );
  for (const text of found.markers.missing) print(`  marker gone: ${text}`);
  for (const text of found.markers.added) print(`  marker added: ${text}`);
  const words = { otherKey: 'on another key' } as Record<string, string>;
  for (const p of found.places)
    print(`  ${sayClock(p.atMs)}  ${noteName(p.noteNumber)} ${words[p.kind] ?? p.kind}`);
  return same ? 0 : 1;
}
