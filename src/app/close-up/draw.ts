import { noteName } from '../../core/target/words';
import type { LaidPiece } from '../stores/job';
import { SHEET_COLOURS, type Ink } from '../sheet/inks';
import { SANS } from '../sheet/letters';
import { drawWave, type Wave } from '../sheet/wave';
import { AXIS, eachIn, FOOT, HEAD, lastTick, rowHeight, xAt, yAt, type View } from './geometry';

/** What is being done to the chosen notes and is no step yet. */
export interface Pending {
  readonly ticks: number;
  readonly semitones: number;
  readonly longerTicks: number;
  readonly louder: number;
  /** Microseconds on the clock; drawn once it is in the plan. */
  readonly us: number;
}
export const NOTHING_PENDING: Pending = {
  ticks: 0,
  semitones: 0,
  longerTicks: 0,
  louder: 0,
  us: 0,
};

export interface DrawInput {
  readonly context: CanvasRenderingContext2D;
  readonly view: View;
  readonly piece: LaidPiece;
  readonly inks: readonly Ink[];
  readonly light: 'paper' | 'booth';
  /** Notes that are chosen, or that the open finding names. */
  readonly wave: Wave | null;
  /** Where beats were found in the recording, on the clock of the piece. */
  readonly beatsMs: Float64Array;
  readonly chosen: ReadonlySet<number>;
  readonly pending: Pending;
  /** Ticks between the lines of the grid; 0 for beats alone. */
  readonly grid: number;
  readonly names: ReadonlyMap<number, string>;
  readonly sweep: { left: number; right: number; top: number; bottom: number } | null;
  readonly drawing: { tick: number; lengthTicks: number; key: number } | null;
}

const BLACK = new Set([1, 3, 6, 8, 10]);

export function drawCloseUp(input: DrawInput): void {
  const { context: c, view: v, light } = input;
  const colour = SHEET_COLOURS[light];
  c.clearRect(0, 0, v.width, v.height);
  c.fillStyle = colour.page;
  c.fillRect(AXIS, HEAD, v.width - AXIS, v.height - HEAD);
  drawRows(input);
  drawLines(input);
  drawRecording(input);
  drawBeats(input);
  for (const part of v.faint) drawFaint(input, part);
  for (const part of v.front) drawPart(input, part);
  drawAxis(input);
  const { sweep, drawing } = input;
  if (drawing) {
    c.strokeStyle = colour.select;
    c.lineWidth = 1.5;
    const x = xAt(v, drawing.tick);
    const w = Math.max(3, drawing.lengthTicks / v.ticksPerPixel);
    c.strokeRect(x, yAt(v, drawing.key) + 1, w, Math.max(2, rowHeight(v) - 2));
  }
  if (sweep) {
    c.fillStyle = colour.selectWash;
    c.globalAlpha = 0.5;
    c.fillRect(sweep.left, sweep.top, sweep.right - sweep.left, sweep.bottom - sweep.top);
    c.globalAlpha = 1;
    c.strokeStyle = colour.select;
    c.lineWidth = 1;
    c.strokeRect(sweep.left, sweep.top, sweep.right - sweep.left, sweep.bottom - sweep.top);
  }
}

/** The recording lies behind the velocities, by the clock. */
function drawRecording({ context: c, view: v, piece, wave, light }: DrawInput) {
  if (!wave) return;
  const msAt = (x: number) =>
    piece.clock.msAt(Math.max(0, v.fromTick + (x - AXIS) * v.ticksPerPixel));
  const top = v.height - FOOT + 1;
  c.globalAlpha = 0.45;
  drawWave(
    c,
    wave,
    { left: AXIS, right: v.width, top, height: FOOT - 2, msAt },
    SHEET_COLOURS[light].wave,
  );
  c.globalAlpha = 1;
}

/** Beats that were found in the recording: dashed through the notes, plain over the wave. */
function drawBeats({ context: c, view: v, piece, beatsMs, light }: DrawInput) {
  if (beatsMs.length < 2) return;
  const until = lastTick(v);
  const from = beatsMs.findIndex((ms) => piece.clock.tickAt(ms) >= v.fromTick);
  if (from < 0) return;
  // Nearer than this they would be a grey wash.
  const every = xAt(v, piece.clock.tickAt(beatsMs[1]!)) - xAt(v, piece.clock.tickAt(beatsMs[0]!));
  if (every < CLOSEST) return;
  c.save();
  c.strokeStyle = SHEET_COLOURS[light].lamp;
  c.lineWidth = 1;
  c.setLineDash([2, 4]);
  c.globalAlpha = 0.75;
  c.beginPath();
  for (let i = from; i < beatsMs.length; i++) {
    const tick = piece.clock.tickAt(beatsMs[i]!);
    if (tick > until) break;
    const x = Math.round(xAt(v, tick)) + 0.5;
    if (x < AXIS) continue;
    c.moveTo(x, HEAD);
    c.lineTo(x, v.height - 2);
  }
  c.stroke();
  c.restore();
}

/** Keys that are not there lie on hatched ground; black keys are a shade darker. */
function drawRows({ context: c, view: v, light }: DrawInput) {
  const colour = SHEET_COLOURS[light];
  const h = rowHeight(v);
  for (let row = 0; row < v.rows; row++) {
    const key = v.highest - row;
    const y = HEAD + row * h;
    if (v.allowed && !v.allowed[key]) {
      c.fillStyle = colour.hatchGround;
      c.fillRect(AXIS, y, v.width - AXIS, h);
    } else if (BLACK.has(key % 12) && !v.allowed) {
      c.fillStyle = colour.beat;
      c.globalAlpha = 0.35;
      c.fillRect(AXIS, y, v.width - AXIS, h);
      c.globalAlpha = 1;
    }
  }
  if (v.allowed) {
    c.save();
    c.beginPath();
    for (let row = 0; row < v.rows; row++)
      if (!v.allowed[v.highest - row]) c.rect(AXIS, HEAD + row * h, v.width - AXIS, h);
    c.clip();
    c.strokeStyle = colour.hatch;
    c.lineWidth = 1;
    c.beginPath();
    for (let x = AXIS - v.height; x < v.width; x += 9) {
      c.moveTo(x, v.height - FOOT);
      c.lineTo(x + v.height, -FOOT);
    }
    c.stroke();
    c.restore();
  }
  c.strokeStyle = colour.line;
  c.lineWidth = 0.5;
  c.beginPath();
  for (let row = 0; row <= v.rows; row++) {
    // Every row where there is room, else the octaves.
    if (h < 7 && (v.highest - row + 1) % 12 !== 0) continue;
    const y = Math.round(HEAD + row * h) + 0.5;
    c.moveTo(AXIS, y);
    c.lineTo(v.width, y);
  }
  c.stroke();
}

const CLOSEST = 5;

function drawLines({ context: c, view: v, piece, grid, light }: DrawInput) {
  const colour = SHEET_COLOURS[light];
  const bottom = v.height - FOOT;
  const { bars } = piece;
  const until = Math.min(lastTick(v), piece.endTick);
  c.font = `11px ${SANS}`;
  c.textBaseline = 'middle';
  let written = -Infinity;
  for (let bar = bars.barAt(Math.max(0, v.fromTick)); ; bar++) {
    const start = bars.barStart(bar);
    if (start > until) break;
    const next = bars.barStart(bar + 1);
    const meter = bars.meterAt(start);
    const line = (tick: number, stroke: string, from: number) => {
      const x = Math.round(xAt(v, tick)) + 0.5;
      if (x < AXIS) return;
      c.strokeStyle = stroke;
      c.beginPath();
      c.moveTo(x, from);
      c.lineTo(x, bottom);
      c.stroke();
    };
    c.lineWidth = 1;
    if (grid / v.ticksPerPixel >= CLOSEST)
      for (let t = start + grid; t < next; t += grid) line(t, colour.beat, HEAD);
    const beat = (next - start) / meter.numerator;
    if (beat / v.ticksPerPixel >= CLOSEST * 2)
      for (let b = 1; b < meter.numerator; b++) line(start + b * beat, colour.line, HEAD);
    c.globalAlpha = 0.6;
    line(start, colour.ink2, HEAD - 5);
    c.globalAlpha = 1;
    const x = xAt(v, start);
    if (x >= AXIS - 2 && x - written > 34) {
      c.fillStyle = colour.ink2;
      c.fillText(String(bar + 1), x + 4, HEAD / 2 + 1);
      written = x;
    }
  }
  // Past the end nothing is delivered.
  const end = Math.max(AXIS, xAt(v, piece.endTick));
  if (end < v.width) {
    c.fillStyle = colour.hatchGround;
    c.fillRect(end, HEAD, v.width - end, bottom - HEAD);
  }
}

function drawFaint({ context: c, view: v, piece, light }: DrawInput, part: number) {
  const h = Math.max(2, rowHeight(v) - 2);
  c.fillStyle = SHEET_COLOURS[light].faint;
  const lowest = v.highest - v.rows;
  eachIn(piece.parts[part]!, v.fromTick, lastTick(v), ({ start, end, noteNumber }, i) => {
    const key = noteNumber[i]!;
    if (key > v.highest || key <= lowest) return;
    const x = Math.max(AXIS, xAt(v, start[i]!));
    c.fillRect(x, yAt(v, key) + 1, Math.max(1.5, xAt(v, end[i]!) - x - 0.5), h);
  });
}

function drawPart(
  { context: c, view: v, piece, inks, light, chosen, pending }: DrawInput,
  part: number,
) {
  const colour = SHEET_COLOURS[light];
  const ink = inks[part]!;
  const h = Math.max(2, rowHeight(v) - 2);
  const lowest = v.highest - v.rows;
  const foot = v.height - 3;
  // What is moved may come from outside of what is seen.
  const back = Math.max(0, pending.ticks);
  const ahead = Math.max(0, -pending.ticks);
  const until = lastTick(v);
  eachIn(piece.parts[part]!, v.fromTick - back, until + ahead, (columns, i) => {
    const isChosen = chosen.has(columns.id[i]!);
    const p = isChosen ? pending : null;
    const start = columns.start[i]! + (p?.ticks ?? 0);
    const length = columns.end[i]! - columns.start[i]!;
    const long = p?.longerTicks ? Math.max(1, length + p.longerTicks) : length;
    const key = columns.noteNumber[i]! + (p?.semitones ?? 0);
    if (start > until || start + long < v.fromTick) return;
    const left = xAt(v, start);
    const x = Math.max(AXIS, left);
    const w = Math.max(2, xAt(v, start + long) - x - 0.5);
    if (key <= v.highest && key > lowest) {
      const y = yAt(v, key) + 1;
      paintNote(c, ink, x, y, w, h, colour.page);
      if (isChosen) {
        c.strokeStyle = colour.select;
        c.lineWidth = 2;
        c.strokeRect(x - 1, y - 1, w + 2, h + 2);
      }
    }
    if (left < AXIS) return;
    const velocity = Math.max(1, Math.min(127, columns.velocity[i]! + (p?.louder ?? 0)));
    const tall = (velocity / 127) * (FOOT - 8);
    c.fillStyle = isChosen ? colour.select : ink.colour;
    c.fillRect(left, foot - tall, 2, tall);
  });
}

function paintNote(
  c: CanvasRenderingContext2D,
  { colour, texture }: Ink,
  x: number,
  y: number,
  w: number,
  h: number,
  page: string,
) {
  if (texture === 'filled' || w < 4 || h < 4) {
    c.fillStyle = colour;
    c.fillRect(x, y, w, h);
    return;
  }
  c.fillStyle = page;
  c.fillRect(x, y, w, h);
  c.strokeStyle = colour;
  c.lineWidth = 1.5;
  c.strokeRect(x + 0.75, y + 0.75, w - 1.5, h - 1.5);
  if (texture === 'outlined') return;
  c.save();
  c.beginPath();
  c.rect(x, y, w, h);
  c.clip();
  c.beginPath();
  if (texture === 'hatched')
    for (let at = x - h; at < x + w; at += 4) {
      c.moveTo(at, y + h);
      c.lineTo(at + h, y);
    }
  else {
    const middle = y + h / 2;
    c.setLineDash([1.5, 3]);
    c.moveTo(x + 2, middle);
    c.lineTo(x + w, middle);
  }
  c.lineWidth = texture === 'hatched' ? 1 : 2;
  c.stroke();
  c.restore();
}

/** What the rows are called there: keys, lanes, drums. */
function drawAxis(input: DrawInput) {
  const { context: c, view: v, names, light } = input;
  const colour = SHEET_COLOURS[light];
  const h = rowHeight(v);
  c.clearRect(0, 0, AXIS, v.height);
  c.textBaseline = 'middle';
  c.font = `12px ${SANS}`;
  let free = -Infinity;
  for (let row = 0; row < v.rows; row++) {
    const key = v.highest - row;
    const y = HEAD + row * h + h / 2;
    const own = names.get(key);
    // Names that would lie on each other are passed over; octaves come first.
    if (y - free < 12 && !(key % 12 === 0 && y - free > 9)) continue;
    if (h < 11 && !own && key % 12 !== 0 && (v.highest - row) % 12 !== 7) continue;
    c.fillStyle = v.allowed && !v.allowed[key] ? colour.hatchText : colour.ink2;
    const text = own ?? noteName(key);
    c.fillText(text.length > 14 ? `${text.slice(0, 13)}…` : text, 6, y);
    free = y;
  }
  c.fillStyle = colour.ink2;
  c.font = `12px ${SANS}`;
  c.fillText(input.wave ? 'velocity, sound' : 'velocity', 6, v.height - FOOT / 2);
  c.strokeStyle = colour.line;
  c.lineWidth = 1;
  c.strokeRect(AXIS + 0.5, HEAD + 0.5, v.width - AXIS - 1, v.height - HEAD - 1);
  c.beginPath();
  c.moveTo(AXIS, v.height - FOOT + 0.5);
  c.lineTo(v.width, v.height - FOOT + 0.5);
  c.stroke();

  c.fillStyle = colour.ink;
  c.fillRect(AXIS, HEAD, 1.5, v.height - HEAD - FOOT);
}
