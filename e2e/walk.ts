import { readFileSync } from 'node:fs';
import { expect, type Download, type Locator, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { bytesOf, openDemo, settled, stage } from './desk';

/**
 * A walk of the guide, run from its own text: each numbered step is one sentence or several, and each
 * sentence has to be one that is known here. What stands in bold is what stands on the screen.
 */
export interface Walk {
  readonly title: string;
  readonly steps: readonly string[];
  /** Pictures that it shows. */
  readonly pictures: readonly string[];
  /** Words that are read on the way. */
  readonly words: number;
}

export function readWalk(path: string): Walk {
  const text = readFileSync(path, 'utf8');
  const steps: string[] = [];
  for (const line of text.split('\n')) {
    if (/^\d+\. /.test(line)) steps.push(line.replace(/^\d+\. /, ''));
    else if (/^ {3}\S/.test(line) && steps.length > 0) steps.push(`${steps.pop()} ${line.trim()}`);
  }
  return {
    title: /^# (.+)$/m.exec(text)![1]!,
    steps,
    pictures: [...text.matchAll(/!\[[^\]]*\]\(([^)]+)\)/g)].map((m) => m[1]!),
    words: text.split(/\s+/).length,
  };
}

/** What a walk keeps on its way. */
interface Way {
  readonly page: Page;
  readonly downloads: Download[];
}

const bold = (sentence: string) => [...sentence.matchAll(/\*\*([^*]+)\*\*/g)].map((m) => m[1]!);
/** The beginning of a name: counts that follow it may change. */
const named = (name: string) => new RegExp(`^${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`);
const SIDE = '.side, .docket, .head, main';

function button(page: Page | Locator, name: string): Locator {
  const exact = page.getByRole('button', { name, exact: true });
  const begins = page.getByRole('button', { name: named(name) });
  return exact.or(begins).or(page.getByRole('tab', { name: named(name) })).or(page.getByRole('link', { name: named(name) })).first(); // prettier-ignore
}

/** Each kind of sentence, and what it does. */
const SENTENCES: readonly (readonly [RegExp, (way: Way, words: readonly string[]) => Promise<unknown>])[] = [
  [/^Open the job \*\*/, async ({ page }, [title]) => {
    await openDemo(page, title!);
    await stage(page, 'Proof').click();
  }],
  [/^Go to \*\*/, async ({ page }, [name]) => {
    const spine = page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: name!, exact: true });
    if ((await spine.count()) > 0) {
      await spine.click();
      return page.waitForURL((url) => !url.pathname.startsWith('/job/'));
    }
    return stage(page, name!).click();
  }],
  [/^Press the key \*\*/, ({ page }, [key]) => page.keyboard.press(key!)],
  [/^Press \*\*[^*]+\*\* at \*\*/, ({ page }, [name, title]) =>
    button(page.locator('[data-code]').filter({ hasText: title! }).first(), name!).click()],
  [/^Press \*\*/, ({ page }, names) =>
    names.reduce((before, name) => before.then(() => button(page, name).click()), Promise.resolve())],
  [/^Type \*\*[^*]+\*\* as \*\*/, async ({ page }, [text, label]) => {
    const field = page.getByRole('textbox', { name: label!, exact: true }).first();
    await field.fill(text!);
    await field.press('Enter');
  }],
  [/^Sweep bars \*\*/, async ({ page }, [from, to]) => {
    const strip = page.locator('.song').first();
    const bars = Number(/(\d+)/.exec((await page.locator('.chips').getByRole('button').first().textContent())!)![1]);
    const box = (await strip.boundingBox())!;
    const x = (bar: string) => box.x + ((Number(bar) - 0.5) / bars) * box.width;
    await page.mouse.move(x(from!), box.y + 30);
    await page.mouse.down();
    await page.mouse.move(x(to ?? from!), box.y + 30, { steps: 3 });
    await page.mouse.up();
  }],
  [/^(Now )?[Yy]ou see \*\*/, async ({ page }, words) => {
    for (const text of words)
      await expect(page.locator(SIDE).getByText(text).first()).toBeVisible({ timeout: 20_000 });
  }],
  [/^The pack holds \*\*/, async ({ downloads }, names) => {
    await expect.poll(() => downloads.length).toBeGreaterThan(0);
    const held = Object.keys(unzipSync(await bytesOf(downloads.at(-1)!)));
    for (const name of names) expect(held.map((h) => h.split('/').at(-1))).toContain(name);
  }],
]; // prettier-ignore

/** Every sentence of every step, in order; one that is not known is a fault of the walk. */
export async function goFor(page: Page, walk: Walk): Promise<void> {
  const way: Way = { page, downloads: [] };
  const keep = (d: Download) => way.downloads.push(d);
  page.on('download', keep);
  for (const step of walk.steps)
    for (const sentence of step.split(/(?<=[.:](?:\*\*)?)\s+(?=[A-Z])/)) {
      const known = SENTENCES.find(([pattern]) => pattern.test(sentence));
      expect(known, `“${sentence}” is no sentence that can be run`).toBeDefined();
      await known![1](way, bold(sentence));
      if (page.url().includes('/job/')) await settled(page);
    }
  page.off('download', keep);
}
