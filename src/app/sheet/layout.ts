import type { MeterMap } from '../../core/time/meter-map';
import type { Target } from '../../core/target/schema';
import { contentOf } from '../../core/wire/content';
import type { PartView } from '../../core/wire/view';

/** One row of bars. Ticks are those of the piece; `top` is in CSS pixels from the sheet's top. */
export interface Row {
  readonly index: number;
  /** From 0. */
  readonly firstBar: number;
  readonly bars: number;
  readonly fromTick: number;
  readonly toTick: number;
  readonly top: number;
}

export interface SheetLayout {
  readonly rows: readonly Row[];
  readonly barsPerRow: number;
  readonly pxPerTick: number;
  readonly rowHeight: number;
  /** Space above the notes for flags and bar numbers. */
  readonly headHeight: number;
  readonly areaHeight: number;
  /** Of the recording under the notes; 0 where there is none. */
  readonly waveHeight: number;
  readonly left: number;
  readonly width: number;
  readonly height: number;
}

export const BARS_PER_ROW = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64] as const;
export const HEAD_HEIGHT = 34;
const ROW_GAP = 10;
const LEAST_ROW = 118;
const MOST_ROW = 230;
/** Rows of few bars that were asked for are tall, so that pitch can be read in them. */
const TALL: Readonly<Record<number, number>> = { 1: 330, 2: 270, 3: 210, 4: 170 };
const LEAST_BAR_PX = 38;
export const SHEET_LEFT = 14;
const SHEET_RIGHT = 14;

export interface LayoutInput {
  readonly bars: MeterMap;
  readonly endTick: number;
  /** 0 = as many as let the whole piece be seen at once, as far as bars stay readable. */
  readonly barsPerRow: number;
  readonly width: number;
  readonly height: number;
  /** A recording is drawn under every row. */
  readonly wave?: boolean;
}

export function fitBars(bars: number, width: number, height: number): number {
  const rows = Math.max(1, Math.floor(height / LEAST_ROW));
  const most = Math.max(1, Math.floor((width - SHEET_LEFT - SHEET_RIGHT) / LEAST_BAR_PX));
  const wanted = Math.max(Math.ceil(bars / rows), Math.min(4, bars));
  const readable = BARS_PER_ROW.filter((n) => n <= most);
  return readable.find((n) => n >= wanted) ?? readable.at(-1) ?? 1;
}

const MOST_ROWS = 20_000;

/** Rows of a fixed number of bars; their widths go by ticks, so that time is even over the sheet. */
export function layOut(input: LayoutInput): SheetLayout {
  const { bars, endTick, barsPerRow, width, height } = input;
  const total = bars.barCount(endTick);
  const asked = barsPerRow > 0 ? barsPerRow : fitBars(total, width, height);
  // A file of hours at one tick a quarter has millions of bars: rows take more of them then.
  const perRow = Math.max(asked, Math.ceil(total / MOST_ROWS));
  const rowCount = Math.ceil(total / perRow);
  const tall = Math.min(height, TALL[barsPerRow] ?? 0);
  const even = Math.min(Math.max(MOST_ROW, tall), Math.floor(height / rowCount));
  const rowHeight = Math.max(LEAST_ROW, tall, even);
  const waveHeight = input.wave ? Math.max(18, Math.min(34, Math.round(rowHeight * 0.16))) : 0;
  const rows: Row[] = [];
  let longest = 1;
  for (let index = 0; index < rowCount; index++) {
    const firstBar = index * perRow;
    const count = Math.min(perRow, total - firstBar);
    const fromTick = bars.barStart(firstBar);
    const toTick = bars.barStart(firstBar + count);
    // The last row keeps the scale of the others, so it counts as if it were full.
    longest = Math.max(longest, ((toTick - fromTick) * (index === 0 ? perRow : count)) / count);
    rows.push({ index, firstBar, bars: count, fromTick, toTick, top: index * rowHeight });
  }
  return {
    rows,
    barsPerRow: perRow,
    pxPerTick: (width - SHEET_LEFT - SHEET_RIGHT) / longest,
    rowHeight,
    headHeight: HEAD_HEIGHT,
    areaHeight: rowHeight - HEAD_HEIGHT - ROW_GAP - waveHeight,
    waveHeight,
    left: SHEET_LEFT,
    width,
    height: rowCount * rowHeight,
  };
}

/** The row that holds a tick; the last one for what is behind the end. */
export function rowAt(layout: SheetLayout, tick: number): Row {
  let low = 0;
  let high = layout.rows.length - 1;
  while (low < high) {
    const mid = (low + high + 1) >> 1;
    if (layout.rows[mid]!.fromTick <= tick) low = mid;
    else high = mid - 1;
  }
  return layout.rows[low]!;
}

export const xOf = (layout: SheetLayout, row: Row, tick: number): number =>
  layout.left + (tick - row.fromTick) * layout.pxPerTick;

/** The tick at a point of the sheet, bounded by its row. */
export function tickAtPoint(layout: SheetLayout, x: number, y: number): number {
  const index = Math.max(0, Math.min(layout.rows.length - 1, Math.floor(y / layout.rowHeight)));
  const row = layout.rows[index]!;
  const tick = row.fromTick + (x - layout.left) / layout.pxPerTick;
  return Math.round(Math.max(row.fromTick, Math.min(row.toTick - 1, tick)));
}

/** A horizontal band of the area with the pitch scale of the parts in it. */
export interface Band {
  readonly parts: readonly number[];
  readonly top: number;
  readonly height: number;
  readonly lowest: number;
  readonly highest: number;
  readonly faint: boolean;
  /** None of its parts has a note. */
  readonly silent?: boolean;
}

const MOST_BANDS = 6;

/**
 * Parts that are delivered share out the area; many parts share bands. What is left out lies faint
 * in one band at the bottom.
 */
export function bandsOf(
  parts: readonly PartView[],
  areaHeight: number,
  target: Pick<Target, 'presets' | 'curves'> | null = null,
): Band[] {
  const index = parts.map((_, i) => i);
  // A part without notes has a row of its own where something else is turned on it.
  const isPart = contentOf(parts, target);
  const has = (i: number) => isPart(parts[i]!);
  const sounds = (i: number) => !parts[i]!.leftOut && has(i);
  const seated = index.filter((i) => sounds(i) && parts[i]!.seat !== null);
  const unseated = index.filter((i) => sounds(i) && parts[i]!.seat === null);
  const out = index.filter((i) => parts[i]!.leftOut && has(i));
  const room = Math.min(MOST_BANDS, Math.floor(areaHeight / 20)) - (out.length ? 1 : 0);
  // Where some have seats and some have none, those without share what is left.
  const shared = seated.length > 0 && unseated.length > 0;
  const groups: { parts: number[]; faint: boolean; weight: number }[] = [];
  const share = (members: number[], bands: number) => {
    const each = Math.ceil(members.length / Math.max(1, bands)) || 1;
    for (let i = 0; i < members.length; i += each)
      groups.push({ parts: members.slice(i, i + each), faint: false, weight: 1 });
  };
  const forSeated = shared ? Math.min(seated.length, room - 1) : room;
  share(seated, forSeated);
  share(unseated, shared ? room - Math.min(seated.length, forSeated) : room);
  // Beside what is turned by hand, the music that is left out is there to be read along.
  const turned = seated.some((i) => parts[i]!.columns.count === 0);
  const faintWeight = groups.length === 0 ? 1 : turned ? 0.4 : 0.8;
  if (out.length > 0) groups.push({ parts: out, faint: true, weight: faintWeight });
  const weights = groups.reduce((sum, g) => sum + g.weight, 0);
  let top = 0;
  return groups.map(({ parts: members, faint, weight }) => {
    const height = (areaHeight * weight) / weights;
    const played = members.filter((i) => parts[i]!.columns.count > 0);
    const lowest = Math.min(...played.map((i) => parts[i]!.lowest), played.length > 0 ? 127 : 60);
    const highest = Math.max(...played.map((i) => parts[i]!.highest), played.length > 0 ? 0 : 72);
    const silent = played.length === 0;
    const band = { parts: members, top, height, lowest, highest, faint, silent };
    top += height;
    return band;
  });
}

const PAD = 5;

/** Height of a note in a band, from the number of pitches that share it; taller where there is room. */
export const noteHeight = (band: Band): number => {
  const most = Math.max(5, Math.min(9, band.height / 14));
  const each = (band.height - 2 * PAD) / Math.max(1, band.highest - band.lowest + 1);
  return Math.max(2, Math.min(most, each));
};

/** Pitch can be read in a band that gives every key so much; then octaves are written beside it. */
export const READABLE_KEY_PX = 3.5;
export function octavesOf(band: Band): number[] {
  if (band.faint || band.silent || noteHeight(band) < READABLE_KEY_PX || band.height < 70)
    return [];
  const first = Math.ceil(band.lowest / 12) * 12;
  const out: number[] = [];
  for (let key = first; key <= band.highest; key += 12) out.push(key);
  return out;
}

/** Top of a note number in its band, from the top of the area. */
export function yOf(band: Band, noteNumber: number): number {
  const h = noteHeight(band);
  const span = band.highest - band.lowest;
  const room = band.height - 2 * PAD - h;
  const part = span === 0 ? 0.5 : (band.highest - noteNumber) / span;
  return band.top + PAD + part * room;
}

/** First note that can reach into a stretch: starts are sorted, and no note is longer than `longest`. */
export function firstReaching(part: PartView, tick: number): number {
  const { start, count } = part.columns;
  const from = tick - part.longest;
  let low = 0;
  let high = count;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (start[mid]! < from) low = mid + 1;
    else high = mid;
  }
  return low;
}
