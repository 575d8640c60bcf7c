import { type SetPack } from '../../core/sets/set-file';

/** A set that a call names: one file, or a folder of text. */
export interface OpenSet extends SetPack {
  readonly path: string;
  readonly isFolder: boolean;
}
