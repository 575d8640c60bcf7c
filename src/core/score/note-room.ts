import type { NoteColumns } from './score';

/** The notes of all parts, one behind the other: a part's columns are views of its stretch. */
export class NoteRoom {
  private used = 0;
  private readonly wide: Int32Array;
  private readonly wideUnsigned: Uint32Array;
  private readonly narrow: Uint8Array;
  /** @param size notes there is room for; memory that is not written costs nothing */
  constructor(private readonly size: number) {
    const buffer = new ArrayBuffer(size * 20);
    this.wide = new Int32Array(buffer);
    this.wideUnsigned = new Uint32Array(buffer);
    this.narrow = new Uint8Array(size * 4);
  }

  /** Views of all that is still free, to be written before it is taken. */
  free(): NoteColumns {
    return this.columns(this.used, this.size);
  }

  /** Columns of the next `count` notes, with ids from `firstId` on. */
  take(count: number, firstId: number): NoteColumns {
    const from = this.used;
    this.used += count;
    const notes = this.columns(from, from + count);
    const { id } = notes;
    for (let i = 0; i < count; i++) id[i] = firstId + i;
    return notes;
  }

  private columns(from: number, to: number): NoteColumns {
    const { size, wide, wideUnsigned, narrow } = this;
    const signed = (n: number) => wide.subarray(n * size + from, n * size + to);
    const unsigned = (n: number) => wideUnsigned.subarray(n * size + from, n * size + to);
    const bytes = (n: number) => narrow.subarray(n * size + from, n * size + to);
    const id = unsigned(4);
    return {
      count: to - from,
      start: signed(0),
      end: signed(1),
      onOrder: unsigned(2),
      offOrder: unsigned(3),
      id,
      origin: id,
      noteNumber: bytes(0),
      velocity: bytes(1),
      offKind: bytes(2),
      offVelocity: bytes(3),
    };
  }
}
