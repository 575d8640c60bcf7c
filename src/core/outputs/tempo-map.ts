import * as z from 'zod';
import { tempoMapFormat } from '../formats/lists';
import { microsecondsAt } from '../reading/microseconds';
import { keyName, mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { stemOf } from '../smf/name';
import { bpmOf } from '../time/tempo-map';
import { countTempoMap } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { csvBytes, type CsvLine } from './text';

/** At most six decimals, none that say nothing. */
const bpm = (microsecondsPerQuarter: number): string =>
  String(Math.round(bpmOf(microsecondsPerQuarter) * 1e6) / 1e6);

export const tempoMapWriter = defineWriter({
  id: 'tempo-map',
  format: 'tempo-map',
  summary: 'Every tempo, meter, key and marker with its place, as CSV.',
  carries: ['tempos', 'meters', 'keys', 'markers'],
  count: countTempoMap,
  options: z.strictObject({}),
  write({ pieces }) {
    const files = pieces.map((piece, index) => ({
      path: `${stemOf(safeName(piece.delivery.fileName))}-tempo-map.csv`,
      bytes: csvBytes(tempoMapFormat.columns!, (line) => writeRows(line, piece)),
      holds: index,
    }));
    return { files, losses: [] };
  },
});

/** Events of one kind, as texts, by their ticks. */
function byTick<E extends { readonly tick: number }>(
  list: readonly E[],
  say: (event: E) => string,
) {
  const out = new Map<number, string[]>();
  for (const event of list) {
    const there = out.get(event.tick);
    if (there) there.push(say(event));
    else out.set(event.tick, [say(event)]);
  }
  return out;
}

function writeRows(line: CsvLine, { score }: Piece) {
  const maps = mapsOf(score);
  const { tempos, meters, keys, markers } = score.conductor;
  const kinds = [
    byTick(tempos, (t) => String(bpm(t.microsecondsPerQuarter))),
    byTick(meters, (m) => `${m.numerator}/${m.denominator}`),
    byTick(keys, (k) => keyName(k.bytes)),
    byTick(markers, (m) => m.text),
  ];
  const ticks = new Set(kinds.flatMap((kind) => [...kind.keys()]));
  for (const tick of [...ticks].sort((a, b) => a - b)) {
    const place = maps.bars.placeAt(tick);
    // Several of a kind at one tick are several rows: none is lost.
    const here = kinds.map((kind) => kind.get(tick) ?? []);
    const deep = here.reduce((most, list) => Math.max(most, list.length), 0);
    for (let i = 0; i < deep; i++) {
      line.int(tick).int(place.bar).int(place.beat);
      line.cell().decimals(microsecondsAt(maps, tick), 6);
      for (const list of here) line.text(list[i] ?? '');
      line.end();
    }
  }
}
