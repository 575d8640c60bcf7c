import { describe, expect, it } from 'vitest';
import { deliver } from '../../../testing/rehearsing';
import { conductor, song, targetWith, Track } from '../../../testing/score-builder';
import { readSmf } from '../smf/read';
import { trackEnds } from './ends';

const a = () => new Track('A').note(1, 0, 480, 60, 90);
const b = () => new Track('B').note(2, 960, 540, 64, 90);
const SOURCES = {
  'a single track': song([a()], { format: 0, endTick: 1920 }),
  'a conductor track and two': song([conductor(), a(), b()]),
  'two, without a conductor track': song([a(), b()], { endTick: 1920 }),
};

describe('ends of tracks', () => {
  for (const [name, source] of Object.entries(SOURCES))
    for (const layout of ['as-is', 'single', 'conductor-first'] as const)
      it(`are what the file says: ${name}, ${layout}`, () => {
        const params = { format: layout === 'single' ? 0 : 1, layout };
        const step = { key: 's', step: 'set-format', params, scope: {}, on: true };
        const { rendition, files } = deliver(source, targetWith({ seats: [] }), {
          steps: [step],
        });
        const { tracks } = readSmf(files[0]!.bytes).file!;
        const said = tracks.map((t) => t.tick[t.tick.length - 1]);
        expect(trackEnds(rendition.pieces[0]!)).toEqual(said);
      });
});
