import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { expect, test as bare } from '@playwright/test';
import { test } from './desk';
import { goFor, readWalk } from './walk';

const FOLDER = 'docs/walks';
const files = readdirSync(FOLDER).filter((f) => f.endsWith('.md'));
/** Words that are read in five minutes, at a pace at which the hands follow. */
const FIVE_MINUTES = 5 * 130;

for (const file of files) {
  const walk = readWalk(`${FOLDER}/${file}`);
  test(`the walk “${walk.title}”`, async ({ page }) => {
    await goFor(page, walk);
  });
}

bare(
  'there are six, each short enough, with pictures that are there, and the guide names them',
  () => {
    expect(files).toHaveLength(6);
    const guide = readFileSync('docs/user-guide.md', 'utf8');
    for (const file of files) {
      const { steps, pictures, words, title } = readWalk(`${FOLDER}/${file}`);
      expect(steps.length, title).toBeGreaterThan(4);
      expect(words, title).toBeLessThan(FIVE_MINUTES);
      expect(pictures.length, title).toBeGreaterThan(0);
      for (const p of pictures) expect(existsSync(`${FOLDER}/${p}`), p).toBe(true);
      expect(guide).toContain(`walks/${file}`);
    }
  },
);
