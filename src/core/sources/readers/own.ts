import { interpret, type SeatLike, type ToldNote } from '../../formats/own/interpret';
import { readFormat } from '../../formats/own/read';
import type { Format } from '../../formats/own/schema';
import { Gate } from '../../score/gate';
import type { MadeScore } from './define-reader';
import { newFile, type NewNote } from './tracks';

/** Formats of a target, with the seats that their files name. */
export interface OwnFormats {
  readonly formats: readonly Format[];
  readonly seats: readonly (SeatLike & { readonly channel?: number })[];
}

/** Half a second to a quarter where a file tells no tempo; ticks are as fine as a file may have them. */
const PLAIN_US = 500_000;
const PPQ = 25_000;
const COUNTED_PPQ = 960;

/**
 * A file of a format of somebody's own as a score: notes at their clock, or at their beats where the
 * file counts in them and tells its tempos. Null where none of the formats reads it.
 */
export function readOwn(bytes: Uint8Array, { formats, seats }: OwnFormats): MadeScore | null {
  for (const format of formats)
    for (const described of format.files) {
      const read = readFormat(described, bytes);
      if (!read.file) continue;
      const told = interpret(read.file, { seats });
      if (told.notes.length === 0) continue;
      const counted = told.notes.every((n) => n.startQuarters !== null) && told.tempos.length > 0;
      const ppq = counted ? COUNTED_PPQ : PPQ;
      // The clock of a file with one tempo is laid out at that one.
      const [first] = told.tempos;
      const perQuarter =
        told.tempos.length === 1 && first!.quarters === 0
          ? first!.microsecondsPerQuarter
          : PLAIN_US;
      const gate = new Gate();
      const tracks = new Map<string, { channel: number; notes: NewNote[] }>();
      for (const [i, n] of told.notes.entries()) {
        const place = () => `note ${i + 1}`;
        const seat = seats.find((s) => s.id === n.seat);
        const name = n.part ?? seat?.name ?? 'Notes';
        const channel = n.channel ?? seat?.channel ?? (tracks.size % 16) + 1;
        const track = tracks.get(name) ?? { channel, notes: [] };
        tracks.set(name, track);
        const start = counted ? n.startQuarters! * ppq : (n.startUs * ppq) / perQuarter;
        const tick = gate.tick(Math.round(start), place, 'The time');
        const length = Math.max(
          1,
          Math.round(lengthOf(n, ppq, counted ? first!.microsecondsPerQuarter : perQuarter)),
        );
        gate.end(tick, length, place);
        const key = gate.key(n.key ?? 60, place);
        track.notes.push({
          tick,
          length,
          channel: track.channel,
          key,
          velocity: Math.max(1, n.velocity ?? 100),
        });
        gate.one(place);
        if (gate.refused) return gate.refused;
      }
      const tempos = counted
        ? told.tempos.map((t) => ({
            tick: Math.round(t.quarters * ppq),
            microsecondsPerQuarter: Math.round(t.microsecondsPerQuarter),
          }))
        : [{ tick: 0, microsecondsPerQuarter: Math.round(perQuarter) }];
      const meters = told.meters.map((m) => ({ ...m, tick: Math.round(m.quarters * ppq) }));
      const markers = told.markers.map((m) => ({
        tick: Math.round(counted ? m.quarters * ppq : (m.us * ppq) / perQuarter),
        text: m.text,
      }));
      const title = told.facts.get('title');
      return {
        file: newFile(
          ppq,
          0,
          { tempos, meters, markers },
          [...tracks].map(([name, { notes }]) => ({ name, notes })),
        ),
        extras: title === undefined ? {} : { metadata: { title } },
        doubts: [],
      };
    }
  return null;
}

/** A note without a length is a sixteenth. */
function lengthOf(n: ToldNote, ppq: number, perQuarter: number): number {
  return n.endUs === null ? ppq / 4 : ((n.endUs - n.startUs) * ppq) / perQuarter;
}
