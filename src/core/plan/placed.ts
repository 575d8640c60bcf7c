import type { PlanStep } from './plan';

/** What a plan lays into a place: bars of a file, or all of it. */
export interface Placed {
  readonly place: string;
  readonly fileName: string;
  /** The file that it is taken from, where there are several; null where there is one. */
  readonly from: string | null;
  /** From 1. */
  readonly fromBar: number;
  /** Null: the whole file, as it is. */
  readonly bars: number | null;
}

interface Cut {
  readonly place: string;
  readonly fileName: string;
  readonly fromBar: number;
  readonly bars: number;
}

const lays = ({ step, on }: PlanStep) => on && (step === 'carve' || step === 'take-place');

/** What lies where by the steps that are on, in their order. */
export function placedIn(steps: readonly PlanStep[]): Placed[] {
  return steps.filter(lays).flatMap(({ step, params, scope }): Placed[] => {
    const from = scope.file ?? null;
    if (step === 'carve')
      return (params as { places: readonly Cut[] }).places.map((cut) => ({ ...cut, from }));
    const { place, fileName } = params as Pick<Cut, 'place' | 'fileName'>;
    return [{ place, fileName, from, fromBar: 1, bars: null }];
  });
}

/** The steps before anything is laid into a place: bars are counted on what they come to. */
export function beforePlaced(steps: readonly PlanStep[]): readonly PlanStep[] {
  const first = steps.findIndex(lays);
  return first < 0 ? steps : steps.slice(0, first);
}

/**
 * The steps with other places: where the first of them stood, else at the end.
 *
 * @param barsOf bars of a file of the delivery as it is before; of one that is whole in one place and
 * taken from elsewhere too
 */
export function withPlaced(
  steps: readonly PlanStep[],
  placed: readonly Placed[],
  barsOf: (file: string | null) => number,
  newKey: () => string,
): PlanStep[] {
  const old = steps.filter(lays);
  const files = [...new Set(placed.map((p) => p.from))];
  const made = files.map((from): PlanStep => {
    const own = placed.filter((p) => p.from === from);
    const scope = from === null ? {} : { file: from };
    const same = (step: string) =>
      old.find((s) => s.step === step && (s.scope.file ?? null) === from)?.key ?? newKey();
    const [{ place, fileName, bars }] = own as [Placed];
    if (own.length === 1 && bars === null)
      return { key: same('take-place'), step: 'take-place', params: { place, fileName }, scope, on: true }; // prettier-ignore
    const places = own.map((p) => ({
      place: p.place,
      fileName: p.fileName,
      fromBar: p.fromBar,
      bars: p.bars ?? barsOf(from),
    }));
    return { key: same('carve'), step: 'carve', params: { places }, scope, on: true };
  });
  const at = steps.findIndex(lays);
  const kept = steps.filter((s) => !lays(s));
  const before = at < 0 ? kept.length : steps.slice(0, at).length;
  return [...kept.slice(0, before), ...made, ...kept.slice(before)];
}
