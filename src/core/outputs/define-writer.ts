import type * as z from 'zod';
import type { Rendition } from '../score/piece';
import { plainName } from '../smf/name';
import type { Kind } from './counts/kinds';
import type { Counter } from './counts/of-files';
import type { Samples } from '../sound/samples';
import type { Loss } from '../steps/define-step';
import type { Target } from '../target/schema';

export interface OutputFile {
  /** Relative, with `/`; made from names that were checked. */
  readonly path: string;
  readonly bytes: Uint8Array;
  /** Index of the piece that it holds, where it is one that the MIDI reader can read back. */
  readonly piece?: number;
  /** Index of the piece that it is made of, whatever its format; none where it is of all. */
  readonly holds?: number;
  /** The writer that made it; set by what calls it. */
  readonly writer?: string;
}

export interface Written {
  readonly files: readonly OutputFile[];
  readonly losses: readonly Loss[];
}

/** The sound that is delivered beside the score. */
export interface CompanionSound {
  /** A file name, with its ending. */
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly lengthUs: number;
  /** Decoded, where the bytes are no WAV or the plan changes it. */
  readonly samples?: Samples;
}

/** A writer turns a rendition into files. It never repairs: what is wrong is for the rules. */
export interface WriterDefinition<O = unknown> {
  readonly id: string;
  readonly summary: string;
  /** The format of ours that it writes, by its id; none for standard ones. */
  readonly format?: string;
  readonly options: z.ZodType<O>;
  /** Kinds of fact that its files may hold; `controllers` are those of any number. */
  readonly carries: readonly (Kind | 'controllers')[];
  /** Counts what one of its files holds, from its bytes. */
  readonly count: Counter;
  write(rendition: Rendition, options: O, target: Target, sound: CompanionSound | null): Written;
}

export const defineWriter = <O>(writer: WriterDefinition<O>): WriterDefinition =>
  writer as unknown as WriterDefinition;

/** A name that is a file name and nothing more, wherever it came from. */
export const safeName = (name: string, fallback = 'untitled.mid'): string =>
  plainName(name) || fallback;
