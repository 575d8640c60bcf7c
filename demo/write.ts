import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { decodeWave } from '../src/core/sound/decode-wave';
import { lengthMs } from '../src/core/sound/samples';
import { makeBank } from './bank/make-bank';
import { writeTargetPack } from '../src/core/handover/target-pack';
import { ownJobs, ownPacks } from './own-packs';
import { ownTargets } from './own-targets';
import { demoSets, setPlans } from './sets';
import { week } from './week';

/** Writes the lantern week, its recordings and the sound bank, each where it is said. */
export async function writeDemo(folder: string, bankFile: string, recordings: string) {
  mkdirSync(folder, { recursive: true });
  const lengths = new Map<string, number>();
  for (const { file, bytes, further = [], furtherBytes = {}, sound, soundBytes } of week) {
    if (sound && soundBytes) {
      const wav = soundBytes();
      writeFileSync(join(recordings, sound), wav);
      lengths.set(sound, lengthMs(decodeWave(wav).samples!));
    }
    writeFileSync(join(folder, file), bytes());
    for (const { key, file: other } of further)
      writeFileSync(join(folder, other), furtherBytes[key]!());
  }
  const jobs = week.map(({ id, title, file, further, sound, targets }) => ({
    id,
    title,
    file,
    ...(further ? { further } : {}),
    ...(sound ? { sound, soundMs: lengths.get(sound) } : {}),
    targets,
  }));
  for (const [name, make] of Object.entries(ownPacks))
    writeFileSync(join(folder, name), writeTargetPack(make()));
  const own = ownJobs.map(({ id, title, file, bytes, target }) => {
    writeFileSync(join(folder, file), bytes());
    return { id, title, file, targets: [{ id: target, steps: [] }] };
  });
  const packs = ownTargets.map((target) => ({ target, pack: `${target.id}.quilltarget` }));
  const all = {
    jobs: [...jobs, ...own],
    ownTargets: packs,
    sets: demoSets,
    setPlans: setPlans(),
  };
  writeFileSync(join(folder, 'week.json'), `${JSON.stringify(all, null, 2)}\n`);
  writeFileSync(bankFile, new Uint8Array(await makeBank()));
}

const [folder, bankFile, recordings] = process.argv.slice(2);
if (folder && bankFile && recordings) await writeDemo(folder, bankFile, recordings);
