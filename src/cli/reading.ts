import type { ModuleView } from '../core/wire/module-view';
import { moduleView } from '../core/wire/to-module-view';
import { moduleJson, readingOf, sayModule } from './modules';
import { sayDamage } from '../core/diagnostic/damage';
import { musicView, type MusicView, type RoleView } from '../core/wire/music';
import { inventoryOf } from '../core/score/inventory';
import { META, payload, type SmfFile } from '../core/smf/file';
import { readSmf } from '../core/smf/read';
import { writeSmf } from '../core/smf/write';
import { count, noteName, plain } from '../core/target/words';
import { sayClock } from '../core/time/meter-map';
import { bpmOf } from '../core/time/tempo-map';
import {
  complain,
  nameOf,
  openBytes,
  print,
  readInput,
  readScoreOrSound,
  sha256 as sha256Of,
  Unusable,
  whyNot,
  writeOutput,
} from './files';
import { damageJson, inventoryJson } from './json';
import { isSound, soundInventory } from './sounds';

export async function inventory(
  files: string[],
  { json, reading: said }: { json?: boolean; reading?: string[] },
): Promise<0 | 2> {
  let status: 0 | 2 = 0;
  const reading = readingOf(said);
  for (const file of files) {
    try {
      const bytes = readScoreOrSound(file);
      if (isSound(bytes)) {
        await soundInventory(file, bytes, sha256Of(bytes), json);
        continue;
      }
      const { opened, sha256 } = openBytes(bytes, nameOf(file), { reading });
      const { source, damage } = opened;
      if (!source) {
        status = 2;
        complain(whyNot(file, opened));
        if (json) print(JSON.stringify({ file, sha256, damage: damage.map(damageJson) }));
        continue;
      }
      const found = inventoryOf(source.head, source.score);
      const known = source.extras?.module;
      const module = known ? moduleView(known, reading ?? {}) : null;
      if (json)
        print(
          JSON.stringify({
            file,
            sha256,
            damage: damage.map(damageJson),
            inventory: inventoryJson(found, source.score),
            ...(module ? { module: moduleJson(module) } : {}),
          }),
        );
      else {
        sayInventory(file, found, musicView(source.score), damage.map(sayDamage), module);
        if (module) sayModule(module);
      }
    } catch (error) {
      if (!(error instanceof Unusable)) throw error;
      status = 2;
      complain(error.message);
      if (json) print(JSON.stringify({ file, problem: error.message }));
    }
  }
  return status;
}

function sayInventory(
  file: string,
  i: ReturnType<typeof inventoryOf>,
  { roles }: MusicView,
  damage: string[],
  module: ModuleView | null,
) {
  const division =
    'ppq' in i.division ? `${i.division.ppq} PPQ` : `${i.division.framesPerSecond} frames a second`;
  const tempos = i.tempos.map((t) => plain(bpmOf(t.microsecondsPerQuarter)));
  const meters = i.meters.map((m) => `${m.numerator}/${m.denominator}`);
  print(file);
  print(
    `  ${module ? `module (${module.format})` : `SMF ${i.format}`}, ${division}, ${count(i.tracks, 'track')}, ${count(i.notes, 'note')}`,
  );
  print(`  ${count(i.bars, 'bar')}, ${sayClock(i.endMs)} long`);
  print(
    `  tempo ${some(tempos, 'not written (120 BPM)')} BPM; meter ${some(meters, 'not written (4/4)')}`,
  );
  print(i.firstNoteMs === null ? '  no notes' : `  first note at ${sayClock(i.firstNoteMs)}`);
  if (i.markers.length > 0)
    print(
      `  markers: ${some(
        i.markers.map((m) => m.text),
        '',
      )}`,
    );
  for (const p of i.parts)
    print(
      `  ${p.id.padEnd(8)} track ${p.track + 1}, channel ${p.channel}: ${p.name}, ${count(p.notes, 'note')}` +
        (p.lowest === null ? '' : `, ${noteName(p.lowest)}–${noteName(p.highest!)}`) +
        (p.programs.length > 0
          ? `, program ${p.programs.map((n) => n + 1).join(', ')} (1–128)`
          : '') +
        sayRole(roles.find((r) => r.part === p.id)),
    );
  for (const line of damage) print(`  damage: ${line}`);
}

const sayRole = (role: RoleView | undefined): string =>
  role ? `; ${role.says}${role.why ? ` (${role.why})` : ''}` : '';

const some = (list: readonly string[], none: string) =>
  list.length === 0
    ? none
    : list.slice(0, 8).join(', ') + (list.length > 8 ? ` and ${list.length - 8} more` : '');

const hex = (bytes: ArrayLike<number>) =>
  Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');

/** SMF 1.0, "Some numbers…": the shortest variable-length form. */
function shortest(value: number): number[] {
  const out = [value & 0x7f];
  for (let rest = value >>> 7; rest > 0; rest >>>= 7) out.unshift((rest & 0x7f) | 0x80);
  return out;
}

export function dump(file: string): 0 | 2 {
  const bytes = readInput(file);
  const { file: smf, damage } = readSmf(bytes);
  for (const d of damage) complain(`${file}: ${sayDamage(d)}`);
  if (!smf) return 2;
  process.stdout.write(dumpText(smf));
  return 0;
}

export function dumpText(smf: SmfFile): string {
  const lines = [`format\t${smf.format}\tdivision\t${smf.division}\ttracks\t${smf.tracks.length}`];
  smf.tracks.forEach((track, index) => {
    for (let i = 0; i < track.count; i++) {
      const status = track.status[i]!;
      let bytes: number[];
      if (status < 0xf0) {
        const two = status < 0xc0 || status >= 0xe0;
        bytes = [status, track.data1[i]!, ...(two ? [track.data2[i]!] : [])];
      } else {
        // An end-of-track that was missing has been added and holds nothing.
        const added = !track.endWritten && i === track.count - 1;
        const body = added ? [] : payload(track, i);
        const head = status === META ? [status, track.data1[i]!] : [status];
        bytes = [...head, ...shortest(body.length), ...body];
      }
      lines.push(`${index}\t${track.tick[i]}\t${hex(bytes)}`);
    }
  });
  return `${lines.join('\n')}\n`;
}

export function rebuild(file: string, options: { out?: string; force?: boolean }): 0 | 2 {
  const { out } = options;
  if (out === undefined)
    throw new Unusable('A file is needed: --out with the file to write, or -.');
  const { file: smf, damage } = readSmf(readInput(file));
  for (const d of damage) complain(`${file}: ${sayDamage(d)}`);
  if (!smf) return 2;
  if (out === '-') process.stdout.write(writeSmf(smf));
  else writeOutput(out, writeSmf(smf), options.force === true);
  return 0;
}
