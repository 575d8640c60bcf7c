import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { quantileSorted } from 'd3-array';
import { turnOfTheTide } from '../demo/tunes';
import { watchFolder } from '../src/server/watch-folder';

/** From a score that is saved to the desk that is told of it: `npm run bench watch`. */
const TIMES = 30;
const folder = mkdtempSync(join(tmpdir(), 'quill-bench-'));
const watch = await watchFolder(folder);
const tune = turnOfTheTide();
const took: number[] = [];
for (let i = 0; i < TIMES; i++) {
  const begun = performance.now();
  await new Promise<void>((told) => {
    const end = watch.listen({
      saved: () => {
        end();
        told();
      },
    });
    writeFileSync(join(folder, `${i}.mid`), tune);
  });
  took.push(performance.now() - begun);
}
await watch.close();
rmSync(folder, { recursive: true });
took.sort((a, b) => a - b);
const at = (p: number) => `${quantileSorted(took, p)!.toFixed(0)} ms`;
console.log(`told after ${at(0.5)} in the middle, ${at(0.95)} at p95, ${at(1)} at most`);
