import { describe, expect, it } from 'vitest';
import { mendingSongs } from '../../../demo/mending-songs';
import { deliver, stopsOf, toldSteps } from '../../../testing/rehearsing';
import { sourceFromBytes } from '../../../testing/score-builder';
import { openSource, type SourceScore } from '../sources/source';
import { builtInTargets } from '../target/index';

/** More parts than seats, several on one channel; a kit, a line on its channel, and neither. */
const SHAPES = new Set(['full band', 'piano on two tracks', 'choir', 'cue list']);
const songs = mendingSongs().filter((s, i) => i % 5 === 3 && SHAPES.has(s.shape));

/** Of what one was delivered as there are several files, each of which holds all of it. */
const read = (path: string, bytes: Uint8Array): SourceScore | null =>
  openSource(bytes, { key: path, name: path.split('/').at(-1)!, sha256: path }).source ?? null;

describe.each(songs.map((s) => [s.shape, s.bytes] as const))('%s', (_, bytes) => {
  it.each(builtInTargets.map((t) => [t.id, t] as const))(
    'what was delivered for %s has nothing to mend when it is dropped again',
    (_id, target) => {
      const steps = toldSteps(target);
      const delivered = deliver(sourceFromBytes(bytes, 'song.mid'), target, {
        steps,
        mended: true,
      });
      if (stopsOf(delivered).length > 0) return;
      const again = delivered.files
        .filter((f) => f.path.endsWith('.mid'))
        .flatMap((f) => read(f.path, f.bytes) ?? []);
      if (again.length === 0) return;
      const apart = again.length > 1 || target.seats.some((s) => s.kind === 'file');
      const uses = again.map(({ key }) => ({
        source: key,
        as: apart ? ('file' as const) : ('together' as const),
      }));
      const once = deliver(again, target, { steps, uses });
      const stops = stopsOf(once).filter((f) => f.rule !== 'captions');
      expect(stops.map((f) => f.key)).toEqual([]);
    },
  );
});
