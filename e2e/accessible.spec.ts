import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { benchSong } from '../bench/songs';
import { alone as test, drop, openDemo, settled, stage, within } from './desk';

/**
 * What is wrong with the page for those who cannot see, or see little.
 * @param within what is new there; the desk around it was looked at before
 */
async function check(
  page: Page,
  where: string,
  light: 'paper' | 'booth' = 'paper',
  within: readonly string[] = [],
) {
  // What is set up by and by is looked at when all of it is there.
  await expect(page.locator('[aria-busy="true"]')).toHaveCount(0);
  const axe = new AxeBuilder({ page })
    .setLegacyMode(true)
    .options({ resultTypes: ['violations'], preload: false });
  for (const part of within) axe.include(part);
  // The other light has the same page in other colours.
  if (light === 'booth') axe.withRules(['color-contrast']);
  const { violations } = await axe.analyze();
  expect(
    violations.map(
      (v) =>
        `${where}: ${v.id}: ${v.nodes[0]?.target.join(' ')} (${v.nodes.length}) ${v.nodes[0]?.any[0]?.message ?? ''}`,
    ),
  ).toEqual([]);
}

for (const light of ['paper', 'booth'] as const)
  test(`accessible in ${light} light`, async ({ page }) => {
    test.setTimeout(240_000);
    await page.goto('/');
    if (light === 'booth') await page.getByRole('button', { name: 'Booth light' }).click();
    await check(page, 'empty', light);
    await openDemo(page, 'Salt bell round');
    // Colours are computed pair by pair for both lights; here is what lies over what.
    const stages =
      light === 'paper'
        ? ['Intake', 'Seating', 'Timing', 'Proof', 'Rehearsal', 'Handover']
        : ['Seating', 'Rehearsal'];
    for (const name of stages) {
      await stage(page, name).click();
      const tools = page.getByRole('complementary', { name: `${name} tools` });
      await tools.locator('> *').first().waitFor();
      // The first is looked at whole.
      await check(page, name, light, name === stages[0] ? [] : ['.middle', '.side']);
    }
    await stage(page, 'Seating').click();
    await page.locator('[data-seat] .title').first().click();
    await page.getByRole('button', { name: 'Key by key…' }).click();
    await page.keyboard.press('Escape');
    await page.locator('.sheet-side').click({ position: { x: 200, y: 10 } });
    await page.keyboard.press('c');
    await page.getByRole('region', { name: 'Close-up' }).waitFor();
    await page.keyboard.press('q');
    await page.getByRole('region', { name: 'Try-out wheel' }).waitFor();
    await check(page, 'an opened seat, the close-up and the wheel', light, [
      '.side',
      '.close-up',
      '.wheel',
    ]);
    await page.keyboard.press('Escape');
    await page.keyboard.press('c');
    // The tools that follow are the same in other colours; those were computed pair by pair.
    if (light === 'booth') return;
    await stage(page, 'Handover').click();
    await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
    await page.getByRole('dialog', { name: 'Stops are open' }).waitFor();
    await check(page, 'stops are open', light, ['.n-modal']);
    await page.keyboard.press('Escape');
    await stage(page, 'Proof').click();
    await page.getByRole('tab', { name: /Plan/ }).click();
    await check(page, 'plan', light, ['.side']);
    await page.getByRole('tab', { name: 'Table' }).click();
    await check(page, 'table', light, ['.side']);
    // Dialogs too: they are checked as they stand over the desk.
    const closed = () => expect(page.locator('.n-modal')).toHaveCount(0);
    await page.keyboard.press('?');
    await page.getByText('Apply every mend that loses nothing').waitFor();
    await check(page, 'keys', light, ['.n-modal']);
    await page.keyboard.press('Escape');
    await closed();
    await drop(page, [{ name: 'other.mid', bytes: benchSong({ notes: 40, tracks: 2 }) }]);
    await page.getByRole('button', { name: 'A further source of this job' }).waitFor();
    await check(page, 'what was dropped', light, ['.n-modal']);
    await page.getByRole('button', { name: 'A further source of this job' }).click();
    await settled(page);
    await check(page, 'several sources', light, ['.body']);
  });

test('accessible shelves', async ({ page }) => {
  test.setTimeout(240_000);
  await openDemo(page, 'Salt bell round');
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  await page.getByRole('heading', { name: 'Jobs' }).waitFor();
  await check(page, 'jobs');
  await page.getByRole('link', { name: 'Recipes' }).click();
  await page.getByRole('heading', { name: 'Recipes' }).waitFor();
  await check(page, 'recipes');
  for (const [path, name] of [
    ['/targets', 'Targets'],
    ['/targets/stomp-crate', 'Stomp crate'],
    ['/fit', 'Fit'],
  ] as const) {
    await within(page, path);
    await page.getByRole('heading', { level: 1, name, exact: true }).waitFor();
    await check(page, path);
  }
  await within(page, '/targets/bell-loft');
  await page.getByRole('heading', { level: 1, name: 'Bell loft striker' }).waitFor();
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await page.locator('.findings li').first().waitFor();
  await check(page, 'sentences of a target');
  await page.getByRole('button', { name: 'Text beside it' }).click();
  await page.locator('.cm-content').waitFor();
  await check(page, 'target as text');
  const name = page.getByRole('textbox', { name: 'It is called' }).first();
  await name.fill('Another loft');
  await name.press('Tab');
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  await page.getByText('Not saved yet').waitFor();
  await check(page, 'not saved yet', 'paper', ['.n-modal']);
  await page.getByRole('button', { name: 'Stay', exact: true }).click();
  await expect(page.locator('.n-modal')).toHaveCount(0);
  await expect(page.getByRole('heading', { name: 'Edit Another loft' })).toBeVisible();
});
