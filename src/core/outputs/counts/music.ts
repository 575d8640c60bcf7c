import type { Kind } from './kinds';

/** What a Standard MIDI File holds. */
export const ALL_OF_MIDI: readonly (Kind | 'controllers')[] = [
  'notes',
  'note numbers',
  'velocities',
  'lengths',
  'programs',
  'bank changes',
  'bends',
  'pedal changes',
  'pressures',
  'controllers',
  'tempos',
  'meters',
  'keys',
  'markers',
  'lyrics',
  'texts',
  'names',
  'system exclusive messages',
];
