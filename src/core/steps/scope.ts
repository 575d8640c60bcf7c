import { unmapTick, type TimeMap } from '../time/time-map';
import type { Scope } from './call';

/** A scope on the ticks of a piece as one on those of the base, as plans store it. */
export function scopeOnBase(scope: Scope, fromBase: TimeMap | undefined): Scope {
  if (!fromBase || fromBase.stages.length === 0) return scope;
  const { fromTick, toTick, stretches } = scope;
  if (fromTick === undefined && toTick === undefined && !stretches) return scope;
  // The end is where the last tick inside came from, and one more.
  const end = (tick: number) => unmapTick(fromBase, tick - 1) + 1;
  return {
    ...scope,
    ...(fromTick === undefined ? {} : { fromTick: unmapTick(fromBase, fromTick) }),
    ...(toTick === undefined ? {} : { toTick: end(toTick) }),
    ...(stretches
      ? {
          stretches: stretches.map((s) => ({
            fromTick: unmapTick(fromBase, s.fromTick),
            toTick: end(s.toTick),
          })),
        }
      : {}),
  };
}
