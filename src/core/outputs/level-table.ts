import * as z from 'zod';
import { levelTableFormat } from '../formats/curve-tables';
import { CONTROL, curvesIn, delivered } from '../reading/curves';
import { microsecondsAt } from '../reading/microseconds';
import { sortByKey } from '../score/columns';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { stemOf } from '../smf/name';
import { countLevelTable } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { csvBytes, type CsvLine } from './text';

/** Rows a second. */
const RATE = 40;

export const levelTableWriter = defineWriter({
  id: 'level-table',
  format: 'level-table',
  summary: 'Levels of controllers at 40 rows a second, where they change, as CSV.',
  carries: ['controllers'],
  count: countLevelTable,
  options: z.strictObject({}),
  write({ pieces }) {
    let merged = 0;
    const files = pieces.map((piece, index) => ({
      path: `${stemOf(safeName(piece.delivery.fileName))}-levels.csv`,
      bytes: csvBytes(levelTableFormat.columns!, (line) => (merged += writeRows(line, piece))),
      holds: index,
    }));
    const losses = merged > 0 ? [{ what: 'values between rows of the table', count: merged }] : [];
    return { files, losses };
  },
});

/** @returns how many values are not in it: others stand in their rows, or say what holds already */
function writeRows(line: CsvLine, piece: Piece): number {
  const maps = mapsOf(piece.score);
  const all = curvesIn(delivered(piece)).filter((c) => c.kind === CONTROL);
  const rows: number[] = [];
  const controllers: number[] = [];
  const levels: number[] = [];
  let total = 0;
  for (const curve of all) {
    let held = -1;
    for (let i = 0; i < curve.count; i++) {
      total++;
      const row = rowAt(microsecondsAt(maps, curve.tick[i]!));
      const next = i + 1 < curve.count ? rowAt(microsecondsAt(maps, curve.tick[i + 1]!)) : -1;
      // Of several in a row the last stands there, where it says something new.
      if (next === row || curve.value[i] === held) continue;
      held = curve.value[i]!;
      rows.push(row);
      controllers.push(curve.number);
      levels.push(held);
    }
  }
  for (const i of sortByKey(rows.map((row, n) => row * 128 + controllers[n]!))) {
    line.int(rows[i]!);
    line.cell().decimals(Math.round((rows[i]! * 1_000_000) / RATE), 6);
    line.int(controllers[i]!).int(levels[i]!);
    line.end();
  }
  return total - rows.length;
}

const rowAt = (us: number): number => Math.floor((us * RATE) / 1_000_000 + 1e-9);
