import { BEND, CONTROL, type Curve } from '../../reading/curves';
import type { CurveBlock } from '../../target/curve-schema';
import type { Target } from '../../target/schema';
import type { Wanted } from '../../steps/curves/change';

/** Whether a curve is one that a block of the target speaks of. */
export const isOf = (block: CurveBlock, { kind, number }: Pick<Curve, 'kind' | 'number'>) =>
  kind === BEND
    ? block.bend === true
    : kind === CONTROL && (block.controllers?.includes(number) ?? false);

/** The curves of a block that concern a rule, and the block; those of the target in its order. */
export function* ofBlocks(
  list: readonly CurveBlock[],
  curves: () => Iterable<Curve>,
  concerns: (block: CurveBlock) => boolean,
): Iterable<{ block: CurveBlock; index: number; own: Curve[] }> {
  for (const [index, block] of list.entries()) {
    if (!concerns(block)) continue;
    const own = [...curves()].filter((c) => isOf(block, c));
    if (own.length > 0) yield { block, index, own };
  }
}

/** What is moved away from the very start comes when the target is ready, where it says when that is. */
export const notBefore = ({ start }: Target): { startMs?: number } =>
  start?.quietMs === undefined ? {} : { startMs: start.quietMs };

/** The curves that break something, as a step names them. */
export function wantedOf(curves: Iterable<Pick<Curve, 'kind' | 'number'>>): Wanted {
  const controllers = new Set<number>();
  let bend = false;
  for (const { kind, number } of curves)
    if (kind === BEND) bend = true;
    else controllers.add(number);
  return {
    ...(controllers.size > 0 ? { controllers: [...controllers].sort((a, b) => a - b) } : {}),
    ...(bend ? { bend } : {}),
  };
}

/** “Expression”, or “Lamps (controller 20, 21)” where a block holds several. */
export function sayCurves(
  block: CurveBlock,
  curves: readonly Pick<Curve, 'kind' | 'number'>[],
): string {
  if ((block.controllers?.length ?? 1) === 1) return block.name;
  const numbers = [...new Set(curves.map((c) => c.number))].sort((a, b) => a - b);
  const some = numbers.slice(0, 4).join(', ');
  return `${block.name} (${some}${numbers.length > 4 ? ` and ${numbers.length - 4} more` : ''})`;
}

/** Gathers places of several curves, at most as many as can be shown. */
export class CurvePlaces {
  readonly ticks: number[] = [];
  readonly curves = new Map<string, Curve>();
  count = 0;
  add(curve: Curve, i: number) {
    this.count++;
    if (this.ticks.length < 20_000) this.ticks.push(curve.tick[i]!);
    this.curves.set(`${curve.kind} ${curve.number}`, curve);
  }
  get own(): Curve[] {
    return [...this.curves.values()];
  }
}
