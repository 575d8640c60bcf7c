import { turnedOf } from './turned';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { overlaps, recordingCanvas, type Shape } from '../../../testing/canvas';
import { laidSource } from '../../../testing/laid';
import { builtIn, conductor, song, sourceFromBytes, Track } from '../../../testing/score-builder';
import type { LaidPiece } from '../stores/job';
import { peaksOf } from '../../core/sound/peaks';
import { layoutOf as soundLayoutOf } from '../../core/sound/edits';
import { inkOf, SHEET_COLOURS } from './inks';
import { bandsOf, layOut, xOf, type SheetLayout } from './layout';
import { paintRow } from './paint';
import { type PaintInput } from './paint-input';
import type { Wave } from './wave';

const rail = builtIn('lantern-rail');
const layoutFor = (piece: LaidPiece, barsPerRow = 0, wave = false, width = 700, height = 600) =>
  layOut({ bars: piece.bars, endTick: piece.endTick, barsPerRow, width, height, wave });

function paint(
  piece: LaidPiece,
  index = 0,
  over: Partial<PaintInput> & { layout?: SheetLayout } = {},
) {
  const light = over.light ?? 'paper';
  const layout = over.layout ?? layoutFor(piece);
  const canvas = recordingCanvas();
  const input: PaintInput = {
    context: canvas.context,
    layout,
    row: layout.rows[index]!,
    piece,
    bands: bandsOf(piece.parts, layout.areaHeight),
    inks: piece.parts.map((_, i) => inkOf(i, light)),
    light,
    chosen: new Set(),
    spans: [],
    ground: [],
    ghosts: [],
    wave: null,
    pitched: true,
    range: null,
    turned: turnedOf(null),
    ...over,
  };
  paintRow(input);
  expect(canvas.balanced()).toBe(true);
  return { ...canvas, input, layout };
}
const texts = (shapes: readonly Shape[]) => shapes.flatMap((s) => (s.text ? [s.text] : []));
const ofColour = (shapes: readonly Shape[], colour: string) =>
  shapes.filter((s) => s.colour === colour);

/** Four bars of 4/4: a line of eight notes, a chord of long ones, one part that is left out. */
const plain = () =>
  laidSource(
    song(
      [
        conductor(),
        (() => {
          const line = new Track('Cue line');
          for (let i = 0; i < 8; i++) line.note(16, i * 960, 240, 30 + i, 90);
          return line;
        })(),
        new Track('Long').note(3, 0, 7680, 60, 90).note(3, 0, 7680, 64, 90),
      ],
      { endTick: 7680 },
    ),
    rail,
  );

describe('a row of the sheet', () => {
  it('has every note that reaches into it, at its place, once', () => {
    const piece = plain();
    const layout = layoutFor(piece, 2);
    const { shapes } = paint(piece, 1, { layout });
    const ink = inkOf(0, 'paper');
    const line = piece.parts.findIndex((p) => p.name === 'Cue line');
    expect(line).toBe(0);
    const notes = ofColour(shapes, ink.colour).filter((s) => s.kind !== 'text' && s.width < 60);
    // Four of the eight begin in bars 3 and 4.
    expect(notes.map((n) => Math.round(n.x))).toEqual(
      [3840, 4800, 5760, 6720].map((t) => Math.round(xOf(layout, layout.rows[1]!, t))),
    );
    // The higher a key the higher it stands.
    for (let i = 1; i < notes.length; i++) expect(notes[i]!.y).toBeLessThan(notes[i - 1]!.y);
  });

  it('what is held from the row before goes on from its edge', () => {
    const piece = plain();
    const layout = layoutFor(piece, 2);
    const { shapes, input } = paint(piece, 1, { layout });
    const long = piece.parts.findIndex((p) => p.name === 'Long');
    const band = input.bands.find((b) => b.parts.includes(long))!;
    const colour = band.faint ? SHEET_COLOURS.paper.faint : inkOf(long, 'paper').colour;
    const bars = ofColour(shapes, colour).filter((s) => s.width > 400);
    expect(bars).toHaveLength(2);
    for (const bar of bars) expect(Math.abs(bar.x - layout.left)).toBeLessThanOrEqual(1);
  });

  it('chosen notes are outlined in the colour of the choice, no others', () => {
    const piece = plain();
    const { columns } = piece.parts[0]!;
    const chosen = new Set([columns.id[1]!, columns.id[3]!]);
    const layout = layoutFor(piece, 4);
    const { shapes } = paint(piece, 0, { layout, chosen });
    const around = ofColour(shapes, SHEET_COLOURS.paper.select);
    expect(around.map((s) => Math.round(s.x + 2))).toEqual(
      [960, 2880].map((t) => Math.round(xOf(layout, layout.rows[0]!, t))),
    );
  });

  it('parts are told apart without colour: four textures, then other inks of them', () => {
    const inks = Array.from({ length: 24 }, (_, i) => inkOf(i, 'paper'));
    expect(new Set(inks.slice(0, 4).map((i) => i.texture)).size).toBe(4);
    expect(new Set(inks.map((i) => `${i.colour} ${i.texture}`)).size).toBe(24);
    const track = (i: number) => new Track(`P${i}`).note(i + 1, 0, 960, 40 + i, 90);
    const piece = laidSource(
      song([conductor(), ...[0, 1, 2, 3].map(track)], { endTick: 1920 }),
      builtIn('parlour-keyboard'),
    );
    const { shapes } = paint(piece, 0, { layout: layoutFor(piece, 1) });
    const kinds = [0, 1, 2, 3].map((i) => {
      const own = ofColour(shapes, inkOf(i, 'paper').colour).filter((s) => s.kind !== 'text');
      return own.map((s) => s.kind).join('') || 'none';
    });
    expect(kinds.map((k) => k.replace(/(fill){3,}/, 'dots'))).toEqual([
      'fill',
      'stroke',
      'fillstroke',
      'dots',
    ]);
  });

  it('keys that the target has not are hatched where notes stand there', () => {
    const piece = plain();
    const hatched = (range: PaintInput['range']) =>
      ofColour(
        paint(piece, 0, { layout: layoutFor(piece, 4), range }).shapes,
        SHEET_COLOURS.paper.hatchGround,
      );
    expect(hatched({ lowest: 24, highest: 59 })).toHaveLength(0);
    const [above] = hatched({ lowest: 24, highest: 33 });
    const [below] = hatched({ lowest: 34, highest: 59 });
    expect(above!.y).toBeLessThan(below!.y);
    expect(hatched({ lowest: 32, highest: 34 })).toHaveLength(2);
  });

  it('ground that is owed is hatched in each row it lies in, its words stand in the first', () => {
    const piece = plain();
    const layout = layoutFor(piece, 2);
    const ground = [
      { fromTick: 1920, toTick: 5760, says: ['two bars of rest are owed here, in full', 'owed'] },
    ];
    const [first, second] = [0, 1].map((i) => paint(piece, i, { layout, ground }).shapes);
    expect(texts(first!)).toContain('two bars of rest are owed here, in full');
    expect(texts(second!).some((t) => t.includes('owed'))).toBe(false);
    const widths = [first!, second!].map(
      (s) => ofColour(s, SHEET_COLOURS.paper.hatchGround)[0]!.width,
    );
    expect(widths[0]).toBeCloseTo(1920 * layout.pxPerTick, 6);
    expect(widths[1]).toBeCloseTo(1920 * layout.pxPerTick, 6);
    // Where there is no room for all of it the shorter words are written, or none.
    const narrow = layoutFor(piece, 64, false, 700);
    const said = texts(paint(piece, 0, { layout: narrow, ground }).shapes);
    expect(said.filter((t) => t.includes('owed')).length).toBeLessThanOrEqual(1);
  });

  it('ghosts are dashed where notes were, and stay in their band', () => {
    const piece = plain();
    const layout = layoutFor(piece, 4);
    const ghosts = [
      { part: 0, startTick: 960, endTick: 1200, noteNumber: 33 },
      { part: 0, startTick: 1920, endTick: 2160, noteNumber: 127 },
      { part: 99, startTick: 2000, endTick: 2160, noteNumber: 60 },
    ];
    const { shapes, input } = paint(piece, 0, { layout, ghosts });
    const dashed = shapes.filter((s) => (s.dash?.length ?? 0) > 0);
    expect(dashed).toHaveLength(2);
    const band = input.bands.find((b) => b.parts.includes(0))!;
    for (const g of dashed) {
      expect(g.y).toBeGreaterThanOrEqual(layout.headHeight + band.top - 1);
      expect(g.y + g.height).toBeLessThanOrEqual(layout.headHeight + band.top + band.height + 1);
    }
  });

  it('the recording lies under the notes, by the clock', () => {
    const piece = plain();
    const layout = layoutFor(piece, 4, true);
    // Loud for the second bar of four, 8 s in all.
    const samples = Float32Array.from({ length: 80_000 }, (_, i) =>
      i >= 20_000 && i < 40_000 ? (i % 2 ? 0.9 : -0.9) : 0,
    );
    const wave: Wave = {
      peaks: peaksOf({ rate: 10_000, channels: [samples] }),
      layout: soundLayoutOf([], 8_000_000),
      scale: 1,
    };
    const { context, shapes } = recordingCanvas();
    const heights: { x: number; height: number }[] = [];
    context.rect = (x, _y, _w, height) => void heights.push({ x, height });
    paintRow({ ...paint(piece, 0, { layout, wave }).input, context });
    expect(shapes.length).toBeGreaterThan(0);
    const bar = (layout.width - layout.left * 2) / 4;
    const tall = heights.filter((h) => h.height > layout.waveHeight / 2).map((h) => h.x);
    expect(Math.min(...tall)).toBeCloseTo(layout.left + bar, -1);
    expect(Math.max(...tall)).toBeCloseTo(layout.left + 2 * bar, -1);
  });
});

describe('what stands above a row', () => {
  const flagged = (marks: (track: Track) => Track, bars = 8) =>
    laidSource(
      song([marks(conductor(96)), new Track('T').note(16, 0, 240, 40, 90)], {
        endTick: bars * 1920,
      }),
      rail,
    );

  it('bars are numbered; where they are narrow every second or fourth', () => {
    const piece = flagged((t) => t, 64);
    const numbers = (perRow: number, width: number) =>
      texts(paint(piece, 0, { layout: layoutFor(piece, perRow, false, width) }).shapes).filter(
        (t) => /^\d+$/.test(t),
      );
    expect(numbers(8, 700)).toEqual(['1', '2', '3', '4', '5', '6', '7', '8']);
    expect(numbers(16, 300)).toEqual(['1', '3', '5', '7', '9', '11', '13', '15']);
    expect(numbers(64, 700)).toEqual(Array.from({ length: 16 }, (_, i) => String(i * 4 + 1)));
  });

  it('a meter stands at bar 1 and where it changes', () => {
    const piece = flagged((t) => t.meter(3840, 3, 4).meter(5280, 3, 4).meter(6720, 6, 8));
    const said = texts(paint(piece, 0, { layout: layoutFor(piece, 12, false, 1200) }).shapes);
    expect(said.filter((t) => t.includes('/'))).toEqual(['4/4', '3/4', '6/8']);
  });

  it('tempos and markers are flags; one that has no room is shortened, or ticked', () => {
    const piece = flagged((t) =>
      t
        .tempo(5760, 97.25)
        .marker(0, 'The tide comes in over the long causeway, slowly at first and then all at once')
        .marker(960, 'Ebb')
        .marker(1000, 'Flood')
        .marker(1040, 'Slack')
        .marker(1080, 'Neap'),
    );
    const { shapes } = paint(piece, 0, { layout: layoutFor(piece, 8) });
    const said = texts(shapes);
    expect(said).toContain('♩ 97.25');
    expect(said.some((t) => t.startsWith('The') && t.endsWith('…'))).toBe(true);
    expect(overlaps(shapes)).toEqual([]);
    // Whatever is not written has a tick of its own.
    const ticks = shapes.filter((s) => s.kind === 'fill' && s.width === 1.5);
    const written = said.filter((t) => /^(The|Ebb|Flo|Sla|Nea|♩)/.test(t)).length;
    expect(written + ticks.length).toBe(7);
  });

  it('a tempo that gives way to another at once is told with it', () => {
    const said = (more: (t: Track) => Track) => {
      const piece = flagged(more);
      const { shapes } = paint(piece, 0, { layout: layoutFor(piece, 8) });
      expect(overlaps(shapes)).toEqual([]);
      return texts(shapes).filter((t) => t.startsWith('♩'));
    };
    expect(said((t) => t.tempo(120, 61).tempo(240, 128))[0]).toMatch(/^♩ [\d.]+ … 128$/);
    // One that says the same again is told once.
    const [first] = said((t) => t.tempo(240, 128));
    expect(first).toMatch(/^♩ [\d.]+ … 128$/);
    const again = Number(first!.slice(2).split(' ')[0]);
    expect(said((t) => t.tempo(240, again))[0]).toBe(`♩ ${again}`);
    // It is told, so nothing is ticked under the flag that tells it; a later one is.
    const ticked = (more: (t: Track) => Track) => {
      const piece = flagged(more);
      return paint(piece, 0, { layout: layoutFor(piece, 8) }).shapes.filter(
        (s) => s.kind === 'fill' && s.width === 1.5,
      );
    };
    expect(ticked((t) => t.tempo(240, 128))).toEqual([]);
    // One that says the same again says nothing, though a marker leaves no room for both.
    expect(ticked((t) => t.marker(60, 'Setup').tempo(120, 96).tempo(240, 96))).toEqual([]);
    expect(ticked((t) => t.tempo(120, 61.25).marker(250, 'Setup'))).toHaveLength(1);
    // Under the flag of a marker the tick stands below its letters.
    const under = ticked((t) => t.marker(10, 'The tide comes in').tempo(960, 128));
    expect(under.map((s) => s.y)).toEqual([17]);
    // With room each has a flag of its own.
    expect(said((t) => t.tempo(7680, 128))).toHaveLength(2);
  });

  it('ten thousand tempos and one marker: the marker is there, nothing lies on another', () => {
    const piece = flagged((t) => {
      for (let i = 1; i <= 10_000; i++) t.tempo(i, 60 + (i % 90));
      return t.marker(9000, 'Flood');
    });
    const { shapes } = paint(piece, 0, { layout: layoutFor(piece, 8) });
    expect(texts(shapes)).toContain('Flood');
    expect(overlaps(shapes)).toEqual([]);
  });
});

describe('whatever the piece is', () => {
  const songs = [0, 2, 3, 5, 9, 12].map((i) => {
    const job = week[i]!;
    return laidSource(sourceFromBytes(job.bytes(), job.file), builtIn(job.targets[0]!.id));
  });

  it('nothing lies beyond the row, no text on another, none smaller than its least', () => {
    fc.assert(
      fc.property(
        fc.nat(songs.length - 1),
        fc.constantFrom(0, 1, 4, 16, 64),
        fc.constantFrom(420, 700, 1400),
        fc.nat(400),
        fc.constantFrom('paper' as const, 'booth' as const),
        (which, perRow, width, row, light) => {
          const piece = songs[which]!;
          const layout = layoutFor(piece, perRow, false, width);
          const { shapes } = paint(piece, row % layout.rows.length, { layout, light });
          for (const s of shapes) {
            if (s.kind === 'text') {
              const size = Number.parseFloat(/(\d+)px/.exec(s.font!)![1]!);
              // Bar numbers and meters may be smaller than words.
              expect(size).toBeGreaterThanOrEqual(/^\d+(\/\d+)?$/.test(s.text!) ? 11 : 12);
            }
            expect(s.x).toBeGreaterThanOrEqual(-1);
            expect(s.x + s.width).toBeLessThanOrEqual(layout.width + 1);
            expect(s.y).toBeGreaterThanOrEqual(-1);
            expect(s.y + s.height).toBeLessThanOrEqual(layout.rowHeight + 1);
          }
          expect(overlaps(shapes)).toEqual([]);
          // No colour of the other light.
          const other = light === 'paper' ? 'booth' : 'paper';
          const own = new Set<string>(Object.values(SHEET_COLOURS[light]));
          const foreign = new Set(
            Object.values(SHEET_COLOURS[other]).filter((c) => !own.has(c)) as string[],
          );
          for (const s of shapes) expect(foreign.has(s.colour)).toBe(false);
        },
      ),
      { numRuns: 60 },
    );
  });
});
