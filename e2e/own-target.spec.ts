import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { bytesOf, mendEverything, openAt, openDemo, stage, test } from './desk';

/** The pack of the heron, and what is in it, as files on a disk. */
const pack = 'demo/lantern-week/heron-steps.quilltarget';
const folder = mkdtempSync(join(tmpdir(), 'heron-'));
const inPack = Object.fromEntries(
  Object.entries(unzipSync(readFileSync(pack))).map(([name, bytes]) => {
    const file = join(folder, name.split('/').at(-1)!);
    writeFileSync(file, bytes);
    return [name, file];
  }),
);
async function choose(page: Page, button: string | RegExp, files: string | string[]) {
  const choosing = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: button }).last().click();
  await (await choosing).setFiles(files);
}

test('a pack is taken in, held against its examples, changed, and passed on', async ({ page }) => {
  await openAt(page, '/targets');
  await choose(page, 'Take in a target file', pack);
  await expect(page.getByRole('heading', { name: 'Heron steps' })).toBeVisible();
  await expect(page.getByText('5 of 5 are as they are said to be.')).toBeVisible();
  await expect(page.getByText('written identical')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('heron-steps.quilltarget');
  expect(Object.keys(unzipSync(await bytesOf(download))).sort()).toEqual(
    ['target.json', 'examples.json', ...Object.keys(inPack).filter((n) => n.includes('/'))].sort(),
  );

  // A change that breaks an example says so before it is saved.
  await page.getByRole('button', { name: 'Edit', exact: true }).click();
  const first = page.getByRole('textbox', { name: 'The first note comes at … ms or later' });
  await first.fill('5000');
  await first.press('Tab');
  await expect(page.getByText('2 of its 5 examples are no more as said:')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('are no more as said')).toHaveCount(0);
});

test('a format is described by an example, and the target gets its files in it', async ({
  page,
}) => {
  await openAt(page, '/targets');
  await page.getByRole('button', { name: 'New target' }).click();
  await page.getByRole('textbox', { name: 'Its name' }).fill('Stone game');
  const questions = page.getByRole('navigation', { name: 'Questions' });
  await questions.getByText('How does it tell parts apart?').click();
  const main = page.getByRole('main');
  await main.getByRole('button', { name: /^By lanes/ }).click();
  const lanes = page.getByRole('textbox', { name: 'Its lanes are the keys' });
  await lanes.fill('60, 62, 64, 65');
  await lanes.press('Tab');
  await questions.getByText('What file does it take?').click();
  await page.getByRole('button', { name: 'Add a file format of its own' }).click();
  await choose(page, /^A file that it takes/, inPack['pairs/low-water-walk.steps.json']!);
  await choose(page, /^and the MIDI file/, inPack['taken/low-water-walk.mid']!);
  await expect(page.getByText('Written again: identical.')).toBeVisible();
  await expect(page.getByText('start in ms; 15 of 15')).toBeVisible();
  await page.getByRole('button', { name: 'Take this description up' }).click();
  const made = page.getByRole('combobox', { name: 'What the file is made of' });
  await expect(made).toHaveValue('json');
  const lane = page.getByRole('combobox', { name: /entry 2$/ });
  await expect(lane).toHaveValue('lane');
  await page
    .getByRole('region', { name: 'File 1' })
    .getByRole('combobox', { name: 'It gets' })
    .selectOption({ label: 'a file of its own format' });
  await expect(page.getByRole('combobox', { name: 'The format is' })).toHaveValue('own-1');
  await page.getByRole('button', { name: 'Make it', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Edit Stone game' })).toBeVisible();
  await expect(made).toHaveValue('json');
  await expect(lane).toHaveValue('lane');
});

test('why files were refused is found, and the target takes it up', async ({ page }) => {
  await openAt(page, '/targets');
  await page.getByRole('button', { name: 'What would accept this file?' }).click();
  await choose(page, 'Choose files', [
    inPack['taken/low-water-walk.mid']!,
    inPack['taken/quay-hop.mid']!,
  ]);
  await choose(page, 'Files that were refused', [
    inPack['refused/too-early.mid']!,
    inPack['refused/five-on-one-stone.mid']!,
  ]);
  await expect(page.getByText(/1 of 2 refused has the first note below 1,000 ms/)).toBeVisible();
  await expect(
    page.getByText('too-early.mid and low-water-walk.mid differ in this alone').first(),
  ).toBeVisible();
  await page.getByRole('checkbox', { name: /one key in a row above 4 notes/ }).check();
  // Another was taken, and came out wrong: what is told of it is a caution.
  await choose(page, 'Files that were played wrongly', [inPack['refused/five-on-one-stone.mid']!]);
  await expect(page.getByText(/1 of 1 played wrongly has/).first()).toBeVisible();
  await page.getByRole('checkbox', { name: /of 2 refused .*one key in a row above 4/ }).check();
  await page.getByRole('textbox', { name: 'What was heard' }).fill('The fifth stone is silent');
  await page.getByRole('button', { name: 'Make the target' }).click();
  const limit = page.locator('.line.learnt', { hasText: 'It is at most' });
  await expect(limit.getByRole('textbox')).toHaveValue('4');
  const first = page.getByRole('textbox', { name: 'The first note comes at … ms or later' });
  await expect(first).toHaveValue('1000');
  const lists = () =>
    page.locator('textarea').evaluateAll((all) => all.map((t) => (t as never)['value']));
  expect(await lists()).toContain('The fifth stone is silent');
});

test('probes go on until all is known; where none is taken, a taken file begins them', async ({
  page,
}) => {
  await openAt(page, '/targets');
  await page.getByRole('button', { name: 'What would accept this file?' }).click();
  await page.getByRole('button', { name: 'Begin with a probe' }).click();
  const answer = async (n: number, word: string) => {
    await expect(page.getByText(new RegExp(`^Probe ${n} tries`))).toBeVisible();
    await page.getByRole('button', { name: word }).click();
  };
  for (let n = 1; n <= 16; n++) await answer(n, 'It was refused');
  await expect(page.getByText('None of 16 probes was taken.')).toBeVisible();
  await choose(page, 'Choose files', [inPack['taken/quay-hop.mid']!]);
  await page.getByRole('button', { name: 'Begin anew' }).click();
  await answer(1, 'It was taken');
  const last = page.getByRole('button', { name: 'Make a target of it' });
  for (let n = 2; n <= 16 && !(await last.isVisible()); n++) {
    await answer(n, 'It was refused');
    await expect(page.getByText(new RegExp(`^Probe ${n + 1} tries|probes found`))).toBeVisible();
  }
  await expect(page.getByText(/probes found: notes \d+–\d+/)).toBeVisible();
  await last.click();
  await expect(page.getByRole('heading', { name: 'Edit Probed target' })).toBeVisible();
});

test('a note on the sheet marks its place in the file, a place its note', async ({ page }) => {
  await openDemo(page, 'Lamps at dusk');
  await page.goto('/job/demo-lamps-at-dusk/handover');
  await page.getByRole('button', { name: 'Hand over', exact: true }).click();
  await page.getByRole('button', { name: 'Hand over anyway' }).click();
  await page.getByRole('button', { name: 'See inside LAMPS.TXT' }).click();
  const inside = page.getByRole('region', { name: /^LAMPS.TXT/ });
  const line = inside.getByText('000023 05 for 12 at 71%');
  await line.click();
  await expect(inside.locator('.line.chosen')).toContainText('000023 05');
  await inside.getByLabel('What stands in it').press('ArrowDown');
  await expect(inside.locator('.line.chosen')).toContainText('000035 14');
});

test('a file of a format of its own is a job, for the target that it was written for', async ({
  page,
}) => {
  await openAt(page, '/targets');
  await choose(page, 'Take in a target file', pack);
  // Who is quick goes on as soon as it is on the shelf: they are not called back.
  await expect(page.getByRole('heading', { name: 'Heron steps' })).toBeVisible();
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  await choose(page, /^Bring in files/, inPack['pairs/low-water-walk.steps.json']!);
  await expect(page.getByText('Format of Heron steps, ')).toBeVisible();
  await expect(page.getByText('What is it for?')).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('Format of Heron steps, ')).toBeVisible();
});

test('a file beside that of the handover before: what a mend changed is struck out and said', async ({
  page,
}) => {
  await openDemo(page, 'Lamps at dusk');
  await stage(page, 'Handover').click();
  const handOver = page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true });
  await handOver.click();
  await page.getByRole('button', { name: 'Hand over anyway' }).click();
  await expect(page.getByRole('heading', { name: 'Handover 1' })).toBeVisible();
  await mendEverything(page);
  await stage(page, 'Handover').click();
  await page.getByRole('button', { name: 'See inside LAMPS.TXT' }).click();
  const inside = page.getByRole('region', { name: /^LAMPS.TXT/ });
  await inside.getByLabel('Beside it').selectOption({ label: 'as in handover 1' });
  await expect(inside.getByTestId('differ')).toContainText('2 lines differ');
  await expect(inside.locator('del')).toHaveText([
    '000003 01 for 9 at 47%',
    '000035 14 for 12 at 71%',
  ]);
  await expect(inside.locator('.told')).toHaveText('key 14 → 02');
  await inside.getByRole('checkbox', { name: 'only what differs' }).check();
  await expect(inside.locator('.line')).toHaveCount(4);
  // A file that somebody has: the same lines are the same.
  const chosen = page.waitForEvent('filechooser');
  await inside.getByLabel('Beside it').selectOption('file');
  const lines = ['lamps of lamps-at-dusk', '000000 01 for 4 at 79%', 'dark'];
  await (
    await chosen
  ).setFiles({
    name: 'theirs.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from(`${lines.join('\n')}\n`),
  });
  await expect(inside.getByTestId('differ')).toContainText(
    '4 lines differ; what stands in theirs.txt',
  );
  await inside.getByLabel('Beside it').selectOption({ label: 'nothing' });
  await expect(inside.locator('del')).toHaveCount(0);
});
