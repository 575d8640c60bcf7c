import * as z from 'zod';
import { holeListFormat } from '../formats/lists';
import { holesOf, type Holes } from '../reading/holes';
import { mapsOf } from '../score/inventory';
import { stemOf } from '../smf/name';
import { noteName } from '../target/words';
import { defineWriter, safeName } from './define-writer';
import { csvBytes, seconds } from './text';

export const holeListWriter = defineWriter({
  id: 'hole-list',
  format: 'hole-list',
  summary: 'The holes of a strip, a row a line, as CSV.',
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
        bytes: csvBytes(holeListFormat.columns!, rows(holes)),
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

function* rows({ holes, rate }: Holes) {
  for (let from = 0; from < holes.length;) {
    const { row } = holes[from]!;
    let to = from;
    while (to < holes.length && holes[to]!.row === row) to++;
    const rank = (n: number) =>
      holes
        .slice(from, to)
        .filter((h) => h.rank === n)
        .map((h) => `${noteName(h.key)} ${h.key}`)
        .join(' | ');
    yield [row, seconds(Math.round((row * 1_000_000) / rate)), rank(0), rank(1)];
    from = to;
  }
}
