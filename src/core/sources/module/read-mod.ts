import { Bytes, frames8, loopOf } from './bytes';
import { CELL, FX, type Module, type Pattern, type Sample } from './module';

/** Signatures at 1080, and how many channels each means; `##CH` and `##CN` tell it in digits. */
const SIGNATURES: Readonly<Record<string, number>> = {
  'M.K.': 4,
  'M!K!': 4,
  'M&K!': 4,
  'N.T.': 4,
  FLT4: 4,
  '4CHN': 4,
  '6CHN': 6,
  '8CHN': 8,
  FLT8: 8,
  CD81: 8,
  OKTA: 8,
  OCTA: 8,
  TDZ1: 1,
  TDZ2: 2,
  TDZ3: 3,
  '5CHN': 5,
  '7CHN': 7,
  '9CHN': 9,
};
const SIGNATURE_AT = 1080;
const ROWS = 64;

export function modChannels(b: Bytes): number | null {
  if (b.length < SIGNATURE_AT + 4) return null;
  const sign = String.fromCharCode(...b.all.subarray(SIGNATURE_AT, SIGNATURE_AT + 4));
  if (sign === 'M.K.' && isEightInAll(b)) return 8;
  const known = SIGNATURES[sign];
  if (known !== undefined) return known;
  const digits = /^([0-9]{2})C[HN]$/.exec(sign);
  const channels = digits ? Number(digits[1]) : 0;
  return channels >= 1 && channels <= 99 ? channels : null;
}

/** Eight channels under the sign of four: nothing but the length of the file tells it. */
function isEightInAll(b: Bytes): boolean {
  if (b.all[951] !== 0) return false;
  let samples = 0;
  for (let s = 0; s < 31; s++) samples += b.u16be(42 + s * 30) * 2;
  const patterns = Math.max(...b.all.subarray(952, SIGNATURE_AT)) + 1;
  return b.length === SIGNATURE_AT + 4 + patterns * ROWS * 8 * 4 + samples;
}

/** The oldest have 15 samples and no signature: everything that they say has to be possible. */
export function isOldMod(b: Bytes): boolean {
  if (b.length < 600 + ROWS * 16) return false;
  const printable = (at: number, n: number) => {
    let ended = false;
    for (let i = at; i < at + n; i++) {
      const c = b.all[i]!;
      if (c === 0) ended = true;
      else if (c < 0x20 || c >= 0x7f) return false;
      else if (ended && c !== 0x20) return false;
    }
    return true;
  };
  if (!printable(0, 20)) return false;
  let bytes = 0;
  for (let s = 0; s < 15; s++) {
    const at = 20 + s * 30;
    if (!printable(at, 22)) return false;
    if (b.all[at + 24]! > 15 || b.all[at + 25]! > 64) return false;
    const length = b.u16be(at + 22) * 2;
    bytes += length;
    if (length > 0x10000 || b.u16be(at + 26) > Math.max(2, length)) return false;
  }
  const orders = b.all[470]!;
  if (orders < 1 || orders > 128 || bytes === 0) return false;
  for (let i = 472; i < 600; i++) if (b.all[i]! > 63) return false;
  const patterns = Math.max(...b.all.subarray(472, 600)) + 1;
  // Its notes have periods of the machine, or none.
  for (let i = 600; i < Math.min(b.length, 600 + patterns * ROWS * 16); i += 4) {
    const period = ((b.all[i]! & 15) << 8) | b.all[i + 1]!;
    if (b.all[i]! > 15 || (period !== 0 && (period < 100 || period > 1000))) return false;
  }
  return b.length >= 600 + patterns * ROWS * 16;
}

/** Key of a period: 428 is the middle C. */
export const keyOfPeriod = (period: number): number =>
  Math.min(119, Math.max(0, Math.round(60 + 12 * Math.log2(428 / period))));

/** PAL: 7093789.2 Hz and two cycles a frame. */
export const PAL_CLOCK = 7_093_789.2 / 2;

export function readMod(b: Bytes): Module {
  const signed = modChannels(b);
  const channels = signed ?? 4;
  const count = signed === null ? 15 : 31;
  const listAt = 20 + count * 30;
  const length = Math.min(128, b.u8(listAt));
  const dataAt = listAt + 130 + (signed === null ? 0 : 4);
  const all = Array.from({ length: 128 }, (_, i) => b.u8(listAt + 2 + i));
  const pairs = signed !== null && b.is(SIGNATURE_AT, 'FLT8');
  const highest = Math.max(0, ...all.filter((o) => o < 128));
  const patternBytes = ROWS * channels * 4;
  const stored = Math.min(pairs ? (highest >> 1) + 1 : highest + 1, 128);
  const patterns: Pattern[] = [];
  for (let p = 0; p < stored; p++) {
    const at = dataAt + p * patternBytes;
    if (at >= b.length) b.doubt(at, `Pattern ${p} is not in the file; it is empty.`);
    patterns.push(readPattern(b, at, channels, pairs));
  }
  const samples: (Sample | null)[] = [null];
  let at = dataAt + stored * patternBytes;
  for (let s = 0; s < count; s++) {
    const head = 20 + s * 30;
    const bytes = b.u16be(head + 22) * 2;
    const fine = ((b.u8(head + 24) & 15) << 28) >> 28;
    const from = b.u16be(head + 26) * (signed === null ? 1 : 2);
    const round = b.u16be(head + 28) * 2;
    // Some count where it begins in bytes, as the oldest did.
    const begin = from + round > bytes && from / 2 + round <= bytes ? from / 2 : from;
    const frames = bytes > 2 ? frames8(b, at, bytes, `Sample ${s + 1}`) : new Float32Array(0);
    at += bytes;
    samples.push({
      name: b.text(head, 22),
      frames,
      right: null,
      rate: (PAL_CLOCK / 428) * 2 ** (fine / 96),
      volume: Math.min(64, b.u8(head + 25)),
      gain: 1,
      pan: null,
      loop: round > 2 ? loopOf(begin, begin + round, frames.length, false) : null,
      sustain: null,
      vibrato: null,
    });
  }
  const restart = b.u8(listAt + 1);
  return {
    format: 'mod',
    name: b.text(0, 20),
    comment: '',
    channels,
    orders: all.slice(0, length).map((o) => (pairs ? o >> 1 : o)),
    restart: restart < length ? restart : 0,
    patterns,
    samples,
    instruments: null,
    speed: 6,
    tempo: 125,
    globalVolume: 1,
    // The machine's four channels stand left, right, right, left.
    pan: Array.from({ length: channels }, (_, c) => (c % 4 === 0 || c % 4 === 3 ? 0 : 1)),
    channelVolume: Array.from({ length: channels }, () => 1),
    muted: Array.from({ length: channels }, () => false),
    linear: false,
    fastSlides: false,
    oldEffects: true,
    ownPortamento: true,
    periodLimits: channels === 4,
    highlight: null,
  };
}

function readPattern(b: Bytes, at: number, channels: number, pairs: boolean): Pattern {
  const cells = new Uint8Array(ROWS * channels * CELL);
  for (let row = 0; row < ROWS; row++)
    for (let c = 0; c < channels; c++) {
      // FLT8: the second four channels are a pattern of their own behind the first.
      const from = pairs
        ? at + (c >> 2) * ROWS * 16 + row * 16 + (c & 3) * 4
        : at + (row * channels + c) * 4;
      if (from + 4 > b.length) continue;
      const [b0, b1, b2, b3] = [b.all[from]!, b.all[from + 1]!, b.all[from + 2]!, b.all[from + 3]!];
      const period = ((b0 & 15) << 8) | b1;
      const to = (row * channels + c) * CELL;
      cells[to] = period === 0 ? 0 : keyOfPeriod(period) + 1;
      cells[to + 1] = (b0 & 0xf0) | (b2 >> 4);
      const [effect, param] = effectOf(b2 & 15, b3);
      cells[to + 4] = effect;
      cells[to + 5] = param;
    }
  return { rows: ROWS, cells };
}

const PLAIN = [
  FX.arpeggio,
  FX.up,
  FX.down,
  FX.tone,
  FX.vibrato,
  FX.toneAndSlide,
  FX.vibratoAndSlide,
  FX.tremolo,
  FX.pan,
  FX.offset,
  FX.slide,
  FX.jump,
  FX.volume,
  FX.break,
] as const;
const EXTENDED = [
  FX.filter,
  FX.fineUp,
  FX.fineDown,
  FX.glissando,
  FX.vibratoWave,
  FX.tuning,
  FX.loop,
  FX.tremoloWave,
  FX.pan16,
  FX.again,
  FX.fineSlideUp,
  FX.fineSlideDown,
  FX.cut,
  FX.delay,
  FX.rowDelay,
  FX.none,
] as const;

/** Effects 0 to F of a cell with their parameter, for the two formats that share them. */
export function effectOf(effect: number, param: number): [number, number] {
  if (effect === 0 && param === 0) return [FX.none, 0];
  if (effect === 13) return [FX.break, (param >> 4) * 10 + (param & 15)];
  if (effect === 14) return [EXTENDED[param >> 4]!, param & 15];
  if (effect === 15) return [param < 0x20 ? FX.speed : FX.tempo, param];
  return [PLAIN[effect] ?? FX.none, param];
}
