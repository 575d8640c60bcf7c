import { setSink, type Printed } from './files';
import { makeOne, type MadeElsewhere, type MendOptions } from './mending';
import type { Task } from './pool';
import { proofFiles, type ProofOptions, type Status } from './proofing';
import { loadSound } from './sounds';
import { songTask } from './sets/deliver';

async function printed(work: () => Promise<Status>): Promise<Printed> {
  let out = '';
  let err = '';
  setSink({ out: (text) => (out += text), err: (text) => (err += text) });
  const status = await work();
  return { out, err, status };
}

/** What workers are asked for, by name. */
export const tasks = {
  proof: (options: ProofOptions) => {
    const sound = loadSound(options.sound);
    return (file: string) => printed(() => proofFiles([file], options, sound));
  },
  mend: (options: MendOptions) => {
    const sound = loadSound(options.sound);
    return async ({ file, folder }: { file: string; folder: string }): Promise<MadeElsewhere> => {
      let files: MadeElsewhere['files'] = [];
      const said = await printed(async () => {
        const made = await makeOne(file, folder, options, sound);
        files = made.files;
        return made.status;
      });
      return { ...said, folder, files };
    };
  },
  song: songTask,
} satisfies Record<string, Task>;
