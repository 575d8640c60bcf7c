import { isNumber, wordsOf } from './patterns';
import { takeCase } from './take-case';
import { fixedCount } from './read-grid';
import { checksumOf } from './checksums';
import { decode } from './encoding';
import { takeText } from './read-row';
import { newRow, Unread, type ReadRow } from './row';
import type { BinaryNode, Container, Encoding, Rows, Value } from './schema';

type Order = 'little' | 'big';
type Late = Extract<Value, { is: 'offset' | 'size' | 'checksum' }>;

/** Bytes that a field always takes; null where that depends on what is in it. */
export function fixedSize(node: BinaryNode): number | null {
  if ('bytes' in node) return node.bytes.replace(/\s/g, '').length / 2;
  if ('int' in node) return node.int;
  if ('float' in node) return node.float;
  if ('bits' in node) return Math.ceil(node.bits.reduce((n, b) => n + b.width, 0) / 8);
  if ('string' in node) return node.string === 'padded' ? (node.size ?? null) : null;
  if ('block' in node) {
    let sum = 0;
    for (const f of node.fields) {
      const size = fixedSize(f);
      if (size === null) return null;
      sum += size;
    }
    return sum;
  }
  return null;
}

/** Which rows a count is of, so that the list that it counts finds it. */
const countKey = (rows: Rows) => JSON.stringify({ ...rows, order: undefined });

class Reader {
  at = 0;
  readonly blocks = new Map<string, { from: number; to: number }>();
  readonly late: { value: Late; said: number; at: number }[] = [];
  constructor(
    readonly bytes: Uint8Array,
    readonly order: Order,
    readonly encoding: Encoding | undefined,
  ) {}

  wrong(this: Reader, says: string, at = this.at): never {
    throw new Unread(`byte ${at}`, says);
  }
  take(size: number): Uint8Array {
    if (this.at + size > this.bytes.length) this.wrong('The file ends inside a field.');
    const out = this.bytes.subarray(this.at, this.at + size);
    this.at += size;
    return out;
  }
  whole(size: number, signed: boolean, order: Order): number {
    const own = this.take(size);
    let n = 0n;
    for (let i = 0; i < size; i++) n = (n << 8n) | BigInt(own[order === 'big' ? i : size - 1 - i]!);
    if (signed && n >= 1n << BigInt(size * 8 - 1)) n -= 1n << BigInt(size * 8);
    return Number(n);
  }
}

export function readBinary(
  { order, fields }: Extract<Container, { kind: 'binary' }>,
  bytes: Uint8Array,
  encoding?: Encoding,
): ReadRow {
  const reader = new Reader(bytes, order, encoding);
  const root = newRow(null);
  readFields(reader, fields, root, [], 0);
  if (reader.at !== bytes.length)
    reader.wrong(`${bytes.length - reader.at} bytes stand behind the end of what is described.`);
  for (const { value, said, at } of reader.late) {
    const block = reader.blocks.get(value.block);
    if (!block) return reader.wrong(`There is no block “${value.block}”.`, at);
    const own =
      value.is === 'checksum'
        ? checksumOf(value.kind, bytes.subarray(block.from, block.to))
        : value.is === 'size'
          ? block.to - block.from
          : block.from - (reader.blocks.get(value.from ?? '')?.from ?? 0);
    if (own !== said) reader.wrong(`It says ${said} where ${own} is right.`, at);
  }
  return root;
}

/** @param behind bytes of fixed size that stand behind the last of these fields */
function readFields(
  reader: Reader,
  fields: readonly BinaryNode[],
  into: ReadRow,
  above: readonly ReadRow[],
  behind: number | null,
): void {
  fields.forEach((node, i) => {
    const rest = fields.slice(i + 1).reduce<number | null>((sum, f) => {
      const size = fixedSize(f);
      return sum === null || size === null ? null : sum + size;
    }, behind);
    readField(reader, node, into, above, rest);
  });
}

/** A whole number of the file holds steps of the last digit that is described. */
const steps = (value: Value, n: number) =>
  'decimals' in value && value.decimals ? n / 10 ** value.decimals : n;

/** A number of the file, as the value that it is; whole ones hold steps of the last digit. */
function keep(
  reader: Reader,
  into: ReadRow,
  value: Value,
  n: number,
  from: number,
  isWhole = true,
) {
  if (value.is === 'case') {
    const taken = takeCase(value, into, (own, row) => {
      if (own.is === 'constant' && Number(own.value) !== n) return false;
      row.values.push({ value: own, said: isWhole ? steps(own, n) : n, from, to: reader.at });
      return true;
    });
    if (!taken) reader.wrong(`${n} is none of the values that are described.`, from);
    return;
  }
  if (value.is !== 'constant' && !isNumber(value)) {
    // Words of a file of bytes are numbers that stand for something.
    const word = String(n);
    if (!(wordsOf(value)?.includes(word) ?? true))
      reader.wrong(`${word} is none of the values that are described.`, from);
    into.values.push({ value, said: word, from, to: reader.at });
    return;
  }
  const said = isWhole ? steps(value, n) : n;
  if (value.is === 'constant' && said !== value.value && Number(said) !== Number(value.value))
    reader.wrong(`${String(said)} stands where ${String(value.value)} is described.`, from);
  if (value.is === 'offset' || value.is === 'size' || value.is === 'checksum')
    reader.late.push({ value, said, at: from });
  into.values.push({ value, said, from, to: reader.at });
}

function readField(
  reader: Reader,
  node: BinaryNode,
  into: ReadRow,
  above: readonly ReadRow[],
  rest: number | null,
): void {
  const from = reader.at;
  if ('bytes' in node) {
    const hex = node.bytes.replace(/\s/g, '').toLowerCase();
    const own = Array.from(reader.take(hex.length / 2), (b) =>
      b.toString(16).padStart(2, '0'),
    ).join('');
    if (own !== hex) reader.wrong(`${own} stands where ${hex} is described.`, from);
    return;
  }
  if ('int' in node) {
    const n = reader.whole(node.int, node.signed ?? false, node.order ?? reader.order);
    return keep(reader, into, node.value, n, from);
  }
  if ('float' in node) {
    const own = reader.take(node.float);
    const view = new DataView(own.buffer, own.byteOffset, own.length);
    const little = (node.order ?? reader.order) === 'little';
    const n = node.float === 4 ? view.getFloat32(0, little) : view.getFloat64(0, little);
    if (!Number.isFinite(n)) reader.wrong('It is no number.', from);
    return keep(reader, into, node.value, n, from, false);
  }
  if ('vlq' in node) {
    let n = 0;
    for (let i = 0; ; i++) {
      if (i === 4) reader.wrong('A length is longer than four bytes.', from);
      const [byte] = reader.take(1);
      n = n * 128 + (byte! & 127);
      if (byte! < 128) break;
    }
    return keep(reader, into, node.value, n, from);
  }
  if ('bits' in node) {
    const width = node.bits.reduce((n, b) => n + b.width, 0);
    const size = Math.ceil(width / 8);
    const own = [...reader.take(size)];
    if ((node.order ?? reader.order) === 'little') own.reverse();
    let all = own.reduce((n, b) => (n << 8n) | BigInt(b), 0n) >> BigInt(size * 8 - width);
    const found: number[] = [];
    for (const b of [...node.bits].reverse()) {
      found.unshift(Number(all & ((1n << BigInt(b.width)) - 1n)));
      all >>= BigInt(b.width);
    }
    node.bits.forEach((b, i) => keep(reader, into, b.value, found[i]!, from));
    return;
  }
  if ('string' in node) {
    let own: Uint8Array;
    if (node.string === 'padded') {
      own = reader.take(node.size ?? 0);
      const fill = node.fill ?? 0;
      let end = own.length;
      while (end > 0 && own[end - 1] === fill) end--;
      own = own.subarray(0, end);
    } else if (node.string === 'zero') {
      const end = reader.bytes.indexOf(0, reader.at);
      if (end < 0) reader.wrong('A text has no end.', from);
      own = reader.take(end - reader.at);
      reader.take(1);
    } else own = reader.take(reader.whole(node.size ?? 1, false, reader.order));
    const text = decode(own, reader.encoding);
    const place = { from, to: reader.at, decimal: '.' };
    if (text === null || !takeText(into, node.value, text, place))
      reader.wrong('A text is not as it is described.', from);
    return;
  }
  if ('align' in node) {
    while (reader.at % node.align !== 0) {
      const [byte] = reader.take(1);
      if (byte !== (node.fill ?? 0))
        reader.wrong('What fills up is not as described.', reader.at - 1);
    }
    return;
  }
  if ('block' in node) {
    readFields(reader, node.fields, into, above, rest);
    reader.blocks.set(node.block, { from, to: reader.at });
    return;
  }
  const count = fixedCount(node.each, into.of) ?? countOf(node.each, [into, ...above]);
  if (count === null && rest === null)
    reader.wrong('How many rows there are is said nowhere, and they are not the last.');
  const until = count === null ? reader.bytes.length - rest! : Infinity;
  for (let n = 0; count === null ? reader.at < until : n < count; n++) {
    const row = newRow(node.each);
    const was = reader.at;
    readFields(reader, node.fields, row, [into, ...above], null);
    if (reader.at === was) reader.wrong('A row takes no bytes.');
    into.rows.push(row);
  }
  if (node.id !== undefined) reader.blocks.set(node.id, { from, to: reader.at });
}

function countOf(rows: Rows, above: readonly ReadRow[]): number | null {
  const wanted = countKey(rows);
  for (const row of above)
    for (const { value, said } of row.values)
      if (value.is === 'count' && countKey(value.of) === wanted)
        return Number(said) - (value.add ?? 0);
  return null;
}
