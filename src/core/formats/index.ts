import { chainFormat } from './chain';
import { chartFormat } from './chart';
import { levelTableFormat, patchListFormat } from './curve-tables';
import { crateFormat } from './crate';
import type { FormatDefinition } from './define-format';
import { frameListFormat, framesFormat } from './frames';
import { holeListFormat, tempoMapFormat, timeListFormat } from './lists';
import { captionsFormat, soundLinkFormat, stripSheetFormat } from './others';
import { strandsFormat } from './strands';

/** Our own formats, in the order in which they are listed. */
export const formats: readonly FormatDefinition[] = [
  chartFormat,
  captionsFormat,
  crateFormat,
  framesFormat,
  frameListFormat,
  strandsFormat,
  holeListFormat,
  stripSheetFormat,
  chainFormat,
  soundLinkFormat,
  timeListFormat,
  tempoMapFormat,
  patchListFormat,
  levelTableFormat,
] as unknown as readonly FormatDefinition[];

export const findFormat = (id: string): FormatDefinition | undefined =>
  formats.find((f) => f.id === id);
