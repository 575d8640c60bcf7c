import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Happening, Played } from '../../../core/standin/played';
import { findTarget } from '../../../core/target/index';
import { Board } from './board';
import { editsOf } from './recorded';
import { StampHands } from './stamps';

const MS = 1000;
const target = findTarget('brine-box')!;
const preset = (atMs: number, program: number): Happening => ({
  atUs: atMs * MS,
  lengthUs: 35 * MS,
  kind: 'preset',
  seat: 'pedal',
  key: program,
  value: 0,
  text: '',
  file: 'a.mid',
});
const level = (atMs: number, key: number, value: number): Happening => ({
  atUs: atMs * MS,
  kind: 'level',
  seat: 'pedal',
  key,
  value,
  file: 'a.mid',
});
const handsOf = (events: readonly Happening[]) => {
  const sorted = [...events].sort((a, b) => a.atUs - b.atUs);
  const played: Played = {
    lengthUs: 60_000 * MS,
    events: sorted,
    refused: [],
    dropped: [],
    shows: [],
  };
  return new StampHands(new Board(played, target));
};
/** A thousand ticks a second. */
const clock = { tickAt: (ms: number) => ms };
const said = (hands: StampHands) =>
  editsOf(hands, clock).map(({ number, edits }) => [
    number,
    edits.map(
      (e) => `${e.fromTick}–${e.toTick} ${e.points.map((p) => `${p.tick}:${p.value}`).join(' ')}`,
    ),
  ]);

describe('stamping along', () => {
  it('a stamp turns over what is in force: what the preset has, what was sent, what was stamped', () => {
    // A2 has block 83 on, A1 nothing.
    const hands = handsOf([preset(0, 1), level(2000, 80, 127), preset(6000, 0)]);
    hands.press('83', 1000 * MS);
    expect([hands.isOn(83, 999 * MS), hands.isOn(83, 1000 * MS)]).toEqual([true, false]);
    hands.press('80', 3000 * MS);
    expect([hands.isOn(80, 2500 * MS), hands.isOn(80, 3000 * MS)]).toEqual([true, false]);
    hands.press('80', 3500 * MS);
    expect(hands.isOn(80, 5999 * MS)).toBe(true);
    // The next preset has its own.
    expect([hands.isOn(80, 6000 * MS), hands.isOn(83, 6000 * MS)]).toEqual([false, false]);
    hands.pass(5000 * MS);
    hands.turn(1, 5000 * MS);
    expect(hands.says()).toBe('On: 80. Expression at 127.');
    hands.strokes.pop();
    expect(said(hands)).toEqual([
      [83, ['1000–1001 1000:0']],
      [80, ['3000–3001 3000:0', '3500–3501 3500:127']],
    ]);
  });
  it('while a preset loads a stamp is missed, and said so', () => {
    const hands = handsOf([preset(0, 0), preset(2000, 1)]);
    hands.press('80', 2034 * MS);
    expect(hands.says()).toBe('Block switches 80 was missed: a preset is loading.');
    expect(said(hands)).toEqual([]);
    hands.press('80', 2035 * MS);
    expect(said(hands)).toEqual([[80, ['2035–2036 2035:127']]]);
  });
  it('turns are points at the rate of the device; a hand that waits holds; a rest is another stroke', () => {
    const hands = handsOf([preset(0, 0)]);
    for (let i = 0; i <= 20; i++) hands.turn(i / 20, (1000 + i * 5) * MS);
    hands.turn(0.5, 1600 * MS);
    hands.turn(0.25, 4000 * MS);
    const [[number, strokes]] = said(hands) as [[number, string[]]];
    expect(number).toBe(11);
    expect(strokes).toHaveLength(2);
    // 20 ms apart, at 50 a second; held at the end until 1,600 ms.
    expect(strokes[0]).toMatch(
      /^1000–1601 1000:0 1020:25 1040:51 1060:76 1080:102 1100:127 1600:64$/,
    );
    expect(strokes[1]).toBe('4000–4001 4000:32');
    expect([hands.level(1599 * MS), hands.level(3999 * MS), hands.level(4000 * MS)]).toEqual([
      127, 64, 32,
    ]);
  });
  it('what comes later in the music has the word again, and who goes back plays over', () => {
    const hands = handsOf([preset(0, 0), level(5000, 11, 90)]);
    hands.turn(1, 3000 * MS);
    expect([hands.level(4999 * MS), hands.level(5000 * MS)]).toEqual([127, 90]);
    hands.turn(0, 3000 * MS);
    hands.turn(0.5, 2000 * MS);
    expect([hands.level(2999 * MS), hands.level(3000 * MS)]).toEqual([64, 0]);
    expect(said(hands)).toEqual([[11, ['3000–3001 3000:0', '2000–2001 2000:64']]]);
  });
  it('a held key moves the dial from end to end in its time, at rest as well', () => {
    const hands = handsOf([preset(0, 0)]);
    hands.press('up', 1000 * MS);
    for (let ms = 1000; ms <= 2000; ms += 10) hands.pass(ms * MS);
    expect(hands.level(2000 * MS)).toBe(127);
    hands.release('up');
    hands.pass(3000 * MS);
    hands.press('down', 3000 * MS);
    for (let i = 0; i < 20; i++) hands.pass(3000 * MS);
    expect(hands.level(3000 * MS)).toBeLessThan(90);
    // At one place there is one value.
    expect((said(hands)[0]![1] as string[]).length).toBe(2);
  });
  it('a bad time or share is none that a curve could not hold', () => {
    const act = fc.record({
      share: fc.double({ min: -2, max: 3, noNaN: true }),
      ms: fc.integer({ min: -100, max: 20_000 }),
    });
    fc.assert(
      fc.property(fc.array(act, { maxLength: 60 }), (acts) => {
        const hands = handsOf([preset(0, 0), level(9000, 11, 5)]);
        for (const { share, ms } of acts) hands.turn(share, ms * MS);
        for (const { edits } of editsOf(hands, clock))
          for (const { fromTick, toTick, points } of edits) {
            expect(points.length).toBeGreaterThan(0);
            points.forEach((p, i) => {
              expect(p.tick).toBeGreaterThanOrEqual(Math.max(fromTick, points[i - 1]?.tick ?? 0));
              expect(p.tick).toBeLessThan(toTick);
              expect(p.value >= 0 && p.value <= 127 && Number.isInteger(p.value)).toBe(true);
            });
          }
      }),
    );
  });
});
