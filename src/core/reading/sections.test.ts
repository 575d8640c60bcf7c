import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../testing/score-builder';
import { findTarget } from '../target/index';
import { carveByLength, carveBySections, goesRoundBest, patternsOf } from './carvings';
import { sectionsOf } from './sections';

const BAR = 1920;
/** A bar for each letter, each with a figure of its own; small velocities differ everywhere. */
function piece(letters: string, markers: Record<number, string> = {}) {
  const lead = conductor(120);
  for (const [bar, text] of Object.entries(markers)) lead.marker((Number(bar) - 1) * BAR, text);
  const track = new Track('Drums');
  [...letters].forEach((letter, bar) => {
    if (letter === '.') return;
    const figure = letter.charCodeAt(0) - 64;
    for (let i = 0; i < 4; i++)
      track.note(
        10,
        bar * BAR + i * 480,
        200,
        35 + ((figure * (i + 1)) % 40),
        60 + ((bar + i) % 40),
      );
  });
  return renditionOf(song([lead, track]), targetWith({ seats: [] })).pieces[0]!;
}
const told = (letters: string, markers?: Record<number, string>) =>
  sectionsOf(piece(letters, markers)).sections.map((s) => `${s.name} ${s.bars} @${s.at.join()}`);

describe('sections', () => {
  it('phrases that repeat are one; what always follows each other is one', () => {
    expect(told('ABCDEFGHABCDEFGH')).toEqual(['A 8 @1,9']);
    expect(told('ABCDEFGHABCDIJKL')).toEqual(['A 4 @1,9', 'B 4 @5', 'C 4 @13']);
    expect(told('ABABABAB')).toEqual(['A 2 @1,3,5,7']);
  });
  it('are parted at markers and named from them', () => {
    expect(told('ABCDABCDEFGHABCD', { 1: 'Verse', 9: 'Bridge', 13: 'Verse' })).toEqual([
      'Verse 4 @1,5,13',
      'Bridge 4 @9',
    ]);
    expect(told('AAABBB', { 4: 'Hit' })).toEqual(['A 1 @1,2,3', 'Hit 1 @4,5,6']);
  });
  it('cover every bar once, in order; equal sections have equal bars', () => {
    const bar = fc.constantFrom('A', 'B', 'C', 'D', '.');
    fc.assert(
      fc.property(fc.array(bar, { minLength: 1, maxLength: 40 }), (bars) => {
        const letters = bars.join('').replace(/\.+$/, '');
        const { sections, order } = sectionsOf(piece(letters));
        let at = 1;
        let again = '';
        for (const { section, fromBar } of order) {
          expect(fromBar).toBe(at);
          const s = sections[section]!;
          expect(s.at).toContain(fromBar);
          const first = s.at[0]! - 1;
          again += letters.slice(first, first + s.bars);
          at += s.bars;
        }
        expect(again).toBe(letters);
      }),
      { numRuns: 60 },
    );
  });
  it('four hundred bars, and a piece without a note', () => {
    const long = sectionsOf(piece('ABCDEFGH'.repeat(30) + 'IJKL'.repeat(40)));
    expect(long.sections.map((s) => [s.bars, s.at.length])).toEqual([[8, 30], [4, 40]]); // prettier-ignore
    expect(sectionsOf(piece('')).order).toEqual([]);
  });
});

describe('what a carving makes of them', () => {
  const crate = findTarget('stomp-crate')!;
  it('beds are sections, breaks the bars before a change, the last stroke the hit', () => {
    // A verse of four bars whose fourth fills, a bridge, the verse again, and one last stroke.
    const song_ = piece('AABFAABFCCDGCCDGAABF', { 1: 'Verse', 9: 'Bridge', 17: 'Verse' });
    const made = carveBySections(song_, crate.seats)!;
    const of = (place: RegExp) => made.places.filter((p) => place.test(p.place));
    expect(of(/^b/).map((p) => [p.fromBar, p.bars])).toEqual([[1, 4], [9, 4]]); // prettier-ignore
    expect(of(/^k/).map((p) => p.fromBar)).toEqual([8, 16]);
    expect(made.says).toContain('2 sections, 2 bars before a change');
  });
  it('a beat that is the same throughout is carved one stretch behind the other, all of it', () => {
    const plain_ = piece('A'.repeat(40));
    expect(carveBySections(plain_, crate.seats)).toBeNull();
    const made = carveByLength(plain_, crate.seats)!;
    expect(made.places.map((p) => [p.place, p.fromBar, p.bars])).toEqual([
      ['b1', 1, 16],
      ['b2', 17, 16],
      ['b3', 33, 8],
    ]);
    // What one place takes, and what no places are enough for, is not carved so.
    expect(carveByLength(piece('A'.repeat(16)), crate.seats)).toBeNull();
    expect(carveByLength(piece('A'.repeat(400)), crate.seats)).toBeNull();
  });
  it('patterns and their chain play every bar again, in order', () => {
    const letters = 'AAAABBBBAAAACCCCBBBB';
    const made = patternsOf(piece(letters), {
      patterns: [...'ABCDEFGH'],
      mostLinks: 24,
      mostRepeats: 2,
      mostBars: 2,
    })!;
    const byName = new Map(made.places.map((p) => [p.place, p]));
    const played = made.links
      .map(({ pattern, repeats }) => {
        const { fromBar, bars } = byName.get(pattern)!;
        return letters.slice(fromBar - 1, fromBar - 1 + bars).repeat(repeats);
      })
      .join('');
    expect(played).toBe(letters);
    expect(made.links.every((l) => l.repeats <= 2)).toBe(true);
  });
  it('of an allowed length, what begins with a section and comes back to it', () => {
    const [best] = goesRoundBest(piece('XYABCDABCDEF', { 3: 'Reel' }), (n) => n === 4 || n === 6);
    expect([best!.fromBar, best!.bars]).toEqual([3, 4]);
    expect(best!.says).toContain('Reel');
  });
  it('of two that come as often the one that has the tune, not the one with most notes', () => {
    const lead = conductor(120);
    const voice = new Track('Voice').program(0, 1, 53);
    const guitar = new Track('Guitar').program(0, 2, 25);
    const bass = new Track('Bass').program(0, 3, 33);
    for (let bar = 0; bar < 16; bar++) {
      const at = bar * BAR;
      const refrain = Math.floor(bar / 4) % 2 === 1;
      if (bar % 4 === 0) lead.marker(at, refrain ? 'Refrain' : 'Break');
      if (refrain) {
        [0, 480, 720, 960, 1440].forEach((tick, i) =>
          voice.note(1, at + tick, 230, 67 + (((bar % 4) * 2 + i * 3) % 9), 98),
        );
        for (const tick of [0, 960]) bass.note(3, at + tick, 900, 40 + (bar % 4), 84);
        for (const key of [55, 59]) guitar.note(2, at, 1800, key, 60);
      } else
        for (let i = 0; i < 16; i++)
          guitar.note(2, at + i * 120, 100, 52 + ((i * 4) % 12) + (bar % 4), 64);
    }
    const made = renditionOf(song([lead, voice, guitar, bass]), targetWith({ seats: [] }));
    const [best] = goesRoundBest(made.pieces[0]!, (n) => n === 4);
    expect(best!.says).toContain('Refrain');
  });
});
