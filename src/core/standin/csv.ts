import Papa from 'papaparse';
import { fault, readRows, type Checked, type FormatDefinition } from '../formats/define-format';
import { utf8, type DeliveredFile } from './played';

/** A CSV of a format, strictly: its columns, its cells, UTF-8, and CR LF behind each line. */
export function readCsv<T>(
  format: FormatDefinition<T>,
  file: DeliveredFile,
): Checked<readonly T[]> {
  const text = utf8(file.bytes);
  if (text === null) return fault('line 1', 'The bytes are not UTF-8.');
  if (text.startsWith('\ufeff')) return fault('line 1', 'A byte order mark stands at its start.');
  if (!text.endsWith('\r\n')) return fault('last line', 'The last line has no end.');
  const parsed = Papa.parse<string[]>(text.slice(0, -2), { newline: '\r\n', delimiter: ',' });
  const [error] = parsed.errors;
  if (error) return fault(`line ${(error.row ?? 0) + 1}`, `${error.message}.`);
  return readRows(format, parsed.data);
}

/** A text that was kept from being taken for a formula. */
export const plainCell = (cell: string): string =>
  /^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell;
