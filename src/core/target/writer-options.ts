import * as z from 'zod';

const none = z.strictObject({});

export const timeListOptions = z.strictObject({
  columns: z.string().max(400).optional().describe('Those wanted, parted by commas; else all.'),
  decimal: z
    .enum(['point', 'comma'])
    .optional()
    .describe('comma: for spreadsheets that take it; columns are parted by semicolons then.'),
});

export const soundOptions = z.strictObject({
  bits: z.literal([16, 24]).optional().describe('Bits a sample; 16 where nothing is said'),
});

export const ownFormatOptions = z.strictObject({
  format: z.string().min(1).max(60).describe('The format of the target, by its id.'),
});

/** The writers that a target may name, each with its options. */
export const WRITER_OPTIONS: Readonly<Record<string, z.ZodType>> = {
  smf: none,
  'time-list': timeListOptions,
  'tempo-map': none,
  'patch-list': none,
  'level-table': none,
  chart: none,
  captions: none,
  crate: none,
  frames: none,
  strands: none,
  'hole-list': none,
  'strip-sheet': none,
  chain: none,
  'sound-link': none,
  sound: soundOptions,
  'own-format': ownFormatOptions,
};

/** The families of devices that can stand in. */
export const STAND_INS: readonly string[] = [
  'chart-game',
  'crate-pedal',
  'voices',
  'frame-player',
  'ledger',
  'prompter',
  'organ',
  'tempo-reader',
  'cue-player',
  'own-player',
  'pads',
  'effects-pedal',
  'dimmer-bank',
  'sequencer',
];
