import { watch, type Ref } from 'vue';
import { layoutOf } from '../../core/sound/edits';
import type { Player } from '../audio/player';
import { useRecording } from './recording';
import { useSettings } from './settings';

/** What is heard where a recording lies beside the score. */
export type Beside = 'both' | 'score' | 'recording';

/** Keeps the player told of the recording beside the score, of levels, speed and volume. */
export function tellPlayer(
  player: Pick<Player, 'setRecording' | 'setLevels' | 'setSpeed' | 'setVolume'>,
  {
    listen,
    beside,
    speed,
  }: {
    readonly listen: Readonly<Ref<'source' | 'delivered'>>;
    /** Whether score and recording are both heard, or one of them. */
    readonly beside: Readonly<Ref<Beside>>;
    /** Percent. */
    readonly speed: Readonly<Ref<number>>;
  },
) {
  const recording = useRecording();
  const settings = useSettings();
  // Beside the source the recording sounds as it came; beside what is delivered, as the plan has it.
  watch(
    [() => recording.listened, () => recording.layout, listen],
    ([listened, layout, to]) => {
      const samples = listened?.samples ?? null;
      const us = Math.round((listened?.facts.lengthMs ?? 0) * 1000);
      player.setRecording(samples, to === 'source' ? layoutOf([], us) : layout);
    },
    { immediate: true },
  );
  watch(
    [settings.levels, () => recording.listened, beside],
    ([{ score, recording: sound }, listened, which]) =>
      player.setLevels(
        !listened ? 1 : which === 'recording' ? 0 : score / 100,
        which === 'score' ? 0 : sound / 100,
      ),
    { immediate: true },
  );
  watch(speed, (value) => player.setSpeed(value / 100));
  watch(
    () => settings.volume,
    (value) => player.setVolume(value / 100),
  );
}
