import * as z from 'zod';
import { holeListFormat } from '../formats/lists';
import { holesOf, type Holes } from '../reading/holes';
import { mapsOf } from '../score/inventory';
import { stemOf } from '../smf/name';
import { noteName } from '../target/words';
import { countHoleList } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { csvBytes, type CsvLine } from './text';

export const holeListWriter = defineWriter({
  id: 'hole-list',
  format: 'hole-list',
  summary: 'The holes of a strip, a row a line, as CSV.',
  carries: ['notes', 'note numbers'],
  count: countHoleList,
  options: z.strictObject({}),
  write({ pieces }, _options, target) {
    let noPipe = 0;
    let shared = 0;
    const files = pieces.map((piece, index) => {
      const holes = holesOf(piece, mapsOf(piece.score), target);
      noPipe += holes.noPipe;
      shared += holes.shared;
      return {
        path: `${stemOf(safeName(piece.delivery.fileName))}-holes.csv`,
        bytes: csvBytes(holeListFormat.columns!, (line) => writeRows(line, holes)),
        holds: index,
      };
    });
    const losses = [
      { what: 'notes without a pipe, not in the hole list', count: noPipe },
      { what: 'notes on the hole of another', count: shared },
    ];
    return { files, losses: losses.filter((l) => l.count > 0) };
  },
});

function writeRows(line: CsvLine, { holes, rate }: Holes) {
  for (let from = 0; from < holes.length;) {
    const { row } = holes[from]!;
    let to = from;
    while (to < holes.length && holes[to]!.row === row) to++;
    line.int(row);
    line.cell().decimals(Math.round((row * 1_000_000) / rate), 6);
    for (const rank of [0, 1]) {
      const out = line.cell();
      let first = true;
      for (let i = from; i < to; i++) {
        const hole = holes[i]!;
        if (hole.rank !== rank) continue;
        out
          .add(first ? '' : ' | ')
          .add(noteName(hole.key))
          .add(' ')
          .int(hole.key);
        first = false;
      }
    }
    line.end();
    from = to;
  }
}
