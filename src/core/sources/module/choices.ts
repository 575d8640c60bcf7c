import * as z from 'zod';
import { SAMPLE_ROLES } from './samples/roles';

/** How one sample becomes notes; what is not said is as it is suspected to be. */
export const SampleChoiceSchema = z.strictObject({
  role: z.enum(SAMPLE_ROLES).optional(),
  /** Semitones by which its notes are put where they sound. */
  transpose: z.int().min(-60).max(60).optional(),
  /** As a drum: its key of the percussion map. */
  drumKey: z.int().min(0).max(127).optional(),
  program: z.int().min(0).max(127).optional(),
  /** What stands for a beat that was sampled. */
  beat: z.enum(['out', 'hits', 'strikes']).optional(),
  /** Its strikes of several channels as parts of their own. */
  split: z.boolean().optional(),
});

/** How a module becomes a score. */
export const ModuleChoicesSchema = z.strictObject({
  rowsPerBeat: z.int().min(1).max(64).optional(),
  beatsPerBar: z.int().min(1).max(16).optional(),
  parts: z.enum(['sample', 'instrument', 'channel']).optional(),
  volume: z.enum(['expression', 'steps', 'out']).optional(),
  pitch: z.enum(['bends', 'notes', 'out']).optional(),
  arpeggio: z.enum(['chord', 'quick', 'root']).optional(),
  pan: z.enum(['controllers', 'out']).optional(),
  /** Programs by what a sample is, where none is chosen for it. */
  programs: z.enum(['role', 'none']).optional(),
  /** What a sample is off its key, in cents, as fine tuning (RPN 1). */
  tuning: z.enum(['written', 'out']).optional(),
  samples: z.record(z.string().regex(/^\d{1,4}$/), SampleChoiceSchema).optional(),
});

export type SampleChoice = Readonly<z.infer<typeof SampleChoiceSchema>>;
export type ModuleChoices = Readonly<z.infer<typeof ModuleChoicesSchema>>;

export const DEFAULT_CHOICES = {
  parts: 'sample',
  volume: 'expression',
  pitch: 'bends',
  arpeggio: 'chord',
  pan: 'out',
  programs: 'none',
  tuning: 'out',
} as const satisfies ModuleChoices;
