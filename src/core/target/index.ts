import bellLoft from './built-in/bell-loft.json';
import lanternRail from './built-in/lantern-rail.json';
import tempoCarrier from './built-in/tempo-carrier.json';
import { parseTarget } from './parse';
import type { Target } from './schema';

const data: readonly unknown[] = [lanternRail, bellLoft, tempoCarrier];

/** The targets that ship with it, in the order of the shelf. */
export const builtInTargets: readonly Target[] = data.map((one) => {
  const result = parseTarget(one);
  if (!result.target) throw new Error(`built-in target: ${JSON.stringify(result.problems)}`);
  return result.target;
});

export const findTarget = (id: string): Target | undefined =>
  builtInTargets.find((target) => target.id === id);
