import type { Part } from '../../score/score';

export const playing = (p: Part) => p.notes.count > 0;
