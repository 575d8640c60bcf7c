import type { Happening, Turn } from '../../../core/standin/played';
import type { Sounding } from './hands';

const FLASH_US = 120_000;

/**
 * What a file sounds in a stretch of the device's clock: begun at `fromUs`, once or round and round;
 * what would ring over where it gives way ends there.
 */
export type TurnSounds = (
  turn: Turn,
  fromUs: number,
  afterUs: number,
  toUs: number,
  round: boolean,
  untilUs: number,
) => Sounding[];

export function soundsOf(turns: readonly Turn[], events: readonly Happening[]): TurnSounds {
  const byFile = new Map<string, Happening[]>(turns.map((t) => [t.file, []]));
  for (const e of events) if (e.kind === 'note') byFile.get(e.file)?.push(e);
  return (turn, fromUs, afterUs, toUs, round, untilUs) => {
    const out: Sounding[] = [];
    const notes = byFile.get(turn.file) ?? [];
    const length = Math.max(1, turn.lengthUs);
    const first = round ? Math.max(0, Math.floor((afterUs - fromUs) / length)) : 0;
    const last = round ? Math.floor((toUs - fromUs) / length) : 0;
    for (let pass = first; pass <= last; pass++) {
      const at = fromUs + pass * length;
      for (const e of notes) {
        const atUs = at + e.atUs;
        if (atUs < afterUs || atUs >= toUs || e.atUs >= length) continue;
        const end = Math.min(untilUs, at + length);
        out.push({
          atUs,
          lengthUs: Math.max(1000, Math.min(e.lengthUs || FLASH_US, end - atUs)),
          seat: e.seat,
          key: e.key,
          velocity: typeof e.value === 'number' ? e.value : 96,
          file: e.file,
        });
      }
    }
    return out;
  };
}
