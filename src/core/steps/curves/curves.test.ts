import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { baseOf } from '../../plan/base';
import { runStep } from '../../plan/run-step';
import { curvesIn, delivered } from '../../reading/curves';
import type { Rendition } from '../../score/piece';
import { testStep } from '../../../../testing/step-tester';
import { conductor, renditionOf, song, targetWith, Track } from '../../../../testing/score-builder';
import type { Point } from './change';
import { atRate, heldError, lineError, linesWithin, restingWithin, stepsWithin } from './simplify';

/** Values of a controller: at 120 BPM 480 ticks are half a second. */
const turned = (
  list: readonly (readonly [tick: number, value: number])[],
  { number = 11, programs = [] as number[] } = {},
) => {
  const track = new Track('Foot').note(1, 0, 240, 60, 80).note(1, 1920, 240, 64, 100);
  for (const tick of programs) track.program(tick, 1, 3);
  for (const [tick, value] of list) track.control(tick, 1, number, value);
  return song(
    [conductor(), track, new Track('Other').note(2, 0, 240, 50, 80).control(960, 2, 11, 9)],
    { endTick: 9600 },
  );
};
/** The points of one curve of the first channel, as `tick:value`. */
const pointsOf = ({ pieces }: Rendition, number: number | 'bend' = 11, channel = 1): string[] =>
  curvesIn(delivered(pieces[0]!))
    .filter((c) => c.channel === channel)
    .filter((c) => (number === 'bend' ? c.kind === 0xe0 : c.kind === 0xb0 && c.number === number))
    .flatMap((c) => Array.from({ length: c.count }, (_, i) => `${c.tick[i]}:${c.value[i]}`));
const become =
  (points: readonly string[], number: number | 'bend' = 11) =>
  (after: Rendition) =>
    expect(pointsOf(after, number)).toEqual(points);
const c11 = { controllers: [11] };

testStep('thin-curve', [
  {
    name: 'what says nothing new goes, and nothing is lost',
    source: turned([
      [0, 50],
      [480, 50],
      [960, 60],
      [1440, 60],
      [1920, 50],
    ]),
    params: { ...c11, within: 0 },
    effect: { events: 2 },
    expect: become(['0:50', '960:60', '1920:50']),
  },
  {
    name: 'within one: a value takes in what lies around it',
    source: turned([
      [0, 50],
      [480, 51],
      [960, 52],
      [1440, 55],
    ]),
    params: { ...c11, within: 1 },
    expect: become(['0:51', '1440:55']),
  },
  {
    name: 'what is held for long keeps its value, and the last one does',
    source: turned([
      [0, 50],
      [10, 53],
      [20, 56],
      [30, 57],
      [960, 55],
      [970, 52],
      [980, 50],
    ]),
    params: { ...c11, within: 4, rests: true },
    expect: become(['0:53', '30:57', '960:55', '980:50']),
  },
  {
    name: 'at a rate the value that is reached stays',
    source: turned(Array.from({ length: 40 }, (_, i) => [480 + i, i * 3] as const)),
    params: { ...c11, within: 0, perSecond: 20 },
    // A value each 48 ticks: the last of the hurry is the one that stays.
    expect: become(['480:117']),
  },
  {
    name: 'by straight lines only the corners stay',
    source: turned([
      [0, 0],
      [480, 10],
      [960, 20],
      [1440, 30],
      [1920, 20],
      [2400, 10],
    ]),
    params: { ...c11, within: 0, line: 'straight' },
    expect: become(['0:0', '1440:30', '2400:10']),
  },
]);
testStep('space-curve', [
  {
    name: 'what comes too soon waits; of two that would meet the last stays',
    source: turned([
      [960, 127],
      [965, 0],
      [970, 127],
      [1200, 0],
    ]),
    params: { ...c11, apartMs: 25 },
    expect: become(['960:127', '984:127', '1200:0']),
  },
  {
    name: 'behind a preset, and from a time on',
    source: turned(
      [
        [0, 5],
        [100, 6],
        [960, 7],
        [970, 8],
      ],
      { programs: [950] },
    ),
    params: { ...c11, afterPresetMs: 35, startMs: 500 },
    expect: become(['0:5', '480:6', '984:8']),
  },
  {
    name: 'what a preset at the very start would swallow comes when the target is ready',
    source: turned([[0, 5]], { programs: [0] }),
    params: { ...c11, afterPresetMs: 35, startMs: 500 },
    expect: become(['480:5']),
  },
  {
    name: 'no tick is taken that is half a microsecond too soon',
    // At 140 BPM tick 560 is at 499.9995 ms.
    source: song([
      new Track('').tempo(0, 140),
      new Track('Foot').program(0, 1, 3).control(0, 1, 11, 5).note(1, 4000, 100, 60, 90),
    ]),
    params: { ...c11, afterPresetMs: 35, startMs: 500 },
    expect: become(['561:5']),
  },
  {
    name: 'of two at the very start the second waits for it too',
    source: turned([
      [0, 5],
      [0, 6],
    ]),
    params: { ...c11, apartMs: 25, startMs: 500 },
    expect: become(['0:5', '480:6']),
  },
]);
testStep('settle-curve', [
  {
    name: 'the last value comes before the rest begins',
    source: turned(
      [
        [480, 1],
        [950, 2],
        [955, 3],
        [959, 4],
        [1200, 5],
      ],
      { programs: [960] },
    ),
    params: { ...c11, settledMs: 10 },
    expect: become(['480:1', '950:4', '1200:5']),
  },
]);
testStep('slew-curve', [
  {
    name: 'a step becomes a fade of as long as it takes',
    source: turned([
      [960, 127],
      [2400, 100],
    ]),
    params: { ...c11, fullMs: 100, perSecond: 40 },
    expect: become(['960:0', '984:32', '1008:64', '1032:95', '1056:127', '2400:100'].slice(1)),
  },
  {
    name: 'what comes meanwhile takes over',
    source: turned([
      [960, 120],
      [1000, 0],
    ]),
    params: { ...c11, fullMs: 127, perSecond: 40 },
    expect: (after) => expect(pointsOf(after).at(-1)).toMatch(/:0$/),
  },
]);
testStep('ramp-jumps', [
  {
    name: 'a jump is led up to, the value itself stays where it was',
    source: turned([
      [480, 10],
      [1920, 70],
    ]),
    params: { ...c11, mostJump: 24, perSecond: 50 },
    expect: become(['480:10', '1882:30', '1901:50', '1920:70']),
  },
]);
testStep('smooth-curve', [
  {
    name: 'a spike is spread over what was held around it',
    source: turned([
      [0, 40],
      [480, 40],
      [960, 100],
      [1008, 40],
      [1920, 40],
    ]),
    params: { ...c11, overMs: 500 },
    expect: (after) => {
      const values = pointsOf(after).map((p) => Number(p.split(':')[1]));
      expect(Math.max(...values)).toBeLessThan(60);
      expect(values).toHaveLength(5);
    },
  },
]);
testStep('curve-steps', [
  {
    name: 'three levels',
    source: turned([
      [0, 3],
      [480, 40],
      [960, 60],
      [1440, 90],
      [1920, 120],
    ]),
    params: { ...c11, levels: 3 },
    expect: become(['0:0', '480:64', '1920:127']),
  },
]);
testStep('curve-values', [
  {
    name: 'upside down, half as much, a little more, within bounds',
    source: turned([
      [0, 127],
      [480, 0],
      [960, 27],
    ]),
    params: { ...c11, invert: true, scale: 0.5, offset: 10, highest: 60 },
    effect: { events: 4 },
    expect: become(['0:10', '480:60', '960:60']),
  },
  {
    name: 'to the nearest that is known; half on is on',
    source: turned([
      [0, 63],
      [480, 64],
      [960, 127],
    ]),
    params: { ...c11, only: [0, 127] },
    effect: { events: 3 },
    expect: become(['0:0', '480:127', '960:127']),
  },
]);
testStep('map-curve', [
  {
    name: 'a controller as another',
    source: turned(
      [
        [0, 5],
        [480, 6],
      ],
      { number: 1 },
    ),
    params: { of: 'controller', from: 1, to: 11 },
    effect: { events: 2 },
    expect: (after) => {
      expect(pointsOf(after, 11)).toEqual(['0:5', '480:6']);
      expect(pointsOf(after, 1)).toEqual([]);
    },
  },
  {
    name: 'velocity too, the hardest of those struck together',
    source: turned([]),
    params: { of: 'velocity', to: 11, keep: true },
    expect: become(['0:80', '1920:100']),
  },
]);
testStep('notes-as-levels', [
  {
    name: 'a key goes up and down again; one beyond is listed',
    source: turned([]),
    params: { lowestKey: 60, controllers: [20, 21], attackMs: 0, decayMs: 100, perSecond: 40 },
    effect: { notesDropped: 2 },
    expect: (after) => {
      expect(pointsOf(after, 20)).toEqual(['0:80', '264:60', '288:40', '312:20', '336:0']);
      expect(after.pieces[0]!.score.parts[0]!.notes.count).toBe(0);
    },
  },
]);
testStep('rest-curve', [
  {
    name: 'one more value at the end, before the tail',
    source: turned([
      [0, 5],
      [480, 6],
    ]),
    params: { ...c11, value: 0, beforeEndMs: 500 },
    effect: { events: 2 },
    expect: become(['0:5', '480:6', '9120:0']),
  },
]);
testStep('draw-curve', [
  {
    name: 'points in the place of others, the tick at the end not among them',
    source: turned([
      [0, 1],
      [480, 2],
      [960, 3],
      [1440, 4],
    ]),
    params: {
      controller: 11,
      stretches: [
        {
          fromTick: 480,
          toTick: 1440,
          points: [
            { tick: 600, value: 90 },
            { tick: 1440, value: 9 },
          ],
        },
      ],
    },
    scope: { parts: [{ source: 'main', track: 'Foot', channel: 1, occurrence: 0 }] },
    expect: become(['0:1', '600:90', '1440:4']),
  },
  {
    name: 'what stands between two stretches stays',
    source: turned([
      [0, 1],
      [480, 2],
      [960, 3],
      [1440, 4],
    ]),
    params: {
      controller: 11,
      stretches: [
        { fromTick: 0, toTick: 481, points: [{ tick: 480, value: 7 }] },
        { fromTick: 1440, toTick: 1441, points: [{ tick: 1440, value: 8 }] },
      ],
    },
    scope: { parts: [{ source: 'main', track: 'Foot', channel: 1, occurrence: 0 }] },
    expect: become(['480:7', '960:3', '1440:8']),
  },
  {
    name: 'a bend, in 14 bits',
    source: turned([]),
    params: { stretches: [{ fromTick: 0, toTick: 960, points: [{ tick: 10, value: 8193 }] }] },
    scope: { parts: [{ source: 'main', track: 'Foot', channel: 1, occurrence: 0 }] },
    expect: become(['10:8193'], 'bend'),
  },
]);
testStep('leave-notes-out', [
  {
    name: 'notes go, controllers stay',
    source: turned([[480, 5]]),
    params: {},
    effect: { notesDropped: 3 },
    expect: become(['480:5']),
  },
]);
testStep('space-tempos', [
  {
    name: 'tempos that follow too soon become one as long',
    source: song(
      [conductor(120).tempo(480, 60).tempo(960, 120), new Track('One').note(1, 0, 480, 60, 90)],
      { endTick: 4800 },
    ),
    params: { apartMs: 800 },
    expect: ({ pieces }) =>
      expect(
        pieces[0]!.score.conductor.tempos.map((t) => [t.tick, t.microsecondsPerQuarter]),
      ).toEqual([
        [0, 750_000],
        [960, 500_000],
      ]),
  },
]);

const curve = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 40 }), fc.nat(127)), { minLength: 1, maxLength: 60 })
  .map((list) => {
    let tick = 0;
    return list.map(([gap, value], i): Point => ({ tick: (tick += gap), value, from: i }));
  });

describe('curves of any kind', () => {
  const EVERY: readonly (readonly [string, object])[] = [
    ['thin-curve', { ...c11, within: 3, perSecond: 30 }],
    ['space-curve', { ...c11, apartMs: 30, afterPresetMs: 35 }],
    ['settle-curve', { ...c11, settledMs: 40 }],
    ['slew-curve', { ...c11, fullMs: 200, perSecond: 40 }],
    ['ramp-jumps', { ...c11, mostJump: 10, perSecond: 50 }],
    ['smooth-curve', { ...c11, overMs: 100 }],
    ['curve-steps', { ...c11, levels: 4 }],
    ['curve-values', { ...c11, invert: true }],
    ['map-curve', { of: 'controller', from: 11, to: 12 }],
  ];
  const lists = fc.array(fc.tuple(fc.integer({ min: 0, max: 5000 }), fc.nat(127)), {
    minLength: 1,
    maxLength: 40,
  });

  it.each(EVERY)(
    '%s: what is outside the scope stays; never a value that is none',
    (step, params) => {
      fc.assert(
        fc.property(lists, fc.integer({ min: 100, max: 4000 }), (list, from) => {
          const sorted = [...list].sort((a, b) => a[0] - b[0]);
          const source = turned(sorted, { programs: [2000, 3000] });
          const before = renditionOf(source, targetWith({ seats: [] }));
          const { rendition, outcome } = runStep(
            before,
            { step, params, scope: { fromTick: from } },
            baseOf(source),
          );
          expect(outcome.refused).toBeNull();
          const early = (r: Rendition) => pointsOf(r).filter((p) => Number(p.split(':')[0]) < from);
          // A move may come to stand before the scope; what stood there is there still.
          expect(early(rendition)).toEqual(expect.arrayContaining(early(before)));
          expect(pointsOf(rendition, 11, 2)).toEqual(
            step === 'map-curve' || step.startsWith('curve-') ? expect.anything() : ['960:9'],
          );
          for (const p of [...pointsOf(rendition), ...pointsOf(rendition, 12)]) {
            const [tick, value] = p.split(':').map(Number);
            expect(tick! >= 0 && value! >= 0 && value! <= 127, p).toBe(true);
          }
        }),
        { numRuns: 40 },
      );
    },
  );

  it('held values: as few as any choice of stretches could leave, and within the error', () => {
    fc.assert(
      fc.property(curve, fc.integer({ min: 0, max: 20 }), (points, within) => {
        const { points: out, error } = stepsWithin(points, within);
        expect(error).toBeLessThanOrEqual(within);
        expect(heldError(points, out)).toBeLessThanOrEqual(within);
        // Exhaustive: the fewest stretches of which each spans no more than twice the error.
        const best = new Array<number>(points.length + 1).fill(Infinity);
        best[0] = 0;
        for (let from = 0; from < points.length; from++) {
          let [low, high] = [Infinity, -Infinity];
          for (let to = from; to < points.length; to++) {
            low = Math.min(low, points[to]!.value);
            high = Math.max(high, points[to]!.value);
            if (high - low > 2 * within) break;
            best[to + 1] = Math.min(best[to + 1]!, best[from]! + 1);
          }
        }
        expect(out.length).toBe(best[points.length]);
      }),
      { numRuns: 300 },
    );
  });

  it('held values, as they are at rest: within the error, and every rest exact', () => {
    fc.assert(
      fc.property(curve, fc.integer({ min: 0, max: 20 }), (points, within) => {
        // As if a tick were 25 ms: a rest is of ten.
        const out = restingWithin(points, within, (tick) => tick * 25_000);
        expect(heldError(points, out)).toBeLessThanOrEqual(within);
        points.forEach(({ tick, value }, i) => {
          const next = points[i + 1];
          if (next && next.tick - tick < 10) return;
          const holds = out.findLast((p) => p.tick <= tick)!;
          expect(holds.value).toBe(value);
        });
      }),
      { numRuns: 300 },
    );
  });

  it('straight lines: within the error, and at most 1.15 times the fewest there are', () => {
    let [ours, fewest] = [0, 0];
    fc.assert(
      fc.property(curve, fc.integer({ min: 0, max: 12 }), (points, within) => {
        const { points: out, error } = linesWithin(points, within);
        expect(error).toBeLessThanOrEqual(within + 1e-9);
        const best = new Array<number>(points.length).fill(Infinity);
        best[0] = 1;
        for (let from = 0; from < points.length; from++)
          for (let to = from + 1; to < points.length; to++) {
            const stretch = points.slice(from, to + 1);
            if (lineError(stretch, [points[from]!, points[to]!]) <= within)
              best[to] = Math.min(best[to]!, best[from]! + 1);
          }
        ours += out.length;
        fewest += best.at(-1)!;
      }),
      { numRuns: 200, seed: 5 },
    );
    expect(ours / fewest).toBeLessThanOrEqual(1.15);
  });

  it('at a rate: no more in any second, and the last value is the one that stays', () => {
    fc.assert(
      fc.property(curve, fc.integer({ min: 1, max: 60 }), (points, rate) => {
        const usAt = (tick: number) => tick * 2000;
        const out = atRate(points, rate, usAt);
        expect(out.at(-1)!.value).toBe(points.at(-1)!.value);
        for (let i = rate; i < out.length; i++)
          expect(usAt(out[i]!.tick) - usAt(out[i - rate]!.tick)).toBeGreaterThanOrEqual(1_000_000);
      }),
      { numRuns: 300 },
    );
  });
});
