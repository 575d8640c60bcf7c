import { describe, expect, it } from 'vitest';
import { laidSource } from '../../../testing/laid';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { contentOf, sayContent } from './content';

/** A song as others make it: set-up spread over the first beat, one channel set up and never used. */
const foreign = song([
  conductor(),
  new Track('Lead').program(10, 1, 30).control(60, 1, 7, 100).note(1, 480, 480, 60, 90),
  new Track('Spare').control(100, 14, 0, 1).program(110, 14, 4).control(140, 14, 7, 90),
  new Track('Swell').control(100, 3, 11, 0).control(960, 3, 11, 90),
  new Track('Lamps').control(480, 14, 21, 127).control(960, 14, 21, 0),
]);
const namesFor = (id: string | null) => {
  const target = id === null ? null : builtIn(id);
  const { parts } = laidSource(foreign, target ?? builtIn('parlour-keyboard'));
  return parts.filter(contentOf(parts, target)).map((p) => p.name);
};

describe('what is a part', () => {
  it('without a target: notes, and what goes on behind the first of them', () => {
    expect(namesFor(null)).toEqual(['Lead', 'Swell', 'Lamps']);
  });
  it('for a target that is turned by curves or presets: what it hears, whenever it stands', () => {
    expect(namesFor('lamp-gallery')).toEqual(['Lead', 'Lamps']);
    expect(namesFor('brine-box')).toEqual(['Lead', 'Spare', 'Swell']);
  });
  it('is said by notes, else by presets and values', () => {
    const { parts } = laidSource(foreign, builtIn('brine-box'));
    expect(parts.map((p) => [p.name, sayContent(p)])).toContainEqual(['Lead', '1']);
    expect(parts.map((p) => [p.name, sayContent(p)])).toContainEqual([
      'Spare',
      '1 preset, 1 value',
    ]);
  });
});
