import { META } from '../smf/file';
import { newNotes } from './columns';
import type { EventColumns, NoteColumns, Score, TrackEvent } from './score';

/**
 * Moves everything in a score along a rising function of ticks.
 * @param at where a tick goes; whole numbers in, whole numbers from 0 out, never falling
 * @param setUpStays what sets up the piece at tick 0 (tempo, meter, key, names, channel set-up)
 *   stays there
 */
export function mapTicks(score: Score, at: (tick: number) => number, setUpStays = false): Score {
  const zero = (tick: number) => setUpStays && tick === 0;
  const move = <T extends { tick: number }>(list: readonly T[], stays = true): T[] =>
    list.map((e) => (stays && zero(e.tick) ? e : { ...e, tick: at(e.tick) }));
  const { conductor } = score;
  return {
    ...score,
    conductor: {
      tempos: move(conductor.tempos),
      meters: move(conductor.meters),
      keys: move(conductor.keys),
      markers: move(conductor.markers, false),
    },
    tracks: score.tracks.map((track) => ({
      ...track,
      endTick: at(track.endTick),
      events: track.events.map((e) => (zero(e.tick) && setsUp(e) ? e : { ...e, tick: at(e.tick) })),
    })),
    parts: score.parts.map((part) => ({
      ...part,
      notes: mapNotes(part.notes, at),
      events: mapEvents(part.events, (tick) => (zero(tick) ? 0 : at(tick))),
    })),
  };
}

/**
 * What belongs at the start wherever the music goes: sequence number, copyright, names, channel and
 * port prefix, SMPTE offset, sequencer data (SMF 1.0 asks several of them to stand at time 0), sysex.
 */
const SET_UP_TYPES = new Set([0x00, 0x02, 0x03, 0x04, 0x08, 0x09, 0x20, 0x21, 0x54, 0x7f]);
export const setsUp = (e: TrackEvent) => e.status !== META || SET_UP_TYPES.has(e.type);

/** A note that had a length keeps at least one tick of it. */
function mapNotes(notes: NoteColumns, at: (tick: number) => number): NoteColumns {
  const { start, end } = newNotes(notes.count);
  for (let i = 0; i < notes.count; i++) {
    const from = at(notes.start[i]!);
    const to = at(notes.end[i]!);
    start[i] = from;
    end[i] = to > from || notes.end[i] === notes.start[i] ? to : from + 1;
  }
  return { ...notes, start, end };
}

function mapEvents(events: EventColumns, at: (tick: number) => number): EventColumns {
  return { ...events, tick: events.tick.map(at) };
}
