import Papa from 'papaparse';
import * as z from 'zod';
import { mapsOf, roundMs } from '../score/inventory';
import { isIn } from '../score/score';
import { encodeUtf8 } from '../smf/text';
import { noteName } from '../target/words';
import { stemOf } from '../smf/name';
import { sayClock, type Place } from '../time/meter-map';
import { defineWriter, safeName } from './define-writer';

/** A position that no spreadsheet takes for a number: always with its ticks. */
const place = (at: Place) => `${at.bar}.${at.beat}+${at.tick}`;

export const timeListWriter = defineWriter({
  id: 'time-list',
  summary: 'Every note with its place and clock time, as CSV.',
  options: z.strictObject({}),
  write({ pieces }, _options, target) {
    const lowest = target.notes?.lowest ?? 0;
    const files = pieces.map(({ score, delivery }) => {
      const { clock, bars } = mapsOf(score);
      const { markers } = score.conductor;
      const notes = score.parts
        .filter(isIn)
        .flatMap((part) =>
          Array.from(part.notes.start, (start, i) => ({
            start,
            end: part.notes.end[i]!,
            key: part.notes.noteNumber[i]!,
            part: part.name,
          })),
        )
        .sort((a, b) => a.start - b.start || a.key - b.key);
      let next = 0;
      const rows = notes.map((n, i) => {
        while (next < markers.length && markers[next]!.tick <= n.start) next++;
        const ms = clock.msAt(n.start);
        return [
          i + 1,
          n.key - lowest + 1,
          n.key,
          noteName(n.key),
          place(bars.placeAt(n.start)),
          sayClock(ms),
          roundMs(ms),
          roundMs(clock.msAt(n.end) - ms),
          next > 0 ? markers[next - 1]!.text : '',
          n.part,
        ];
      });
      const fields = [
        'number',
        'cue',
        'note',
        'name',
        'place',
        'clock',
        'ms',
        'length ms',
        'marker',
        'part',
      ];
      // RFC 4180; a text that a spreadsheet would take for a formula is kept as text.
      const text = Papa.unparse({ fields, data: rows }, { newline: '\r\n', escapeFormulae: true });
      const path = `${stemOf(safeName(delivery.fileName))}-times.csv`;
      return { path, bytes: encodeUtf8(`${text}\r\n`) };
    });
    return { files, losses: [] };
  },
});
