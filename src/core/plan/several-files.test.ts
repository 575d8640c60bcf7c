import { expect, it } from 'vitest';
import { smf, Track, conductor } from '../../../testing/score-builder';
import { stopsOf, deliver, toldSteps } from '../../../testing/rehearsing';
import { openSource } from '../sources/source';
import type { SourceUse } from '../sources/use';
import { builtInTargets } from '../target/index';

/** Three folders with one `song.mid` each, of three tempos and PPQs: drums and a line. */
const sources = [0, 1, 2].map((k) => {
  const ppq = [480, 96, 240][k]!;
  const line = new Track('Bells').program(0, 1, 14);
  const drums = new Track('Drums');
  for (let i = 0; i < 16; i++) {
    line.note(1, i * ppq, ppq / 2, 50 + k + ((i * 5) % 9), 80);
    drums.note(10, i * ppq, ppq / 4, i % 2 === 0 ? 36 : 38, 90);
  }
  const bytes = smf(1, ppq, [conductor(100 + 10 * k), line, drums], 16 * ppq);
  return openSource(bytes, { key: `s${k}`, name: 'song.mid', sha256: `x${k}` }).source!;
});
const uses = sources.map(({ key }, i): SourceUse => ({
  source: key,
  as: i > 0 ? 'file' : 'together',
}));

it.each(builtInTargets.map((t) => [t.id, t] as const))(
  'files of one name and other tempos go out beside each other: %s',
  (_, target) => {
    const done = deliver(sources, target, { steps: toldSteps(target), mended: true, uses });
    const names = done.rendition.pieces.map((p) => p.delivery.fileName.toLowerCase());
    expect(new Set(names).size).toBe(3);
    const between = [
      'name-taken',
      'file-name',
      'no-place',
      'place-twice',
      'tempos-differ',
      'clock-moved',
    ];
    expect(stopsOf(done).filter((f) => between.includes(f.code))).toEqual([]);
    const paths = done.files.map((f) => f.path.toLowerCase());
    expect(new Set(paths).size).toBe(paths.length);
  },
);
