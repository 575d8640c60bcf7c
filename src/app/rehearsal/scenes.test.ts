import { seatsIn } from './seats';
import { describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { deliver, toldSteps } from '../../../testing/rehearsing';
import { weekSource, targetWith } from '../../../testing/score-builder';
import { rehearse } from '../../core/standin/index';
import type { Played } from '../../core/standin/played';
import { builtInTargets, findTarget } from '../../core/target/index';
import { PALETTES } from '../theme/tokens';
import { aFewNotes, PICTURE_US } from './a-few-notes';
import type { StrikeHands } from './hands/strikes';
import { Pen } from './pen';
import { sceneOf, scenes } from './scenes';
import { boardOf } from './scenes/crate';
import { FLASH_US, Timeline } from './timeline';

/** A canvas that notes every number it is given, and every word. */
function paper() {
  const numbers: number[] = [];
  const words: string[] = [];
  const context = new Proxy(
    {},
    {
      get: (_, name) =>
        name === 'measureText'
          ? (text: string) => ({ width: text.length * 7 })
          : (...given: unknown[]) => {
              for (const g of given) if (typeof g === 'number') numbers.push(g);
              if (name === 'fillText') words.push(String(given[0]));
            },
      set: () => true,
    },
  ) as CanvasRenderingContext2D;
  return { context, numbers, words };
}
globalThis.Path2D ??= class {} as typeof Path2D;

const SILENT: Played = { lengthUs: 0, events: [], refused: [], dropped: [], shows: [] };
const played = (id: string, mended: boolean) => {
  const job = week.find((j) => j.targets.some((t) => t.id === id))!;
  const target = findTarget(id)!;
  const source = weekSource(job);
  const { files } = deliver(source, target, { steps: toldSteps(target), mended });
  return rehearse(files, target);
};

describe('a scene for every target', () => {
  it('is chosen by what the target’s data says, each scene by one of them at least', () => {
    const chosen = builtInTargets.map((t) => sceneOf(t).id);
    expect(new Set(chosen)).toEqual(new Set(scenes.map((s) => s.id)));
    // Names are no part of it: the same data under another name has the same scene.
    for (const t of builtInTargets)
      expect(sceneOf({ ...t, id: 'my-own', name: 'My own' }).id).toBe(sceneOf(t).id);
    expect(sceneOf(targetWith({})).id).toBe('keyboard');
  });
  it.each(builtInTargets.map((t) => t.id))(
    '%s: at rest, while it plays, at a drop and at the end: drawn whole, and said',
    (id) => {
      const target = findTarget(id)!;
      for (const mended of [true, false]) {
        const heard = played(id, mended);
        const scene = sceneOf(target).load(heard, target);
        const times = [
          0,
          ...heard.events.filter((_, i) => i % 37 === 0).map((e) => e.atUs + 1000),
          ...heard.dropped.slice(0, 5).map((d) => d.atUs + 1000),
          heard.lengthUs,
          heard.lengthUs + 5_000_000,
        ];
        for (const us of times.slice(0, 60))
          for (const [w, h] of [
            [1000, 420],
            [300, 130],
          ] as const) {
            const { context, numbers, words } = paper();
            const state = scene.at(us);
            scene.draw(new Pen(context, w, h, PALETTES.paper, false), state, null);
            expect(numbers.every(Number.isFinite), `${id} at ${us}`).toBe(true);
            expect(scene.describe(state)).toMatch(/^[^{}]{4,}$/);
            expect([...words, scene.describe(state)].join()).not.toMatch(/undefined|NaN|null/);
          }
        // A state is a matter of the time alone.
        expect(scene.describe(scene.at(times[1] ?? 0))).toBe(
          scene.describe(scene.at(times[1] ?? 0)),
        );
      }
    },
    60_000,
  );
  it.each(builtInTargets.map((t) => t.id))('%s: where nothing was loaded, it says so', (id) => {
    const target = findTarget(id)!;
    const { context, numbers } = paper();
    const scene = sceneOf(target).load(SILENT, target);
    scene.draw(new Pen(context, 640, 360, PALETTES.booth, true), scene.at(1_000_000), null);
    expect(numbers.every(Number.isFinite)).toBe(true);
    expect(scene.describe(scene.at(0)).length).toBeGreaterThan(4);
  });
});

describe('what is seen is what the device played', () => {
  it('each note of the log is lit in its time, and in no other', () => {
    const heard = played('lantern-rail', true);
    const target = findTarget('lantern-rail')!;
    const scene = sceneOf(target).load(heard, target) as unknown as {
      at(us: number): { lit: ReadonlySet<number> };
    };
    for (const e of heard.events) {
      expect(scene.at(e.atUs + 1000).lit.has(e.key)).toBe(true);
      const others = heard.events.filter((o) => o.key === e.key && o !== e);
      const before = e.atUs - 1000;
      if (
        others.every(
          (o) => o.atUs > e.atUs || o.atUs + Math.max(FLASH_US, o.lengthUs ?? 0) < before,
        )
      )
        expect(scene.at(before).lit.has(e.key)).toBe(false);
    }
  });
  it('of a hundred thousand happenings those of a moment are found', () => {
    const events = Array.from({ length: 100_000 }, (_, i) => ({
      atUs: i * 3000,
      lengthUs: 40_000,
      kind: 'note' as const,
      seat: `channel ${(i % 16) + 1}`,
      key: 36 + (i % 48),
      file: 'a.mid',
    }));
    const line = new Timeline({ ...SILENT, lengthUs: 300_000_000, events });
    expect(line.sounding(150_000_000 + 1).length).toBe(Math.ceil(FLASH_US / 3000));
  });
});

describe('a device in hand', () => {
  it.each(builtInTargets.filter((t) => sceneOf(t).takes).map((t) => t.id))(
    '%s: everything can be pressed, and is drawn as it is',
    (id) => {
      const target = findTarget(id)!;
      const heard = played(id, true);
      const { takes } = sceneOf(target);
      const choices = takes!.choices?.(heard, target) ?? [];
      for (const choice of [null, ...choices.slice(0, 3).map((c) => c.id)]) {
        const hands = takes!.load(heard, target, choice)!;
        expect(hands.doings.length).toBeGreaterThan(1);
        const codes = hands.doings.flatMap((d) => d.codes);
        // No two doings share a key, whatever the kind of key.
        expect(new Set(codes).size).toBe(codes.length);
        const scene = sceneOf(target).load(heard, target);
        let us = 100_000;
        for (const d of hands.doings) {
          const last = hands.press(d.id, us);
          hands.pass(us + 30_000);
          const { context, numbers, words } = paper();
          const seen = { hands, us, held: new Set([d.id]), last, keyOf: () => 'K' };
          scene.draw(new Pen(context, 800, 360, PALETTES.paper, false), scene.at(us), seen);
          hands.release(d.id, us + 40_000);
          expect(numbers.every(Number.isFinite)).toBe(true);
          expect(words.join()).not.toMatch(/undefined|NaN|null/);
          expect(hands.says()).toMatch(/^[A-Z0-9].*\.$/);
          us += 400_000;
        }
      }
    },
  );
  it('strikes of a duel that are pressed on their time are on it', () => {
    const target = findTarget('marsh-duel')!;
    const heard = played('marsh-duel', true);
    const hands = sceneOf(target).takes!.load(heard, target, 'both') as StrikeHands;
    const of = (e: { seat: string; key: number }) =>
      hands.doings.find((d) => d.lanes.some((l) => l.seat === e.seat && l.key === e.key))!.id;
    const done = new Set<string>();
    hands.pass(0);
    for (const e of heard.events) {
      // A lane that both share is pressed once for both.
      const press = `${of(e)} ${e.atUs}`;
      if (done.has(press)) continue;
      done.add(press);
      hands.pass(e.atUs);
      hands.press(of(e), e.atUs);
    }
    hands.pass(heard.lengthUs + 1_000_000);
    expect(hands.tally.missed).toBe(0);
    expect(hands.tally.struck).toBe(heard.events.length);
    expect(hands.tally.errorsMs.every((ms) => ms === 0)).toBe(true);
  });
});

describe('the picture of a target', () => {
  it.each(builtInTargets.map((t) => t.id))(
    '%s: a few notes that it would take, drawn small',
    (id) => {
      const target = findTarget(id)!;
      const few = aFewNotes(target);
      expect(few.events.length).toBeGreaterThan(10);
      for (let i = 1; i < few.events.length; i++)
        expect(few.events[i]!.atUs).toBeGreaterThanOrEqual(few.events[i - 1]!.atUs);
      const { context, numbers, words } = paper();
      const scene = sceneOf(target).load(few, target);
      const pen = new Pen(context, 420, 180, PALETTES.booth, true, true);
      scene.draw(pen, scene.at(PICTURE_US), null);
      expect(numbers.length).toBeGreaterThan(20);
      expect(numbers.every(Number.isFinite)).toBe(true);
      // Words would be too small to be read: they are lines.
      expect(words).toEqual([]);
    },
  );
});

it('seats that the target does not name stand in the order of their numbers, behind its own', () => {
  const event = (seat: string) =>
    ({ atUs: 0, kind: 'note', seat, key: 60, file: 'a.mid' }) as const;
  const played = ['channel 10', 'channel 2', 'one', 'channel 1'].map(event);
  expect(seatsIn(played, targetWith({}))).toEqual(['one', 'channel 1', 'channel 2', 'channel 10']);
});

describe('the board of the crate', () => {
  const seats = findTarget('stomp-crate')!.seats.flatMap((s) => (s.kind === 'file' ? [s] : []));
  it.each([
    [420, 130],
    [690, 260],
    [1300, 420],
  ])('has every place once, none over another, at %i by %i', (width, tall) => {
    const { boxes, heads } = boardOf(seats, width, tall);
    expect(new Set(boxes.map((b) => b.seat.id)).size).toBe(seats.length);
    for (const b of boxes) {
      expect(b.x).toBeGreaterThanOrEqual(0);
      expect(b.x + b.w).toBeLessThanOrEqual(width);
      expect(b.y + b.h).toBeLessThanOrEqual(tall + 10);
      const over = boxes.filter(
        (o) => o !== b && o.x < b.x + b.w && b.x < o.x + o.w && o.y < b.y + b.h && b.y < o.y + o.h,
      );
      expect(over.map((o) => o.seat.id)).toEqual([]);
    }
    expect(heads).toHaveLength(1 + 2 * 6);
  });
  it('has crossings in a table: a row for each from, a column for each to', () => {
    const { boxes } = boardOf(seats, 690, 260);
    const crossings = boxes.filter((b) => b.seat.plays === 'crossing');
    expect(crossings).toHaveLength(30);
    const by = (of: 'from' | 'to', at: 'x' | 'y') =>
      new Set(crossings.map((b) => `${b.seat[of]} ${Math.round(b[at] * 10)}`)).size;
    expect([by('from', 'y'), by('to', 'x')]).toEqual([6, 6]);
  });
});
