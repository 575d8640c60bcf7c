import type { CurveBlock } from '../../core/target/curve-schema';
import { hearingOf, hearsCurves } from '../../core/target/hearing';
import type { Target } from '../../core/target/schema';
import type { Turned } from './paint-input';

const BEND = 0xe0;

/** What a target calls its presets, what of curves it hears, and which are switches. */
export function turnedOf(target: Target | null): Turned {
  const hearing = target ? hearingOf(target) : null;
  const blockOf = (kind: number, number: number): CurveBlock | undefined =>
    target?.curves?.list.find((b) =>
      kind === BEND ? b.bend : kind === 0xb0 && b.controllers?.includes(number),
    );
  const list = target?.presets?.list;
  return {
    listens: target ? hearsCurves(target) : false,
    presetName: (bank, program) =>
      list
        ? (list.find((p) => p.bank === bank && p.program === program)?.name ?? null)
        : `${bank > 0 ? `${bank}.` : ''}${program}`,
    hears: (kind, number) => {
      if (target?.curves) return blockOf(kind, number) !== undefined;
      return kind === BEND ? (hearing?.bends ?? true) : (hearing?.controller(number) ?? true);
    },
    isSwitch: (kind, number) => {
      const values = blockOf(kind, number)?.values;
      // MIDI 1.0, "Controller Numbers": 64 to 69 are switches.
      return values ? values.length === 2 : kind === 0xb0 && number >= 64 && number <= 69;
    },
  };
}
