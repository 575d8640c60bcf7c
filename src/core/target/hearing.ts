import type { Target } from './schema';
import { kindOf, kindOfTarget } from './seat-kind';

/** What a far side hears beside notes; everything where a target says nothing. */
export interface Hearing {
  readonly programs: boolean;
  readonly bends: boolean;
  readonly velocity: boolean;
  /** It has a kit: what moves to or from the channel of drums is heard as something else. */
  readonly kit: boolean;
  /** It listens to presets and curves for themselves, whatever is played meanwhile. */
  readonly curves: boolean;
  readonly flag: (name: string) => boolean;
  readonly controller: (number: number) => boolean;
  /** Controllers that presets set by themselves. */
  readonly switches: readonly number[];
  readonly switchedOn: (bank: number, program: number) => readonly number[];
}

export const HEARS_ALL: Hearing = {
  programs: true,
  bends: true,
  velocity: true,
  kit: true,
  curves: false,
  flag: () => true,
  controller: () => true,
  switches: [],
  switchedOn: () => [],
};

/** Whether it listens to what is no note: then a part without notes is one of its parts. */
export const hearsCurves = ({ presets, curves }: Pick<Target, 'presets' | 'curves'>): boolean =>
  presets !== undefined || curves !== undefined;

/** Whether it has a kit: seats for drums, or nothing but drums. */
const hasKit = (target: Target): boolean =>
  kindOfTarget(target) === 'drums' || target.seats.some((s) => kindOf(s, target) === 'drums');

/**
 * What a target hears beside the notes, by its own data: what it refuses cannot be lost on it, and
 * is listed where it is taken out.
 */
export function hearingOf(target: Target): Hearing {
  const { chart, events = {}, velocity } = target;
  const { controllers, controllersWithout } = events;
  const listed = Array.isArray(controllers) ? new Set(controllers) : null;
  const without = new Set(controllersWithout);
  const list = target.presets?.list ?? [];
  return {
    programs: events.programs !== 'none',
    bends: events.bends !== 'none',
    velocity: velocity?.deliveredAs === undefined,
    kit: hasKit(target),
    curves: hearsCurves(target),
    flag: (name) => chart?.flags?.includes(name) ?? true,
    controller: (number) =>
      controllers !== 'none' && (listed === null || listed.has(number)) && !without.has(number),
    switches: [...new Set(list.flatMap((p) => p.on ?? []))],
    switchedOn: (bank, program) =>
      list.find((p) => p.bank === bank && p.program === program)?.on ?? [],
  };
}
