import { type PaintInput } from './paint-input';
import { SERIF } from './letters';
import { paintHead } from './paint-head';
import { paintOctaves } from './paint-octaves';
import { paintTurns } from './paint-turns';
import { drawWave } from './wave';
import { SHEET_COLOURS } from './inks';
import { firstReaching, noteHeight, xOf, yOf, type Band } from './layout';

/** Paints one row of the sheet on a canvas of its own. */
export function paintRow(input: PaintInput): void {
  const { context: c, layout, row, light } = input;
  const colour = SHEET_COLOURS[light];
  const top = layout.headHeight;
  const left = layout.left;
  const right = xOf(layout, row, row.toTick);
  c.clearRect(0, 0, layout.width, layout.rowHeight);
  c.fillStyle = colour.page;
  c.fillRect(left, top, right - left, layout.areaHeight);
  paintRange(input);
  paintGround(input);
  paintSpans(input);
  paintLines(input);
  paintOctaves(input);
  for (const band of input.bands) if (band.faint) paintBand(input, band);
  for (const band of input.bands) if (!band.faint) paintBand(input, band);
  paintGhosts(input);
  paintGroundText(input);
  paintWave(input);
  paintHead(input);
  c.strokeStyle = colour.line;
  c.lineWidth = 1;
  c.strokeRect(left + 0.5, top + 0.5, Math.round(right - left) - 1, layout.areaHeight - 1);
  c.fillStyle = colour.ink;
  c.fillRect(left, top, 2, layout.areaHeight);
}

/** The recording under the notes, by the clock. */
function paintWave({ context: c, layout, row, piece, wave, light }: PaintInput) {
  if (!wave || layout.waveHeight === 0) return;
  const top = layout.headHeight + layout.areaHeight + 1;
  const right = xOf(layout, row, row.toTick);
  const colour = SHEET_COLOURS[light];
  c.fillStyle = colour.waveGround;
  c.fillRect(layout.left, top, right - layout.left, layout.waveHeight);
  const msAt = (x: number) => piece.clock.msAt(row.fromTick + (x - layout.left) / layout.pxPerTick);
  const box = { left: layout.left, right, top, height: layout.waveHeight, msAt };
  drawWave(c, wave, box, colour.wave);
}

function hatch(input: PaintInput, x: number, y: number, w: number, h: number) {
  const { context: c, light } = input;
  const colour = SHEET_COLOURS[light];
  if (w <= 0 || h <= 0) return;
  c.save();
  c.beginPath();
  c.rect(x, y, w, h);
  c.clip();
  c.fillStyle = colour.hatchGround;
  c.fillRect(x, y, w, h);
  c.strokeStyle = colour.hatch;
  c.lineWidth = 1;
  c.beginPath();
  for (let at = x - h - ((x - h) % 8); at < x + w; at += 8) {
    c.moveTo(at, y + h);
    c.lineTo(at + h, y);
  }
  c.stroke();
  c.restore();
}

/** Above and below the keys that the target has. */
function paintRange(input: PaintInput) {
  const { layout, row, bands, range } = input;
  if (!range) return;
  const left = layout.left;
  const width = xOf(layout, row, row.toTick) - left;
  const top = layout.headHeight;
  for (const band of bands) {
    // What has no seat has no range either.
    if (band.faint || band.parts.every((i) => input.piece.parts[i]!.seat === null)) continue;
    const h = noteHeight(band);
    if (band.highest > range.highest) {
      const bottom =
        band.lowest > range.highest ? band.top + band.height : yOf(band, range.highest + 1) + h + 1;
      hatch(input, left, top + band.top, width, bottom - band.top);
    }
    if (band.lowest < range.lowest) {
      const from = band.highest < range.lowest ? band.top : yOf(band, range.lowest - 1) - 1;
      hatch(input, left, top + from, width, band.top + band.height - from);
    }
  }
}

function paintGround(input: PaintInput) {
  const { layout, row, ground } = input;
  for (const { fromTick, toTick } of ground) {
    const from = Math.max(fromTick, row.fromTick);
    const to = Math.min(toTick, row.toTick);
    if (from >= to) continue;
    const x = xOf(layout, row, from);
    const w = xOf(layout, row, to) - x;
    hatch(input, x, layout.headHeight, w, layout.areaHeight);
  }
}

/** What is owed, in words, over the notes with a halo of the ground; the longest that has room. */
function paintGroundText(input: PaintInput) {
  const { context: c, layout, row, ground, light } = input;
  c.font = `italic 13px ${SERIF}`;
  c.textBaseline = 'alphabetic';
  for (const { fromTick, toTick, says } of ground) {
    if (fromTick < row.fromTick || fromTick >= row.toTick) continue;
    const x = xOf(layout, row, fromTick);
    const room = xOf(layout, row, Math.min(toTick, row.toTick)) - x - 12;
    const text = says.find((t) => c.measureText(t).width < room);
    if (text === undefined) continue;
    const y = layout.headHeight + layout.areaHeight - 7;
    c.lineJoin = 'round';
    c.lineWidth = 4;
    c.strokeStyle = SHEET_COLOURS[light].hatchGround;
    c.strokeText(text, x + 8, y);
    c.fillStyle = SHEET_COLOURS[light].hatchText;
    c.fillText(text, x + 8, y);
  }
}

function paintSpans(input: PaintInput) {
  const { context: c, layout, row, spans, light } = input;
  c.fillStyle = SHEET_COLOURS[light].selectWash;
  for (const { fromTick, toTick } of spans) {
    if (toTick <= row.fromTick || fromTick >= row.toTick) continue;
    const x = xOf(layout, row, Math.max(fromTick, row.fromTick));
    const end = xOf(layout, row, Math.min(toTick, row.toTick));
    c.fillRect(x - 2, layout.headHeight, Math.max(4, end - x + 4), layout.areaHeight);
  }
}

/** Bar lines, beats where there is room, and the lines between bands. */
function paintLines(input: PaintInput) {
  const { context: c, layout, row, piece, bands, light } = input;
  const colour = SHEET_COLOURS[light];
  const top = layout.headHeight;
  for (let n = 0; n < row.bars; n++) {
    const bar = row.firstBar + n;
    const start = piece.bars.barStart(bar);
    const x = Math.round(xOf(layout, row, start));
    const meter = piece.bars.meterAt(start);
    const next = piece.bars.barStart(bar + 1);
    const beats = meter.numerator;
    const beatPx = ((next - start) * layout.pxPerTick) / beats;
    if (beatPx >= 9) {
      c.fillStyle = colour.beat;
      for (let beat = 2; beat <= beats; beat++) {
        const tick = piece.bars.tickOf(bar + 1, beat);
        if (tick < next) c.fillRect(Math.round(xOf(layout, row, tick)), top, 1, layout.areaHeight);
      }
    }
    c.fillStyle = colour.line;
    if (n > 0) c.fillRect(x, top, 1, layout.areaHeight);
  }
  c.fillStyle = colour.beat;
  const right = xOf(layout, row, row.toTick);
  for (const band of bands) {
    if (band.top > 0) c.fillRect(layout.left, Math.round(top + band.top), right - layout.left, 1);
  }
}

function paintBand(input: PaintInput, band: Band) {
  const { context: c, layout, row, piece, inks, chosen, light } = input;
  const colour = SHEET_COLOURS[light];
  const top = layout.headHeight;
  const h = noteHeight(band);
  const marked: [number, number, number][] = [];
  for (const index of band.parts) {
    const part = piece.parts[index]!;
    const ink = inks[index]!;
    paintTurns(input, band, part, ink.colour);
    const { start, end, noteNumber, id, count } = part.columns;
    c.fillStyle = band.faint ? colour.faint : ink.colour;
    c.strokeStyle = c.fillStyle;
    c.lineWidth = 1.2;
    const texture = band.faint ? 'filled' : ink.texture;
    for (let i = firstReaching(part, row.fromTick); i < count; i++) {
      if (start[i]! >= row.toTick) break;
      if (end[i]! < row.fromTick || (end[i]! === row.fromTick && start[i]! < row.fromTick))
        continue;
      const x = xOf(layout, row, Math.max(start[i]!, row.fromTick));
      const to = xOf(layout, row, Math.min(end[i]!, row.toTick));
      const w = Math.max(2.5, to - x - 0.5);
      const y = top + yOf(band, noteNumber[i]!);
      const height = band.faint ? Math.min(2, h) : h;
      if (chosen.size > 0 && chosen.has(id[i]!)) marked.push([x, y, w]);
      if (texture === 'filled' || height < 3 || w < 5) c.fillRect(x, y, w, height);
      else if (texture === 'outlined') c.strokeRect(x + 0.6, y + 0.6, w - 1.2, height - 1.2);
      else if (texture === 'hatched') {
        c.globalAlpha = 0.35;
        c.fillRect(x, y, w, height);
        c.globalAlpha = 1;
        c.strokeRect(x + 0.6, y + 0.6, w - 1.2, height - 1.2);
      } else {
        for (let at = x; at < x + w; at += 5) c.fillRect(at, y, Math.min(3, x + w - at), height);
      }
    }
  }
  if (marked.length === 0) return;
  c.strokeStyle = colour.select;
  c.lineWidth = 1.5;
  for (const [x, y, w] of marked) c.strokeRect(x - 2, y - 2, w + 4, h + 4);
}

/** Dashed outlines where notes were; beyond its band a ghost stands at the edge. */
function paintGhosts(input: PaintInput) {
  const { context: c, layout, row, bands, light, ghosts } = input;
  if (ghosts.length === 0) return;
  c.save();
  c.strokeStyle = SHEET_COLOURS[light].ink2;
  c.lineWidth = 1;
  c.setLineDash([3, 2]);
  for (const { part, startTick, endTick, noteNumber } of ghosts) {
    if (startTick >= row.toTick) break;
    if (endTick < row.fromTick) continue;
    const band = bands.find((b) => b.parts.includes(part));
    if (!band) continue;
    const h = noteHeight(band) + 2;
    const x = xOf(layout, row, Math.max(startTick, row.fromTick));
    const to = xOf(layout, row, Math.min(endTick, row.toTick));
    const y = Math.max(band.top, Math.min(band.top + band.height - h, yOf(band, noteNumber) - 1));
    c.strokeRect(
      Math.round(x) + 0.5,
      Math.round(layout.headHeight + y) + 0.5,
      Math.max(3, to - x),
      h,
    );
  }
  c.restore();
}
