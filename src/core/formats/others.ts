import { defineFormat } from './define-format';

export const captionsFormat = defineFormat({
  id: 'captions',
  title: 'Captions',
  summary: 'WebVTT: a cue a caption, from its first sung word to the next caption.',
  file: 'name.vtt',
  kind: 'text',
  schema: null,
  notes: [
    'As the W3C’s WebVTT has it: `WEBVTT`, then cues with a number, a time line and their lines.',
    'Cues do not overlap. `&`, `<` and `>` are written as `&amp;`, `&lt;` and `&gt;`.',
  ],
  reader: `const found = [];
for (const block of new TextDecoder().decode(bytes).trim().split('\\n\\n').slice(1)) {
  const [number, times, ...lines] = block.split('\\n');
  const [h, m, s] = times.split(' ')[0].split(':').map(Number);
  found.push({ number: Number(number), seconds: h * 3600 + m * 60 + s, lines });
}`,
});

export const stripSheetFormat = defineFormat({
  id: 'strip-sheet',
  title: 'Strip sheet',
  summary: 'SVG to print: the strip in pages of 60 rows, and what is needed to build it.',
  file: 'name-strip.svg',
  kind: 'svg',
  schema: null,
  notes: [
    'A millimetre of the drawing is one of the strip: 8 mm a row, 4 mm a pipe, unless the target gives other sizes.',
    'Each hole is a `rect` with `data-row`, `data-rank` and `data-key`.',
    'The comment in its last line holds the CRC-32 of all bytes before it.',
  ],
  reader: `const sheet = new TextDecoder().decode(bytes);
const found = [];
for (const [, row, rank, key] of sheet.matchAll(/data-row="(\\d+)" data-rank="(\\w+)" data-key="(\\d+)"/g)) {
  found.push({ row: Number(row), rank, key: Number(key) });
}`,
});

export const soundLinkFormat = defineFormat({
  id: 'sound-link',
  title: 'Sound link',
  summary: 'The files of the delivery as sound, for a device without a socket for files.',
  file: 'name-link.wav',
  kind: 'wav',
  schema: null,
  notes: [
    'WAV, 44,100 Hz, mono, 16 bit: 2 s of 1,200 Hz, then frames, then half a second of silence.',
    'A bit 0 is one cycle of 1,200 Hz, a bit 1 two cycles of 2,400 Hz; least bit first.',
    'A frame: `D3 91`, number (2 bytes, least first), length (1 byte), up to 64 bytes of data; then CRC-16/CCITT over number, length and data (2 bytes, least first).',
    'Frame 0 holds: pattern count (1 byte), byte count (4 bytes) and CRC-32 (4 bytes) of all data, least first. The frames behind it hold the data.',
    'The data: for each file the length of its name (1 byte), the name, the length of its bytes (4 bytes, least first), the bytes.',
  ],
  reader: `const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const found = [];
let last = -1;
for (let at = 44, n = 0; at + 1 < bytes.length; at += 2, n++) {
  const sample = view.getInt16(at, true);
  if (sample >= 0 && last < 0) found.push({ seconds: n / 44100 });
  last = sample;
}
// Each entry is the start of a cycle: 1/1200 s apart for a 0, twice 1/2400 s for a 1.`,
});
