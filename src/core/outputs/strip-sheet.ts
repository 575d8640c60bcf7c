import * as z from 'zod';
import { holesOf, type Hole, type Holes } from '../reading/holes';
import { MOST_ROWS, rowAt } from '../reading/rows';
import { deliveredEnd } from '../reading/ends';
import { mapsOf, type Maps } from '../score/inventory';
import { stemOf } from '../smf/name';
import type { Loss } from '../steps/define-step';
import { noteName } from '../target/words';
import { crc32 } from '../sound/crc';
import { countStripSheet } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { markup } from './markup';
import { TextBytes } from './text';

const ROWS_A_PAGE = 60;
const PIPE_MM = 4;
/** Millimetres around a page, between the ranks, and between pages. */
const LEFT = 16;
const TOP = 18;
const BETWEEN = 12;
const GAP = 10;

/** Tenths of a millimetre are enough for print, and read the same everywhere. */
const mm = (n: number): string => String(Math.round(n * 10) / 10);

export const stripSheetWriter = defineWriter({
  id: 'strip-sheet',
  format: 'strip-sheet',
  summary: 'The strip to print, with what is needed to build it, as SVG.',
  carries: ['notes', 'note numbers'],
  count: countStripSheet,
  options: z.strictObject({}),
  write({ pieces }, _options, target) {
    const rowMm = target.grid?.rowMm ?? 8;
    const losses: Loss[] = [];
    const files = pieces.flatMap((piece, index) => {
      const maps = mapsOf(piece.score);
      const holes = holesOf(piece, maps, target);
      if (holes.rows > MOST_ROWS) {
        losses.push({ what: 'strip sheets, which would have over 2,000 pages', count: 1 });
        return [];
      }
      const bars = barRows(maps, holes.rate, deliveredEnd(piece));
      const title = piece.delivery.metadata?.title ?? stemOf(piece.delivery.fileName);
      return {
        path: `${stemOf(safeName(piece.delivery.fileName))}-strip.svg`,
        bytes: sheet(title, holes, bars, rowMm),
        holds: index,
      };
    });
    return { files, losses };
  },
});

/** The row in which each bar begins, by bar from 1. */
function barRows(maps: Maps, rate: number, end: number): Map<number, number> {
  const out = new Map<number, number>();
  const bars = Math.min(MOST_ROWS, maps.bars.barCount(end));
  for (let bar = 0; bar < bars; bar++) {
    const row = rowAt(maps, rate, maps.bars.barStart(bar));
    if (!out.has(row)) out.set(row, bar + 1);
  }
  return out;
}

function sheet(
  title: string,
  holes: Holes,
  bars: ReadonlyMap<number, number>,
  rowMm: number,
): Uint8Array {
  const { pipes, ranks } = holes;
  const rankWidth = pipes.length * PIPE_MM;
  const width = LEFT * 2 + ranks.length * rankWidth + (ranks.length - 1) * BETWEEN;
  const pages = Math.max(1, Math.ceil(holes.rows / ROWS_A_PAGE));
  const pageHeight = TOP + ROWS_A_PAGE * rowMm + TOP;
  const order = buildOrder(holes);
  const partsHeight = TOP + 12 + Math.max(pipes.length, Math.ceil(order.length / 4)) * 6 + TOP;
  const height = pages * (pageHeight + GAP) + partsHeight;
  const out = new TextBytes();
  out.add('<?xml version="1.0" encoding="UTF-8"?>\n');
  out.add(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${mm(width)}mm" height="${mm(height)}mm" viewBox="0 0 ${mm(width)} ${mm(height)}" font-family="serif" font-size="3">\n`,
  );
  out.add(`<title>${markup(title)}</title>\n`);
  const column = new Map(pipes.map((k, i) => [k, i]));
  const x = (rank: number, key: number) =>
    LEFT + rank * (rankWidth + BETWEEN) + column.get(key)! * PIPE_MM;
  // What is the same on every page is worked out once: a long strip has a million holes.
  const [lines, tops] = [[], []] as [string[], string[]];
  for (let row = 0; row < ROWS_A_PAGE; row++) {
    lines.push(mm(TOP + row * rowMm));
    tops.push(mm(TOP + row * rowMm + rowMm * 0.2));
  }
  const left = ranks.map((_, r) => new Map(pipes.map((k) => [k, mm(x(r, k) + 0.6)])));
  const [holeWidth, holeHeight] = [mm(PIPE_MM - 1.2), mm(rowMm * 0.6)];
  const holeMark = ({ row, key, rank }: Hole, first: number) => {
    out
      .add('<rect x="')
      .add(left[rank]!.get(key)!)
      .add('" y="')
      .add(tops[row - first]!);
    out.add('" width="').add(holeWidth).add('" height="').add(holeHeight);
    out.add('" rx="1" data-row="').int(row).add('" data-rank="').add(ranks[rank]!.id);
    out.add('" data-key="').int(key).add('"/>\n');
  };
  let next = 0;
  for (let page = 0; page < pages; page++) {
    const y = page * (pageHeight + GAP);
    const first = page * ROWS_A_PAGE;
    const last = Math.min(first + ROWS_A_PAGE, Math.max(holes.rows, 1));
    out.add(`<g transform="translate(0 ${mm(y)})">\n`);
    out.add(
      `<text x="${LEFT}" y="7" font-size="4">${markup(title)}: rows ${first} to ${last - 1}, page ${page + 1} of ${pages}</text>\n`,
    );
    ranks.forEach((rank, r) => {
      const left = LEFT + r * (rankWidth + BETWEEN);
      out.add(`<text x="${mm(left)}" y="12">${markup(rank.name)}</text>\n`);
      pipes.forEach((key, i) =>
        out.add(
          `<text x="${mm(left + i * PIPE_MM + PIPE_MM / 2)}" y="16" font-size="1.7" text-anchor="middle">${noteName(key)}</text>\n`,
        ),
      );
      out.add(
        `<rect x="${mm(left)}" y="${TOP}" width="${mm(rankWidth)}" height="${mm((last - first) * rowMm)}" fill="none" stroke="#000" stroke-width="0.2"/>\n`,
      );
    });
    for (let row = first; row < last; row++) {
      const top = TOP + (row - first) * rowMm;
      const line = lines[row - first]!;
      out.add(
        `<line x1="${LEFT}" x2="${mm(width - LEFT)}" y1="${line}" y2="${line}" stroke="#000" stroke-width="${bars.has(row) ? 0.4 : 0.1}"/>\n`,
      );
      out.add(
        `<text x="${LEFT - 2}" y="${mm(top + rowMm / 2 + 1)}" text-anchor="end">${row}</text>\n`,
      );
      const bar = bars.get(row);
      if (bar !== undefined)
        out.add(
          `<text x="${mm(width - LEFT + 2)}" y="${mm(top + 3)}" font-weight="bold">bar ${bar}</text>\n`,
        );
    }
    for (; next < holes.holes.length && holes.holes[next]!.row < last; next++)
      holeMark(holes.holes[next]!, first);
    if (page > 0) out.add(joinMark(LEFT, width, TOP, page));
    if (page < pages - 1) out.add(joinMark(LEFT, width, TOP + ROWS_A_PAGE * rowMm, page + 1));
    out.add('</g>\n');
  }
  out.add(`<g transform="translate(0 ${mm(pages * (pageHeight + GAP))})">\n`);
  const metres = Math.round((holes.rows * rowMm) / 10) / 100;
  out.add(
    `<text x="${LEFT}" y="7" font-size="4">To build: ${metres} m of strip, ${holes.rows} rows at ${holes.rate} a second, ${holes.holes.length} holes</text>\n`,
  );
  pipes.forEach((key, i) => {
    const each = ranks.map((rank, r) => {
      const n = holes.holes.filter((h) => h.rank === r && h.key === key).length;
      return `${rank.name} ${n}`;
    });
    out.add(
      `<text x="${LEFT}" y="${TOP + i * 6}">${noteName(key)} (${key}): ${markup(each.join(', '))}</text>\n`,
    );
  });
  const half = LEFT + (width - LEFT * 2) / 2;
  out.add(`<text x="${mm(half)}" y="12" font-weight="bold">Build order, page by page</text>\n`);
  order.forEach((line, i) => {
    const rows = Math.ceil(order.length / 4);
    const left = half + Math.floor(i / rows) * 28;
    const top = TOP + (i % rows) * 6;
    out.add(
      `<rect x="${mm(left)}" y="${mm(top - 3)}" width="3" height="3" fill="none" stroke="#000" stroke-width="0.2"/><text x="${mm(left + 4)}" y="${mm(top)}">${line}</text>\n`,
    );
  });
  out.add('</g>\n</svg>\n');
  const bytes = out.bytes();
  const sum = crc32(bytes).toString(16).padStart(8, '0');
  const tail = new TextBytes().add(`<!-- crc32 ${sum} -->\n`).bytes();
  const all = new Uint8Array(bytes.length + tail.length);
  all.set(bytes);
  all.set(tail, bytes.length);
  return all;
}

/** Two arrows with a number: the same number is laid on the same. */
const joinMark = (left: number, width: number, y: number, n: number): string =>
  [left - 9, width - left + 9]
    .map(
      (x) =>
        `<path d="M${mm(x - 2)} ${mm(y - 2)} L${mm(x + 2)} ${mm(y)} L${mm(x - 2)} ${mm(y + 2)} Z"/><text x="${mm(x)}" y="${mm(y + 6)}" text-anchor="middle">${n}</text>\n`,
    )
    .join('');

/** Pages in order, with their holes: each is ticked off when it is cut. */
function buildOrder({ holes, rows }: Holes): string[] {
  const pages = Math.max(1, Math.ceil(rows / ROWS_A_PAGE));
  const counts = new Array<number>(pages).fill(0);
  for (const h of holes) counts[Math.floor(h.row / ROWS_A_PAGE)]!++;
  return counts.map((n, page) => `page ${page + 1}: ${n} ${n === 1 ? 'hole' : 'holes'}`);
}
