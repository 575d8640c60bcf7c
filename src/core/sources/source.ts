import { whichOf } from './which';
import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Damage } from '../diagnostic/damage';
import { scoreFromFile } from '../score/from-file';
import { readScore } from '../score/read-score';
import type { Score } from '../score/score';
import { isModuleName } from '../smf/name';
import { headOf, type SmfFile, type SmfHead } from '../smf/file';
import type { ShiftJis } from '../smf/text';
import type { OwnFormats } from './readers/own';
import type { ModuleChoices } from './module/choices';
import type { KnownModule } from './module/known';
import { knowModule, moduleAsSource, songOf } from './module/open';
import { toDamage } from './readers/define-reader';
import { readOwnText, readText, type SourceExtras } from './readers/index';

/** A source as the engine holds it. */
export interface SourceScore {
  /** By which plans name it; within a job. */
  readonly key: string;
  readonly name: string;
  readonly sha256: string;
  /** Of several sequences (format 2) or songs (a module) the one that was read, from 0. */
  readonly sequence?: number;
  /** How it was read, where it is a module and something was said. */
  readonly reading?: ModuleChoices;
  readonly head: SmfHead;
  readonly score: Score;
  readonly damage: readonly Damage[];
  /** What a format of ours tells beside the music. */
  readonly extras?: SourceExtras;
}

export interface OpenOptions {
  readonly key: string;
  readonly name: string;
  readonly sha256: string;
  /** The sequence or song that is meant, from 0; the first that holds notes where not said. */
  readonly sequence?: number;
  /** How a module is read; as its samples are suspected to be where not said. */
  readonly reading?: ModuleChoices | undefined;
  /** What is known of the module that the bytes are, so that it is not played again for each reading. */
  readonly module?: KnownModule | undefined;
  readonly checkpoint?: Checkpoint;
  readonly shiftJis?: ShiftJis;
  /** Formats of targets of somebody's own, tried one after the other before those of ours. */
  readonly own?: readonly OwnFormats[] | undefined;
}

export interface Opened {
  readonly source?: SourceScore;
  /** There wherever a header could be read. */
  readonly head?: SmfHead;
  readonly damage: readonly Damage[];
  /** Which of the formats of one's own read it, from 0. */
  readonly readBy?: number;
}

const NO_MODULE = {
  place: 'byte 0',
  says: 'It is called a module, and its bytes are of none of the four formats that are read (MOD, S3M, XM, IT).',
};
const startsAsMidi = (bytes: Uint8Array) =>
  [...'MThd'].every((c, i) => bytes[i] === c.charCodeAt(0));

/** Reads bytes into a source. Without one, the damage says why: at least one entry is fatal. */
export function openSource(bytes: Uint8Array, options: OpenOptions): Opened {
  const { key, name, sha256, shiftJis, sequence } = options;
  const scoreOptions = {
    sourceKey: key,
    ...(sequence === undefined ? {} : { sequence }),
    ...(shiftJis ? { shiftJis } : {}),
  };
  const own = readByOwn(bytes, options.own ?? []);
  const readBy = own ? { readBy: own.by } : {};
  const made = own?.made ?? readText(bytes, name) ?? readModule(bytes, options);
  if (made && 'damage' in made) return { damage: made.damage, ...readBy };
  const read = made
    ? { head: madeHead(made), score: scoreFromFile(made.file, scoreOptions), damage: [] }
    : readScore(bytes, scoreOptions, options.checkpoint);
  const { head, score } = read;
  if (!head && !made && isModuleName(name) && !startsAsMidi(bytes))
    return { damage: [toDamage('text-unreadable', NO_MODULE)] };
  const damage = [...(made?.doubts ?? []), ...read.damage];
  if (!head) return { damage };
  if (!score) return { head, damage };
  const which = head.sequence === undefined ? {} : { sequence: head.sequence };
  return {
    source: {
      key,
      name,
      sha256,
      ...which,
      ...whichOf({ reading: options.reading }),
      head,
      score,
      damage,
      ...(made ? { extras: made.extras } : {}),
    },
    head,
    damage,
    ...readBy,
  };
}

function readModule(bytes: Uint8Array, { module, sequence, ...options }: OpenOptions) {
  if (startsAsMidi(bytes)) return null;
  const how = { song: sequence, checkpoint: options.checkpoint };
  const known = module ? songOf(module, how) : knowModule(bytes, how);
  return known && moduleAsSource(known, options.reading);
}

/** A module of several songs is as a file of several sequences: one is taken, the others are named. */
function madeHead(made: { readonly file: SmfFile; readonly extras: SourceExtras }): SmfHead {
  const { songs = [], song = 0 } = made.extras.module ?? {};
  const head = headOf(made.file);
  if (songs.length < 2) return head;
  const sequences = songs.map((s) => ({ name: `order ${s.order}`, notes: s.strikes }));
  return { ...head, sequences, sequence: song };
}

function readByOwn(bytes: Uint8Array, own: readonly OwnFormats[]) {
  for (const [by, formats] of own.entries()) {
    const made = readOwnText(bytes, formats);
    if (made) return { made, by };
  }
  return null;
}

/** The same source under another key: a job names its sources as it likes. */
export function withKey(source: SourceScore, key: string, name: string): SourceScore {
  if (source.key === key) return source.name === name ? source : { ...source, name };
  const parts = source.score.parts.map((p) => ({ ...p, ref: { ...p.ref, source: key } }));
  return { ...source, key, name, score: { ...source.score, parts } };
}
