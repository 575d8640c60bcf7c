/** What a sample may be. */
export const SAMPLE_ROLES = [
  'bass drum',
  'snare',
  'hat',
  'tom',
  'cymbal',
  'other drum',
  'bass',
  'lead',
  'chord',
  'pad',
  'beat',
  'speech',
  'effect',
  'silence',
] as const;
export type SampleRole = (typeof SAMPLE_ROLES)[number];

export const DRUM_ROLES: ReadonlySet<SampleRole> = new Set([
  'bass drum',
  'snare',
  'hat',
  'tom',
  'cymbal',
  'other drum',
]);
