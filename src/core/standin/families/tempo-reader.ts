import type * as z from 'zod';
import type { FormatDefinition } from '../../formats/define-format';
import { tempoMapFormat, type TempoRowSchema } from '../../formats/lists';
import type { Target } from '../../target/schema';
import { plainCell, readCsv } from '../csv';
import { Gathering, type DeliveredFile, type Played } from '../played';
import { readStrict } from '../strict-smf';
import { sequencer } from './sequencer';

type Row = z.infer<typeof TempoRowSchema>;

/** A program that takes over a tempo map; the list beside it is what people check it by. */
export function tempoReader(files: readonly DeliveredFile[], target: Target): Played {
  const played = sequencer(files, target);
  const out = new Gathering();
  for (const midi of files.filter((f) => f.path.endsWith('.mid'))) {
    const path = midi.path.replace(/\.mid$/, '-tempo-map.csv');
    const file = files.find((f) => f.path === path);
    if (!file) {
      out.refuse(path, 'folder', 'The list of tempos is missing.', 'outputs');
      continue;
    }
    const { data, problems } = readCsv(tempoMapFormat as unknown as FormatDefinition<Row>, file);
    for (const p of problems) out.refuse(path, p.path, p.says);
    const read = readStrict(midi.bytes);
    if (!data || !('file' in read)) continue;
    const smf = read.file;
    data.forEach((row, i) => {
      if (Math.abs(smf.us(row.tick) - row.seconds) > 1)
        out.refuse(path, `line ${i + 2}`, 'Its tick is at another time.');
      out.shows.push(`${path} ${row.tick} ${row.bar}.${row.beat} ${row.key}`);
    });
    const cells = (of: 'bpm' | 'meter' | 'marker') =>
      data.flatMap((row) => (row[of] === '' ? [] : [`${row.tick} ${plainCell(row[of])}`])).sort();
    const bpm = (us: number) => String(Math.round((60_000_000 / us) * 1e6) / 1e6);
    const said = {
      bpm: smf.tempos.map((t) => `${t.tick} ${bpm(t.microsecondsPerQuarter)}`),
      meter: smf.meters.map((m) => `${m.tick} ${m.numerator}/${m.denominator}`),
      marker: smf.texts
        .filter((t) => t.type === 6 && t.text !== '')
        .map((t) => `${t.tick} ${t.text}`),
    };
    for (const of of ['bpm', 'meter', 'marker'] as const)
      if (cells(of).join('\n') !== said[of].sort().join('\n'))
        out.refuse(path, of, 'It does not agree with the MIDI file.');
  }
  return {
    ...played,
    refused: [...played.refused, ...out.refused],
    shows: [...played.shows, ...out.shows],
  };
}
