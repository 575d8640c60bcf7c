import { bandSongs } from '../demo/band-songs';
import { moduleFromScore, type MadeModule } from '../demo/modules/from-score';
import { knowModule } from '../src/core/sources/module/open';
import { DRUM_ROLES } from '../src/core/sources/module/samples/roles';
import { readAsScore } from '../src/core/sources/module/to-file';
import { scoreFromFile } from '../src/core/score/from-file';
import { mapsOf } from '../src/core/score/inventory';
import { sourceFromBytes } from '../testing/score-builder';

/**
 * Songs of bands entered as modules of all four formats, with sounds that have no names: what of it is
 * found again. `npm run bench module-songs`. Grids as the unit of tempo counts (24 ticks a beat), and others.
 */
const FORMATS = ['xm', 'it', 's3m', 'mod'] as const;
const GRIDS = {
  'as tempo counts': [
    { rowsPerBeat: 4, speed: 6 },
    { rowsPerBeat: 8, speed: 3 },
    { rowsPerBeat: 6, speed: 4 },
  ],
  otherwise: [
    { rowsPerBeat: 8, speed: 6 },
    { rowsPerBeat: 4, speed: 5 },
    { rowsPerBeat: 4, speed: 7 },
  ],
} as const;

console.log(
  '| grid | songs | rows a beat | half or double | drum or not | notes | lost untold | farthest ms |',
);
console.log('| --- | --- | --- | --- | --- | --- | --- | --- |'); // prettier-ignore
for (const [name, grids] of Object.entries(GRIDS)) {
  const sum = { songs: 0, right: 0, octave: 0, drums: 0, samples: 0, notes: 0, untold: 0, far: 0 };
  bandSongs().forEach((song, n) => {
    const { score } = sourceFromBytes(song.bytes, song.name);
    const as = FORMATS[n % 4]!;
    const grid = as === 'mod' ? { rowsPerBeat: 4, speed: 6 } : grids[(n >> 2) % 3]!;
    const made = moduleFromScore(score, as, 900 + n, grid);
    if (made) judge(made, sum);
  });
  const { songs, right, octave, drums, samples, notes, untold, far } = sum;
  console.log(
    `| ${name} | ${songs} | ${right} | ${octave} | ${drums} of ${samples} | ${notes} | ${untold} | ${far.toFixed(2)} |`,
  );
}

function judge(made: MadeModule, sum: Record<string, number>): void {
  const known = knowModule(made.bytes)!;
  const { file, beats, lost } = readAsScore(known, {});
  const score = scoreFromFile(file, { sourceKey: 'main' });
  const { clock } = mapsOf(score);
  const had = score.parts
    .flatMap((p) => Array.from(p.notes.start.subarray(0, p.notes.count), (t) => clock.msAt(t)))
    .sort((a, b) => a - b);
  sum['songs']!++;
  const ratio = beats.rowsPerBeat / made.rowsPerBeat;
  if (ratio === 1) sum['right']!++;
  else if (ratio === 2 || ratio === 0.5) sum['octave']!++;
  for (const s of known.samples) {
    sum['samples']!++;
    if (DRUM_ROLES.has(s.role) === made.isDrum[s.number]) sum['drums']!++;
  }
  const told = lost
    .filter((l) => /strike|notes outside/.test(l.what))
    .reduce((all, l) => all + l.count, 0);
  sum['notes']! += made.ms.length;
  sum['untold']! += Math.abs(made.ms.length - had.length - told);
  let at = 0;
  for (const ms of made.ms) {
    while (at + 1 < had.length && Math.abs(had[at + 1]! - ms) <= Math.abs(had[at]! - ms)) at++;
    sum['far'] = Math.max(sum['far']!, Math.abs((had[at] ?? Infinity) - ms));
  }
}
