import type { FormatDefinition } from '../formats/define-format';
import { readCsv } from './csv';
import { readSheet } from './families/organ';
import { readCaptions } from './families/prompter';
import { hearLink } from './link';
import { Gathering, type DeliveredFile } from './played';
import { loadJson } from './strict-json';
import { waveUs } from './companion';
import { MEANINGS } from './meaning';

/** Why a file is not of a format, with the place of each fault; empty where it is. */
export function checkFile(
  format: FormatDefinition,
  file: DeliveredFile,
): { readonly path: string; readonly says: string }[] {
  const out = new Gathering();
  // A schema says nothing of order, of counts, of what is told twice.
  const meaning = (data: unknown) =>
    MEANINGS[format.id]?.(data as never, (at, says) => out.refuse(file.path, at, says));
  if (format.kind === 'csv') {
    const { data, problems } = readCsv(format, file);
    if (!data) return [...problems];
    meaning(data);
  } else if (format.kind === 'json') {
    const data = loadJson(format, file, out);
    if (data !== null) meaning(data);
  } else if (format.id === 'captions') readCaptions(file, out);
  else if (format.id === 'strip-sheet') readSheet(file, out);
  else checkLink(file, out);
  return out.refused.map(({ at, says }) => ({ path: at, says }));
}

function checkLink(file: DeliveredFile, out: Gathering) {
  const length = waveUs(file.bytes);
  if ('says' in length) return out.refuse(file.path, length.at, length.says);
  const view = new DataView(file.bytes.buffer, file.bytes.byteOffset, file.bytes.byteLength);
  const samples = new Float32Array((file.bytes.length - 44) >> 1);
  for (let i = 0; i < samples.length; i++) samples[i] = view.getInt16(44 + i * 2, true);
  const { problem } = hearLink(samples, view.getUint32(24, true));
  if (problem !== null) out.refuse(file.path, 'sound', problem);
}
