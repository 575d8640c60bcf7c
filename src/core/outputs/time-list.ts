import { TIME_COLUMNS } from '../formats/lists';
import { heardNotes } from '../reading/heard-notes';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { stemOf } from '../smf/name';
import type { Target } from '../target/schema';
import { noteName } from '../target/words';
import { timeListOptions } from '../target/writer-options';
import { sayClock, type Position } from '../time/meter-map';
import { countTimeList } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { csvBytes, type CsvLine, type TextBytes } from './text';

/** A position that no spreadsheet takes for a number: always with its ticks. */
const writePlace = (out: TextBytes, { bar, beat, tick }: Position) =>
  out.int(bar).add('.').int(beat).add('+').int(tick);

export const timeListWriter = defineWriter({
  id: 'time-list',
  format: 'time-list',
  summary: 'Every note with its place and clock time, as CSV.',
  carries: ['notes', 'note numbers', 'lengths', 'captions', 'names', 'markers'],
  count: countTimeList,
  options: timeListOptions,
  write({ pieces }, { columns, decimal }, target) {
    const wanted = columns?.split(',').map((c) => c.trim());
    const chosen = TIME_COLUMNS.flatMap((c, i) => ((wanted?.includes(c) ?? true) ? [i] : []));
    const pick = <T>(list: readonly T[]) => chosen.map((i) => list[i]!);
    const comma = decimal === 'comma';
    const files = pieces.map((piece, index) => ({
      path: `${stemOf(safeName(piece.delivery.fileName))}-times.csv`,
      bytes: csvBytes(
        pick(TIME_COLUMNS),
        (line) => writeLines(line, piece, target, { comma, chosen }),
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
}

/** Half a thousandth is rounded up, whichever way its quotient was rounded before. */
const thousandthsOf = (ms: number) => Math.floor(ms * 1000 + 0.5 + 1e-6);

/** Thousandths as a decimal number, without zeros at its end. */
function writeMs(out: TextBytes, thousandths: number, mark: string) {
  const whole = Math.floor(thousandths / 1000);
  const rest = thousandths - whole * 1000;
  out.int(whole);
  if (rest === 0) return;
  out.add(mark);
  if (rest % 100 === 0) out.digits(rest / 100, 1);
  else if (rest % 10 === 0) out.digits(rest / 10, 2);
  else out.digits(rest, 3);
}

function writeLines(line: CsvLine, piece: Piece, target: Target, { comma, chosen }: Layout) {
  const lowest = target.notes?.lowest ?? 0;
  const { clock, bars } = mapsOf(piece.score);
  const { markers } = piece.score.conductor;
  const { captions = [] } = piece;
  const notes = heardNotes(piece);
  const mark = comma ? ',' : '.';
  const names = Array.from({ length: 128 }, (_, key) => noteName(key));
  let next = 0;
  let turned = 0;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    while (next < markers.length && markers[next]!.tick <= start) next++;
    const key = notes.key[i]!;
    const ms = clock.msAt(start);
    const turns = target.captions?.noteNumber === key;
    const caption = turns ? captions[turned++] : undefined;
    for (const column of chosen)
      switch (TIME_COLUMNS[column]!) {
        case 'number':
          line.int(i + 1);
          break;
        case 'cue':
          line.int(key - lowest + 1);
          break;
        case 'note':
          line.int(key);
          break;
        case 'name':
          line.cell().add(names[key]!);
          break;
        case 'place':
          writePlace(line.cell(), bars.placeAt(start));
          break;
        case 'clock':
          line.cell().add(sayClock(ms));
          break;
        case 'ms':
          writeMs(line.cell(), thousandthsOf(ms), mark);
          break;
        case 'length ms':
          writeMs(line.cell(), thousandthsOf(clock.msAt(notes.end[i]!) - ms), mark);
          break;
        case 'marker':
          line.text(next > 0 ? markers[next - 1]!.text : '');
          break;
        case 'part':
          line.text(notes.parts[notes.part[i]!]!.name);
          break;
        case 'caption':
          line.text(caption?.text.replaceAll('\n', ' / ') ?? '');
          break;
      }
    line.end();
  }
}
