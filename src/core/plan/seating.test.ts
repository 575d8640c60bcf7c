import { describe, expect, it } from 'vitest';
import { builtIn, conductor, renditionOf, song, Track } from '../../../testing/score-builder';

const spare = () => new Track('Spare').control(100, 14, 7, 90).control(140, 14, 10, 64);
const seatsOf = (source: ReturnType<typeof song>, id: string) =>
  renditionOf(source, builtIn(id)).pieces[0]!.score.parts.map((p) => [p.name, p.seat, p.leftOut]);

describe('who sits where by default, at a target that hears no notes', () => {
  it('a channel that is only set up has no seat, and is left out', () => {
    const play = (name: string, channel: number) => new Track(name).note(channel, 480, 480, 60, 90);
    const both = song([conductor(), play('Lead', 1), play('Bass', 2), spare()]);
    expect(seatsOf(both, 'lamp-gallery')).toEqual([
      ['Lead', null, true],
      ['Bass', null, true],
      ['Spare', null, true],
    ]);
    // Notes alone can be made levels of: that is asked where they sit.
    expect(seatsOf(song([conductor(), play('Lead', 1), spare()]), 'lamp-gallery')).toEqual([
      ['Lead', 'lamps', false],
      ['Spare', null, true],
    ]);
  });
  it('what it hears is seated by its channel, or because it is the only one', () => {
    const lamps = (channel: number) =>
      new Track('Lamps').control(0, channel, 21, 9).control(960, channel, 21, 0);
    for (const channel of [14, 3])
      expect(seatsOf(song([conductor(), lamps(channel), spare()]), 'lamp-gallery')).toEqual([
        ['Lamps', 'lamps', false],
        ['Spare', null, true],
      ]);
  });
});
