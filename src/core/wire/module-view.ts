import type { SampleRole } from '../sources/module/samples/roles';

/** What is in a module, as plain data: the list that people write on paper. */
export interface ModuleView {
  readonly format: string;
  readonly name: string;
  readonly comment: string;
  readonly channels: number;
  /** Its cells name instruments; else samples. */
  readonly hasInstruments: boolean;
  readonly patterns: number;
  readonly rows: number;
  readonly seconds: number;
  /** The order that it goes round to; null where it stops. */
  readonly roundTo: number | null;
  /** How many songs it holds, and which of them this is, from 1. */
  readonly songs: number;
  readonly song: number;
  readonly rowsPerBeat: number;
  readonly beatsPerBar: number;
  readonly beatsReason: string;
  readonly samples: readonly SampleView[];
  readonly lost: readonly { readonly what: string; readonly count: number }[];
}

export interface SampleView {
  readonly number: number;
  readonly name: string;
  readonly seconds: number;
  /** Hz at the middle C. */
  readonly rate: number;
  readonly loops: boolean;
  readonly strikes: number;
  readonly keys: readonly { readonly key: number; readonly count: number }[];
  /** 0 to 1. */
  readonly quietest: number;
  readonly loudest: number;
  /** From 1. */
  readonly channels: readonly number[];
  readonly firstBar: number | null;
  readonly lastBar: number | null;
  /** The lowest and the highest value of each of as many stretches: −1 to 1. */
  readonly wave: readonly number[];
  readonly role: SampleRole;
  readonly suspected: SampleRole;
  readonly reason: string;
  /** Semitones that it sounds above what is written, cents beside that, and how sure that is. */
  readonly pitch: {
    readonly semitones: number;
    readonly cents: number;
    readonly sure: number;
    readonly says: string;
  } | null;
  readonly beat: {
    readonly bpm: number;
    readonly beats: number;
    readonly hits: number;
  } | null;
  readonly chord: readonly number[] | null;
  /** Channels of a second role. */
  readonly apart: readonly number[];
}

export const WAVE_STRETCHES = 64;

/** One way of a choice, with what it gives and what it leaves. */
export interface ModuleWay {
  readonly choice: keyof typeof WAYS;
  readonly value: string;
  readonly notes: number;
  readonly parts: number;
  readonly controllers: number;
  readonly bends: number;
  /** Of what it leaves, all that not every way of the choice leaves. */
  readonly lost: readonly { readonly what: string; readonly count: number }[];
}

export const WAYS = {
  parts: ['sample', 'instrument', 'channel'],
  volume: ['expression', 'steps', 'out'],
  pitch: ['bends', 'notes', 'out'],
  arpeggio: ['chord', 'quick', 'root'],
  pan: ['controllers', 'out'],
  programs: ['none', 'role'],
  tuning: ['written', 'out'],
} as const;
