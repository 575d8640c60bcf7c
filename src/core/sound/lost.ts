import { count } from '../diagnostic/words';
import { sayClock } from '../time/meter-map';

/*
 * What a compressed recording lacks, by its own book-keeping: a decoder goes on behind a hole without
 * a word, and all that follows comes too early.
 */

const OGG_HEAD = 27;
const LAST_PAGE = 4;
const MOST_TOLD = 3;

/** The sum of a page: CRC of 32 bits by 0x04c11db7, most significant first, from 0 (RFC 3533 6). */
const SUMS = Uint32Array.from({ length: 256 }, (_, n) => {
  let sum = n << 24;
  for (let bit = 0; bit < 8; bit++) sum = sum & 0x80000000 ? (sum << 1) ^ 0x04c11db7 : sum << 1;
  return sum;
});

function sumOf(bytes: Uint8Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) {
    // Its own place counts as nothing.
    const byte = i >= from + 22 && i < from + 26 ? 0 : bytes[i]!;
    sum = (sum << 8) ^ SUMS[((sum >>> 24) ^ byte) & 255]!;
  }
  return sum >>> 0;
}

const isPage = (bytes: Uint8Array, at: number) =>
  bytes[at] === 0x4f && bytes[at + 1] === 0x67 && bytes[at + 2] === 0x67 && bytes[at + 3] === 0x53;

/**
 * Pages that are missing or damaged in an Ogg stream (RFC 3533 6): they are numbered, and each says at
 * which sample it ends.
 *
 * @param rate samples a second that its positions count
 * @param decodedMs how much of it came out
 */
export function lostPages(bytes: Uint8Array, rate: number, decodedMs: number): string[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const holes: { fromMs: number; toMs: number }[] = [];
  let before = null as { ms: number; number: number; serial: number } | null;
  let ended = false;
  let at = 0;
  while (at + OGG_HEAD <= bytes.length) {
    if (!isPage(bytes, at)) {
      at++;
      continue;
    }
    const segments = bytes[at + 26]!;
    let size = OGG_HEAD + segments;
    for (let i = 0; i < segments; i++) size += bytes[at + OGG_HEAD + i] ?? 0;
    const serial = view.getUint32(at + 14, true);
    const number = view.getUint32(at + 18, true);
    const position = view.getBigInt64(at + 6, true);
    // No packet ends on this page: where it lies is told by the next.
    const ms: number = position < 0n ? (before?.ms ?? 0) : (Number(position) * 1000) / rate;
    if (at + size > bytes.length) break;
    const whole = sumOf(bytes, at, at + size) === view.getUint32(at + 22, true);
    if (!whole || (before?.serial === serial && number > before.number + 1))
      holes.push({ fromMs: before?.ms ?? 0, toMs: ms });
    ended = (bytes[at + 5]! & LAST_PAGE) !== 0;
    before = { ms, number, serial };
    at += size;
  }
  const doubts = holes
    .slice(0, MOST_TOLD)
    .map(
      ({ fromMs, toMs }) =>
        `Something is damaged or missing between ${sayClock(fromMs)} and ${sayClock(toMs)}: what follows may come too early.`,
    );
  if (holes.length > MOST_TOLD)
    doubts.push(`In ${count(holes.length - MOST_TOLD, 'place')} more something is missing too.`);
  if (before && !ended)
    doubts.push(`The file ends at ${sayClock(decodedMs)} without its last page: it may be cut.`);
  return doubts;
}

/** Samples that the head of a FLAC file promises (RFC 9639 8.2), and that were not decoded. */
export function lostSamples(bytes: Uint8Array, decoded: number): string[] {
  const head = startOfFlac(bytes);
  if (head < 0 || head + 42 > bytes.length) return [];
  const view = new DataView(bytes.buffer, bytes.byteOffset + head + 8, 34);
  const rate = view.getUint32(10) >>> 12;
  const total = (view.getUint8(13) & 15) * 2 ** 32 + view.getUint32(14);
  if (rate === 0 || total === 0 || decoded >= total) return [];
  const [is, said] = [decoded, total].map((n) => sayClock((n * 1000) / rate));
  return [`${is} of ${said} could be decoded: the rest is damaged or missing.`];
}

function startOfFlac(bytes: Uint8Array): number {
  const is = (at: number) => [0x66, 0x4c, 0x61, 0x43].every((c, i) => bytes[at + i] === c);
  if (is(0)) return 0;
  const tag = 10 + [6, 7, 8, 9].reduce((n, i) => n * 128 + ((bytes[i] ?? 0) & 127), 0);
  return is(tag) ? tag : -1;
}
