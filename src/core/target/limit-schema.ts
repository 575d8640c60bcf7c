import * as z from 'zod';
import { line, noteNumber, severity, slug } from './schema-values';

/** What a measure is taken of. */
export const LIMIT_OVER = ['note', 'strike', 'second', 'bar', 'seat', 'piece', 'file'] as const;
export type LimitOver = (typeof LIMIT_OVER)[number];

/** A measure of the reading: its words, its unit, and what it can be taken of. */
export interface Measure {
  readonly words: string;
  readonly unit: string;
  readonly over: readonly LimitOver[];
  /** Says in a sentence what is measured. */
  readonly says: string;
}

const each: readonly LimitOver[] = ['note'];
const counted: readonly LimitOver[] = ['second', 'bar', 'seat', 'piece'];

/** Everything that a limit of one's own can measure. Names are permanent. */
export const MEASURES = {
  'note-number': { words: 'note number', unit: '', over: each, says: 'The number of the note.' },
  velocity: { words: 'velocity', unit: '', over: each, says: 'How hard the note is struck.' },
  'length-ms': { words: 'length', unit: 'ms', over: each, says: 'From its start to its end.' },
  'gap-ms': {
    words: 'gap before it',
    unit: 'ms',
    over: each,
    says: 'From the end of what sounded before on its seat; 0 where that still sounds.',
  },
  'apart-ms': {
    words: 'time since the strike before',
    unit: 'ms',
    over: ['note', 'strike'],
    says: 'From the start of the strike before it on its seat.',
  },
  interval: {
    words: 'interval to the note before',
    unit: 'semitones',
    over: each,
    says: 'Up or down from the note that began last on its seat.',
  },
  jump: {
    words: 'jump between lanes',
    unit: 'lanes',
    over: each,
    says: 'Lanes from that of the note before on its seat; keys where it has no lanes.',
  },
  run: {
    words: 'repeats of one key in a row',
    unit: 'notes',
    over: each,
    says: 'The same key again and again on its seat, this note with it.',
  },
  'place-in-beat': {
    words: 'place in the beat',
    unit: 'of a beat',
    over: each,
    says: 'From 0 where the beat begins, below 1.',
  },
  'place-in-bar': {
    words: 'place in the bar',
    unit: 'beats',
    over: each,
    says: 'Beats from the start of the bar, from 0.',
  },
  together: {
    words: 'notes struck together',
    unit: 'notes',
    over: ['strike'],
    says: 'Notes of a seat that begin at one tick.',
  },
  notes: { words: 'notes', unit: 'notes', over: counted, says: 'How many notes begin.' },
  strikes: {
    words: 'strikes',
    unit: 'strikes',
    over: counted,
    says: 'How many moments at which something begins; a chord counts once.',
  },
  'different-keys': {
    words: 'different keys',
    unit: 'keys',
    over: [...counted, 'strike'],
    says: 'How many keys are used, each once.',
  },
  'sounding-percent': {
    words: 'share of time that sounds',
    unit: '%',
    over: ['seat', 'piece'],
    says: 'Time in which a note sounds, of the whole length.',
  },
  'filled-percent': {
    words: 'share of bars with something in them',
    unit: '%',
    over: ['seat', 'piece'],
    says: 'Bars in which a note begins, of all bars.',
  },
  'tempo-bpm': { words: 'tempo', unit: 'BPM', over: ['piece'], says: 'Each tempo of the piece.' },
  'bar-quarters': {
    words: 'length of a bar',
    unit: 'quarters',
    over: ['piece'],
    says: 'Each meter of the piece: 4/4 is 4, 6/8 is 3.',
  },
  'clock-ms': { words: 'length', unit: 'ms', over: ['piece'], says: 'From the start to the end.' },
  bars: {
    words: 'length',
    unit: 'bars',
    over: ['piece'],
    says: 'Bars, the last one counted whole.',
  },
  tracks: {
    words: 'tracks with notes',
    unit: 'tracks',
    over: ['file'],
    says: 'Tracks of the MIDI file that hold a note.',
  },
} as const satisfies Readonly<Record<string, Measure>>;
export type MeasureId = keyof typeof MEASURES;
export const MEASURE_IDS = Object.keys(MEASURES) as [MeasureId, ...MeasureId[]];

const bound = z.number().min(-1e9).max(1e9);

/** A limit of one's own: a measure, what it is taken of, where, and its bounds. */
export const LimitSchema = z.strictObject({
  measure: z.enum(MEASURE_IDS).describe('What is measured.'),
  over: z.enum(LIMIT_OVER).describe('What it is measured of.'),
  where: z
    .strictObject({
      seats: z.array(slug).min(1).max(128).optional(),
      keys: z.array(noteNumber).min(1).optional(),
      softest: z.int().min(1).max(127).optional(),
      hardest: z.int().min(1).max(127).optional(),
      fromBar: z.int().min(1).max(100_000).optional().describe('Bars from 1.'),
      toBar: z.int().min(1).max(100_000).optional().describe('The last one that is meant.'),
    })
    .optional()
    .describe('Notes that it counts; all where nothing is said.'),
  least: bound.optional(),
  most: bound.optional(),
  oneOf: z.array(bound).min(1).max(500).optional(),
  multipleOf: z.number().min(1e-6).max(1e9).optional(),
  does: z
    .enum(['drop', 'refuse'])
    .optional()
    .describe(
      'What a breach does: the note is not played (as it is unless said), or the file refused.',
    ),
  title: line.max(48).describe('What a breach is called.'),
  why: line.describe('What the far side does then.'),
  severity,
});
export type Limit = z.infer<typeof LimitSchema>;

/** Whether a value keeps a limit; derived clock times are rounded, so that a hair is passed over. */
export function keepsLimit({ least, most, oneOf, multipleOf }: Limit, value: number): boolean {
  const hair = 1e-6 * Math.max(1, Math.abs(value));
  if (least !== undefined && value < least - hair) return false;
  if (most !== undefined && value > most + hair) return false;
  if (oneOf && !oneOf.some((o) => Math.abs(o - value) <= hair)) return false;
  if (multipleOf !== undefined) {
    const times = value / multipleOf;
    if (Math.abs(times - Math.round(times)) > 1e-4) return false;
  }
  return true;
}

/** The bounds of a limit in words: "at most 4", "one of 0, 0.5". */
export function sayBounds({ measure, least, most, oneOf, multipleOf }: Limit): string {
  const { unit } = MEASURES[measure];
  const n = (v: number) =>
    `${v.toLocaleString('en-GB')}${unit && unit !== '%' ? ` ${unit}` : unit ? ' %' : ''}`;
  return [
    least !== undefined && most !== undefined
      ? `${least.toLocaleString('en-GB')}–${n(most)}`
      : least !== undefined
        ? `at least ${n(least)}`
        : most !== undefined
          ? `at most ${n(most)}`
          : '',
    oneOf ? `one of ${oneOf.join(', ')}${unit ? ` ${unit}` : ''}` : '',
    multipleOf !== undefined ? `a multiple of ${n(multipleOf)}` : '',
  ]
    .filter(Boolean)
    .join(', ');
}

/** What a limit is taken of, in words. */
export const OVER_WORDS: Readonly<Record<LimitOver, string>> = {
  note: 'each note',
  strike: 'each strike',
  second: 'any second',
  bar: 'each bar',
  seat: 'each seat',
  piece: 'the piece',
  file: 'the file',
};

/** What is measured, in words: of a single note that goes without saying. */
export const sayMeasure = ({ measure, over }: Pick<Limit, 'measure' | 'over'>): string =>
  over === 'note' ? MEASURES[measure].words : `${MEASURES[measure].words} of ${OVER_WORDS[over]}`;

/** A limit whose notes can be passed over one by one; of all others the whole is refused. */
export const isByNote = ({ over, least, measure }: Limit): boolean =>
  over === 'note' ||
  over === 'strike' ||
  (least === undefined &&
    (over === 'second' || over === 'bar' || over === 'seat' || over === 'piece') &&
    ['notes', 'strikes', 'different-keys'].includes(measure));
