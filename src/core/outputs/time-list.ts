import * as z from 'zod';
import { mapsOf, roundMs } from '../score/inventory';
import { isIn } from '../score/score';
import { encodeUtf8 } from '../smf/text';
import { noteName } from '../target/words';
import { sayClock, sayPlace } from '../time/meter-map';
import { defineWriter, safeName } from './define-writer';

/** RFC 4180: a field with a comma, a quote or a line break is quoted, quotes are doubled. */
const field = (value: string | number) => {
  const text = String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};

/** A field that a spreadsheet would take for a formula is kept as text. */
const label = (text: string) => (/^[=+\-@]/.test(text) ? `'${text}` : text);

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
          sayPlace(bars.placeAt(n.start)),
          sayClock(ms),
          roundMs(ms),
          roundMs(clock.msAt(n.end) - ms),
          label(next > 0 ? markers[next - 1]!.text : ''),
          label(n.part),
        ];
      });
      const head = 'number,cue,note,name,place,clock,ms,length ms,marker,part';
      const text = [head, ...rows.map((r) => r.map(field).join(','))].join('\r\n') + '\r\n';
      const path = `${safeName(delivery.fileName).replace(/\.[^.]*$/, '')}-times.csv`;
      return { path, bytes: encodeUtf8(text) };
    });
    return { files, losses: [] };
  },
});
