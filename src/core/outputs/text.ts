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

  /** A whole number, without a text of its own: there are many in a long file. */
  int(n: number): this {
    if (n < 0) return this.add('-').int(-n);
    if (n < 1_000_000_000) return this.digits(n, n < 10 ? 1 : lengthOf(n));
    const high = Math.floor(n / 1_000_000_000);
    return this.int(high).digits(n - high * 1_000_000_000, 9);
  }

  /** Whole thousandths, millionths … as a decimal number with all its digits. */
  decimals(n: number, digits: number): this {
    const unit = 10 ** digits;
    const whole = Math.floor(n / unit);
    return this.int(whole)
      .add('.')
      .digits(n - whole * unit, digits);
  }

  /** Digits of a number below 10⁹, with zeros before it. */
  digits(n: number, size: number): this {
    if (this.at > CHUNK - 16) this.flush();
    const { chunk } = this;
    let rest = n | 0;
    for (let at = this.at + size - 1; at >= this.at; at--) {
      const next = (rest / 10) | 0;
      chunk[at] = 48 + rest - next * 10;
      rest = next;
    }
    this.at += size;
    return this;
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

/** How many digits a number from 10 to 10⁹ has. */
function lengthOf(n: number): number {
  let size = 2;
  for (let limit = 100; n >= limit; limit *= 10) size++;
  return size;
}

type Plain = string | number | boolean | null;
export type JsonValue =
  | Plain
  | readonly JsonValue[]
  | { readonly [key: string]: JsonValue | Iterable<JsonValue> }
  | Entries;

/**
 * Entries of a list that are written one by one, without objects or texts of their own. `entry` begins
 * the next and gives what its JSON is written to: on one line, its keys sorted.
 */
export class Entries {
  constructor(readonly write: (entry: () => TextBytes) => void) {}
}

const isPlain = (v: unknown): v is Plain => v === null || typeof v !== 'object';

/** On one line: keys sorted by code unit. */
function inline(value: JsonValue): string {
  if (isPlain(value)) return JSON.stringify(value);
  if (value instanceof Entries) throw new Error('entries stand on lines of their own');
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
    const [begin, between] = [`[\n${inner}`, `,\n${inner}`];
    const next = () => {
      out.add(first ? begin : between);
      first = false;
      return out;
    };
    if (value instanceof Entries) value.write(next);
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

/** A line of a CSV on its way: cells one by one, then its end. */
export class CsvLine {
  private first = true;
  /** Texts as cells, each worked out once: names and markers stand in a million rows. */
  private readonly known = new Map<string, string>();

  constructor(
    private readonly out: TextBytes,
    private readonly delimiter: string,
  ) {}

  /** The next cell; what is written to it needs no quotes: digits, places, names of keys. */
  cell(): TextBytes {
    if (!this.first) this.out.add(this.delimiter);
    this.first = false;
    return this.out;
  }

  int(n: number): this {
    this.cell().int(n);
    return this;
  }

  /** Any text. One that a spreadsheet would take for a formula begins with an apostrophe. */
  text(text: string): this {
    let written = this.known.get(text);
    if (written === undefined) {
      const config = { newline: '\r\n', escapeFormulae: true, delimiter: this.delimiter };
      written = text === '' ? '' : Papa.unparse([[text]], config);
      if (this.known.size > 4096) this.known.clear();
      this.known.set(text, written);
    }
    this.cell().add(written);
    return this;
  }

  end() {
    this.out.add('\r\n');
    this.first = true;
  }
}

/** Lines of a CSV with CR LF (RFC 4180), written as they are made. */
export function csvBytes(
  columns: readonly string[],
  write: (line: CsvLine) => void,
  delimiter = ',',
): Uint8Array {
  const out = new TextBytes();
  const line = new CsvLine(out, delimiter);
  for (const column of columns) line.text(column);
  line.end();
  write(line);
  return out.bytes();
}
