import type { Happening, Played } from '../src/core/standin/played';
import { builtInTargets } from '../src/core/target/index';
import { aFewNotes } from '../src/app/rehearsal/a-few-notes';
import { Pen } from '../src/app/rehearsal/pen';
import { sceneOf } from '../src/app/rehearsal/scenes';
import { PALETTES } from '../src/app/theme/tokens';

/**
 * What a picture of each scene costs with 100,000 happenings, without the painting itself: `npm run
 * bench scenes`. A picture of sixty a second has 16.7 ms, and half of that is for what is asked of it.
 */
const COUNT = 100_000;
const context = new Proxy(
  {},
  {
    get: (_, name) =>
      name === 'measureText' ? (t: string) => ({ width: t.length * 7 }) : () => undefined,
    set: () => true,
  },
) as CanvasRenderingContext2D;
globalThis.Path2D ??= class {} as typeof Path2D;

console.log('| target | loaded, ms | a picture: middle, ms | slowest of 300 |');
console.log('| --- | --- | --- | --- |');
for (const target of builtInTargets) {
  const few = aFewNotes(target);
  // The few notes again and again, sixteen at once at the densest.
  const events: Happening[] = [];
  for (let i = 0; events.length < COUNT; i++)
    for (const e of few.events)
      if (events.length < COUNT) events.push({ ...e, atUs: e.atUs / 8 + i * 90_000 });
  events.sort((a, b) => a.atUs - b.atUs);
  const last = events.at(-1)!.atUs;
  const played: Played = { ...few, events, lengthUs: last + 1_000_000 };
  const from = performance.now();
  const scene = sceneOf(target).load(played, target);
  const loaded = performance.now() - from;
  const pen = new Pen(context, 1000, 420, PALETTES.paper, false);
  const took: number[] = [];
  for (let i = 0; i < 300; i++) {
    const at = performance.now();
    scene.draw(pen, scene.at((last * i) / 300), null);
    took.push(performance.now() - at);
  }
  took.sort((a, b) => a - b);
  const ms = (n: number) => n.toFixed(2);
  console.log(`| ${target.id} | ${ms(loaded)} | ${ms(took[150]!)} | ${ms(took.at(-1)!)} |`);
}
