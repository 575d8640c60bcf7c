import { microsecondsAt } from '../reading/microseconds';
import type { Maps } from '../score/inventory';
import type { Piece } from '../score/piece';
import { ticksPerQuarterOf } from '../score/score';
import type { CompanionSound } from './define-writer';

/** What conducts a piece, as our formats hold it: the first tempo and meter stand at tick 0. */
export function conductorJson({ score }: Piece, maps: Maps) {
  const atUs = (tick: number) => microsecondsAt(maps, tick);
  return {
    ppq: ticksPerQuarterOf(score.division),
    tempos: maps.clock.tempos.map(({ tick, microsecondsPerQuarter }) => ({
      tick,
      atUs: atUs(tick),
      microsecondsPerQuarter,
    })),
    meters: maps.bars.meters.map(({ tick, numerator, denominator }) => ({
      tick,
      numerator,
      denominator,
    })),
    sections: score.conductor.markers.map(({ tick, text }) => ({
      tick,
      atUs: atUs(tick),
      name: text.trim(),
    })),
  };
}

/** The companion sound: the file that comes along; else the name that was told, without a length. */
export function soundJson({ delivery }: Piece, sound: CompanionSound | null) {
  const { sound: name } = delivery.metadata ?? {};
  if (sound) return { file: sound.name, lengthUs: sound.lengthUs };
  if (!name) return null;
  return { file: name, lengthUs: null };
}
