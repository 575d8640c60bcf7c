import { watch, type Ref } from 'vue';
import { layoutOf } from '../../core/sound/edits';
import type { Player } from '../audio/player';
import { useRecording } from './recording';
import { useSettings } from './settings';

/** Keeps the player told of the recording beside the score, of levels, speed and volume. */
export function tellPlayer(
  player: Pick<Player, 'setRecording' | 'setLevels' | 'setSpeed' | 'setVolume'>,
  {
    listen,
    speed,
  }: {
    readonly listen: Readonly<Ref<'source' | 'delivered'>>;
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
    [settings.levels, () => recording.listened],
    ([{ score, recording: sound }, listened]) =>
      player.setLevels(listened ? score / 100 : 1, sound / 100),
    { immediate: true },
  );
  watch(speed, (value) => player.setSpeed(value / 100));
  watch(
    () => settings.volume,
    (value) => player.setVolume(value / 100),
  );
}
