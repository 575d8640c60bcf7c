import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { furtherPaths } from './further-paths';
import { week } from '../../../demo/week';
import { builtIn, conductor, song, sourceFromBytes, Track } from '../../../testing/score-builder';
import type { Piece } from '../../core/score/piece';
import { baseRendition } from '../../core/plan/base';
import { runStep } from '../../core/plan/run-step';
import { proof } from '../../core/rules/proof';
import { ticksPerQuarterOf } from '../../core/score/score';
import { makeMeterMap } from '../../core/time/meter-map';
import { makeClock } from '../../core/time/tempo-map';
import { ColumnKeys, toWire } from '../../core/wire/to-view';
import type { NoteView, TurnsView } from '../../core/wire/view';
import { densityOf } from '../pulse/density';
import type { LaidPiece } from '../stores/job';
import type { FindingView } from '../../worker/run-protocol';
import { ghostsOf } from './ghosts';
import { bandsOf, firstReaching, fitBars, layOut, rowAt, tickAtPoint, xOf, yOf } from './layout';
import { marksOf } from './marks';
import { noteAt, notesIn } from './pick';
import { baseOf } from '../../core/plan/base';

function laid(source: ReturnType<typeof song>, target = builtIn('lantern-rail')): LaidPiece {
  return laidPiece(baseRendition(baseOf(source), target).pieces[0]!);
}
function laidPiece(piece: Piece): LaidPiece {
  const { wire } = toWire(piece, new ColumnKeys(), new Set());
  const parts = wire.parts.map((p) => ({
    ...p,
    columns: p.columns as NoteView,
    turns: p.turns as TurnsView | null,
  }));
  return {
    ...wire,
    parts,
    clock: makeClock(wire.division, wire.tempos),
    bars: makeMeterMap(ticksPerQuarterOf(wire.division), wire.meters),
  };
}
const tide = laid(sourceFromBytes(week[0]!.bytes()));
const causeway = laid(sourceFromBytes(week[3]!.bytes()));
const layoutOf = (piece: LaidPiece, barsPerRow = 0) =>
  layOut({ bars: piece.bars, endTick: piece.endTick, barsPerRow, width: 700, height: 600 });

describe('rows', () => {
  it('hold every bar once, in order, and nothing is wider than the sheet', () => {
    for (const piece of [tide, causeway])
      for (const perRow of [0, 1, 3, 8, 64]) {
        const layout = layoutOf(piece, perRow);
        expect(layout.rows[0]!.fromTick).toBe(0);
        layout.rows.forEach((row, i) => {
          const next = layout.rows[i + 1];
          if (next) expect(next.fromTick).toBe(row.toTick);
          expect(xOf(layout, row, row.toTick)).toBeLessThanOrEqual(700);
        });
        expect(layout.rows.reduce((n, r) => n + r.bars, 0)).toBe(
          piece.bars.barCount(piece.endTick),
        );
      }
  });
  it('fit shows 32 bars at once and keeps 400 readable', () => {
    expect(layoutOf(tide).height).toBeLessThanOrEqual(600);
    expect(fitBars(400, 700, 600)).toBe(16);
    expect(fitBars(3, 700, 600)).toBe(3);
  });
  it('a point and its tick agree', () => {
    const layout = layoutOf(causeway);
    fc.assert(
      fc.property(fc.nat(causeway.endTick - 1), (tick) => {
        const row = rowAt(layout, tick);
        expect(tickAtPoint(layout, xOf(layout, row, tick), row.top + 50)).toBe(tick);
      }),
    );
  });
});

describe('bands', () => {
  it('many parts share a few, what is left out lies last', () => {
    const sixty = laid(sourceFromBytes(week[2]!.bytes()));
    const bands = bandsOf(sixty.parts, 110);
    expect(bands.length).toBeLessThanOrEqual(6);
    expect(bands.flatMap((b) => b.parts).sort((a, b) => a - b)).toEqual([...Array(60).keys()]);
    // The seated part has a band of its own.
    expect(bands[0]!.parts).toHaveLength(1);
    const out = { ...sixty, parts: sixty.parts.map((p, i) => ({ ...p, leftOut: i < 30 })) };
    expect(bandsOf(out.parts, 110).at(-1)).toMatchObject({ faint: true });
  });
  it('keep every note inside their height', () => {
    for (const band of bandsOf(tide.parts, 100))
      for (const i of band.parts)
        for (const key of [tide.parts[i]!.lowest, tide.parts[i]!.highest]) {
          expect(yOf(band, key)).toBeGreaterThanOrEqual(band.top);
          expect(yOf(band, key)).toBeLessThan(band.top + band.height);
        }
  });
});

describe('picking', () => {
  const layout = layoutOf(tide);
  const bands = bandsOf(tide.parts, layout.areaHeight);
  it('finds a note where it is drawn', () => {
    const { start, noteNumber, id } = tide.parts[0]!.columns;
    const row = rowAt(layout, start[5]!);
    const band = bands.find((b) => b.parts.includes(0))!;
    const x = xOf(layout, row, start[5]!) + 2;
    const hit = noteAt(
      tide,
      layout,
      bands,
      x,
      row.top + layout.headHeight + yOf(band, noteNumber[5]!) + 1,
    );
    expect(tide.parts[hit!.part]!.columns.id[hit!.index]).toBe(id[5]);
    expect(noteAt(tide, layout, bands, 2, 2)).toBeNull();
  });
  it('a sweep over everything finds every note', () => {
    const all = notesIn(tide, layout, bands, { left: 0, right: 800, top: 0, bottom: 9999 });
    const ids = new Set(all.map(({ part, index }) => `${part}:${index}`));
    expect(ids.size).toBe(tide.parts.reduce((n, p) => n + p.columns.count, 0));
  });
  it('a row looks back as far as its longest note', () => {
    const long = laid(
      song([conductor(), new Track('A').note(1, 0, 20_000, 60, 9).note(1, 100, 10, 61, 9)]),
    );
    expect(firstReaching(long.parts[0]!, 19_000)).toBe(0);
  });
});

it('marks: every finding has one place, none lies on another', () => {
  const source = sourceFromBytes(week[1]!.bytes());
  const target = builtIn('bell-loft');
  const piece = laid(source, target);
  const findings = proof({
    rendition: baseRendition(baseOf(source), target),
    target,
    base: baseOf(source),
  }) as unknown as FindingView[];
  const layout = layoutOf(piece);
  const bands = bandsOf(piece.parts, layout.areaHeight);
  const { marks, whole } = marksOf(findings, piece, layout, bands);
  expect(new Set([...marks.map((m) => m.key), ...whole])).toEqual(
    new Set(findings.map((f) => f.key)),
  );
  marks.forEach((a, i) =>
    marks.slice(i + 1).forEach((b) => {
      expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeGreaterThanOrEqual(24);
    }),
  );
});

it('marks: a row that is full ends, and every finding has its mark', () => {
  const source = song([conductor(), new Track('Bells').note(1, 0, 480, 60, 90)]);
  const piece = laid(source, builtIn('bell-loft'));
  const findings = Array.from({ length: 4000 }, (_, i) => ({
    key: `f-${i}`,
    severity: 'stop',
    part: null,
    notes: [],
    spans: [{ fromTick: 0, toTick: 480 }],
  })) as unknown as FindingView[];
  const layout = layoutOf(piece);
  const { marks } = marksOf(findings, piece, layout, bandsOf(piece.parts, layout.areaHeight));
  expect(marks).toHaveLength(4000);
  for (const m of marks) {
    expect(m.x).toBeGreaterThanOrEqual(0);
    expect(m.x).toBeLessThanOrEqual(layout.width);
    expect(m.y).toBeLessThanOrEqual(layout.height);
  }
});

it('marks: further places are one drawing a row and severity, each place in it once', () => {
  const at = (row: number, severity: string, x: number) => ({
    key: `${severity}-${x}`,
    severity,
    row,
    x,
    y: row * 100,
  });
  const places = [at(1, 'stop', 10), at(1, 'stop', 40.2), at(1, 'stop', 40), at(2, 'stop', 10)];
  const paths = furtherPaths([...places, at(1, 'caution', 10), at(1, 'remark', 10)]);
  expect(paths.map((p) => [p.row, p.severity, p.top, p.d.split('z').length - 1])).toEqual([
    [1, 'stop', 100, 2],
    [2, 'stop', 200, 1],
    [1, 'caution', 100, 1],
    [1, 'remark', 100, 1],
  ]);
  expect(paths[0]!.d).toBe('M7 -3h8l-4 5zM37.2 -3h8l-4 5z');
  expect(furtherPaths([places[0]!], 1.5)[0]!.d).toBe('M5 -3h12l-6 7.5z');
});

it('density counts every note that is delivered once', () => {
  const counts = densityOf(tide, 120);
  expect(counts.reduce((a, b) => a + b)).toBe(
    tide.parts.filter((p) => !p.leftOut).reduce((n, p) => n + p.columns.count, 0),
  );
});

describe('ghosts of a mend that is looked at', () => {
  const target = builtIn('bell-loft');
  const piece = (...notes: [number, number, number][]) => {
    const track = new Track('Bells');
    for (const [start, length, key] of notes) track.note(1, start, length, key, 90);
    return song([conductor(), track]);
  };
  const source = piece([0, 240, 60], [480, 240, 62], [960, 240, 64]);
  const withStep = (step: string, params: unknown) => {
    const call = { step, params, scope: {} };
    const done = runStep(baseRendition(baseOf(source), target), call, baseOf(source)).rendition;
    return laidPiece(done.pieces[0]!);
  };
  const before = laid(source, target);
  it('a shift of all leaves none', () => {
    const after = withStep('rest-at-start', { bars: 1 });
    expect(ghostsOf(before, after, 2000)).toEqual({ ghosts: [], count: 0 });
    expect(ghostsOf(before, after, 0).count).toBe(3);
  });
  it('stand where notes were that moved, fell silent or changed their key', () => {
    const after = withStep('leave-out', { keys: [62] });
    expect(ghostsOf(before, after, 0).ghosts).toEqual(
      [{ part: 1, startTick: 480, endTick: 720, noteNumber: 62 }].map((g) => ({
        ...g,
        part: after.parts.findIndex((p) => p.columns.count > 0),
      })),
    );
    expect(ghostsOf(before, withStep('transpose', { semitones: 2 }), 0).count).toBe(3);
    expect(
      ghostsOf(before, withStep('shorten', { until: 'longest', longestMs: 100 }), 0).count,
    ).toBe(3);
  });
});
