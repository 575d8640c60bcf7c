import type { Samples } from '../../core/sound/samples';
import type { PartView } from '../../core/wire/view';
import type { Player } from '../audio/player';
import type { Strike } from '../audio/worklet/striker';
import { useSettings } from './settings';

const STRIKE_MS = 300;

/** What sounds beside the music: single keys, clicks, what is played by hand. */
export function makeStrikes(player: Player, say: (problem: string | null) => void) {
  const settings = useSettings();

  /** Single keys as a part sounds them, one after the other. */
  async function hearKeys(
    part: Pick<PartView, 'channel' | 'program'>,
    keys: readonly number[],
    { together = false, velocity = 96 } = {},
  ) {
    await hearNotes(
      keys.map((key, i) => ({
        afterMs: together ? 0 : i * (STRIKE_MS + 120),
        lengthMs: STRIKE_MS,
        channel: part.channel - 1,
        key,
        velocity,
        program: part.program,
      })),
    );
  }

  /** Notes by themselves, beside whatever plays. */
  async function hearNotes(list: readonly Strike[]) {
    say(null);
    try {
      player.setVolume(settings.volume / 100);
      await player.strike(list);
    } catch (error) {
      say(`The sound cannot start: ${(error as Error).message}`);
    }
  }

  /** A short recording by itself: one sample of a module. */
  async function hearSamples(samples: Samples) {
    say(null);
    try {
      player.setVolume(settings.volume / 100);
      await player.hear(samples);
    } catch (error) {
      say(`The sound cannot start: ${(error as Error).message}`);
    }
  }

  /** Clicks at moments from now, high and dry: to tap to. */
  async function hearClicks(afterMs: readonly number[]): Promise<number> {
    player.setVolume(settings.volume / 100);
    await player.prepare();
    const begun = performance.now();
    await player.strike(
      afterMs.map((after) => ({
        afterMs: after,
        lengthMs: 60,
        channel: 9,
        key: 37,
        velocity: 120,
        program: null,
      })),
    );
    return begun;
  }

  /**
   * What is played by hand: notes at moments of a clock that is handed in as the sound's. The
   * first call makes the sound ready; null where it cannot start.
   */
  async function hearFrom(): Promise<{
    seconds(): number;
    strike(seconds: number, list: readonly Strike[]): void;
  } | null> {
    say(null);
    try {
      player.setVolume(settings.volume / 100);
      await player.strike([]);
      player.hold(true);
      return {
        seconds: () => player.seconds ?? 0,
        strike: (seconds, list) => player.strikeFrom(seconds, list),
      };
    } catch (error) {
      say(`The sound cannot start: ${(error as Error).message}`);
      return null;
    }
  }

  /** What was played by hand ends. */
  function endHearing() {
    player.hold(false);
    void player.strike([]);
  }

  return { hearKeys, hearNotes, hearSamples, hearClicks, hearFrom, endHearing };
}
