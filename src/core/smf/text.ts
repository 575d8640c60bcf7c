/**
 * Text of meta events. SMF 1.0 asks for ASCII and leaves the rest open, so the encoding is a guess:
 * UTF-8 where the bytes are valid UTF-8; Shift-JIS where they have its shape and the platform can
 * decode it; else Latin-1, which any bytes are.
 */
export interface ReadText {
  readonly text: string;
  readonly encoding: 'ascii' | 'utf-8' | 'shift-jis' | 'latin-1';
}

/** Decodes Shift-JIS; passed in, since its tables are the platform's. */
export type ShiftJis = (bytes: Uint8Array) => string;

const isLetter = (byte: number | undefined) =>
  byte !== undefined && (byte | 0x20) >= 0x61 && (byte | 0x20) <= 0x7a && byte < 0x80;

/**
 * Whether bytes have the shape of Shift-JIS text: every byte over 127 is part of a pair or a
 * half-width kana. A pair whose second byte is a letter inside a word ("Pr\xE4ludium") is rather an
 * accented letter of Latin-1, and so is a single kana; the other pairs must outnumber these.
 */
export function looksLikeShiftJis(bytes: Uint8Array): boolean {
  let likely = 0;
  let doubtful = 0;
  // Where the last pair ended: its second byte may be a letter of ASCII and begins no word.
  let paired = 0;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i]!;
    if (byte < 0x80) continue;
    if (byte >= 0xa1 && byte <= 0xdf) {
      doubtful++;
      continue;
    }
    const lead = (byte >= 0x81 && byte <= 0x9f) || (byte >= 0xe0 && byte <= 0xef);
    const before = i === paired ? undefined : bytes[i - 1];
    const trail = bytes[++i];
    if (!lead || trail === undefined || trail < 0x40 || trail === 0x7f || trail > 0xfc)
      return false;
    if (isLetter(trail) && (isLetter(before) || isLetter(bytes[i + 1]))) doubtful++;
    else likely++;
    paired = i + 1;
  }
  return likely > doubtful;
}

export function decodeText(bytes: Uint8Array, shiftJis?: ShiftJis): ReadText {
  let ascii = true;
  for (let i = 0; i < bytes.length && ascii; i++) ascii = bytes[i]! < 0x80;
  if (!ascii) {
    const utf8 = decodeUtf8(bytes);
    if (utf8 !== null) return { text: utf8, encoding: 'utf-8' };
    if (shiftJis && looksLikeShiftJis(bytes))
      return { text: shiftJis(bytes), encoding: 'shift-jis' };
  }
  let text = '';
  for (const byte of bytes) text += String.fromCharCode(byte);
  return { text, encoding: ascii ? 'ascii' : 'latin-1' };
}

/** RFC 3629; null where the bytes are not UTF-8. Long texts are joined of parts. */
export function decodeUtf8(bytes: Uint8Array): string | null {
  const parts: string[] = [];
  let codes: number[] = [];
  for (let i = 0; i < bytes.length;) {
    const first = bytes[i++]!;
    const more = first < 0x80 ? 0 : first >= 0xf0 ? 3 : first >= 0xe0 ? 2 : 1;
    if (more > 0 && (first < 0xc2 || first > 0xf4)) return null;
    let code = more === 0 ? first : first & (0x3f >> more);
    for (let k = 0; k < more; k++) {
      const next = bytes[i++];
      if (next === undefined || (next & 0xc0) !== 0x80) return null;
      code = code * 64 + (next & 0x3f);
    }
    const tooShort = (more === 2 && code < 0x800) || (more === 3 && code < 0x10000);
    if (tooShort || code > 0x10ffff || (code >= 0xd800 && code < 0xe000)) return null;
    if (codes.push(code) < 4096) continue;
    parts.push(String.fromCodePoint(...codes));
    codes = [];
  }
  parts.push(String.fromCodePoint(...codes));
  return parts.length === 1 ? parts[0]! : parts.join('');
}

/** UTF-8 bytes of a text. */
export function encodeUtf8(text: string): Uint8Array {
  const out: number[] = [];
  for (const letter of text) {
    const code = letter.codePointAt(0)!;
    if (code < 0x80) out.push(code);
    else if (code < 0x800) out.push(0xc0 | (code >> 6), 0x80 | (code & 63));
    else if (code < 0x10000)
      out.push(0xe0 | (code >> 12), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63));
    else {
      out.push(0xf0 | (code >> 18), 0x80 | ((code >> 12) & 63));
      out.push(0x80 | ((code >> 6) & 63), 0x80 | (code & 63));
    }
  }
  return Uint8Array.from(out);
}

const OTHERS: Record<string, string> = {
  ß: 'ss',
  æ: 'ae',
  Æ: 'Ae',
  ø: 'o',
  Ø: 'O',
  œ: 'oe',
  Œ: 'Oe',
  đ: 'd',
  ł: 'l',
  Ł: 'L',
  '‘': "'",
  '’': "'",
  '“': '"',
  '”': '"',
  '–': '-',
  '—': '-',
  '…': '...',
};

/** Plain ASCII that reads alike: accents dropped, a few letters spelled out, the rest as `?`. */
export function toAscii(text: string): string {
  let out = '';
  for (const letter of text.normalize('NFD')) {
    const code = letter.codePointAt(0)!;
    if (code >= 0x300 && code < 0x370) continue;
    out += code < 0x80 ? (code < 0x20 || code === 0x7f ? ' ' : letter) : (OTHERS[letter] ?? '?');
  }
  return out.replace(/\s+/g, ' ').trim();
}
