import * as Comlink from 'comlink';
import { mix, soundOf, tooLongToMix } from '../core/sources/module/mix';
import type { KnownModule } from '../core/sources/module/known';
import { writeWave } from '../core/sound/render';
import { moduleView, moduleWays } from '../core/wire/to-module-view';
import type { Known } from './known';
import type { Engine } from './protocol';
import type { SourceRef } from './run-protocol';

/** Calls about modules: what is in them, and their own sound. */
export const moduleCalls = (
  answer: Known['answer'],
  sourceOf: Known['sourceOf'],
): Pick<Engine, 'moduleInfo' | 'moduleWays' | 'moduleSound' | 'moduleWave'> => {
  const known = (ref: SourceRef): KnownModule => {
    const { module } = sourceOf(ref).extras ?? {};
    if (!module) throw new Error(`${ref.name} is no module.`);
    return module;
  };
  return {
    moduleInfo: (call, source, progress) =>
      answer(call, progress, () => moduleView(known(source), source.reading ?? {})),

    moduleWays: (call, source, progress) =>
      answer(call, progress, (checkpoint) =>
        moduleWays(known(source), source.reading ?? {}, checkpoint),
      ),

    moduleSound: (call, { source, sample, key, rate }, progress) =>
      answer(call, progress, () => {
        const made = soundOf(known(source).module, sample, key, rate);
        return Comlink.transfer(
          made,
          made.channels.map((c) => c.buffer as ArrayBuffer),
        );
      }),

    moduleWave: (call, { source, ...how }, progress) =>
      answer(call, progress, (checkpoint) => {
        const module = known(source);
        const problem = tooLongToMix(module, how.rate);
        if (problem !== null) return { problem };
        const { bytes } = writeWave(mix(module, { ...how, checkpoint }), 16);
        return Comlink.transfer({ bytes }, [bytes.buffer as ArrayBuffer]);
      }),
  };
};
