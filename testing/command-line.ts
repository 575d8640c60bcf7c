import { spawnSync } from 'node:child_process';
import { vi } from 'vitest';
import { runCommandLine } from '../src/cli/program';

/** The built command in a process of its own. */
export function spawned(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['bin/wary-quill.mjs', ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  return { status, stdout, stderr };
}

/** The same command line here: what it writes is caught. */
export async function call(...args: string[]) {
  const said = { out: '', err: '' };
  const caught = (to: 'out' | 'err') => (text: string | Uint8Array) => {
    said[to] += typeof text === 'string' ? text : Buffer.from(text).toString('utf8');
    return true;
  };
  const out = vi.spyOn(process.stdout, 'write').mockImplementation(caught('out') as never);
  const err = vi.spyOn(process.stderr, 'write').mockImplementation(caught('err') as never);
  let status: number;
  try {
    status = await runCommandLine(args);
  } finally {
    out.mockRestore();
    err.mockRestore();
  }
  return {
    status,
    stdout: said.out,
    stderr: said.err,
    json: () =>
      said.out
        .trim()
        .split('\n')
        .map((l) => JSON.parse(l) as never),
  };
}
