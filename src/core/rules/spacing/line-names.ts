import type { OutputLine } from '../../reading/lines';
import type { Part } from '../../score/score';

/** A line's name for a key that stays: its parts. */
export const causeOf = (line: OutputLine) =>
  `${line.channel}:${line.parts.map((p) => p.ref.track).join('+')}`;

export const onlyPart = (line: OutputLine): { part?: Part } =>
  line.parts.length === 1 ? { part: line.parts[0]! } : {};
