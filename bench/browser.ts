import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { writeWave } from '../src/core/sound/render';
import { builtInTargets } from '../src/core/target/index';
import { mendingSongs } from '../demo/mending-songs';
import { benchCurves, benchSong } from './songs';

/**
 * In the browser: from the drop to the first notes on the sheet, 5 s of scrolling (frame intervals,
 * script a frame, long tasks), and from a mend to its result on the screen.
 */
const port = 4188;
const server = spawn(process.execPath, ['dist/server/main.mjs'], {
  env: { ...process.env, PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout!.once('data', resolve));
const browser = await chromium.launch({
  executablePath: process.env['CHROMIUM_PATH'] ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'],
});

const p95 = (list: number[]) =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)] ?? NaN;
const rows: string[][] = [];

async function watchLongTasks(page: Page) {
  await page.evaluate(() => {
    const seen: number[] = [];
    (window as never as { longTasks: number[] }).longTasks = seen;
    new PerformanceObserver((list) => {
      for (const e of list.getEntries()) seen.push(e.duration);
    }).observe({ type: 'longtask', buffered: false });
  });
}
const longTasks = (page: Page) =>
  page.evaluate(() => {
    const w = window as never as { longTasks: number[] };
    return w.longTasks.splice(0);
  });

/** Intervals of frames over five seconds of scrolling. */
const scrolled = (page: Page) =>
  page.evaluate(async () => {
    const el = document.querySelector<HTMLElement>('.frame[role="application"]')!;
    const intervals: number[] = [];
    const end = performance.now() + 5000;
    let last = performance.now();
    let by = 24;
    while (performance.now() < end) {
      el.scrollTop += by;
      if (el.scrollTop + el.clientHeight >= el.scrollHeight || el.scrollTop <= 0) by = -by;
      await new Promise((r) => requestAnimationFrame(r));
      const now = performance.now();
      intervals.push(now - last);
      last = now;
    }
    return intervals;
  });

/** The most and the present memory of the largest page process, in megabytes. */
function pageMemory(): { most: number; now: number } {
  let found = { most: 0, now: 0 };
  for (const pid of readdirSync('/proc').filter((p) => /^\d+$/.test(p)))
    try {
      const call = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
      if (!call.includes('--type=renderer')) continue;
      const status = readFileSync(`/proc/${pid}/status`, 'utf8');
      const of = (key: string) =>
        Number(new RegExp(`${key}:\\s+(\\d+)`).exec(status)?.[1] ?? 0) / 1024;
      if (of('VmHWM') > found.most) found = { most: of('VmHWM'), now: of('VmRSS') };
    } catch {
      // It ended in between.
    }
  return found;
}

/** Ten minutes of strokes that fade, four a second; 48 kHz stereo, 16 bit. */
function tenMinutes(): Uint8Array {
  const samples = Float32Array.from(
    { length: 600 * 48_000 },
    (_, i) => Math.sin(i * 0.05) * 0.6 * Math.exp(-(i % 12_000) / 2500),
  );
  return writeWave({ rate: 48_000, channels: [samples, samples] }, 16).bytes;
}

const soundRows: string[][] = [];
/** A score and its recording of ten minutes, 48 kHz stereo, dropped together. */
async function measureSound(notes: number) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`http://127.0.0.1:${port}/`);
  await page.getByRole('heading', { name: 'Nothing is on the desk yet' }).waitFor();
  const bytes = benchSong({ notes, tracks: 16 });
  const before = pageMemory().now;
  await watchLongTasks(page);
  // Files on the disk, as a person has them: the page holds none of them before it reads them.
  const folder = mkdtempSync(join(tmpdir(), 'bench-'));
  writeFileSync(join(folder, 'bench.mid'), bytes);
  writeFileSync(join(folder, 'bench.wav'), tenMinutes());
  await page.evaluate(() => {
    const input = document.createElement('input');
    input.type = 'file';
    input.multiple = true;
    input.id = 'bench-files';
    document.body.append(input);
  });
  await page
    .locator('#bench-files')
    .setInputFiles(['bench.mid', 'bench.wav'].map((f) => join(folder, f)));
  const from = Date.now();
  await page.evaluate(() => {
    const input = document.querySelector<HTMLInputElement>('#bench-files')!;
    const data = new DataTransfer();
    for (const file of input.files!) data.items.add(file);
    document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true }));
  });
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: /^Timing/ })
    .click();
  await page.getByText(/48 kHz, 2 channels/).waitFor({ timeout: 120_000 });
  const heard = Date.now() - from;
  const opening = await longTasks(page);
  await page.waitForTimeout(4000);
  await longTasks(page);
  const frames = await scrolled(page);
  const tasks = await longTasks(page);
  const most = (list: number[]) =>
    list.length === 0 ? 'none' : `${list.length}, longest ${Math.round(Math.max(...list))} ms`;
  const { most: peak, now } = pageMemory();
  soundRows.push([
    `${notes.toLocaleString('en-GB')} notes, 10 minutes`,
    `${(heard / 1000).toFixed(1)} s`,
    most(opening),
    `${p95(frames).toFixed(1)} ms`,
    most(tasks),
    `${Math.round(peak - before)} MB`,
    `${Math.round(now - before)} MB`,
  ]);
  console.log(soundRows.at(-1)!.join('  |  '));
  rmSync(folder, { recursive: true });
  await page.close();
}

async function measure(name: string, bytes: Uint8Array, target = 'Lantern rail') {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`http://127.0.0.1:${port}/`);
  await page.getByRole('heading', { name: 'Nothing is on the desk yet' }).waitFor();
  await page.evaluate((base64) => {
    const binary = atob(base64);
    const data = new Uint8Array(binary.length);
    for (let i = 0; i < binary.length; i++) data[i] = binary.charCodeAt(i);
    (window as never as { file: File }).file = new File([data], 'bench.mid');
  }, Buffer.from(bytes).toString('base64'));
  await watchLongTasks(page);
  const dropped = () =>
    page.evaluate(async () => {
      const data = new DataTransfer();
      data.items.add((window as never as { file: File }).file);
      const from = performance.now();
      document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true }));
      while (!document.querySelector('.paper canvas'))
        await new Promise((r) => requestAnimationFrame(r));
      await new Promise((r) => requestAnimationFrame(r));
      return performance.now() - from;
    });
  const drawn = await dropped();
  // Until all of the desk is set up: what is in front of the eye came first.
  const stands = async () => {
    await page.locator('.job[data-idle="true"] .pulse-bar').waitFor({ timeout: 60_000 });
    await page.waitForTimeout(2500);
  };
  await stands();
  const openTasks = await longTasks(page);
  // The same once more, from the list of jobs: all that is loaded and compiled at the first is there.
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  await page.locator('.paper canvas').first().waitFor({ state: 'detached' });
  await page.waitForTimeout(1500);
  await longTasks(page);
  const warm = await dropped();
  await stands();
  const warmTasks = await longTasks(page);
  // It is said what it is for: from the answer to what it comes to.
  await page.locator('.docket .target').click();
  await page.locator('.n-base-select-option').getByText(target, { exact: true }).waitFor();
  const judged = await page.evaluate(async (wanted) => {
    const option = [...document.querySelectorAll<HTMLElement>('.n-base-select-option')].find(
      (o) => o.textContent!.trim() === wanted,
    )!;
    const from = performance.now();
    option.click();
    while (!document.querySelector('.docket .tally .stop'))
      await new Promise((r) => requestAnimationFrame(r));
    return performance.now() - from;
  }, target);
  await stands();
  const judgeTasks = await longTasks(page);
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  const script = async () => {
    const { metrics } = await cdp.send('Performance.getMetrics');
    return metrics.find((m) => m.name === 'ScriptDuration')!.value * 1000;
  };
  const before = await script();
  const frames = await scrolled(page);
  const perFrame = ((await script()) - before) / frames.length;
  const scrollTasks = await longTasks(page);
  // A mend: the parts without a seat are left out, or seated, whichever stands first.
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: /^Proof/ })
    .click();
  const mend = page
    .locator('[data-code="unseated"] button')
    .filter({ hasText: /^(Leave|Seat) / })
    .first();
  let mended = NaN;
  if (await mend.count()) {
    mended = await page.evaluate(async () => {
      const button = [
        ...document.querySelectorAll<HTMLButtonElement>('[data-code="unseated"] button'),
      ].find((b) => /^(Leave|Seat) /.test(b.textContent!.trim()))!;
      const from = performance.now();
      button.click();
      while (document.querySelector('[data-code="unseated"]'))
        await new Promise((r) => requestAnimationFrame(r));
      return performance.now() - from;
    });
  }
  const most = (list: number[]) =>
    list.length === 0 ? 'none' : `${list.length}, longest ${Math.round(Math.max(...list))} ms`;
  rows.push([
    name,
    `${Math.round(drawn)} ms`,
    most(openTasks),
    `${Math.round(warm)} ms`,
    most(warmTasks),
    `${Math.round(judged)} ms`,
    most(judgeTasks),
    `${p95(frames).toFixed(1)} ms`,
    `${perFrame.toFixed(2)} ms`,
    most(scrollTasks),
    `${Math.round(mended)} ms`,
  ]);
  console.log(rows.at(-1)!.join('  |  '));
  await page.close();
}

let fitted = '';
/** Forty songs tried on every target, while frames are counted: the interface stays live. */
async function measureFit() {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`http://127.0.0.1:${port}/fit`);
  await page.locator('.choose .n-tag').first().waitFor({ state: 'attached' });
  const songs = mendingSongs().slice(0, 40);
  await page.evaluate(
    (list) => {
      const data = new DataTransfer();
      for (const { name, base64 } of list)
        data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
      (window as never as { songs: DataTransfer }).songs = data;
    },
    songs.map(({ name, bytes }) => ({ name, base64: Buffer.from(bytes).toString('base64') })),
  );
  await watchLongTasks(page);
  const { ms, gaps } = await page.evaluate(async () => {
    const { songs: dataTransfer } = window as never as { songs: DataTransfer };
    const frame = () => new Promise((r) => requestAnimationFrame(r));
    const from = performance.now();
    document.body.dispatchEvent(new DragEvent('drop', { dataTransfer, bubbles: true }));
    const stopping = () => /Stop at/.test(document.querySelector('.choose')!.textContent!);
    while (!stopping()) await frame();
    const intervals: number[] = [];
    let last = performance.now();
    while (stopping()) {
      await frame();
      intervals.push(performance.now() - last);
      last = performance.now();
    }
    return { ms: last - from, gaps: intervals };
  });
  const tasks = await longTasks(page);
  const longest =
    tasks.length === 0 ? 'none' : `${tasks.length}, longest ${Math.round(Math.max(...tasks))} ms`;
  fitted = `${songs.length} songs on ${builtInTargets.length} targets: ${(ms / 1000).toFixed(1)} s; frame interval p95 ${p95(gaps).toFixed(1)} ms; long tasks: ${longest}.`;
  console.log(fitted);
  await page.close();
}

const only = process.argv.find((a) => ['sound', 'fit', 'curves'].includes(a));
try {
  if (!only || only === 'fit') await measureFit();
  if (!only || only === 'sound') await measureSound(10_000);
  if (!only) {
    await measure('10 thousand notes', benchSong({ notes: 10_000, tracks: 8 }));
    await measure('100 thousand notes', benchSong({ notes: 100_000, tracks: 16 }));
    await measure('1 million notes', benchSong({ notes: 1_000_000, tracks: 16 }));
  }
  if (!only || only === 'curves') {
    await measure('1 million values', benchCurves(1_000_000), 'Lamp gallery');
  }
} finally {
  await browser.close();
  server.kill();
}
if (only) process.exit(0);
const head = [
  'file',
  'drop to first notes',
  'long tasks on opening',
  'the second file',
  'long tasks',
  'what it is for to its stops',
  'long tasks then',
  'frame interval, p95',
  'script a frame, mean',
  'long tasks while scrolling',
  'mend to result',
];
writeFileSync(
  'bench/browser.md',
  [
    '# In the browser',
    '',
    `Written by \`npm run bench:browser\`; Chromium without a GPU, 1280 × 800. A long task is one over 50 ms on the main thread.`,
    '',
    `| ${head.join(' | ')} |`,
    `|${' --- |'.repeat(head.length)}`,
    ...rows.map((r) => `| ${r.join(' | ')} |`),
    '',
    'A recording beside it: 48 kHz stereo, 220 MB as samples; memory is that of the page above what it',
    'had before the drop, the file of 110 MB in it included.',
    '',
    '| file | drop to measured | long tasks until then | frame interval, p95 | long tasks while scrolling | memory at most | memory after |',
    `|${' --- |'.repeat(7)}`,
    ...soundRows.map((r) => `| ${r.join(' | ')} |`),
    '',
    `Fit: ${fitted}`,
    '',
  ].join('\n'),
);
