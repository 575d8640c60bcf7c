import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { overlaps, recordingCanvas, type Shape } from '../../../testing/canvas';
import { laidSource } from '../../../testing/laid';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { inkOf, SHEET_COLOURS } from '../sheet/inks';
import type { LaidPiece } from '../stores/job';
import { drawCloseUp, NOTHING_PENDING, type DrawInput } from './draw';
import { AXIS, FOOT, HEAD, rowHeight, rowsFor, xAt, yAt, type View } from './geometry';

const loft = builtIn('bell-loft');
/** Four bars: a bell on each beat, and a part that stands behind. */
const piece = (() => {
  const bells = new Track('Bells');
  for (let i = 0; i < 16; i++) bells.note(1, i * 480, 240, 60 + (i % 12), 20 + i * 5);
  const pad = new Track('Pad').note(2, 0, 7680, 66, 90);
  return laidSource(song([conductor(), bells, pad], { endTick: 7680 }), loft);
})();

function viewOf(of: LaidPiece, over: Partial<View> = {}): View {
  const front = [0];
  return {
    fromTick: 0,
    ticksPerPixel: 4,
    width: 900,
    height: 320,
    front,
    faint: of.parts.map((_, i) => i).filter((i) => !front.includes(i)),
    ...rowsFor(of.parts, front, loft),
    ...over,
  };
}
function draw(over: Partial<DrawInput> = {}, view: Partial<View> = {}) {
  const canvas = recordingCanvas();
  const v = viewOf(piece, view);
  const input: DrawInput = {
    context: canvas.context,
    view: v,
    piece,
    inks: piece.parts.map((_, i) => inkOf(i, 'paper')),
    light: 'paper',
    wave: null,
    beatsMs: new Float64Array(0),
    chosen: new Set(),
    pending: NOTHING_PENDING,
    grid: 0,
    names: new Map(),
    sweep: null,
    drawing: null,
    ...over,
  };
  drawCloseUp(input);
  expect(canvas.balanced()).toBe(true);
  return { shapes: canvas.shapes, view: v };
}
const colour = SHEET_COLOURS.paper;
const ink = inkOf(0, 'paper').colour;
const inRows = (shapes: readonly Shape[], v: View) =>
  shapes.filter((s) => s.y >= HEAD && s.y + s.height <= v.height - FOOT + 1);

describe('the close-up', () => {
  it('has each note in the row of its key, as long as it is, and its velocity below', () => {
    const { shapes, view } = draw();
    const own = shapes.filter((s) => s.colour === ink && s.kind === 'fill');
    const notes = inRows(own, view);
    expect(notes.map((n) => [Math.round(n.x), Math.round(n.y - 1)])).toEqual(
      Array.from({ length: 7 }, (_, i) => i)
        .filter((i) => xAt(view, i * 480) < view.width)
        .map((i) => [Math.round(xAt(view, i * 480)), Math.round(yAt(view, 60 + (i % 12)))]),
    );
    for (const n of notes) expect(n.width).toBeCloseTo(240 / 4 - 0.5, 6);
    const tall = own.filter((s) => s.width === 2 && s.y > view.height - FOOT).map((s) => s.height);
    expect(tall.length).toBe(notes.length);
    for (let i = 1; i < tall.length; i++) expect(tall[i]!).toBeGreaterThan(tall[i - 1]!);
  });

  it('what is moved and not yet let go is drawn where it would be', () => {
    const chosen = new Set([piece.parts[0]!.columns.id[1]!]);
    const pending = { ...NOTHING_PENDING, ticks: 120, semitones: 2, longerTicks: 60, louder: 50 };
    const { shapes, view } = draw({ chosen, pending });
    const around = shapes.filter((s) => s.colour === colour.select && s.kind === 'stroke');
    expect(around).toHaveLength(1);
    expect(around[0]!.x + 1).toBeCloseTo(xAt(view, 600), 6);
    expect(around[0]!.y).toBeCloseTo(yAt(view, 63), 6);
    expect(around[0]!.width - 2).toBeCloseTo(300 / 4 - 0.5, 6);
    const [velocity] = shapes.filter((s) => s.colour === colour.select && s.width === 2);
    expect(velocity!.height).toBeCloseTo((75 / 127) * (FOOT - 8), 6);
  });

  it('a note that is moved in from beyond the edge is seen', () => {
    const chosen = new Set([piece.parts[0]!.columns.id[0]!]);
    const { shapes, view } = draw(
      { chosen, pending: { ...NOTHING_PENDING, ticks: 4000 } },
      { fromTick: 3000 },
    );
    const [around] = shapes.filter((s) => s.colour === colour.select && s.kind === 'stroke');
    expect(around!.x + 1).toBeCloseTo(xAt(view, 4000), 6);
  });

  it('keys that the loft has not are on hatched ground, and named in its colour', () => {
    const { shapes, view } = draw();
    const grounds = shapes.filter((s) => s.colour === colour.hatchGround && s.x === AXIS);
    const missing = Array.from({ length: view.rows }, (_, i) => view.highest - i).filter(
      (key) => !view.allowed![key],
    );
    expect(missing).toContain(61);
    expect(missing).toContain(63);
    expect(grounds.map((g) => Math.round(g.y))).toEqual(
      missing.map((k) => Math.round(yAt(view, k))),
    );
  });

  it('names of the target stand on the axis, the longest shortened', () => {
    const names = new Map([
      [60, 'Old bell'],
      [65, 'A bell with a very long name indeed'],
    ]);
    const { shapes } = draw({ names }, { height: 620 });
    const said = shapes.filter((s) => s.kind === 'text' && s.x === 6).map((s) => s.text);
    expect(said).toContain('Old bell');
    expect(said).toContain('A bell with a…');
    expect(said.every((t) => t!.length <= 15)).toBe(true);
  });

  it('past the end nothing may stand', () => {
    const { shapes, view } = draw({}, { fromTick: 6000 });
    const beyond = shapes.filter(
      (s) => s.colour === colour.hatchGround && s.x > AXIS && s.height > 100,
    );
    expect(beyond).toHaveLength(1);
    expect(beyond[0]!.x).toBeCloseTo(xAt(view, 7680), 6);
    expect(beyond[0]!.x + beyond[0]!.width).toBeCloseTo(view.width, 6);
  });

  it('beats of the recording are dashed where they were found; a grey wash of them is not drawn', () => {
    const beatsMs = Float64Array.from({ length: 16 }, (_, i) => 250 + i * 500);
    const dashed = (perPixel: number) =>
      draw({ beatsMs }, { ticksPerPixel: perPixel }).shapes.filter(
        (s) => s.colour === colour.lamp && s.dash!.length > 0,
      );
    const [beats] = dashed(4);
    expect(beats!.x).toBeCloseTo(Math.round(AXIS + 240 / 4) + 0.5, 6);
    expect(dashed(200)).toEqual([]);
  });

  it('what is swept, and what is drawn, is outlined', () => {
    const sweep = { left: 200, right: 300, top: 60, bottom: 120 };
    const { shapes, view } = draw({ sweep, drawing: { tick: 960, lengthTicks: 240, key: 65 } });
    const outlined = shapes.filter((s) => s.colour === colour.select && s.kind === 'stroke');
    expect(outlined.map((s) => [s.x, s.width])).toEqual([
      [xAt(view, 960), 60],
      [200, 100],
    ]);
  });

  it('whatever is looked at: no text on another, nothing drawn above or below the canvas', () => {
    fc.assert(
      fc.property(
        fc.nat(9000),
        fc.constantFrom(0.5, 2, 8, 30, 120),
        fc.constantFrom(150, 240, 700),
        fc.constantFrom(300, 900, 1600),
        fc.constantFrom(0, 120, 480),
        (fromTick, ticksPerPixel, height, width, grid) => {
          const { shapes, view } = draw({ grid }, { fromTick, ticksPerPixel, height, width });
          expect(overlaps(shapes)).toEqual([]);
          expect(rowHeight(view)).toBeGreaterThan(0);
          for (const s of shapes) {
            // The lines of the hatching are cut by their ground.
            if (s.colour === colour.hatch) continue;
            expect(s.y).toBeGreaterThanOrEqual(-7);
            expect(s.y + s.height).toBeLessThanOrEqual(height + 7);
            if (s.kind === 'text')
              expect(Number.parseFloat(/(\d+)px/.exec(s.font!)![1]!)).toBeGreaterThanOrEqual(
                /^\d+$/.test(s.text!) ? 11 : 12,
              );
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});
