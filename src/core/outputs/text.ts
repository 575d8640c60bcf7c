import Papa from 'papaparse';

const CHUNK = 1 << 16;

/**
 * A text as UTF-8 bytes, encoded in chunks while it is written: a long one is never held twice. The
 * bytes are the same on every machine.
 */
export class TextBytes {
  private readonly done: Uint8Array[] = [];
  private chunk = new Uint8Array(CHUNK);
  private at = 0;
  private total = 0;

  add(text: string): this {
    let from = 0;
    while (from < text.length) {
      if (this.at > CHUNK - 8) this.flush();
      from = this.ascii(text, from);
      if (from < text.length && this.at <= CHUNK - 8) from = this.letter(text, from);
    }
    return this;
  }

  /** Writes letters below 128 as long as there is room; gives back where it stopped. */
  private ascii(text: string, from: number): number {
    const { chunk } = this;
    let { at } = this;
    const until = Math.min(text.length, from + CHUNK - 8 - at);
    let i = from;
    for (; i < until; i++) {
      const code = text.charCodeAt(i);
      if (code > 127) break;
      chunk[at++] = code;
    }
    this.at = at;
    return i;
  }

  private letter(text: string, i: number): number {
    const { chunk } = this;
    let code = text.codePointAt(i)!;
    const next = i + (code > 0xffff ? 2 : 1);
    // A lone surrogate has no UTF-8.
    if (code >= 0xd800 && code < 0xe000) code = 0xfffd;
    if (code < 0x80) chunk[this.at++] = code;
    else if (code < 0x800) {
      chunk[this.at++] = 0xc0 | (code >> 6);
      chunk[this.at++] = 0x80 | (code & 63);
    } else {
      if (code < 0x10000) chunk[this.at++] = 0xe0 | (code >> 12);
      else {
        chunk[this.at++] = 0xf0 | (code >> 18);
        chunk[this.at++] = 0x80 | ((code >> 12) & 63);
      }
      chunk[this.at++] = 0x80 | ((code >> 6) & 63);
      chunk[this.at++] = 0x80 | (code & 63);
    }
    return next;
  }

  private flush() {
    if (this.at === 0) return;
    this.done.push(this.chunk.subarray(0, this.at));
    this.total += this.at;
    this.chunk = new Uint8Array(CHUNK);
    this.at = 0;
  }

  bytes(): Uint8Array {
    this.flush();
    const out = new Uint8Array(this.total);
    let at = 0;
    for (const part of this.done) {
      out.set(part, at);
      at += part.length;
    }
    return out;
  }
}

type Plain = string | number | boolean | null;
export type JsonValue =
  | Plain
  | readonly JsonValue[]
  | { readonly [key: string]: JsonValue | Iterable<JsonValue> }
  | Entries;

/**
 * Entries of a list that are made one by one while they are written: each a text of JSON on one line,
 * its keys sorted. For lists of a million, where objects would cost more than the text.
 */
export class Entries {
  constructor(readonly make: () => Iterable<string>) {}
}

const isPlain = (v: unknown): v is Plain => v === null || typeof v !== 'object';

/** On one line: keys sorted by code unit. */
function inline(value: JsonValue): string {
  if (isPlain(value)) return JSON.stringify(value);
  if (value instanceof Entries) return `[${[...value.make()].join(', ')}]`;
  if (Array.isArray(value)) return `[${value.map(inline).join(', ')}]`;
  const object = value as { readonly [key: string]: JsonValue };
  const keys = Object.keys(object).sort();
  return `{ ${keys.map((k) => `${JSON.stringify(k)}: ${inline(object[k]!)}`).join(', ')} }`;
}

const holdsObjects = (list: readonly JsonValue[]) => list.some((v) => !isPlain(v));

function write(out: TextBytes, value: JsonValue, indent: string, deep: number) {
  if (isPlain(value)) return void out.add(JSON.stringify(value));
  const inner = `${indent}  `;
  if (value instanceof Entries || Array.isArray(value)) {
    if (Array.isArray(value) && !holdsObjects(value)) return void out.add(inline(value));
    let first = true;
    const next = () => {
      out.add(first ? `[\n${inner}` : `,\n${inner}`);
      first = false;
    };
    if (value instanceof Entries)
      for (const text of value.make()) {
        next();
        out.add(text);
      }
    else
      for (const entry of value as readonly JsonValue[]) {
        next();
        if (deep > 1) write(out, entry, inner, deep - 1);
        else out.add(inline(entry));
      }
    return void out.add(first ? '[]' : `\n${indent}]`);
  }
  const object = value as { readonly [key: string]: JsonValue };
  const keys = Object.keys(object).sort();
  keys.forEach((k, i) => {
    out.add(`${i === 0 ? '{' : ','}\n${inner}${JSON.stringify(k)}: `);
    write(out, object[k]!, inner, deep);
  });
  out.add(keys.length === 0 ? '{}' : `\n${indent}}`);
}

/**
 * JSON with sorted keys, LF, no BOM. Lists have an entry a line.
 * @param deep how many lists within each other are written over several lines
 */
export function jsonBytes(value: JsonValue, deep = 1): Uint8Array {
  const out = new TextBytes();
  write(out, value, '', deep);
  return out.add('\n').bytes();
}

/** Texts as cells, each worked out once: names and markers stand in a million rows. */
function cellWriter(delimiter: string): (cell: string | number) => string {
  const config = { newline: '\r\n', escapeFormulae: true, delimiter };
  const known = new Map<string, string>();
  return (cell) => {
    if (typeof cell === 'number') return String(cell);
    let written = known.get(cell);
    if (written === undefined) {
      written = cell === '' ? '' : Papa.unparse([[cell]], config);
      // Places and clock times are all different: they are not kept for ever.
      if (known.size > 4096) known.clear();
      known.set(cell, written);
    }
    return written;
  };
}

/** Cells that are plain by their kind: numbers, places, clock times. A line of them is its own text. */
export type CsvRow = readonly (string | number)[] | string;

/**
 * Lines of a CSV with CR LF (RFC 4180), written as they are made. A text that a spreadsheet would
 * take for a formula begins with an apostrophe.
 */
export function csvBytes(
  columns: readonly string[],
  rows: Iterable<CsvRow> | ((cell: (text: string | number) => string) => Iterable<CsvRow>),
  delimiter = ',',
): Uint8Array {
  const out = new TextBytes();
  const cell = cellWriter(delimiter);
  const line = (cells: readonly (string | number)[]) => cells.map(cell).join(delimiter);
  out.add(`${line(columns)}\r\n`);
  for (const row of typeof rows === 'function' ? rows(cell) : rows)
    out.add(typeof row === 'string' ? `${row}\r\n` : `${line(row)}\r\n`);
  return out.bytes();
}

/** Whole microseconds as seconds with six decimals. */
export const seconds = (us: number): string => {
  const whole = Math.floor(us / 1_000_000);
  return `${whole}.${String(us - whole * 1_000_000).padStart(6, '0')}`;
};
