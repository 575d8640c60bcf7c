import { META, META_END_OF_TRACK, META_TEMPO, type SmfFile, type SmfTrack } from './file';
import { numberWidth, putNumber } from './write';

const NOTHING = new Uint8Array(0);

/** Collects the events of one new track, in the order in which they are to be written. */
export class TrackBuilder {
  private tick: Int32Array;
  private status: Uint8Array;
  private data1: Uint8Array;
  private data2: Uint8Array;
  private offset: Uint32Array;
  private bytes = new Uint8Array(256);
  private used = 0;
  count = 0;

  constructor(capacity = 64) {
    this.tick = new Int32Array(capacity);
    this.status = new Uint8Array(capacity);
    this.data1 = new Uint8Array(capacity);
    this.data2 = new Uint8Array(capacity);
    this.offset = new Uint32Array(capacity);
  }

  channelEvent(tick: number, status: number, data1: number, data2: number) {
    if (this.count === this.tick.length) this.grow();
    const i = this.count++;
    this.tick[i] = tick;
    this.status[i] = status;
    this.data1[i] = data1;
    this.data2[i] = data2;
  }

  /** The channel events of a stretch of columns; a status of 0 is an empty slot. */
  channelEvents(
    from: Pick<SmfTrack, 'tick' | 'status' | 'data1' | 'data2'>,
    first: number,
    end: number,
  ) {
    while (this.count + end - first > this.tick.length) this.grow();
    const { tick, status, data1, data2 } = this;
    let n = this.count;
    for (let i = first; i < end; i++) {
      const event = from.status[i]!;
      if (event === 0) continue;
      tick[n] = from.tick[i]!;
      status[n] = event;
      data1[n] = from.data1[i]!;
      data2[n++] = from.data2[i]!;
    }
    this.count = n;
  }

  /** `status` 0xFF with a meta `type`, or 0xF0 / 0xF7. */
  longEvent(tick: number, status: number, type: number, body: Uint8Array) {
    this.channelEvent(tick, status, type, 0);
    const width = numberWidth(body.length);
    const head = status === META ? 2 : 1;
    this.reserve(head + width + body.length);
    this.offset[this.count - 1] = this.used;
    this.bytes[this.used] = status;
    if (head === 2) this.bytes[this.used + 1] = type;
    const at = putNumber(this.bytes, this.used + head, body.length, width);
    this.bytes.set(body, at);
    this.used = at + body.length;
  }

  tempo(tick: number, microsecondsPerQuarter: number) {
    this.channelEvent(tick, META, META_TEMPO, 0);
    this.reserve(6);
    const { bytes, used } = this;
    this.offset[this.count - 1] = used;
    bytes[used] = META;
    bytes[used + 1] = META_TEMPO;
    bytes[used + 2] = 3;
    bytes[used + 3] = microsecondsPerQuarter >> 16;
    bytes[used + 4] = microsecondsPerQuarter >> 8;
    bytes[used + 5] = microsecondsPerQuarter;
    this.used = used + 6;
  }

  end(tick: number): SmfTrack {
    this.longEvent(tick, META, META_END_OF_TRACK, NOTHING);
    const count = this.count;
    return {
      count,
      tick: this.tick.subarray(0, count),
      status: this.status.subarray(0, count),
      data1: this.data1.subarray(0, count),
      data2: this.data2.subarray(0, count),
      offset: this.offset.subarray(0, count),
      encoding: new Uint8Array(count),
      bytes: this.bytes,
      end: this.used,
      tail: NOTHING,
      endWritten: true,
    };
  }

  private grow() {
    const size = this.tick.length * 2;
    const wider = <T extends Int32Array | Uint8Array | Uint32Array>(from: T, to: T): T => {
      to.set(from);
      return to;
    };
    this.tick = wider(this.tick, new Int32Array(size));
    this.status = wider(this.status, new Uint8Array(size));
    this.data1 = wider(this.data1, new Uint8Array(size));
    this.data2 = wider(this.data2, new Uint8Array(size));
    this.offset = wider(this.offset, new Uint32Array(size));
  }

  private reserve(more: number) {
    if (this.used + more <= this.bytes.length) return;
    const wider = new Uint8Array(Math.max(this.bytes.length * 2, this.used + more));
    wider.set(this.bytes);
    this.bytes = wider;
  }
}

/** A file of new tracks, with nothing but what the standard asks for. */
export const buildFile = (
  format: number,
  division: number,
  tracks: readonly SmfTrack[],
): SmfFile => ({
  format,
  division,
  declaredTracks: tracks.length,
  headerExtra: NOTHING,
  tracks,
  chunks: tracks.map((_, track) => ({ kind: 'track', track })),
  before: NOTHING,
  after: NOTHING,
});
