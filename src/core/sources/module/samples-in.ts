import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Module } from './module';
import { hear, type SampleSound } from './samples/role';
import type { Performance, Strike } from './strikes';

/** A sample with everything that is known of it, and how it is read. */
export interface SampleReading {
  readonly number: number;
  readonly heard: SampleSound;
  /** Suspected, or chosen. */
  readonly role: SampleSound['role'];
  readonly strikes: readonly Strike[];
  /** Channels that play it otherwise than the rest: in another octave, or much more quietly. */
  readonly splits: readonly (readonly number[])[];
}

/** How the samples of a module are used, and what each is suspected to be. */
export function samplesIn(
  module: Module,
  { strikes }: Performance,
  checkpoint?: Checkpoint,
): SampleReading[] {
  const by = new Map<number, Strike[]>();
  for (const s of strikes) {
    const own = by.get(s.sample);
    if (own) own.push(s);
    else by.set(s.sample, [s]);
  }
  const out: SampleReading[] = [];
  module.samples.forEach((sample, number) => {
    if (!sample) return;
    checkpoint?.(number, module.samples.length);
    const own = by.get(number) ?? [];
    if (own.length === 0 && sample.frames.length === 0) return;
    const keys = own.map((s) => s.soundingKey).sort((a, b) => a - b);
    const held = own.map((s) => s.end - s.at).sort((a, b) => a - b);
    const heard = hear(sample, {
      instrument: instrumentOf(module, own),
      strikes: own.length,
      keys: [...new Set(keys)],
      middleKey: keys[keys.length >> 1] ?? 60,
      held: held[held.length >> 1] ?? 0,
    });
    out.push({ number, heard, role: heard.role, strikes: own, splits: splitsOf(own) });
  });
  return out;
}

/** The name of the instrument that strikes it most. */
export function instrumentOf({ instruments }: Module, strikes: readonly Strike[]): string {
  const counts = new Map<number, number>();
  for (const s of strikes) counts.set(s.instrument, (counts.get(s.instrument) ?? 0) + 1);
  const [most] = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a), [0, 0]);
  return instruments?.[most]?.name ?? '';
}

/** Channels of a sample in groups, where they play two roles: far apart in loudness, or in register. */
function splitsOf(strikes: readonly Strike[]): number[][] {
  const channels = [...new Set(strikes.map((s) => s.channel))].sort((a, b) => a - b);
  if (channels.length < 2) return [];
  const of = channels.map((channel) => {
    const own = strikes.filter((s) => s.channel === channel);
    const mean = (value: (s: Strike) => number) =>
      own.reduce((sum, s) => sum + value(s), 0) / own.length;
    return {
      channel,
      count: own.length,
      level: mean((s) => s.levels.reduce((top, l) => Math.max(top, l.value), 0)),
      key: mean((s) => s.soundingKey),
    };
  });
  const weight = (o: (typeof of)[0]) => o.count * o.level;
  const main = of.reduce((a, b) => (weight(b) > weight(a) ? b : a));
  const other = of.filter(
    (o) =>
      o.count >= 4 &&
      (o.level < main.level * 0.6 || o.level > main.level / 0.6 || Math.abs(o.key - main.key) > 9),
  );
  if (other.length === 0) return [];
  const apart = other.map((o) => o.channel);
  return [channels.filter((c) => !apart.includes(c)), apart];
}
