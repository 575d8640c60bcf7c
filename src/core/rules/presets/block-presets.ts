import type { Preset } from '../../reading/curves';
import type { Maps } from '../../score/inventory';
import type { Span } from '../finding';
import type { Target } from '../../target/schema';
import { spansOf } from '../events/spans';

type Presets = NonNullable<Target['presets']>;

/** What a preset is called: by the target, else by its numbers as devices count them, from 1. */
export const nameOf = (block: Presets, { bank, program }: Pick<Preset, 'bank' | 'program'>) =>
  knownAs(block, { bank, program })?.name ?? `bank ${bank}, program ${program}`;

export const knownAs = (block: Presets, { bank, program }: Pick<Preset, 'bank' | 'program'>) =>
  block.list.find((p) => p.bank === bank && p.program === program);

export const places = (presets: readonly { readonly tick: number }[]): Span[] =>
  spansOf(presets.map((p) => p.tick));

/** Presets of one channel with the clock between each and the one before. */
export function* follow(
  presets: Iterable<Preset>,
  { clock }: Maps,
): Iterable<{ before: Preset; preset: Preset; gapMs: number }> {
  const last = new Map<number, Preset>();
  for (const preset of presets) {
    const before = last.get(preset.channel);
    if (before) yield { before, preset, gapMs: clock.msAt(preset.tick) - clock.msAt(before.tick) };
    last.set(preset.channel, preset);
  }
}
