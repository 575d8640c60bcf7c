import { writeSmf } from '../src/core/smf/write';
import { buildFile, TrackBuilder } from '../src/core/smf/build';
import { META, META_METER, META_TEMPO, META_TRACK_NAME } from '../src/core/smf/file';
import { encodeUtf8 } from '../src/core/smf/text';

/** Songs of the bench: tracks of plain notes with a controller now and then, made the same each time. */
export interface SongPlan {
  readonly notes: number;
  readonly tracks: number;
  readonly tempos?: number;
  /** What the last track is called; a number like the others where nothing is said. */
  readonly last?: string;
}

export function benchSong({ notes, tracks, tempos = 1, last }: SongPlan): Uint8Array {
  let state = 2463534242;
  const below = (n: number) => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) % n;
  };
  const ppq = 480;
  const each = Math.ceil(notes / tracks);
  const step = 120;
  const endTick = each * step + 960;
  const conductor = new TrackBuilder();
  conductor.longEvent(0, META, META_METER, Uint8Array.of(4, 2, 24, 8));
  for (let i = 0; i < tempos; i++) {
    const us = 500_000 + ((i * 7919) % 40_000);
    const tick = Math.floor((endTick * i) / tempos);
    conductor.longEvent(tick, META, META_TEMPO, Uint8Array.of(us >> 16, (us >> 8) & 255, us & 255));
  }
  const built = [conductor.end(endTick)];
  for (let t = 0; t < tracks; t++) {
    const channel = t % 16;
    const track = new TrackBuilder(each * 2 + 64);
    track.longEvent(
      0,
      META,
      META_TRACK_NAME,
      encodeUtf8(t === tracks - 1 && last !== undefined ? last : `Line ${t + 1}`),
    );
    track.channelEvent(0, 0xc0 | channel, t % 128, 0);
    for (let i = 0; i < each; i++) {
      const key = 36 + below(60);
      const tick = i * step;
      if (i % 16 === 0) track.channelEvent(tick, 0xb0 | channel, 7, below(128));
      track.channelEvent(tick, 0x90 | channel, key, 40 + below(80));
      track.channelEvent(tick + 60 + below(50), 0x80 | channel, key, 64);
    }
    built.push(track.end(endTick));
  }
  return writeSmf(buildFile(1, ppq, built));
}

/** So many controller values on a few lamps of one channel, dense as a fader sends them. */
export function benchCurves(values: number, lamps = 8): Uint8Array {
  const each = Math.ceil(values / lamps);
  const endTick = each * 2 + 960;
  const track = new TrackBuilder(values + 64);
  track.longEvent(0, META, META_TRACK_NAME, encodeUtf8('Lamps'));
  for (let i = 0; i < each; i++)
    for (let lamp = 0; lamp < lamps; lamp++) {
      const level = Math.round(63 + 60 * Math.sin(i / (40 + lamp * 9)));
      track.channelEvent(i * 2, 0xb0 | 13, 20 + lamp, level);
    }
  return writeSmf(buildFile(0, 480, [track.end(endTick)]));
}
