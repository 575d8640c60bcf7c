import { existsSync, statSync } from 'node:fs';
import { basename, dirname, join, relative } from 'node:path';
import { findFormat } from '../core/formats/index';
import { baseOf } from '../core/plan/base';
import { fileOf } from '../core/score/to-file';
import { writeSmf } from '../core/smf/write';
import { complain, open, print, readyFolder, Unusable, whyNot, writeOutput } from './files';
import { songsIn } from './folders';
import { loadFormat, readByFormat } from './learning';
import type { Status } from './proofing';

interface ReadOptions {
  format: string;
  out?: string;
  force?: boolean;
}

/** Anything but what goes along with a delivery, and what is MIDI already. */
const isFormatted = (name: string) => !/^(receipt|quill-)|\.(midi?|html|svg|wav)$/i.test(name);

/** The rows of a file as JSON; with `--out` files and folders of a format as MIDI, one for each. */
export function readFormatted(named: string[], options: ReadOptions): Status {
  const { format, out } = options;
  if (out === undefined) {
    const [one, ...more] = named;
    if (more.length > 0 || !one || (one !== '-' && existsSync(one) && statSync(one).isDirectory()))
      throw new Unusable('Of several files --out is needed: the folder that the MIDI goes into.');
    return readByFormat(one, options);
  }
  const target = findFormat(format) ? undefined : loadFormat(format);
  const files = songsIn(named, isFormatted);
  if (files.length === 0) throw new Unusable('Name files, or folders of them.');
  readyFolder(out);
  const root = named.find((n) => existsSync(n) && statSync(n).isDirectory());
  let status: Status = 0;
  for (const file of files) {
    const { opened } = open(file, { target });
    if (!opened.source) {
      complain(whyNot(file, opened));
      status = 2;
      continue;
    }
    const [piece] = baseOf([opened.source], undefined).rendition.pieces;
    const under =
      root && !relative(root, file).startsWith('..') ? dirname(relative(root, file)) : '';
    const stem = basename(file).replace(/(\.[a-z]+)?\.[^.]+$/i, '');
    const path = join(out, under, `${stem}.mid`);
    writeOutput(path, writeSmf(fileOf(piece!)), options.force === true);
    print(`${file} → ${path}`);
  }
  return status;
}
