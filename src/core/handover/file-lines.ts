import { interpret } from '../formats/own/interpret';
import { readFormat } from '../formats/own/read';
import type { ReadRow, ReadValue } from '../formats/own/row';
import type { OwnFile, Value } from '../formats/own/schema';
import { decode } from '../formats/own/encoding';
import { heardNotes, type HeardNotes } from '../reading/heard-notes';
import type { Piece, Rendition } from '../score/piece';
import { decodeUtf8 } from '../smf/text';
import { noteName } from '../target/words';
import type { Target } from '../target/schema';
import type { OutputFile } from '../outputs/define-writer';

/** What a value in a file tells, for the ink that it is shown in. */
export type InkOf = 'time' | 'key' | 'velocity' | 'who' | 'text' | 'count' | 'frame';

/** One line of a file as it is looked at: its place, what stands there, and the note that it is of. */
export interface FileLine {
  /** A line from 1, or the offset of its first byte. */
  readonly at: number;
  readonly text: string;
  readonly inks: readonly {
    readonly from: number;
    readonly to: number;
    readonly ink: InkOf;
    readonly note?: number;
  }[];
  /** In words, for bytes: what they mean. */
  readonly says?: string;
  /** Id of the note that the line is of; several lines may be of one. */
  readonly note?: number;
}

export interface FileLines {
  readonly kind: 'text' | 'bytes';
  readonly lines: readonly FileLine[];
  /** Lines that are not shown, of a file that is too long to be looked at. */
  readonly more: number;
}

const MOST_LINES = 300_000;

/** A delivered file, line by line or event by event, each with the note of the score that it is of. */
export function fileLines(file: OutputFile, { pieces }: Rendition, target: Target): FileLines {
  const index = file.piece ?? file.holds ?? 0;
  const piece = pieces[index] ?? pieces[0];
  if (piece && file.path.toLowerCase().endsWith('.mid')) return smfLines(file.bytes, piece);
  if (piece && file.writer === 'own-format') {
    for (const format of target.formats ?? [])
      for (const described of format.files) {
        const read = readFormat(described, file.bytes);
        if (read.file) return ownLines(read.file, described, file.bytes, piece, target);
      }
  }
  const text = decodeUtf8(file.bytes);
  if (text === null) return hexLines(file.bytes);
  const rows = text.split('\n');
  if (rows.at(-1) === '') rows.pop();
  const notes = piece && file.writer === 'time-list' ? heardNotes(piece) : null;
  return cut(
    'text',
    rows.map((row, i) => {
      const note = notes && i > 0 ? notes.id[i - 1] : undefined;
      return {
        at: i + 1,
        text: row.replace(/\r$/, ''),
        inks: [],
        ...(note === undefined ? {} : { note }),
      };
    }),
  );
}

const cut = (kind: FileLines['kind'], lines: FileLine[]): FileLines => ({
  kind,
  lines: lines.length > MOST_LINES ? lines.slice(0, MOST_LINES) : lines,
  more: Math.max(0, lines.length - MOST_LINES),
});

const hexOf = (bytes: Uint8Array) =>
  Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join(' ');

function hexLines(bytes: Uint8Array): FileLines {
  const lines: FileLine[] = [];
  for (let at = 0; at < bytes.length && lines.length <= MOST_LINES; at += 16)
    lines.push({ at, text: hexOf(bytes.subarray(at, at + 16)), inks: [] });
  return cut('bytes', lines);
}

/** Notes of a piece by where they stand, so that what stands in a file finds its own. */
class Finder {
  private readonly by = new Map<string, number[]>();
  constructor(notes: HeardNotes, keyOf: (i: number) => string) {
    for (let i = 0; i < notes.count; i++) {
      const key = keyOf(i);
      const there = this.by.get(key);
      if (there) there.push(notes.id[i]!);
      else this.by.set(key, [notes.id[i]!]);
    }
  }
  take(key: string): number | undefined {
    return this.by.get(key)?.shift();
  }
}

const INKS: Readonly<Partial<Record<Value['is'], InkOf>>> = {
  time: 'time',
  key: 'key',
  velocity: 'velocity',
  seat: 'who',
  part: 'who',
  track: 'who',
  channel: 'who',
  rung: 'who',
  count: 'count',
  'row-number': 'count',
  size: 'count',
  offset: 'count',
  checksum: 'count',
  fact: 'text',
  text: 'text',
  bpm: 'time',
  'us-per-quarter': 'time',
};

function ownLines(
  root: ReadRow,
  described: OwnFile,
  bytes: Uint8Array,
  piece: Piece,
  target: Target,
): FileLines {
  const notes = heardNotes(piece);
  const told = interpret(root, target);
  // The n-th of a key in the file is the n-th of that key in the score.
  const byKey = new Finder(notes, (i) => String(notes.key[i]!));
  const anyKey = new Finder(notes, () => 'any');
  const inOrder = told.notes
    .map((n, i) => ({ n, i }))
    .sort((a, b) => a.n.startUs - b.n.startUs || a.i - b.i);
  const noteAt = new Map<number, number>();
  for (const { n } of inOrder) {
    const id = n.key === null ? anyKey.take('any') : byKey.take(String(n.key));
    if (id !== undefined) noteAt.set(n.from, id);
  }
  const values: { v: ReadValue; note: number | undefined }[] = [];
  const walk = (row: ReadRow, above: number | undefined) => {
    const from = Math.min(...row.values.map((v) => v.from), Infinity);
    const note = noteAt.get(from) ?? above;
    for (const v of row.values) values.push({ v, note });
    for (const inner of row.rows) walk(inner, row.of === null ? undefined : note);
  };
  walk(root, undefined);
  values.sort((a, b) => a.v.from - b.v.from);
  const ink = ({ v, note }: (typeof values)[number], base: number) => ({
    from: v.from - base,
    to: v.to - base,
    ink: INKS[v.value.is] ?? ('frame' as const),
    ...(note === undefined ? {} : { note }),
  });
  if (described.container.kind === 'binary') {
    const lines: FileLine[] = [];
    let at = 0;
    for (const entry of values) {
      const { v, note } = entry;
      if (v.from > at)
        lines.push({ at, text: hexOf(bytes.subarray(at, v.from)), inks: [], says: 'fixed' });
      if (v.from < at) continue;
      lines.push({
        at: v.from,
        text: hexOf(bytes.subarray(v.from, v.to)),
        inks: [{ from: 0, to: (v.to - v.from) * 3 - 1, ink: INKS[v.value.is] ?? 'frame' }],
        says: `${SAYS[v.value.is] ?? v.value.is} ${String(v.said)}`,
        ...(note === undefined ? {} : { note }),
      });
      at = v.to;
    }
    if (at < bytes.length)
      lines.push({ at, text: hexOf(bytes.subarray(at)), inks: [], says: 'fixed' });
    return cut('bytes', lines);
  }
  const text = decode(bytes, described.encoding) ?? '';
  const lines: FileLine[] = [];
  let at = 0;
  let k = 0;
  const all = text.split(/\r\n|\n|\r/);
  if (all.at(-1) === '') all.pop();
  for (const raw of all) {
    const end = at + raw.length;
    const own: (typeof values)[number][] = [];
    while (k < values.length && values[k]!.v.from < end + 1) own.push(values[k++]!);
    const of = new Set(own.flatMap((o) => o.note ?? []));
    lines.push({
      at: lines.length + 1,
      text: raw,
      inks: own.map((o) => ink(o, at)),
      ...(of.size === 1 ? { note: [...of][0]! } : {}),
    });
    at = end + (text.startsWith('\r\n', end) ? 2 : 1);
  }
  return cut('text', lines);
}
const SAYS: Readonly<Partial<Record<Value['is'], string>>> = {
  time: 'time',
  key: 'key',
  velocity: 'velocity',
  count: 'how many:',
  size: 'bytes:',
  offset: 'from byte',
  checksum: 'sum',
  fact: 'told:',
  seat: 'seat',
  channel: 'channel',
};

/** MIDI 1.0 and SMF 1.0, as an event is called there. */
const STATUS: Readonly<Record<number, string>> = {
  0x80: 'Note Off',
  0x90: 'Note On',
  0xa0: 'Polyphonic Key Pressure',
  0xb0: 'Control Change',
  0xc0: 'Program Change',
  0xd0: 'Channel Pressure',
  0xe0: 'Pitch Bend Change',
};
const METAS: Readonly<Record<number, string>> = {
  0x00: 'Sequence Number',
  0x01: 'Text Event',
  0x02: 'Copyright Notice',
  0x03: 'Sequence/Track Name',
  0x04: 'Instrument Name',
  0x05: 'Lyric',
  0x06: 'Marker',
  0x07: 'Cue Point',
  0x20: 'MIDI Channel Prefix',
  0x2f: 'End of Track',
  0x51: 'Set Tempo',
  0x54: 'SMPTE Offset',
  0x58: 'Time Signature',
  0x59: 'Key Signature',
  0x7f: 'Sequencer-Specific',
};

/** A Standard MIDI File, an event a line: its delta, its status, its data. */
function smfLines(bytes: Uint8Array, piece: Piece): FileLines {
  const notes = heardNotes(piece);
  const finder = new Finder(
    notes,
    (i) => `${notes.parts[notes.part[i]!]!.channel} ${notes.start[i]} ${notes.key[i]}`,
  );
  const lines: FileLine[] = [];
  const word = (at: number, size: number) => {
    let n = 0;
    for (let i = 0; i < size; i++) n = n * 256 + (bytes[at + i] ?? 0);
    return n;
  };
  for (let at = 0; at + 8 <= bytes.length && lines.length <= MOST_LINES;) {
    const id = String.fromCharCode(...bytes.subarray(at, at + 4));
    const size = word(at + 4, 4);
    const end = Math.min(bytes.length, at + 8 + size);
    if (id !== 'MTrk') {
      lines.push({
        at,
        text: hexOf(bytes.subarray(at, Math.min(end, at + 24))),
        inks: [],
        says:
          id === 'MThd'
            ? `${id}: format ${word(at + 8, 2)}, ${word(at + 10, 2)} tracks, division ${word(at + 12, 2)}`
            : id,
      });
      at = end;
      continue;
    }
    lines.push({
      at,
      text: hexOf(bytes.subarray(at, at + 8)),
      inks: [],
      says: `MTrk: ${size} bytes`,
    });
    trackLines(bytes, at + 8, end, finder, lines);
    at = end;
  }
  return cut('bytes', lines);
}

function trackLines(
  bytes: Uint8Array,
  from: number,
  end: number,
  finder: Finder,
  lines: FileLine[],
) {
  let tick = 0;
  let running = 0;
  const sounding = new Map<string, number[]>();
  const vlq = (at: number): { value: number; next: number } => {
    let value = 0;
    let next = at;
    for (let i = 0; i < 4 && next < end; i++) {
      const b = bytes[next++]!;
      value = value * 128 + (b & 127);
      if (b < 128) break;
    }
    return { value, next };
  };
  for (let at = from; at < end && lines.length <= MOST_LINES;) {
    const delta = vlq(at);
    tick += delta.value;
    let next = delta.next;
    let status = bytes[next] ?? 0;
    const ran = status < 0x80;
    if (ran) status = running;
    else next++;
    let says: string;
    let note: number | undefined;
    const inks: { from: number; to: number; ink: InkOf }[] = [
      { from: 0, to: (delta.next - at) * 3 - 1, ink: 'time' },
    ];
    const place = (byte: number, bytesLong: number, ink: InkOf) =>
      inks.push({ from: (byte - at) * 3, to: (byte - at + bytesLong) * 3 - 1, ink });
    if (status >= 0xf0) {
      const type = bytes[next] ?? 0;
      const meta = status === 0xff;
      const length = vlq(meta ? next + 1 : next);
      const body = bytes.subarray(length.next, Math.min(end, length.next + length.value));
      says = meta ? (METAS[type] ?? `Meta ${type.toString(16)}`) : 'System Exclusive';
      if (meta && type >= 1 && type <= 7) says += `: ${decodeUtf8(body) ?? ''}`.slice(0, 80);
      if (meta && type === 0x51)
        says += `: ${(60_000_000 / Math.max(1, word3(body))).toFixed(2)} BPM`;
      if (meta && type === 0x58) says += `: ${body[0]}/${2 ** (body[1] ?? 2)}`;
      place(length.next, body.length, 'text');
      next = length.next + length.value;
      running = 0;
    } else {
      running = status;
      const kind = status & 0xf0;
      const channel = (status & 15) + 1;
      const two = kind !== 0xc0 && kind !== 0xd0;
      const [a = 0, b = 0] = [bytes[next], bytes[next + 1]];
      says = `${STATUS[kind] ?? 'Data without a status'}, channel ${channel}`;
      if (!ran) place(next - 1, 1, 'who');
      if (kind === 0x80 || kind === 0x90) {
        says += `: ${noteName(a)}, ${b}`;
        place(next, 1, 'key');
        place(next + 1, 1, 'velocity');
        const key = `${channel} ${a}`;
        if (kind === 0x90 && b > 0) {
          note = finder.take(`${channel} ${tick} ${a}`);
          if (note !== undefined) sounding.set(key, [...(sounding.get(key) ?? []), note]);
        } else note = sounding.get(key)?.shift();
      } else {
        says += two ? `: ${a}, ${b}` : `: ${a}`;
        place(next, two ? 2 : 1, 'count');
      }
      next += two ? 2 : 1;
    }
    next = Math.min(end, Math.max(next, at + 1));
    lines.push({
      at,
      text: hexOf(bytes.subarray(at, Math.min(next, at + 40))),
      inks: inks.filter((i) => i.to <= 40 * 3),
      says,
      ...(note === undefined ? {} : { note }),
    });
    at = next;
  }
}
const word3 = (b: Uint8Array) => ((b[0] ?? 0) << 16) | ((b[1] ?? 0) << 8) | (b[2] ?? 0);
