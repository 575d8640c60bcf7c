import { buildFile, TrackBuilder } from '../../smf/build';
import {
  META,
  META_LYRIC,
  META_MARKER,
  META_METER,
  META_TRACK_NAME,
  type SmfFile,
} from '../../smf/file';
import { encodeUtf8 } from '../../smf/text';

/** A note of a track that is to be made. */
export interface NewNote {
  readonly tick: number;
  readonly length: number;
  readonly channel: number;
  readonly key: number;
  readonly velocity: number;
}
export interface NewTrack {
  readonly name: string;
  readonly notes: readonly NewNote[];
}
export interface NewConductor {
  readonly tempos: readonly { readonly tick: number; readonly microsecondsPerQuarter: number }[];
  readonly meters: readonly {
    readonly tick: number;
    readonly numerator: number;
    readonly denominator: number;
  }[];
  readonly markers: readonly { readonly tick: number; readonly text: string }[];
  readonly lyrics?: readonly { readonly tick: number; readonly text: string }[];
}

/** A file of format 1: what conducts first, then a track each. */
export function newFile(
  ppq: number,
  endTick: number,
  conductor: NewConductor,
  tracks: readonly NewTrack[],
): SmfFile {
  const head = new TrackBuilder();
  const events: { tick: number; order: number; write: () => void }[] = [];
  const at = (tick: number, order: number, write: () => void) =>
    events.push({ tick, order, write });
  for (const t of conductor.tempos)
    at(t.tick, 0, () => head.tempo(t.tick, t.microsecondsPerQuarter));
  for (const m of conductor.meters)
    at(m.tick, 1, () =>
      head.longEvent(
        m.tick,
        META,
        META_METER,
        Uint8Array.of(m.numerator, Math.log2(m.denominator), 24, 8),
      ),
    );
  const texts = (list: NewConductor['markers'], type: number) => {
    for (const m of list)
      at(m.tick, 2, () => head.longEvent(m.tick, META, type, encodeUtf8(m.text)));
  };
  texts(conductor.markers, META_MARKER);
  texts(conductor.lyrics ?? [], META_LYRIC);
  for (const e of events.sort((a, b) => a.tick - b.tick || a.order - b.order)) e.write();
  let end = endTick;
  for (const { notes } of tracks) for (const n of notes) end = Math.max(end, n.tick + n.length);
  const last = events.at(-1)?.tick ?? 0;
  const made = tracks.map(({ name, notes }) => {
    const track = new TrackBuilder();
    track.longEvent(0, META, META_TRACK_NAME, encodeUtf8(name));
    // At one tick the offs stand first; a note of no length ends behind its beginning.
    const changes = notes.flatMap((n) => [
      { tick: n.tick, order: 1, status: 0x90, n },
      { tick: n.tick + n.length, order: n.length === 0 ? 2 : 0, status: 0x80, n },
    ]);
    changes.sort((a, b) => a.tick - b.tick || a.order - b.order);
    for (const { tick, status, n } of changes)
      track.channelEvent(tick, status | (n.channel - 1), n.key, status === 0x90 ? n.velocity : 64);
    return track.end(end);
  });
  return buildFile(1, ppq, [head.end(Math.max(end, last)), ...made]);
}
