import * as Comlink from 'comlink';
import { mix, soundOf } from '../core/sources/module/mix';
import { recallModule, type KnownModule } from '../core/sources/module/open';
import { writeWave } from '../core/sound/render';
import { moduleView, moduleWays } from '../core/wire/module-view';
import { UnknownSource, type Known } from './known';
import type { Engine, SourceRef } from './protocol';

/** A module that is not known any more is asked for again. */
const known = (ref: SourceRef): KnownModule => {
  const found = recallModule(ref.sha256);
  if (!found) throw new UnknownSource(ref);
  return found;
};

/** Calls about modules: what is in them, and their own sound. */
export const moduleCalls = (
  answer: Known['answer'],
): Pick<Engine, 'moduleInfo' | 'moduleWays' | 'moduleSound' | 'moduleWave'> => ({
  moduleInfo: (call, source, progress) =>
    answer(call, progress, () => moduleView(known(source), source.reading ?? {})),

  moduleWays: (call, source, progress) =>
    answer(call, progress, (checkpoint) =>
      moduleWays(known(source), source.reading ?? {}, checkpoint),
    ),

  moduleSound: (call, { source, rate, between, softened, one }, progress) =>
    answer(call, progress, (checkpoint) => {
      const { module } = known(source);
      const made = one
        ? soundOf(module, one.sample, one.key, rate)
        : mix(module, { rate, between, softened, checkpoint });
      return Comlink.transfer(
        made,
        made.channels.map((c) => c.buffer as ArrayBuffer),
      );
    }),

  moduleWave: (call, { source, rate, between, softened }, progress) =>
    answer(call, progress, (checkpoint) => {
      const { module } = known(source);
      const { bytes } = writeWave(mix(module, { rate, between, softened, checkpoint }), 16);
      return Comlink.transfer(bytes, [bytes.buffer as ArrayBuffer]);
    }),
});
