import type { Container, Value } from '../../formats/own/schema';
import { numberOf, textSaid, valueOf } from './values';
import { eachRow, type Here } from './each-row';
import type { BinaryNode } from '../../formats/own/schema';
import { checksumOf } from '../../formats/own/checksums';

type Order = 'little' | 'big';
interface Patch {
  readonly at: number;
  readonly size: number;
  readonly order: Order;
  readonly value: Extract<Value, { is: 'offset' | 'size' | 'checksum' }>;
}

/** Bytes that grow. */
class Sink {
  private held = new Uint8Array(4096);
  length = 0;
  private room(more: number) {
    if (this.length + more <= this.held.length) return;
    const next = new Uint8Array(Math.max(this.held.length * 2, this.length + more));
    next.set(this.held.subarray(0, this.length));
    this.held = next;
  }
  add(byte: number) {
    this.room(1);
    this.held[this.length++] = byte;
  }
  all(bytes: ArrayLike<number>) {
    this.room(bytes.length);
    this.held.set(bytes, this.length);
    this.length += bytes.length;
  }
  get bytes(): Uint8Array {
    return this.held.subarray(0, this.length);
  }
  /** A whole number in so many bytes; what does not fit is held at the edge. */
  int(value: number, size: number, order: Order, at = -1) {
    const out = bytesOf(value, size);
    if (order === 'big') out.reverse();
    if (at < 0) this.all(out);
    else this.held.set(out, at);
  }
}

/** Lowest byte first, two's complement. */
function bytesOf(value: number, size: number): number[] {
  let rest = BigInt(Math.round(value));
  const out: number[] = [];
  for (let i = 0; i < size; i++) {
    out.push(Number(rest & 0xffn));
    rest >>= 8n;
  }
  return out;
}

export const clampInt = (value: number, size: number, signed: boolean): number => {
  const most = signed ? 2 ** (size * 8 - 1) - 1 : 2 ** (size * 8) - 1;
  const least = signed ? -(2 ** (size * 8 - 1)) : 0;
  return Math.max(least, Math.min(most, Math.round(value)));
};

export function writeBinary(
  { order, fields }: Extract<Container, { kind: 'binary' }>,
  root: Here,
  encodeText: (text: string) => Uint8Array,
): Uint8Array {
  const out = new Sink();
  const patches: Patch[] = [];
  const blocks = new Map<string, { from: number; to: number }>();
  const isLate = (v: Value): v is Patch['value'] =>
    v.is === 'offset' || v.is === 'size' || v.is === 'checksum';

  const write = (nodes: readonly BinaryNode[], here: Here) => {
    for (const node of nodes) one(node, here);
  };
  const number = (v: Value, here: Here) => numberOf(valueOf(v, here.row, here.beside));
  /** Whole numbers hold steps of the last digit that is described. */
  const steps = (v: Value, here: Here) => {
    const said = valueOf(v, here.row, here.beside);
    return said !== null && 'whole' in said ? said.whole : numberOf(said);
  };
  const one = (node: BinaryNode, here: Here): void => {
    if ('bytes' in node)
      return out.all(node.bytes.match(/[0-9a-f]{2}/gi)!.map((h) => parseInt(h, 16)));
    if ('int' in node) {
      const own = node.order ?? order;
      if (isLate(node.value))
        patches.push({ at: out.length, size: node.int, order: own, value: node.value });
      return out.int(
        clampInt(steps(node.value, here), node.int, node.signed ?? false),
        node.int,
        own,
      );
    }
    if ('float' in node) {
      const view = new DataView(new ArrayBuffer(node.float));
      const little = (node.order ?? order) === 'little';
      if (node.float === 4) view.setFloat32(0, number(node.value, here), little);
      else view.setFloat64(0, number(node.value, here), little);
      return out.all(new Uint8Array(view.buffer));
    }
    if ('vlq' in node) {
      // SMF 1.0, "Variable-length quantity": seven bits a byte, all but the last with the top bit.
      let rest = Math.max(0, Math.min(2 ** 28 - 1, Math.round(steps(node.value, here))));
      const sevens = [rest % 128];
      while ((rest = Math.floor(rest / 128)) > 0) sevens.unshift((rest % 128) | 128);
      return out.all(sevens);
    }
    if ('bits' in node) {
      const width = node.bits.reduce((n, b) => n + b.width, 0);
      let sum = 0n;
      for (const b of node.bits) {
        const most = 2 ** b.width - 1;
        const value = Math.max(0, Math.min(most, Math.round(steps(b.value, here))));
        sum = (sum << BigInt(b.width)) | BigInt(value);
      }
      const size = Math.ceil(width / 8);
      sum <<= BigInt(size * 8 - width);
      const bytes: number[] = [];
      for (let i = 0; i < size; i++) {
        bytes.unshift(Number(sum & 0xffn));
        sum >>= 8n;
      }
      return out.all((node.order ?? order) === 'little' ? bytes.reverse() : bytes);
    }
    if ('string' in node) {
      const v = node.value;
      const text = encodeText(textSaid(v, here.row, here.beside, '.'));
      if (node.string === 'padded') {
        const bytes = new Uint8Array(node.size ?? text.length).fill(node.fill ?? 0);
        bytes.set(text.subarray(0, bytes.length));
        return out.all(bytes);
      }
      if (node.string === 'zero') {
        out.all(text.filter((b) => b !== 0));
        return out.add(0);
      }
      const size = node.size ?? 1;
      const kept = text.subarray(0, Math.min(text.length, 2 ** (Math.min(4, size) * 8) - 1));
      out.int(kept.length, size, order);
      return out.all(kept);
    }
    if ('align' in node) {
      while (out.length % node.align !== 0) out.add(node.fill ?? 0);
      return;
    }
    const from = out.length;
    if ('block' in node) {
      write(node.fields, here);
      blocks.set(node.block, { from, to: out.length });
      return;
    }
    eachRow(node.each, here.beside.world, here.row, (row, beside) =>
      write(node.fields, { row, beside }),
    );
    if (node.id !== undefined) blocks.set(node.id, { from, to: out.length });
  };
  write(fields, root);
  // What depends on bytes that are patched themselves comes last.
  const late = [...patches].sort(
    (a, b) => Number(a.value.is === 'checksum') - Number(b.value.is === 'checksum'),
  );
  for (const { at, size, order: own, value } of late) {
    const block = blocks.get(value.block);
    if (!block) continue;
    const n =
      value.is === 'checksum'
        ? checksumOf(value.kind, out.bytes.subarray(block.from, block.to))
        : value.is === 'size'
          ? block.to - block.from
          : block.from - (blocks.get(value.from ?? '')?.from ?? 0);
    out.int(clampInt(n, size, false), size, own, at);
  }
  return out.bytes.slice();
}
