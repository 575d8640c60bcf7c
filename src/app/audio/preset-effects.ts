import type { Target } from '../../core/target/schema';
import type { Clock } from '../../core/time/tempo-map';
import type { TurnsView } from '../../core/wire/view';

/** What a pedal does to the music at a moment, as plain effects; approximate by intent. */
export interface EffectsState {
  readonly drive: boolean;
  readonly tremolo: boolean;
  readonly delay: boolean;
  readonly filter: boolean;
  /** Of the expression, from 0 to 1. */
  readonly level: number;
  readonly delayMs: number;
}

/** In the order of a pedal's switches: what each is heard as. */
const HEARD_AS = ['drive', 'tremolo', 'delay', 'filter'] as const;
/** Delay of a quarter of the tempo, by what chooses its note value. */
const SHARES = [1, 3 / 4, 2 / 3, 1 / 2, 1 / 3, 1 / 4];

function lastBefore(ticks: Int32Array, tick: number): number {
  let [low, high] = [0, ticks.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (ticks[mid]! <= tick) low = mid + 1;
    else high = mid;
  }
  return low - 1;
}

/**
 * The effects of a part by the clock: what its preset switches on, what was pressed since, how far
 * the expression is turned up. Null where the target has no presets.
 */
export function effectsOf(
  turns: TurnsView | null,
  { presets, curves }: Pick<Target, 'presets' | 'curves'>,
  clock: Pick<Clock, 'tickAt' | 'tempoAt'>,
  /** What is heard in the place of the preset that is there, in a stretch of ticks. */
  tried: { bank: number; program: number; fromTick: number; toTick: number | null } | null = null,
): ((ms: number) => EffectsState) | null {
  if (!presets || !turns) return null;
  const blocks = curves?.list ?? [];
  const switches = blocks.find((b) => b.values?.length === 2)?.controllers ?? [];
  const curveOf = (number: number | undefined) =>
    turns.curves.find((c) => c.kind === 0xb0 && c.number === number);
  const expression = curveOf(
    blocks.find((b) => !b.values && b.perSecond !== undefined)?.controllers?.[0],
  );
  const choice = curveOf(blocks.find((b) => b.highest === SHARES.length - 1)?.controllers?.[0]);
  const pressed = switches.map(curveOf);
  return (ms) => {
    const tick = clock.tickAt(ms);
    const at = lastBefore(turns.presets.tick, tick);
    const since = at < 0 ? 0 : turns.presets.tick[at]!;
    const isTried = tried !== null && tick >= tried.fromTick && tick < (tried.toTick ?? Infinity);
    const bank = isTried ? tried.bank : turns.presets.bank[at];
    const program = isTried ? tried.program : turns.presets.program[at];
    const on = presets.list.find((p) => p.bank === bank && p.program === program)?.on;
    const is = (n: number): boolean => {
      const curve = pressed[n];
      const i = curve ? lastBefore(curve.tick, tick) : -1;
      if (curve && i >= 0 && curve.tick[i]! >= since) return curve.value[i]! >= 64;
      return on?.includes(switches[n]!) ?? false;
    };
    const valueOf = (curve: typeof expression): number | null => {
      const i = curve ? lastBefore(curve.tick, tick) : -1;
      return i < 0 ? null : curve!.value[i]!;
    };
    const share = SHARES[valueOf(choice) ?? 0] ?? 1;
    const [drive, tremolo, delay, filter] = HEARD_AS.map((_, n) => is(n));
    return {
      drive: drive!,
      tremolo: tremolo!,
      delay: delay!,
      filter: filter!,
      level: (valueOf(expression) ?? 127) / 127,
      delayMs: Math.round((clock.tempoAt(tick) / 1000) * share),
    };
  };
}

/** What the foot does instead of the music: switches in their order, the dial from 0 to 1. */
export interface ByFoot {
  readonly on: readonly boolean[];
  readonly level: number | null;
}
export const withFoot = (state: EffectsState, { on, level }: ByFoot): EffectsState => {
  const is = (n: number) => on[n] ?? state[HEARD_AS[n]!];
  return {
    ...state,
    drive: is(0),
    tremolo: is(1),
    delay: is(2),
    filter: is(3),
    level: level ?? state.level,
  };
};
