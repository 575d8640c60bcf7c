import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Happening, Turn } from '../../../core/standin/played';
import { findTarget } from '../../../core/target/index';
import { ChainHands } from './chain';
import { sayCode, type Sounding } from './hands';
import { PedalHands, PLATES } from './pedal';
import { StoneHands } from './stones';
import { LET_GO_US, middleOf, StrikeHands, WITHIN_US } from './strikes';

const MS = 1000;
const strike = (atMs: number, key: number, more: Partial<Happening> = {}): Happening => ({
  atUs: atMs * MS,
  kind: 'strike',
  seat: 'ebb',
  key,
  file: 'a.json',
  ...more,
});
const lane = (id: string, ...lanes: { seat: string; key: number }[]) => ({
  id,
  says: id,
  codes: [],
  lanes,
});
const two = [lane('a', { seat: 'ebb', key: 1 }), lane('b', { seat: 'ebb', key: 2 })];

describe('playing along', () => {
  it('each press is held against the nearest stroke of its lane', () => {
    const hands = new StrikeHands(two, [strike(1000, 1), strike(1150, 1), strike(2000, 2)]);
    hands.pass(0);
    expect(hands.press('a', 1090 * MS).errorUs).toBe(-60 * MS);
    expect(hands.press('a', 1095 * MS).errorUs).toBe(95 * MS);
    expect(hands.press('a', 1100 * MS).errorUs).toBeNull();
    expect(hands.press('b', 1899 * MS).errorUs).toBeNull();
    hands.pass(2000 * MS);
    expect(hands.tally.missed).toBe(0);
    hands.pass(2101 * MS);
    expect(hands.tally).toMatchObject({ struck: 2, missed: 1, beside: 2, errorsMs: [-60, 95] });
    expect(hands.says()).toContain('0 within 30 ms, 1 within 60 ms, 2 within 100 ms');
  });
  it('a lane that both sides share strikes both', () => {
    const shared = lane('s', { seat: 'ebb', key: 6 }, { seat: 'flood', key: 6 });
    const hands = new StrikeHands([shared], [strike(500, 6), strike(500, 6, { seat: 'flood' })]);
    hands.press('s', 510 * MS);
    expect(hands.tally.errorsMs).toEqual([10, 10]);
  });
  it('a hold that is let go too soon is told by how much', () => {
    const held = { lengthUs: 800 * MS };
    const hands = new StrikeHands(two, [strike(0, 1, held), strike(2000, 1, held)]);
    hands.press('a', 0);
    hands.release('a', 500 * MS);
    hands.press('a', 2000 * MS);
    hands.release('a', 2800 * MS - LET_GO_US);
    expect(hands.tally.letGoMs).toEqual([300]);
  });
  it('what is behind a jump is to be struck anew, and what was never heard is not missed', () => {
    const hands = new StrikeHands(two, [strike(1000, 1), strike(3000, 1), strike(5000, 1)]);
    hands.pass(2500 * MS);
    hands.press('a', 3000 * MS);
    hands.pass(4000 * MS);
    expect(hands.tally).toMatchObject({ struck: 1, missed: 0 });
    hands.pass(2600 * MS);
    expect(hands.tally).toMatchObject({ struck: 0, missed: 0 });
    hands.pass(6000 * MS);
    expect(hands.tally).toMatchObject({ struck: 0, missed: 2 });
    hands.restart();
    expect(hands.tally).toMatchObject({ struck: 0, missed: 0, beside: 0 });
  });
  it('known errors are said as they are, whatever they are', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -99, max: 99 }), { maxLength: 40 }), (errors) => {
        const hands = new StrikeHands(
          two,
          errors.map((_, i) => strike(1000 + i * 400, 1 + (i % 2))),
        );
        hands.pass(0);
        errors.forEach((e, i) => {
          hands.pass((1000 + i * 400 + e) * MS);
          hands.press(i % 2 === 0 ? 'a' : 'b', (1000 + i * 400 + e) * MS);
        });
        hands.pass((2000 + errors.length * 400) * MS);
        expect(hands.tally).toMatchObject({ errorsMs: errors, missed: 0, beside: 0 });
      }),
    );
  });
  it('each stroke is struck once or missed, each press strikes or is beside', () => {
    const press = fc.record({ at: fc.nat(4000), lane: fc.constantFrom('a', 'b') });
    fc.assert(
      fc.property(
        fc.array(fc.nat(4000), { maxLength: 20 }),
        fc.array(press, { maxLength: 40 }),
        (strokes, presses) => {
          const list = [...strokes].sort((a, b) => a - b).map((ms, i) => strike(ms, 1 + (i % 2)));
          const hands = new StrikeHands(two, list);
          hands.pass(0);
          for (const p of presses.sort((x, y) => x.at - y.at)) {
            hands.pass(p.at * MS);
            hands.press(p.lane, p.at * MS);
          }
          hands.pass(9_000 * MS);
          const { struck, missed, beside, errorsMs } = hands.tally;
          expect(struck + missed).toBe(strokes.length);
          expect(struck + beside).toBe(presses.length);
          for (const e of errorsMs) expect(Math.abs(e) * MS).toBeLessThanOrEqual(WITHIN_US);
        },
      ),
    );
  });
  it('the middle of the errors', () => {
    expect(middleOf([])).toBeNull();
    expect(middleOf([30, -10, 20])).toBe(20);
    expect(middleOf([30, -10])).toBe(10);
  });
});

const BAR = 2_000_000;
const roleOf = (seat: string): Pick<Turn, 'plays' | 'leadsFrom' | 'leadsTo'> => {
  if (seat[0] === 'x')
    return { plays: 'crossing', leadsFrom: `b${seat[1]}`, leadsTo: `b${seat[2]}` };
  const plays = { c: 'lead-in', b: 'round', k: 'break', h: 'end' } as const;
  return { plays: plays[seat[0] as keyof typeof plays] };
};
const turn = (seat: string, bars: number): Turn => ({
  file: `${seat}.mid`,
  seat,
  lengthUs: bars * BAR,
  barUs: BAR,
  next: [],
  ...roleOf(seat),
});
/** A hit at the beginning of each half bar, its key telling its place. */
const hits = (turns: readonly Turn[]): Happening[] =>
  turns.flatMap((t, n) =>
    Array.from({ length: (t.lengthUs / BAR) * 2 }, (_, i) => ({
      atUs: (i * BAR) / 2,
      lengthUs: 100_000,
      kind: 'note' as const,
      seat: t.seat,
      key: 36 + n,
      value: 80,
      file: t.file,
    })),
  );
/** Presses at given seconds, and what sounded up to an end: seconds and places. */
function foot(turns: readonly Turn[], presses: [number, string][], end: number, step = 0.05) {
  const hands = new PedalHands(turns, hits(turns));
  const heard: Sounding[] = [];
  const waiting = [...presses];
  for (let s = 0; s <= end; s = Math.round((s + step) * 1000) / 1000) {
    while (waiting[0] && waiting[0][0] <= s) {
      const [at, doing] = waiting.shift()!;
      hands.press(doing, at * 1e6);
    }
    heard.push(...hands.pass(s * 1e6));
  }
  return { hands, heard: heard.map((h) => `${h.atUs / 1e6} ${h.seat}`) };
}
const whole = [
  turn('count', 1),
  turn('b1', 2),
  turn('b2', 1),
  turn('k1', 1),
  turn('k2', 0.5),
  turn('x12', 1),
  turn('hit', 1),
];

describe('the pedal under the foot', () => {
  it('counts off, goes round, breaks, crosses and hits: each at its line', () => {
    const { hands, heard } = foot(
      whole,
      [[0, 'right'], [3, 'right'], [7, 'right'], [11, 'left'], [15.1, 'both']], // prettier-ignore
      20,
    );
    expect(heard).toEqual([
      ...['0 count', '1 count'],
      ...['2 b1', '3 b1'],
      // A whole bar of break, then the bed from its beginning.
      ...['4 k1', '5 k1'],
      ...['6 b1', '7 b1', '8 b1'],
      // The half-bar break of the pool fills the second half of a bar.
      '9 k2',
      ...['10 b1', '11 b1'],
      ...['12 x12', '13 x12'],
      ...['14 b2', '15 b2'],
      ...['16 hit', '17 hit'],
    ]);
    expect(hands.now).toBeNull();
    expect(hands.says()).toContain('At rest');
  });
  it('both plates one shortly behind the other are the hit', () => {
    const { heard } = foot(whole, [[0, 'left'], [2.5, 'left'], [2.6, 'right']], 8); // prettier-ignore
    expect(heard.slice(-2)).toEqual(['4 hit', '5 hit']);
  });
  it('a song that is half filled begins with its bed, and ends at the line', () => {
    const one = [turn('b1', 2)];
    const { heard, hands } = foot(one, [[0, 'right'], [1, 'right'], [1.4, 'left'], [3, 'both']], 9); // prettier-ignore
    expect(heard).toEqual(['0 b1', '1 b1', '2 b1', '3 b1']);
    expect(hands.now).toBeNull();
    const none = foot([turn('k1', 1)], [[0, 'right']], 2);
    expect(none.heard).toEqual([]);
    expect(none.hands.says()).toContain('no bed');
  });
  it('what is pressed too late for a line comes at the next', () => {
    const { heard } = foot([turn('b1', 1), turn('b2', 1)], [[0, 'left'], [1.97, 'left']], 6); // prettier-ignore
    expect(heard.filter((h) => h.endsWith('b2'))[0]).toBe('4 b2');
  });
  it('a drum that the chosen kit has not is silent', () => {
    const kits = [
      { name: 'Quay', keys: new Set([36]) },
      { name: 'Loft', keys: new Set([40]) },
    ];
    const turns = [turn('b1', 1)];
    const hands = new PedalHands(turns, hits(turns), kits);
    hands.press('left', 0);
    expect(hands.pass(1_500_000).length).toBe(2);
    hands.press('kit', 1_500_000);
    expect(hands.pass(6_000_000)).toEqual([]);
  });
  it('whatever is pressed, nothing overlaps and nothing is left out on the way', () => {
    const press = fc.tuple(fc.nat(12_000), fc.constantFrom(...PLATES.map((p) => p.id)));
    const some = fc.subarray(whole, { minLength: 1 });
    fc.assert(
      fc.property(some, fc.array(press, { maxLength: 14 }), (turns, presses) => {
        const hands = new PedalHands(turns, hits(turns));
        const heard: Sounding[] = [];
        const waiting = presses.sort((a, b) => a[0] - b[0]);
        for (let ms = 0; ms < 14_000; ms += 37) {
          while (waiting[0] && waiting[0][0] <= ms) hands.press(waiting.shift()![1], ms * MS);
          heard.push(...hands.pass(ms * MS));
        }
        for (let i = 1; i < heard.length; i++) {
          // One file at a time, in order: half a bar apart at least while it plays.
          expect(heard[i]!.atUs - heard[i - 1]!.atUs).toBeGreaterThanOrEqual(BAR / 2 - 1);
          expect(heard[i - 1]!.atUs + heard[i - 1]!.lengthUs).toBeLessThanOrEqual(heard[i]!.atUs);
        }
        expect(hands.says()).toMatch(/^[A-Z].*\.$/);
      }),
      { numRuns: 60 },
    );
  });
});

describe('stones', () => {
  const target = findTarget('pattern-pads')!;
  const turns = [turn('1_low', 2), turn('2_high', 1)].map((t) => ({ ...t, seat: '' }));
  const note = (atUs: number, key: number, file = turns[0]!.file): Happening => ({
    ...strike(0, key),
    atUs,
    kind: 'note',
    value: 90,
    file,
  });
  const events = [
    note(0, 60),
    note(0, 64),
    note(0, 24),
    note(BAR, 26),
    note(BAR * 1.5, 27),
    note(0, 50, turns[1]!.file),
  ];
  it('sounds the pattern as it stands until a chord is held, then plucks that', () => {
    const hands = new StoneHands(turns, events, target);
    hands.press('stone 0', 0);
    expect(hands.pass(BAR * 2 - 1).map((s) => s.key)).toEqual([60, 64]);
    for (const key of [55, 62, 59]) hands.press(`key ${key}`, BAR * 2 - 1);
    expect(hands.pass(BAR * 4 - 1).map((s) => s.key)).toEqual([55, 62, 67]);
    hands.release('key 59');
    expect(hands.chordHeld).toEqual([55, 62]);
    hands.press('stone 1', BAR * 4.2);
    hands.pass(BAR * 5 - 1);
    expect(hands.now!.turn.file).toBe(turns[0]!.file);
    hands.pass(BAR * 5 + 1);
    expect(hands.now!.turn.file).toBe(turns[1]!.file);
    hands.press('stone 1', BAR * 5 + 2);
    hands.pass(BAR * 6 + 1);
    expect(hands.now).toBeNull();
  });
});

describe('a chain', () => {
  const link = (atUs: number, text: string): Happening => ({
    ...strike(0, 0),
    atUs,
    lengthUs: BAR,
    kind: 'pattern',
    text,
  });
  const events = [
    link(0, 'A'),
    { ...strike(0, 60), atUs: 0, kind: 'note' as const },
    link(BAR, 'B'),
    { ...strike(0, 62), atUs: BAR, kind: 'note' as const },
  ];
  it('plays from its first link, from the next, and rests at its end', () => {
    const hands = new ChainHands(events);
    hands.pass(5000);
    hands.press('start', 10_000);
    expect(hands.pass(BAR + 9_999).map((s) => [s.atUs, s.key])).toEqual([[10_000, 60]]);
    hands.press('back', BAR + 20_000);
    expect(hands.pass(BAR * 2).map((s) => [s.atUs, s.key])).toEqual([[BAR + 20_000, 60]]);
    hands.press('on', BAR * 2);
    expect(hands.pass(BAR * 2 + 1).map((s) => s.key)).toEqual([62]);
    expect(hands.link(BAR * 2 + 1)).toBe(1);
    hands.pass(BAR * 4);
    expect(hands.says()).toContain('At rest');
  });
});

it('keys are said as they stand on them', () => {
  const codes = ['KeyA', 'Digit3', 'Space', 'Semicolon', 'Pad2', 'Note60', 'F5'];
  expect(codes.map(sayCode)).toEqual(['A', '3', 'Space', ';', 'button 2', 'MIDI 60', 'F5']);
});
