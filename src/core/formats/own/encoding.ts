import { decodeUtf8, encodeUtf8 } from '../../smf/text';
import type { Encoding } from './schema';

// Platforms have it; the core's types name no platform.
declare const TextDecoder: new (
  label: string,
  options?: { fatal?: boolean },
) => { decode(bytes: Uint8Array): string };

/** Letters of Shift-JIS by what they decode to: the platform reads it and does not write it. */
function shiftJisTable(): ReadonlyMap<string, readonly number[]> {
  const decoder = new TextDecoder('shift_jis');
  const table = new Map<string, readonly number[]>();
  const take = (bytes: readonly number[]) => {
    const letter = decoder.decode(Uint8Array.from(bytes));
    if ([...letter].length === 1 && letter !== '\ufffd' && !table.has(letter))
      table.set(letter, bytes);
  };
  for (let b = 0; b < 0x80; b++) take([b]);
  for (let b = 0xa1; b <= 0xdf; b++) take([b]);
  for (let lead = 0x81; lead <= 0xfc; lead++) {
    if (lead >= 0xa0 && lead <= 0xdf) continue;
    for (let trail = 0x40; trail <= 0xfc; trail++) if (trail !== 0x7f) take([lead, trail]);
  }
  return table;
}

/** @returns the bytes, and the letters that the encoding has not: a question mark stands for each */
export function encode(
  text: string,
  encoding: Encoding = 'utf-8',
): { bytes: Uint8Array; lost: string[] } {
  const lost = new Set<string>();
  switch (encoding) {
    case 'utf-8':
      return { bytes: encodeUtf8(text), lost: [] };
    case 'utf-8-mark':
      return { bytes: encodeUtf8(`\ufeff${text}`), lost: [] };
    case 'utf-16le':
    case 'utf-16be': {
      const bytes = new Uint8Array(2 + text.length * 2);
      const view = new DataView(bytes.buffer);
      const little = encoding === 'utf-16le';
      view.setUint16(0, 0xfeff, little);
      for (let i = 0; i < text.length; i++) view.setUint16(2 + i * 2, text.charCodeAt(i), little);
      return { bytes, lost: [] };
    }
    case 'latin-1':
    case 'ascii': {
      const most = encoding === 'ascii' ? 0x7f : 0xff;
      const letters = [...text];
      const bytes = Uint8Array.from(letters, (c) => {
        const code = c.codePointAt(0)!;
        if (code <= most) return code;
        lost.add(c);
        return 0x3f;
      });
      return { bytes, lost: [...lost] };
    }
    case 'shift-jis': {
      const table = shiftJisTable();
      const out: number[] = [];
      for (const c of text) {
        const bytes = table.get(c);
        if (!bytes) lost.add(c);
        for (const b of bytes ?? [0x3f]) out.push(b);
      }
      return { bytes: Uint8Array.from(out), lost: [...lost] };
    }
  }
}

/** @returns the text without its mark; null where the bytes are not of the encoding */
export function decode(bytes: Uint8Array, encoding: Encoding = 'utf-8'): string | null {
  switch (encoding) {
    case 'utf-8':
      return decodeUtf8(bytes);
    case 'utf-8-mark': {
      const text = decodeUtf8(bytes);
      if (text === null) return null;
      return text.startsWith('\ufeff') ? text.slice(1) : null;
    }
    case 'utf-16le':
    case 'utf-16be': {
      if (bytes.length % 2 !== 0 || bytes.length < 2) return null;
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
      const little = encoding === 'utf-16le';
      if (view.getUint16(0, little) !== 0xfeff) return null;
      const out: string[] = [];
      for (let at = 2; at < bytes.length; at += 2)
        out.push(String.fromCharCode(view.getUint16(at, little)));
      return out.join('');
    }
    case 'latin-1':
    case 'ascii': {
      const most = encoding === 'ascii' ? 0x7f : 0xff;
      const out: string[] = [];
      for (const b of bytes) {
        if (b > most) return null;
        out.push(String.fromCharCode(b));
      }
      return out.join('');
    }
    case 'shift-jis':
      try {
        return new TextDecoder('shift_jis', { fatal: true }).decode(bytes);
      } catch {
        return null;
      }
  }
}
