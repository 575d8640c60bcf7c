import { readJson, type Checked, type FormatDefinition } from '../formats/define-format';
import { utf8, type DeliveredFile, type Gathering } from './played';

/**
 * A JSON file of a format as a strict device reads it: UTF-8, laid out as the format has it, keys
 * and values by its schema. Null where it is refused.
 */
export function loadJson<T>(
  format: FormatDefinition<T>,
  file: DeliveredFile,
  out: Gathering,
): T | null {
  const text = utf8(file.bytes);
  if (text === null) {
    out.refuse(file.path, 0, 'The bytes are not UTF-8.');
    return null;
  }
  const { data, problems }: Checked<T> = readJson(format, text);
  for (const p of problems) out.refuse(file.path, p.path, p.says);
  if (data === undefined) return null;
  const line = layoutFault(text);
  if (line === null) return data;
  out.refuse(file.path, `line ${line}`, 'It is not laid out as this format is.');
  return null;
}

const [TAB, LF, CR, SPACE, QUOTE, COMMA, COLON] = [9, 10, 13, 32, 34, 44, 58];
const [LIST, BACKSLASH, LIST_END, OPEN, CLOSE] = [91, 92, 93, 123, 125];

/**
 * The line where the layout breaks: lines are indented by two spaces for each bracket that is open,
 * inside a line one space stands behind a comma, a colon and an opening brace, and before a closing
 * one. @returns from 1; null where it is as it should be
 */
export function layoutFault(text: string): number | null {
  let depth = 0;
  let line = 1;
  let inText = false;
  if (text.charCodeAt(text.length - 1) !== LF) return text.split('\n').length;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (inText) {
      if (c === BACKSLASH) i++;
      else if (c === QUOTE) inText = false;
    } else if (c === QUOTE) inText = true;
    else if (c === OPEN || c === LIST) depth++;
    else if (c === CLOSE || c === LIST_END) depth--;
    else if (c === LF) {
      line++;
      let indent = 0;
      while (text.charCodeAt(i + 1 + indent) === SPACE) indent++;
      const next = text.charCodeAt(i + 1 + indent);
      if (Number.isNaN(next)) return i + 1 === text.length ? null : line;
      if (indent !== 2 * (next === CLOSE || next === LIST_END ? depth - 1 : depth)) return line;
      i += indent;
    } else if (c === SPACE) {
      const before = text.charCodeAt(i - 1);
      const after = text.charCodeAt(i + 1);
      const follows = before === COMMA || before === COLON || before === OPEN;
      if (!(follows || after === CLOSE) || after === SPACE || after === LF) return line;
    } else if (c === TAB || c === CR) return line;
  }
  return null;
}
