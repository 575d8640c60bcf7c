import type { Schedule } from './schedule';

/** What is softer than this is silence, in decibels of full scale. */
export const SILENT_DB = -90;

const NOTE_ON = 0x90;
/** DLS and SF2 make the amplitude grow with the square of the velocity. */
const DB_PER_DOUBLE = 40;

/** A schedule whose one part is louder by so many decibels, as far as velocities go. */
export function levelled(schedule: Schedule, part: number, db: number): Schedule {
  const by = 10 ** (db / DB_PER_DOUBLE);
  if (Math.abs(by - 1) < 0.01) return schedule;
  const data2 = Uint8Array.from(schedule.data2);
  for (let i = 0; i < schedule.count; i++)
    if (schedule.part[i] === part && (schedule.status[i]! & 0xf0) === NOTE_ON && data2[i]! > 0)
      data2[i] = Math.max(1, Math.min(127, Math.round(data2[i]! * by)));
  return { ...schedule, data2 };
}
