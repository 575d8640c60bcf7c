import { utf8 } from './played';

/**
 * A MIDI file as a strict device reads it: anything that is not as SMF 1.0 has it is a reason to
 * refuse the whole. It shares nothing with the reader of sources, which forgives.
 */
export interface StrictNote {
  onTick: number;
  offTick: number;
  /** From 1. */
  channel: number;
  key: number;
  velocity: number;
  release: number;
  /** It has no note-off: it sounds to the end of its track. */
  held: boolean;
  track: number;
  /** Byte at which its note-on begins. */
  at: number;
}

export interface StrictMark {
  tick: number;
  track: number;
  /** Place in its track. */
  order: number;
  /** Byte at which it begins, behind its delta time. */
  at: number;
}
export interface StrictTempo extends StrictMark {
  microsecondsPerQuarter: number;
}
export interface StrictMeter extends StrictMark {
  numerator: number;
  denominator: number;
}
export interface StrictText extends StrictMark {
  type: number;
  text: string;
}
/** Channel events that are no notes. */
export interface StrictSetting extends StrictMark {
  status: number;
  channel: number;
  data1: number;
  data2: number;
}

export interface StrictFile {
  format: number;
  ppq: number;
  /** `endAt` is the byte of its end-of-track event. */
  tracks: {
    name: string | null;
    nameCount: number;
    endTick: number;
    endAt: number;
    notes: number;
  }[];
  notes: StrictNote[];
  tempos: StrictTempo[];
  meters: StrictMeter[];
  texts: StrictText[];
  settings: StrictSetting[];
  sysex: StrictMark[];
  unknownMeta: StrictMark[];
  /** Keys, offsets and whatever else stands in it, a line each. */
  others: string[];
  /** Clock time of a tick in microseconds. */
  us(tick: number): number;
  endTick: number;
}

/** What time is told by, of a MIDI file or of any other. */
export interface Timed {
  readonly ppq: number;
  readonly tempos: readonly Omit<StrictTempo, 'at'>[];
}

export type StrictResult =
  { readonly file: StrictFile } | { readonly at: number; readonly says: string };

class Broken extends Error {
  constructor(
    readonly at: number,
    readonly says: string,
  ) {
    super(says);
  }
}

export function readStrict(bytes: Uint8Array): StrictResult {
  try {
    return { file: new Reader(bytes).read() };
  } catch (error) {
    if (error instanceof Broken) return { at: error.at, says: error.says };
    throw error;
  }
}

const latin = (bytes: Uint8Array) => {
  let text = '';
  for (const b of bytes) text += String.fromCharCode(b);
  return text;
};

class Reader {
  private at = 0;
  private readonly out: StrictFile;
  private readonly view: DataView;

  constructor(private readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.out = {
      format: 0,
      ppq: 0,
      tracks: [],
      notes: [],
      tempos: [],
      meters: [],
      texts: [],
      settings: [],
      sysex: [],
      unknownMeta: [],
      others: [],
      us: () => 0,
      endTick: 0,
    };
  }

  read(): StrictFile {
    const { bytes, view, out } = this;
    if (bytes.length < 14 || latin(bytes.subarray(0, 4)) !== 'MThd')
      throw new Broken(0, 'It does not begin with a header.');
    if (view.getUint32(4) !== 6) throw new Broken(4, 'The header is not 6 bytes long.');
    out.format = view.getUint16(8);
    if (out.format > 1) throw new Broken(8, `The format is ${out.format}.`);
    const tracks = view.getUint16(10);
    if (out.format === 0 && tracks !== 1) throw new Broken(10, 'Format 0 has one track.');
    if (tracks === 0) throw new Broken(10, 'It has no track.');
    out.ppq = view.getUint16(12);
    if (out.ppq === 0 || out.ppq > 0x7fff) throw new Broken(12, 'Its ticks are not of a quarter.');
    this.at = 14;
    for (let t = 0; t < tracks; t++) this.track(t);
    if (this.at !== bytes.length) throw new Broken(this.at, 'More stands behind the last track.');
    out.us = clockOf(out);
    for (const t of out.tracks) out.endTick = Math.max(out.endTick, t.endTick);
    return out;
  }

  private byte(until: number): number {
    if (this.at >= until) throw new Broken(this.at, 'The track ends inside an event.');
    return this.bytes[this.at++]!;
  }

  private number(until: number): number {
    let value = 0;
    for (let n = 0; n < 4; n++) {
      const b = this.byte(until);
      value = value * 128 + (b & 127);
      if (b < 128) return value;
    }
    throw new Broken(this.at, 'A number is longer than four bytes.');
  }

  private data(until: number): number {
    const b = this.byte(until);
    if (b > 127) throw new Broken(this.at - 1, 'A data byte is over 127.');
    return b;
  }

  private track(t: number) {
    const { bytes, view, out } = this;
    if (this.at + 8 > bytes.length || latin(bytes.subarray(this.at, this.at + 4)) !== 'MTrk')
      throw new Broken(this.at, `Track ${t + 1} does not begin here.`);
    const until = this.at + 8 + view.getUint32(this.at + 4);
    if (until > bytes.length) throw new Broken(this.at + 4, `Track ${t + 1} is cut off.`);
    this.at += 8;
    const track = { name: null as string | null, nameCount: 0, endTick: 0, endAt: 0, notes: 0 };
    out.tracks.push(track);
    // Notes that sound, by channel and key; the one that began first ends first.
    const sounding = new Map<number, StrictNote[]>();
    let tick = 0;
    let running = 0;
    let ended = false;
    for (let order = 0; this.at < until; order++) {
      if (ended) throw new Broken(this.at, 'More stands behind the end of the track.');
      tick += this.number(until);
      if (tick > 0x7fffffff) throw new Broken(this.at, 'The time runs past the last tick.');
      const mark = { tick, track: t, order, at: this.at };
      let status = this.bytes[this.at]!;
      if (this.at >= until) throw new Broken(this.at, 'The track ends inside an event.');
      if (status >= 0x80) this.at++;
      else if (running > 0) status = running;
      else throw new Broken(this.at, 'An event has no status.');
      if (status < 0xf0) {
        running = status;
        this.channelEvent(status, mark, until, sounding, track);
      } else if (status === 0xff) {
        running = 0;
        ended = this.meta(mark, until, track);
        track.endAt = mark.at;
      } else if (status === 0xf0 || status === 0xf7) {
        running = 0;
        const length = this.number(until);
        if (this.at + length > until) throw new Broken(this.at, 'A system exclusive is cut off.');
        out.sysex.push(mark);
        out.others.push(
          `${t} ${tick} ${status} ${this.bytes.subarray(this.at, this.at + length).join('.')}`,
        );
        this.at += length;
      } else throw new Broken(this.at - 1, `${status} is no status of a file.`);
    }
    if (!ended) throw new Broken(this.at, `Track ${t + 1} has no end.`);
    track.endTick = tick;
    for (const list of sounding.values())
      for (const note of list) {
        note.offTick = tick;
        note.held = true;
      }
  }

  private channelEvent(
    status: number,
    mark: StrictMark,
    until: number,
    sounding: Map<number, StrictNote[]>,
    track: { notes: number },
  ) {
    const { out } = this;
    const kind = status & 0xf0;
    const channel = (status & 15) + 1;
    const data1 = this.data(until);
    const data2 = kind === 0xc0 || kind === 0xd0 ? 0 : this.data(until);
    const line = channel * 128 + data1;
    if (kind === 0x90 && data2 > 0) {
      const note = {
        onTick: mark.tick,
        offTick: mark.tick,
        channel,
        key: data1,
        velocity: data2,
        release: 64,
        held: false,
        track: mark.track,
        at: mark.at,
      };
      out.notes.push(note);
      track.notes++;
      const there = sounding.get(line);
      if (there) there.push(note);
      else sounding.set(line, [note]);
    } else if (kind === 0x90 || kind === 0x80) {
      const note = sounding.get(line)?.shift();
      if (!note) out.others.push(`${mark.track} ${mark.tick} off ${channel} ${data1} ${data2}`);
      else {
        note.offTick = mark.tick;
        note.release = kind === 0x80 ? data2 : -1;
      }
    } else out.settings.push({ ...mark, status: kind, channel, data1, data2 });
  }

  /** True at the end of the track. */
  private meta(
    mark: StrictMark,
    until: number,
    track: { name: string | null; nameCount: number },
  ): boolean {
    const { out } = this;
    const type = this.data(until);
    const length = this.number(until);
    const from = this.at;
    if (from + length > until) throw new Broken(from, 'A meta event is cut off.');
    const body = this.bytes.subarray(from, from + length);
    this.at += length;
    const exact = (n: number) => {
      if (length !== n) throw new Broken(from, `A meta event of type ${type} has ${length} bytes.`);
    };
    switch (type) {
      case 0x2f:
        exact(0);
        return true;
      case 0x51: {
        exact(3);
        const microsecondsPerQuarter = (body[0]! << 16) | (body[1]! << 8) | body[2]!;
        if (microsecondsPerQuarter === 0) throw new Broken(from, 'A tempo is 0.');
        out.tempos.push({ ...mark, microsecondsPerQuarter });
        break;
      }
      case 0x58: {
        exact(4);
        const [numerator, power, clocks, eighths] = body as unknown as number[];
        if (numerator === 0 || power! > 7) throw new Broken(from, 'A meter makes no sense.');
        out.meters.push({ ...mark, numerator: numerator!, denominator: 2 ** power! });
        out.others.push(`${mark.track} ${mark.tick} meter ${clocks} ${eighths}`);
        break;
      }
      case 0x59:
        exact(2);
        out.others.push(`${mark.track} ${mark.tick} key ${body[0]} ${body[1]}`);
        break;
      default:
        if (type >= 1 && type <= 15) {
          const text = utf8(body) ?? latin(body);
          out.texts.push({ ...mark, type, text });
          if (type === 3) {
            track.nameCount++;
            track.name ??= text;
          }
        } else {
          if (![0, 0x20, 0x21, 0x54, 0x7f].includes(type)) out.unknownMeta.push(mark);
          out.others.push(`${mark.track} ${mark.tick} meta ${type} ${body.join('.')}`);
        }
    }
    return false;
  }
}

/** 120 BPM until the first tempo; of several at one tick the last in the file counts. */
export function clockOf({ ppq, tempos }: Timed): (tick: number) => number {
  const ticks = [0];
  const units = [0];
  const tempo = [500_000];
  const sorted = [...tempos].sort(
    (a, b) => a.tick - b.tick || a.track - b.track || a.order - b.order,
  );
  for (const t of sorted) {
    const last = ticks.length - 1;
    if (t.tick > ticks[last]!) {
      ticks.push(t.tick);
      units.push(units[last]! + ((t.tick - ticks[last]!) * tempo[last]!) / ppq);
      tempo.push(t.microsecondsPerQuarter);
    } else tempo[last] = t.microsecondsPerQuarter;
  }
  return (tick) => {
    let low = 0;
    let high = ticks.length - 1;
    while (low < high) {
      const mid = (low + high + 1) >> 1;
      if (ticks[mid]! <= tick) low = mid;
      else high = mid - 1;
    }
    return units[low]! + ((tick - ticks[low]!) * tempo[low]!) / ppq;
  };
}
