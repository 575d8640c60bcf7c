import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../../testing/score-builder';
import {
  bendAt,
  controlAt,
  hear,
  hearMidi,
  meterAt,
  midiFile,
  noteAt,
  oneTrack,
} from '../../../../testing/device-files';

const pads = builtIn('pattern-pads');
/** A bar of 4/4 is 1920 ticks, 2 s. */
const BAR = 1920;
const pluck = (tick: number, key = 24) => noteAt(6, tick, 120, key);
const loop = (bars: number, ...placed: ReturnType<typeof noteAt>[]) =>
  hearMidi(pads, { end: bars * BAR, tracks: oneTrack(pluck(0), ...placed) }, '3_quay.mid');

describe('the pattern pads', () => {
  it.each([2, 3, 4, 6])('a loop of %i bars goes round as long as it is', (bars) => {
    const { played, says, lost } = loop(bars);
    expect([says, lost]).toEqual([[], []]);
    expect(played.turns).toEqual([
      { file: '3_quay.mid', seat: '', lengthUs: bars * 2_000_000, barUs: 2_000_000, next: [] },
    ]);
  });

  it('of another length it plays what fits, and not what stands behind', () => {
    const five = loop(5, pluck(4 * BAR - 1, 25), pluck(4 * BAR, 26));
    expect(five.notes).toEqual(['0 pad 24', '7999 pad 25']);
    expect(five.lost).toEqual([
      '0  -1: it plays 4 bars of 5.00',
      '8000 pad 26: it stands behind what fits',
    ]);
    expect(five.played.turns![0]!.lengthUs).toBe(8_000_000);
    expect(loop(1).lost[0]).toBe('0  -1: it is too short to loop');
    expect(loop(7).lost[0]).toBe('0  -1: it plays 6 bars of 7.00');
  });

  it('bars are those of its meter', () => {
    const waltz = hearMidi(
      pads,
      { end: 4 * 1440, tracks: oneTrack(pluck(0), meterAt(0, 3, 4)) },
      '1_waltz.mid',
    );
    expect(waltz.lost).toEqual([]);
    expect(waltz.played.turns![0]).toMatchObject({ barUs: 1_500_000, lengthUs: 6_000_000 });
  });

  it('the digit says the pad; one pad takes one pattern', () => {
    const bytes = midiFile({ end: 2 * BAR, tracks: oneTrack(pluck(0)) });
    const { says, notes } = hear(pads, [
      { path: '1_a.mid', bytes },
      { path: '1_b.mid', bytes },
      { path: '9_c.mid', bytes },
      { path: 'x1_d.mid', bytes },
    ]);
    expect(says).toEqual([
      '1_b.mid name: 1_a.mid is on this pad already.',
      '9_c.mid name: It does not list a file of the name 9_c.mid.',
      'x1_d.mid name: It does not list a file of the name x1_d.mid.',
    ]);
    expect(notes).toEqual(['0 pad 24']);
  });

  it('shows how far a stray wheel would turn, and does not load the file', () => {
    const { played, bytes } = loop(
      2,
      bendAt(480, 6, 0x1000),
      controlAt(960, 6, 1, 90),
      controlAt(960, 6, 7, 90),
    );
    expect(bytes).toEqual(['b5 01: It takes no controller 1.', 'e5 00: It cannot bend.']);
    expect(played.stray).toEqual([
      { atUs: 500_000, file: '3_quay.mid', controller: null, value: expect.any(Number) as number },
      { atUs: 1_000_000, file: '3_quay.mid', controller: 1, value: 90 },
    ]);
  });
});

describe('chords and the key that plucks them', () => {
  const chord = (tick: number, ...keys: number[]) => keys.flatMap((k) => noteAt(6, tick, 240, k));
  const of = (...placed: ReturnType<typeof noteAt>[]) =>
    hearMidi(pads, { end: 2 * BAR, tracks: oneTrack(...placed) }, '1_c.mid');

  it('struck together with a pluck key they sound', () => {
    expect(of(chord(480, 48, 55, 60), pluck(480)).lost).toEqual([]);
    // 4 ticks are 4.2 ms, before or behind.
    expect(of(chord(480, 48, 55), pluck(484)).lost).toEqual([]);
    expect(of(chord(480, 48, 55), pluck(476)).lost).toEqual([]);
  });
  it('without one none of them sounds; one note alone is no chord', () => {
    expect(of(chord(480, 48, 55), pluck(486)).lost).toEqual([
      '500 pad 48: no pluck key goes with its chord',
      '500 pad 55: no pluck key goes with its chord',
    ]);
    expect(of(chord(480, 48)).lost).toEqual([]);
  });
  it('one that comes later than 5 ms after its chord falls out', () => {
    const { lost, notes } = of(chord(480, 48, 55), noteAt(6, 490, 120, 60), pluck(480));
    expect(lost).toEqual(['510 pad 60: it comes too late for its chord']);
    expect(notes).toHaveLength(3);
  });
  it('what begins 60 ms later was meant as the next one', () => {
    // 58 ticks are 60.4 ms.
    expect(of(chord(480, 48, 55), pluck(480), noteAt(6, 538, 120, 60)).lost).toEqual([]);
  });
  it('a key struck again begins a chord of its own', () => {
    const { lost } = of(chord(480, 48, 55), pluck(480), chord(500, 48, 57), pluck(500, 25));
    expect(lost).toEqual([]);
  });
  it('keys between the plucks and the chords are not there', () => {
    expect(of(noteAt(6, 0, 120, 32), noteAt(6, 0, 120, 47), noteAt(6, 0, 120, 77)).notes).toEqual(
      [],
    );
  });
});
