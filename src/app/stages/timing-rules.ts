/** The rules whose findings Timing is there to settle. */
export const TIMING_RULES: ReadonlySet<string> = new Set([
  'tempo-absent',
  'meter-absent',
  'tempo-constant',
  'tempo-range',
  'tempo-allowed',
  'tempo-count',
  'meter-constant',
  'meter-allowed',
  'same-in-all',
  'ppq',
  'clock-time',
  'start-rest',
  'first-note',
  'rest-swallowed',
]);
