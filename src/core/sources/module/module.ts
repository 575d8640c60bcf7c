/**
 * A tracker module as data, whatever format it came in. Keys count as MIDI does: 60 is the key at
 * which a sample sounds at its own rate. Orders, patterns, rows and channels count from 0.
 */
export type ModuleFormat = 'mod' | 's3m' | 'xm' | 'it';

export interface Loop {
  /** In frames; half-open. */
  readonly from: number;
  readonly to: number;
  readonly pingPong: boolean;
}

export interface Sample {
  readonly name: string;
  /** −1 to 1; what is stereo is stored as two. */
  readonly frames: Float32Array;
  readonly right: Float32Array | null;
  /** Hz at key 60. */
  readonly rate: number;
  /** 0 to 64: with which a strike begins. */
  readonly volume: number;
  /** 0 to 1: by which all that it plays is scaled. */
  readonly gain: number;
  /** 0 left to 1 right; null where it says nothing. */
  readonly pan: number | null;
  readonly loop: Loop | null;
  /** Goes round until it is released. */
  readonly sustain: Loop | null;
  readonly vibrato: SampleVibrato | null;
}

/** Vibrato of the sample itself: in units of 1⁄64 semitone and 256ths of a turn each tick. */
export interface SampleVibrato {
  readonly wave: number;
  readonly depth: number;
  readonly speed: number;
  /** Ticks until it has its depth. */
  readonly sweep: number;
}

export interface Envelope {
  readonly points: readonly { readonly tick: number; readonly value: number }[];
  /** By point, both ends included. */
  readonly loop: readonly [number, number] | null;
  readonly sustain: readonly [number, number] | null;
  /** Loops after its sustain was let go, and before (IT), or jumps on one tick alone (XM). */
  readonly carries: boolean;
}

export const NNA = { cut: 0, goOn: 1, off: 2, fade: 3 } as const;

export interface Instrument {
  readonly name: string;
  /** By key 0 to 119: sample, from 1; 0 is none. */
  readonly sampleOf: Uint8Array | Uint16Array;
  /** By key: the key that sounds. */
  readonly keyOf: Uint8Array;
  /** Values 0 to 1. */
  readonly volume: Envelope | null;
  /** Values −1 to 1. */
  readonly pan: Envelope | null;
  /** Values in semitones; none where the envelope moves a filter. */
  readonly pitch: Envelope | null;
  /** What is lost of 1 each tick once it is released. */
  readonly fade: number;
  readonly newNote: number;
  /** What is a duplicate (0 none, 1 key, 2 sample, 3 instrument), and what becomes of it. */
  readonly duplicate: number;
  readonly duplicateAction: number;
  readonly gain: number;
  readonly defaultPan: number | null;
  /** It has a filter or an envelope for one: told, not played. */
  readonly filter: boolean;
}

/** Values of a cell's note that are no key (which stand as key + 1). */
export const NOTE_FADE = 253;
export const NOTE_CUT = 254;
export const NOTE_OFF = 255;

/** Of each cell: note, instrument, kind of volume, its value, effect, its parameter. */
export const CELL = 6;

export interface Pattern {
  readonly rows: number;
  /** rows × channels × CELL. */
  readonly cells: Uint8Array;
}

export interface Module {
  readonly format: ModuleFormat;
  readonly name: string;
  readonly comment: string;
  readonly channels: number;
  /** Pattern of each place; SKIP is passed over, END ends the song. */
  readonly orders: readonly number[];
  /** Where it goes on after its last place. */
  readonly restart: number;
  readonly patterns: readonly Pattern[];
  /** From 1: there is nothing at 0. */
  readonly samples: readonly (Sample | null)[];
  /** None where cells name samples. */
  readonly instruments: readonly (Instrument | null)[] | null;
  readonly speed: number;
  readonly tempo: number;
  /** 0 to 1. */
  readonly globalVolume: number;
  /** By channel: 0 left to 1 right, 0 to 1, and whether it is silent. */
  readonly pan: readonly number[];
  readonly channelVolume: readonly number[];
  readonly muted: readonly boolean[];
  /** Slides by semitones; else by periods. */
  readonly linear: boolean;
  readonly fastSlides: boolean;
  readonly oldEffects: boolean;
  readonly ownPortamento: boolean;
  readonly periodLimits: boolean;
  /** Rows a beat and a bar that the file itself says. */
  readonly highlight: readonly [number, number] | null;
}

export const SKIP = 0xfe;
export const END = 0xff;

/** Kinds of the volume column. */
export const VOL = {
  none: 0,
  set: 1,
  pan: 2,
  slideDown: 3,
  slideUp: 4,
  fineDown: 5,
  fineUp: 6,
  vibratoSpeed: 7,
  vibrato: 8,
  panLeft: 9,
  panRight: 10,
  tone: 11,
  pitchDown: 12,
  pitchUp: 13,
} as const;

/** Effects of all formats; where they differ is told by the format when they are played. */
export const FX = {
  none: 0,
  arpeggio: 1,
  up: 2,
  down: 3,
  tone: 4,
  vibrato: 5,
  toneAndSlide: 6,
  vibratoAndSlide: 7,
  tremolo: 8,
  pan: 9,
  offset: 10,
  slide: 11,
  jump: 12,
  volume: 13,
  break: 14,
  speed: 15,
  tempo: 16,
  globalVolume: 17,
  globalSlide: 18,
  keyOff: 19,
  envelopeAt: 20,
  panSlide: 21,
  retrigger: 22,
  tremor: 23,
  fineVibrato: 24,
  channelVolume: 25,
  channelSlide: 26,
  panbrello: 27,
  fineUp: 28,
  fineDown: 29,
  extraFineUp: 30,
  extraFineDown: 31,
  glissando: 32,
  vibratoWave: 33,
  tuning: 34,
  loop: 35,
  tremoloWave: 36,
  pan16: 37,
  again: 38,
  fineSlideUp: 39,
  fineSlideDown: 40,
  cut: 41,
  delay: 42,
  rowDelay: 43,
  tickDelay: 44,
  notes: 45,
  highOffset: 46,
  special: 47,
  filter: 48,
} as const;

export const cellAt = (channels: number, row: number, channel: number): number =>
  (row * channels + channel) * CELL;
