import type * as z from 'zod';
import { levelTableFormat, type LevelRowSchema } from '../../formats/curve-tables';
import type { FormatDefinition } from '../../formats/define-format';
import type { Target } from '../../target/schema';
import { readCsv } from '../csv';
import { Gathering, type DeliveredFile, type Played } from '../played';
import { loadSmf } from '../smf-device';
import type { StrictFile } from '../strict-smf';
import { playCurves } from './curve-device';

type Row = z.infer<typeof LevelRowSchema>;

/** A dimmer bank: levels as they come, and scenes by their names. */
export function dimmerBank(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const midi = files.filter((f) => f.path.toLowerCase().endsWith('.mid'));
  if (midi.length === 0) out.refuse('', 'folder', 'There is no MIDI file.', 'outputs');
  for (const file of midi) {
    const smf = loadSmf(file, target, out);
    if (!smf) continue;
    playCurves(smf, file.path, target, out);
    for (const m of smf.texts)
      if (m.type === 6)
        out.events.push({
          atUs: Math.round(smf.us(m.tick)),
          kind: 'marker',
          seat: 'conductor',
          key: 0,
          text: m.text,
          file: file.path,
        });
    if (target.outputs.some((o) => o.writer === 'level-table')) table(smf, file.path, files, out);
  }
  return out.played;
}

/** The table says what the file says: in each row the value that holds at its end. */
function table(smf: StrictFile, path: string, files: readonly DeliveredFile[], out: Gathering) {
  const name = path.replace(/\.mid$/i, '-levels.csv');
  const file = files.find((f) => f.path === name);
  if (!file) return out.refuse(name, 'folder', 'The level table is missing.', 'outputs');
  const { data, problems } = readCsv(levelTableFormat as unknown as FormatDefinition<Row>, file);
  for (const p of problems) out.refuse(name, p.path, p.says);
  if (!data) return;
  const held = new Map<number, number>();
  const rows = new Map<number, Map<number, number>>();
  const settings = smf.settings
    .filter((s) => s.status === 0xb0)
    .sort((a, b) => a.tick - b.tick || a.track - b.track || a.order - b.order);
  for (const s of settings) {
    const row = Math.floor((Math.round(smf.us(s.tick)) * 40) / 1_000_000 + 1e-9);
    const own = rows.get(row) ?? new Map<number, number>();
    rows.set(row, own);
    own.set(s.data1, s.data2);
  }
  const wanted: string[] = [];
  for (const [row, own] of [...rows].sort((a, b) => a[0] - b[0]))
    for (const [number, value] of [...own].sort((a, b) => a[0] - b[0])) {
      if (held.get(number) === value) continue;
      held.set(number, value);
      wanted.push(`${row} ${number} ${value}`);
    }
  data.forEach((r, n) => {
    if (Math.abs(r.seconds - (r.row * 1_000_000) / 40) > 1)
      out.refuse(name, `line ${n + 2}`, 'Row and seconds contradict.');
  });
  const said = data.map((r) => `${r.row} ${r.controller} ${r.level}`);
  const i = wanted.findIndex((w, n) => w !== said[n]);
  if (i >= 0 || said.length !== wanted.length)
    out.refuse(
      name,
      `line ${(i < 0 ? wanted.length : i) + 2}`,
      'It does not agree with the MIDI file.',
    );
}
