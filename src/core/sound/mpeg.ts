import { count } from '../diagnostic/words';
import { sayClock } from '../time/meter-map';
import { LONGEST_RECORDING_MS } from './samples';

/*
 * The frames of an MPEG audio stream (ISO/IEC 11172-3 2.4.1, 13818-3 2.4.1): each begins with a head of
 * 32 bits that says how long it is. Where one does not stand at the end of the one before, something is
 * lost there; a decoder goes on behind it and all that follows comes too early.
 */

interface Head {
  /** 3 MPEG-1, 2 MPEG-2, 0 MPEG-2.5. */
  readonly version: number;
  /** 3 layer I, 2 layer II, 1 layer III. */
  readonly layer: number;
  readonly rate: number;
  readonly mono: boolean;
  readonly size: number;
  readonly samples: number;
}

const RATES: Readonly<Record<number, readonly number[]>> = {
  3: [44_100, 48_000, 32_000],
  2: [22_050, 24_000, 16_000],
  0: [11_025, 12_000, 8_000],
};

/** Kilobits a second by the index in the head, MPEG-1 layers I, II, III and MPEG-2 layers I, II and III. */
const LOW = [8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160];
const KILOBITS: Readonly<Record<string, readonly number[]>> = {
  '3.3': Array.from({ length: 14 }, (_, i) => 32 * (i + 1)),
  '3.2': [32, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 384],
  '3.1': [32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  '2.3': [32, 48, 56, 64, 80, 96, 112, 128, 144, 160, 176, 192, 224, 256],
  '2.2': LOW,
  '2.1': LOW,
};

function headAt(bytes: Uint8Array, at: number): Head | null {
  if (at + 4 > bytes.length || bytes[at] !== 0xff) return null;
  const [b, c, d] = [bytes[at + 1]!, bytes[at + 2]!, bytes[at + 3]!];
  const version = (b >> 3) & 3;
  const layer = (b >> 1) & 3;
  if ((b & 0xe0) !== 0xe0 || version === 1 || layer === 0) return null;
  const rate = RATES[version]![(c >> 2) & 3];
  const kilobits = KILOBITS[`${version === 3 ? 3 : 2}.${layer}`]![(c >> 4) - 1];
  if (rate === undefined || kilobits === undefined) return null;
  const samples = layer === 3 ? 384 : layer === 1 && version !== 3 ? 576 : 1152;
  const padding = (c >> 1) & 1;
  const slot = layer === 3 ? 4 : 1;
  const size = (Math.floor((samples / 8 / slot) * ((kilobits * 1000) / rate)) + padding) * slot;
  return { version, layer, rate, mono: d >> 6 === 3, size, samples };
}

const alike = (a: Head, b: Head | null) =>
  b !== null && a.version === b.version && a.layer === b.layer && a.rate === b.rate;

/** A head that another follows where it says, or the end of the file: by chance few do. */
function surely(bytes: Uint8Array, at: number, like: Head | null): Head | null {
  const head = headAt(bytes, at);
  if (!head || (like && !alike(like, head))) return null;
  const next = at + head.size;
  return next === bytes.length || alike(head, headAt(bytes, next)) ? head : null;
}

/** Tags that stand behind the sound; they are no hole. */
const TAGS = ['TAG', 'APETAGEX', 'LYRICSBEGIN', 'ID3'];
const textAt = (bytes: Uint8Array, at: number, text: string) =>
  [...text].every((c, i) => bytes[at + i] === c.charCodeAt(0));

/** The frames that the head of a file with a changing bit rate promises; null where it says nothing. */
function promised(bytes: Uint8Array, at: number, { version, mono }: Head): number | null {
  const side = version === 3 ? (mono ? 17 : 32) : mono ? 9 : 17;
  const tag = at + 4 + side;
  if (tag + 12 > bytes.length) return null;
  if (!textAt(bytes, tag, 'Xing') && !textAt(bytes, tag, 'Info')) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return view.getUint32(tag + 4) & 1 ? view.getUint32(tag + 8) : null;
}

/** A stream whose holes are silence, as long as what was lost, and what is to be said of them. */
export interface Mended {
  readonly bytes: Uint8Array;
  readonly doubts: readonly string[];
}

/** More holes are told by their number. */
const MOST_TOLD = 4;
/** The head of a cut file may say as many frames more without being wrong. */
const FRAMES_NEAR = 3;

interface Run {
  readonly from: number;
  readonly to: number;
  readonly frames: number;
}

/** The runs of frames that stand end to end, and whether the file ends within one. */
function runsOf(bytes: Uint8Array, begin: number, first: Head): { runs: Run[]; cut: boolean } {
  const runs: Run[] = [];
  let [at, from, frames] = [begin, begin, 0];
  const close = () => runs.push({ from, to: at, frames });
  while (at < bytes.length) {
    const head = headAt(bytes, at);
    if (alike(first, head)) {
      if (at + head!.size > bytes.length) {
        close();
        return { runs, cut: true };
      }
      frames++;
      at += head!.size;
      continue;
    }
    close();
    if (TAGS.some((tag) => textAt(bytes, at, tag))) return { runs, cut: false };
    const behind = at;
    while (at < bytes.length && !surely(bytes, at, first)) at++;
    if (at === bytes.length) return { runs, cut: bytes.subarray(behind).some((b) => b !== 0) };
    [from, frames] = [at, 0];
  }
  close();
  return { runs, cut: false };
}

/** Fills the holes of an MPEG stream with silent frames; what is no such stream comes back as it is. */
export function mendMpeg(bytes: Uint8Array): Mended {
  let begin = startOf(bytes);
  let first: Head | null = null;
  for (const most = Math.min(bytes.length, begin + (1 << 16)); begin < most && !first; begin++)
    first = surely(bytes, begin, null);
  if (!first) return { bytes, doubts: [] };
  begin--;
  const told = promised(bytes, begin, first);
  const frameMs = (first.samples * 1000) / first.rate;
  // A promise of more than any recording lasts is spoilt: holes would be filled without an end.
  const said = told !== null && told * frameMs <= LONGEST_RECORDING_MS ? told : null;
  // The frame that promises holds no sound.
  const { runs, cut } = runsOf(bytes, told === null ? begin : begin + first.size, first);
  const found = runs.reduce((n, r) => n + r.frames, 0);
  const size = runs.reduce((n, r) => n + r.to - r.from, 0) / Math.max(1, found);
  const gaps = runs.slice(1).map((run, k) => run.from - runs[k]!.to);
  const all = gaps.reduce((a, b) => a + b, 0);
  // With a changing bit rate only the promise tells how long a hole is.
  const exact = said !== null && !cut && said >= found;
  const lost = gaps.map((gap) => Math.round(exact ? ((said - found) * gap) / all : gap / size));
  const filled = first.layer === 1;
  const doubts: string[] = [];
  const pieces: Uint8Array[] = [bytes.subarray(0, runs[0]!.to)];
  let frames = runs[0]!.frames;
  gaps.forEach((gap, k) => {
    if (k < MOST_TOLD) {
      const hole = { ms: frames * frameMs, lostMs: lost[k]! * frameMs, bytes: gap };
      doubts.push(sayHole(hole, exact, filled));
    }
    const run = runs[k + 1]!;
    pieces.push(...silence(first, lost[k]!, bytes, begin), bytes.subarray(run.from, run.to));
    frames += lost[k]! + run.frames;
  });
  if (gaps.length > MOST_TOLD)
    doubts.push(`${count(gaps.length - MOST_TOLD, 'place')} more could not be read either.`);
  const end = sayClock(frames * frameMs);
  if (said !== null && said - frames > FRAMES_NEAR)
    doubts.push(
      `The file ends at ${end}, and its head tells of ${sayClock(said * frameMs)}: the end is missing.`,
    );
  else if (cut) doubts.push(`The file ends within a frame at ${end}: it may be cut.`);
  return { bytes: gaps.length === 0 ? bytes : concatenated(pieces), doubts };
}

function sayHole(
  hole: { readonly ms: number; readonly lostMs: number; readonly bytes: number },
  exact: boolean,
  filled: boolean,
): string {
  const where = `At ${sayClock(hole.ms)} ${count(hole.bytes, 'byte is', 'bytes are')} no sound`;
  if (hole.lostMs === 0) return `${where}: something short may be missing there.`;
  const lost = `${exact ? '' : 'about '}${(hole.lostMs / 1000).toFixed(2)} s`;
  if (!filled)
    return `${where}: ${lost} are missing there, and what follows comes so much earlier.`;
  const time = exact ? 'keeps its time' : 'may lie a little beside its time';
  return `${where}: ${lost} of silence stand there, and what follows ${time}.`;
}

/** Behind a tag at the beginning; its size is in four bytes of seven bits (ID3v2 3.1). */
function startOf(bytes: Uint8Array): number {
  if (!textAt(bytes, 0, 'ID3')) return 0;
  return 10 + [6, 7, 8, 9].reduce((n, i) => n * 128 + ((bytes[i] ?? 0) & 127), 0);
}

/** Frames of layer III without any bits for their samples are silent; of other layers none are made. */
function silence(head: Head, frames: number, bytes: Uint8Array, at: number): Uint8Array[] {
  if (head.layer !== 1) return [];
  const padding = (bytes[at + 2]! >> 1) & 1;
  const frame = new Uint8Array(head.size - padding);
  frame.set([0xff, bytes[at + 1]! | 1, bytes[at + 2]! & ~2, bytes[at + 3]!]);
  return Array.from({ length: frames }, () => frame);
}

function concatenated(pieces: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(pieces.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}
