import { interpret } from '../formats/own/interpret';
import { readFormat } from '../formats/own/read';
import { writeFormat } from './own/write';
import type { Format } from '../formats/own/schema';
import { ownFormatOptions } from '../target/writer-options';
import type { Target } from '../target/schema';
import { addTo, type Counts } from './counts/kinds';
import { defineWriter } from './define-writer';
import { unpackFiles } from '../formats/unpack';
import { packFiles } from './pack';

const formatOf = ({ formats = [] }: Target, id: string): Format | undefined =>
  formats.find((f) => f.id === id);

export const ownFormatWriter = defineWriter({
  id: 'own-format',
  summary: 'Files of a format of its own, as the target describes it.',
  carries: [
    'notes',
    'note numbers',
    'velocities',
    'lengths',
    'tempos',
    'meters',
    'markers',
    'captions',
    'flags',
    'names',
    'controllers',
  ],
  options: ownFormatOptions,
  count(bytes, path, target) {
    const out: Counts = new Map();
    const unpacked = path.toLowerCase().endsWith('.zip') ? unpackFiles(bytes).files : undefined;
    for (const own of unpacked ? unpacked.values() : [bytes]) countFile(own, target, out);
    return out;
  },
  write({ pieces }, { format: id }, target) {
    const format = formatOf(target, id);
    if (!format)
      return { files: [], losses: [{ what: `format “${id}”, which is not described`, count: 1 }] };
    const { files, lost } = writeFormat(format, pieces, target);
    const losses = lost.map((letter) => ({ what: `letter “${letter}”`, count: 1 }));
    if (format.zip === undefined)
      return {
        files: files.map(({ path, bytes, piece }) => ({ path, bytes, holds: piece })),
        losses,
      };
    return { files: [{ path: format.zip, bytes: packFiles(files) }], losses };
  },
});

/** Counts what a file holds, from its bytes: by the first description that reads it. */
function countFile(bytes: Uint8Array, target: Target, out: Counts): void {
  for (const format of target.formats ?? [])
    for (const file of format.files) {
      const read = readFormat(file, bytes);
      if (!read.file) continue;
      const told = interpret(read.file, target);
      addTo(out, 'notes', told.notes.length);
      addTo(out, 'note numbers', told.notes.filter((n) => n.key !== null).length);
      addTo(out, 'velocities', told.velocities);
      addTo(out, 'lengths', told.lengths);
      addTo(out, 'tempos', told.tempos.length);
      addTo(out, 'meters', told.meters.length);
      addTo(out, 'markers', told.markers.length);
      addTo(out, 'captions', told.captions.length);
      addTo(
        out,
        'flags',
        told.notes.reduce((n, o) => n + o.flags.length, 0),
      );
      addTo(out, 'names', new Set(told.notes.flatMap((n) => n.part ?? n.seat ?? [])).size);
      return;
    }
}
