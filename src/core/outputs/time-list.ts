import * as z from 'zod';
import { TIME_COLUMNS } from '../formats/lists';
import { heardNotes } from '../reading/heard-notes';
import { mapsOf, roundMs } from '../score/inventory';
import type { Piece } from '../score/piece';
import { stemOf } from '../smf/name';
import type { Target } from '../target/schema';
import { noteName } from '../target/words';
import { sayClock, type Place } from '../time/meter-map';
import { defineWriter, safeName } from './define-writer';
import { csvBytes } from './text';

/** A position that no spreadsheet takes for a number: always with its ticks. */
const place = (at: Place) => `${at.bar}.${at.beat}+${at.tick}`;

export const timeListWriter = defineWriter({
  id: 'time-list',
  format: 'time-list',
  summary: 'Every note with its place and clock time, as CSV.',
  options: z.strictObject({
    columns: z.string().max(400).optional().describe('Those wanted, parted by commas; else all.'),
    decimal: z
      .enum(['point', 'comma'])
      .optional()
      .describe('comma: for spreadsheets that take it; columns are parted by semicolons then.'),
  }),
  write({ pieces }, { columns, decimal }, target) {
    const wanted = columns?.split(',').map((c) => c.trim());
    const chosen = TIME_COLUMNS.flatMap((c, i) => ((wanted?.includes(c) ?? true) ? [i] : []));
    const pick = <T>(list: readonly T[]) => chosen.map((i) => list[i]!);
    const comma = decimal === 'comma';
    const files = pieces.map((piece, index) => ({
      path: `${stemOf(safeName(piece.delivery.fileName))}-times.csv`,
      bytes: csvBytes(
        pick(TIME_COLUMNS),
        (cell) => lines(piece, target, { comma, chosen, cell }),
        comma ? ';' : ',',
      ),
      holds: index,
    }));
    return { files, losses: [] };
  },
});

interface Layout {
  readonly comma: boolean;
  /** Columns that are wanted, by their places. */
  readonly chosen: readonly number[];
  readonly cell: (text: string | number) => string;
}

function* lines(piece: Piece, target: Target, { comma, chosen, cell }: Layout): Iterable<string> {
  const lowest = target.notes?.lowest ?? 0;
  const { clock, bars } = mapsOf(piece.score);
  const { markers } = piece.score.conductor;
  const { captions = [] } = piece;
  const notes = heardNotes(piece);
  const number = (ms: number) => (comma ? String(roundMs(ms)).replace('.', ',') : roundMs(ms));
  const mark = comma ? ';' : ',';
  const all = chosen.length === TIME_COLUMNS.length;
  let next = 0;
  let turned = 0;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    while (next < markers.length && markers[next]!.tick <= start) next++;
    const key = notes.key[i]!;
    const ms = clock.msAt(start);
    const turns = target.captions?.noteNumber === key;
    const caption = turns ? captions[turned++]?.text.replaceAll('\n', ' / ') : undefined;
    const cells = [
      i + 1,
      key - lowest + 1,
      key,
      noteName(key),
      place(bars.placeAt(start)),
      sayClock(ms),
      number(ms),
      number(clock.msAt(notes.end[i]!) - ms),
      next > 0 ? cell(markers[next - 1]!.text) : '',
      cell(notes.parts[notes.part[i]!]!.name),
      caption === undefined ? '' : cell(caption),
    ];
    yield all ? cells.join(mark) : chosen.map((c) => cells[c]).join(mark);
  }
}
