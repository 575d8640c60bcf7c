import type * as z from 'zod';
import { patchListFormat, type PatchRowSchema } from '../../formats/curve-tables';
import type { FormatDefinition } from '../../formats/define-format';
import type { Target } from '../../target/schema';
import { readCsv } from '../csv';
import { Gathering, type DeliveredFile, type Played } from '../played';
import { loadSmf } from '../smf-device';
import { playCurves } from './curve-device';

type Row = z.infer<typeof PatchRowSchema>;

/** An effects pedal: it plays its MIDI file; the list is what people check it by. */
export function effectsPedal(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const midi = files.filter((f) => f.path.toLowerCase().endsWith('.mid'));
  if (midi.length === 0) out.refuse('', 'folder', 'There is no MIDI file.', 'outputs');
  for (const file of midi) {
    const smf = loadSmf(file, target, out);
    if (!smf) continue;
    playCurves(smf, file.path, target, out);
    if (!target.outputs.some((o) => o.writer === 'patch-list')) continue;
    const path = file.path.replace(/\.mid$/i, '-patches.csv');
    const list = files.find((f) => f.path === path);
    if (!list) {
      out.refuse(path, 'folder', 'The patch list is missing.', 'outputs');
      continue;
    }
    const { data, problems } = readCsv(patchListFormat as unknown as FormatDefinition<Row>, list);
    for (const p of problems) out.refuse(path, p.path, p.says);
    for (const r of data ?? [])
      out.shows.push(
        `${path} ${r.place} ${r.seconds} ${r.marker} ${r.preset} ${r.bank} ${r.switches} ${r['delay ms']}`,
      );
    const programs = smf.settings
      .filter((s) => s.status === 0xc0)
      .map((s) => `${Math.round(smf.us(s.tick))} ${s.data1}`)
      .sort();
    const said = (data ?? []).map((r) => `${Math.round(r.seconds)} ${r.program}`).sort();
    const near = (a: string, b: string | undefined) => {
      const [us, program] = a.split(' ').map(Number);
      const [other, same] = (b ?? 'x x').split(' ').map(Number);
      return program === same && Math.abs(us! - other!) <= 1;
    };
    if (data && (programs.length !== said.length || programs.some((p, i) => !near(p, said[i]))))
      out.refuse(path, 'preset', 'It does not agree with the MIDI file.');
  }
  return out.played;
}
