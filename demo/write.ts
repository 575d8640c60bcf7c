import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { makeBank } from './bank/make-bank';
import { week } from './week';

/** Writes the lantern week and the sound bank: `write <week folder> <bank file>`. */
export async function writeDemo(folder: string, bankFile: string): Promise<void> {
  mkdirSync(folder, { recursive: true });
  for (const { file, bytes, further = [], furtherBytes = {} } of week) {
    writeFileSync(join(folder, file), bytes());
    for (const { key, file: other } of further)
      writeFileSync(join(folder, other), furtherBytes[key]!());
  }
  const jobs = week.map(({ id, title, file, further, targets }) => ({
    id,
    title,
    file,
    ...(further ? { further } : {}),
    targets,
  }));
  writeFileSync(join(folder, 'week.json'), `${JSON.stringify({ jobs }, null, 2)}\n`);
  writeFileSync(bankFile, new Uint8Array(await makeBank()));
}

const [folder, bankFile] = process.argv.slice(2);
if (folder && bankFile) await writeDemo(folder, bankFile);
