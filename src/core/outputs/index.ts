import { nameBeside } from '../smf/name';
import type { Rendition } from '../score/piece';
import type { Loss } from '../steps/define-step';
import type { Target } from '../target/schema';
import { captionsWriter } from './captions';
import { chainWriter } from './chain';
import { chartWriter } from './chart';
import { crateWriter } from './crate';
import type { CompanionSound, OutputFile, WriterDefinition } from './define-writer';
import { framesWriter } from './frames';
import { holeListWriter } from './hole-list';
import { levelTableWriter } from './level-table';
import { patchListWriter } from './patch-list';
import { ownFormatWriter } from './own-format';
import { smfWriter } from './smf';
import { soundWriter } from './sound';
import { soundLinkWriter } from './sound-link';
import { strandsWriter } from './strands';
import { stripSheetWriter } from './strip-sheet';
import { tempoMapWriter } from './tempo-map';
import { timeListWriter } from './time-list';

export const writers: readonly WriterDefinition[] = [
  smfWriter,
  timeListWriter,
  tempoMapWriter,
  chartWriter,
  captionsWriter,
  crateWriter,
  framesWriter,
  strandsWriter,
  holeListWriter,
  stripSheetWriter,
  chainWriter,
  soundLinkWriter,
  patchListWriter,
  levelTableWriter,
  soundWriter,
  ownFormatWriter,
];

export const findWriter = (id: string): WriterDefinition | undefined =>
  writers.find((w) => w.id === id);

/**
 * Everything that a target asks for, and the writers that there are not yet. Two files never share a
 * name: later ones are numbered.
 */
export function writeOutputs(
  rendition: Rendition,
  target: Target,
  sound: CompanionSound | null = null,
): { files: OutputFile[]; losses: Loss[]; unwritten: string[] } {
  const files: OutputFile[] = [];
  const losses: Loss[] = [];
  const unwritten: string[] = [];
  const names = new Set<string>();
  for (const output of target.outputs) {
    const writer = findWriter(output.writer);
    if (!writer) {
      losses.push({ what: `output “${output.writer}”, which no writer is for`, count: 1 });
      unwritten.push(output.writer);
      continue;
    }
    const options = writer.options.safeParse(output.options ?? {});
    if (!options.success) {
      losses.push({ what: `output “${output.writer}”, whose options are not usable`, count: 1 });
      unwritten.push(output.writer);
      continue;
    }
    const written = writer.write(rendition, options.data, target, sound);
    for (const loss of written.losses) losses.push(loss);
    for (const file of written.files) {
      const path = nameBeside(file.path, names);
      names.add(path.toLowerCase());
      files.push({ ...file, path, writer: writer.id });
    }
  }
  return { files, losses, unwritten };
}
