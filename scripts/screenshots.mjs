// Takes the pictures of the docs from the demo, at 1280 × 800. Needs a build and Chromium.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { chromium } from '@playwright/test';

const port = 4187;
const folder = process.argv[2] ?? 'docs/screenshots';
const [width, height] = (process.argv[3] ?? '1280x800').split('x').map(Number);
mkdirSync(folder, { recursive: true });
const server = spawn(process.execPath, ['dist/server/main.mjs'], {
  env: { ...process.env, PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.once('data', resolve));
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'],
});
const page = await browser.newPage({ viewport: { width, height } });
const shot = (name) => page.screenshot({ path: `${folder}/${name}.png` });
const at = (path) => page.goto(`http://127.0.0.1:${port}${path}`);
const settled = async () => {
  await page.locator('.docket .tally').waitFor();
  await page.waitForTimeout(900);
};
const open = async (title) => {
  await at('/');
  await page.getByRole('link', { name: title }).click();
  await settled();
};
const stage = async (name) => {
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: new RegExp(`^${name}`) })
    .click();
  await page.waitForTimeout(400);
};
/** A job for each scene, and the line of the log that is gone to. */
const SCENES = [
  ['Turn of the tide', 12],
  ['Salt bell round', 9],
  ['Harbour office tempo', 12],
  ['Ebb and flood', 14],
  ['Chanter over drone', 40],
  ['Quay stomp', 20],
  ['Boat shed loop', 10],
  ['Paper march', 20],
  ['Last ferry waltz', 30],
  ['Tide table', 20],
  ['Horns at dusk', 20],
  ['Lantern song', 3],
  ['Net menders’ study', 20],
  ['Shutter run', 12],
  ['Marsh ambience', 8],
  ['Parlour evening', 60],
  ['Salt in the wires', 24],
  ['Along the gallery', 500],
];
try {
  await at('/');
  await at('/?demo=1');
  await page.getByRole('link', { name: 'Torn page' }).waitFor();
  await page.getByRole('link', { name: 'Sets' }).click();
  await page.getByRole('link', { name: 'Rail, opening night' }).waitFor();
  await open('Turn of the tide');
  await page.keyboard.press('n');
  await page.keyboard.press('n');
  await page.waitForTimeout(500);
  await shot('proof-paper');
  await page.keyboard.press('Escape');
  await stage('Timing');
  const tab = (name) => page.getByRole('tab', { name, exact: true }).click();
  await tab('Line up');
  await page.getByTestId('lined-up').waitFor();
  await page.waitForTimeout(600);
  await shot('timing');
  await tab('Cues');
  await page.getByRole('listbox', { name: 'Cues' }).focus();
  for (const key of ['ArrowDown', 'ArrowDown', '.', '.', 'ArrowDown'])
    await page.keyboard.press(key);
  await page.waitForTimeout(900);
  await shot('cues');
  await page.keyboard.press('Control+z');
  await page.waitForTimeout(600);
  await stage('Proof');
  await page.getByRole('button', { name: /^Mend what loses nothing/ }).click();
  await page.waitForTimeout(900);
  await page.getByRole('tab', { name: /Plan/ }).click();
  await page.waitForTimeout(400);
  await shot('plan');
  await page.getByRole('button', { name: 'Keep as a recipe' }).click();
  await stage('Handover');
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  await page.getByRole('button', { name: 'Hand over anyway' }).click();
  await page.getByTestId('handover-files').waitFor();
  await page.getByRole('button', { name: /^See inside .*\.mid/ }).click();
  await page.locator('.line[data-note]').nth(2).click();
  await page.waitForTimeout(600);
  await shot('handover');
  await page.getByRole('link', { name: 'Recipes' }).click();
  await page
    .getByRole('button', { name: /^Turn of the tide/ })
    .first()
    .click();
  const files = await page.evaluateHandle(async () => {
    const data = new DataTransfer();
    for (const name of ['turn-of-the-tide.mid', 'ninety-lanterns.mid', 'quay-stomp.mid'])
      data.items.add(new File([await (await fetch(`/demo/${name}`)).arrayBuffer()], name));
    return data;
  });
  await page.dispatchEvent('body', 'drop', { dataTransfer: files });
  await page.getByRole('button', { name: 'Use it on files' }).waitFor();
  await page.waitForTimeout(1500);
  await shot('recipes');
  await open('Tide table');
  await stage('Seating');
  await page.getByRole('tab', { name: /^Parts and seats/ }).click();
  await page.locator('.slip').first().getByRole('button').click();
  await page.keyboard.press('2');
  await page.waitForTimeout(400);
  await shot('seating');
  await open('Quay stomp');
  await stage('Seating');
  await page.getByRole('button', { name: /^Fill 3 places/ }).click();
  await page.waitForTimeout(900);
  await page.locator('.song').focus();
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowRight');
  await page.waitForTimeout(300);
  await shot('places');
  await open('Horns at dusk');
  await page.keyboard.press('c');
  await page.waitForTimeout(500);
  await page.keyboard.press('n');
  await page.waitForTimeout(500);
  await shot('close-up');
  await at('/targets');
  await page.waitForTimeout(600);
  await shot('targets');
  await at('/targets/heron-steps/edit');
  await page.locator('.findings li').first().waitFor();
  await page.waitForTimeout(600);
  await shot('target-editor');
  await at('/fit');
  await page.waitForTimeout(600);
  await page.getByRole('button', { name: /^Try all/ }).click();
  await page.getByRole('button', { name: /^Try all/ }).waitFor();
  await page.waitForTimeout(400);
  await shot('fit');
  await open('Night procession');
  await stage('Intake');
  await shot('sources');
  await open('Eel market');
  await stage('Intake');
  await page.locator('.sample').first().waitFor();
  await page.evaluate(() => document.getElementById('module-title').scrollIntoView());
  await page.waitForTimeout(600);
  await shot('intake');
  await open('Salt in the wires');
  await stage('Proof');
  await page.keyboard.press('c');
  await page.locator('[aria-roledescription="lane of a curve"]').waitFor();
  for (let n = 0; n < 4; n++) await page.keyboard.press('n');
  await page.getByRole('tab', { name: 'Presets' }).click();
  await page.waitForTimeout(600);
  await shot('curves');
  await page.getByRole('button', { name: 'Close the close-up' }).click();
  await open('Torn page');
  await at('/');
  await page.getByRole('button', { name: 'Booth light' }).click();
  await at('/sets');
  await page.getByRole('link', { name: 'Rail, opening night', exact: true }).click();
  await page.locator('.order[aria-busy="false"]').waitFor();
  await page.waitForTimeout(2500);
  await shot('set');
  await page.getByRole('button', { name: 'Paper light' }).click();
  await at('/');
  // The pictures of jobs are drawn one after the other.
  await page.waitForTimeout(600);
  await page.getByText('not looked at yet').first().waitFor({ state: 'detached' });
  await page.waitForTimeout(200);
  await shot('jobs');
  // The device of each job, mended, on one sheet.
  const scenes = [];
  for (const [title, entry] of SCENES) {
    await open(title);
    const more = page.getByRole('button', { name: 'Mend more…' });
    if (await more.isVisible()) {
      await more.click();
      await page.getByRole('checkbox', { name: /take the likeliest/ }).check();
      const all = page.getByRole('button', { name: 'Everything, dropping what cannot stay' });
      await all.click();
      await page.locator('.job[data-idle="true"]').waitFor();
    }
    await stage('Rehearsal');
    await page.locator('.log .entry').first().waitFor();
    const there = page.locator('.log .entry');
    await there.nth(Math.min(entry, (await there.count()) - 1)).click();
    await page.waitForTimeout(400);
    if (title === 'Ebb and flood') {
      // In hand: a stroke or two, and what the histogram says of them.
      await page.locator('.scene').getByRole('button', { name: 'Hands on' }).click();
      await page.keyboard.press('Enter');
      for (const key of ['KeyD', 'KeyK', 'KeyF', 'KeyL', 'KeyD', 'KeyJ', 'KeyF', 'KeyK']) {
        await page.waitForTimeout(260);
        await page.keyboard.press(key);
      }
      await page.keyboard.press('Enter');
      await shot('rehearsal');
      await page.keyboard.press('Escape');
      await page.getByRole('tab', { name: /^Log/ }).click();
      await there.nth(entry).click();
      await page.waitForTimeout(400);
    }
    const picture = await page.locator('.scene').screenshot();
    scenes.push(`<figure><img src="data:image/png;base64,${picture.toString('base64')}">
      <figcaption>${title}</figcaption></figure>`);
  }
  await page.setContent(`<style>body{margin:10px;display:grid;grid-template-columns:repeat(4,1fr);
    gap:8px;background:#efe7d8;font:13px sans-serif}figure{margin:0}img{width:100%}</style>
    ${scenes.join('')}`);
  await page.screenshot({ path: `${folder}/scenes.png`, fullPage: true });
} finally {
  await browser.close();
  server.kill();
}
