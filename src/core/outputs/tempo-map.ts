import * as z from 'zod';
import { tempoMapFormat } from '../formats/lists';
import { microsecondsAt } from '../reading/microseconds';
import { keyName, mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { stemOf } from '../smf/name';
import { bpmOf } from '../time/tempo-map';
import { defineWriter, safeName } from './define-writer';
import { csvBytes, seconds } from './text';

/** At most six decimals, none that say nothing. */
const bpm = (microsecondsPerQuarter: number): string =>
  String(Math.round(bpmOf(microsecondsPerQuarter) * 1e6) / 1e6);

export const tempoMapWriter = defineWriter({
  id: 'tempo-map',
  format: 'tempo-map',
  summary: 'Every tempo, meter, key and marker with its place, as CSV.',
  options: z.strictObject({}),
  write({ pieces }) {
    const files = pieces.map((piece, index) => ({
      path: `${stemOf(safeName(piece.delivery.fileName))}-tempo-map.csv`,
      bytes: csvBytes(tempoMapFormat.columns!, rows(piece)),
      holds: index,
    }));
    return { files, losses: [] };
  },
});

function* rows({ score }: Piece): Iterable<(string | number)[]> {
  const maps = mapsOf(score);
  const { tempos, meters, keys, markers } = score.conductor;
  const ticks = [tempos, meters, keys, markers].flatMap((list) => list.map((e) => e.tick));
  for (const tick of [...new Set(ticks)].sort((a, b) => a - b)) {
    const place = maps.bars.placeAt(tick);
    // Several of a kind at one tick are several rows: none is lost.
    const here = {
      bpm: tempos.filter((t) => t.tick === tick).map((t) => bpm(t.microsecondsPerQuarter)),
      meter: meters.filter((m) => m.tick === tick).map((m) => `${m.numerator}/${m.denominator}`),
      key: keys.filter((k) => k.tick === tick).map((k) => keyName(k.bytes)),
      marker: markers.filter((m) => m.tick === tick).map((m) => m.text),
    };
    const deep = Math.max(...Object.values(here).map((list) => list.length));
    for (let i = 0; i < deep; i++)
      yield [
        tick,
        place.bar,
        place.beat,
        seconds(microsecondsAt(maps, tick)),
        here.bpm[i] ?? '',
        here.meter[i] ?? '',
        here.key[i] ?? '',
        here.marker[i] ?? '',
      ];
  }
}
