import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { conductor, rows, song, Track } from '../../../testing/score-builder';
import { META_LYRIC } from '../../../demo/song';
import { testStep } from '../../../testing/step-tester';
import { baseOf } from '../plan/base';
import { runStep } from '../plan/run-step';
import { renditionOf, targetWith } from '../../../testing/score-builder';
import type { Rendition } from '../score/piece';
import { steps } from './index';

const ADVANCE = 36;
/** Words at beats 4, 8 and 12, with advances as they are said. */
const sung = (advances: readonly number[], words: readonly number[] = [1920, 3840, 5760]) => {
  const voice = new Track('Voice');
  words.forEach((tick, i) =>
    voice.meta(tick, META_LYRIC, new TextEncoder().encode(`line ${i + 1}\n`)),
  );
  const turns = new Track('Turns');
  for (const tick of advances) turns.note(1, tick, 120, ADVANCE, 90);
  return song([conductor(), voice, turns.note(1, 0, 100, 60, 90)]);
};
const startsOf = (r: Rendition) =>
  r.pieces[0]!.score.parts.flatMap((p) => rows(p.notes))
    .filter((n) => n[2] === ADVANCE)
    .map((n) => n[0])
    .sort((a, b) => a! - b!);

/** The step behind the one that makes captions of the lyrics. */
const withCaptions = (advances: readonly number[], step: string, params: object) => {
  const source = sung(advances);
  const base = baseOf(source);
  const lines = [1920, 3840, 5760].map((tick, i) => ({ tick, text: `line ${i + 1}` }));
  const start = renditionOf(source, targetWith({ seats: [] }));
  const before: Rendition = { pieces: start.pieces.map((p) => ({ ...p, captions: lines })) };
  const { rendition, outcome } = runStep(before, { step, params, scope: {} }, base);
  return { rendition, outcome };
};

testStep('turn-in-time', [
  {
    name: 'without captions there is nothing to turn',
    source: sung([1900]),
    params: { noteNumber: ADVANCE, leadLeastMs: 100 },
    refused: /no captions/,
  },
]);
testStep('advance-each', [
  {
    name: 'without captions there is nothing to advance to',
    source: sung([1900]),
    params: { noteNumber: ADVANCE, withinMs: 500 },
    refused: /no captions/,
  },
]);

it('advances that come too late are moved by the least, those that come too soon as well', () => {
  // At 120 BPM 96 ticks are 100 ms.
  const params = { noteNumber: ADVANCE, leadLeastMs: 100, leadMostMs: 500 };
  const { rendition, outcome } = withCaptions([1900, 3700, 4000], 'turn-in-time', params);
  expect(outcome.refused).toBeNull();
  expect(startsOf(rendition)).toEqual([1920 - 96, 3700, 5760 - 480]);
  const clean = withCaptions([1800, 3700, 5600], 'turn-in-time', params);
  expect(startsOf(clean.rendition)).toEqual([1800, 3700, 5600]);
});

it('each caption has one advance: the nearest stays, a missing one is added, others go', () => {
  const params = { noteNumber: ADVANCE, withinMs: 300 };
  const { rendition, outcome } = withCaptions([1700, 1900, 2600, 5700], 'advance-each', params);
  expect(startsOf(rendition)).toEqual([1900, 3840, 5700]);
  expect(outcome.effect).toMatchObject({ notesAdded: 1, notesDropped: 2 });
  // What is no advance stays.
  const others = rendition.pieces[0]!.score.parts.flatMap((p) => rows(p.notes));
  expect(others.filter((n) => n[2] === 60)).toHaveLength(1);
  // Done once, there is nothing more to do.
  const again = withCaptions([1900, 3840, 5700], 'advance-each', params);
  expect(again.outcome.effect).toMatchObject({ notesAdded: 0, notesDropped: 0 });
});

it('where captions follow each other too soon, what is added turns to them sooner', () => {
  // At 120 BPM 384 ticks are 400 ms; the words stand 100 and 200 ms behind each other.
  const source = sung([1700], [1920, 2016, 2208, 3840]);
  const lines = [1920, 2016, 2208, 3840].map((tick, i) => ({ tick, text: `line ${i + 1}` }));
  const start = renditionOf(source, targetWith({ seats: [] }));
  const before: Rendition = { pieces: start.pieces.map((p) => ({ ...p, captions: lines })) };
  const params = { noteNumber: ADVANCE, withinMs: 2000, apartMs: 400 };
  const run = (params: object) =>
    runStep(before, { step: 'advance-each', params, scope: {} }, baseOf(source)).rendition;
  expect(startsOf(run(params))).toEqual([1440, 1824, 2208, 3840]);
  // What would be too long before its word stays at it.
  expect(startsOf(run({ ...params, withinMs: 60, apartMs: 400 }))).toEqual([
    1920, 2016, 2208, 3840,
  ]);
});

it('every step there is went through the tester of steps', () => {
  const files = (folder: URL): string[] =>
    readdirSync(folder, { withFileTypes: true }).flatMap((e) =>
      e.isDirectory()
        ? files(new URL(`${e.name}/`, folder))
        : e.name.endsWith('.test.ts')
          ? [readFileSync(new URL(e.name, folder), 'utf8')]
          : [],
    );
  const tests = files(new URL('./', import.meta.url)).join('\n');
  const untested = steps.filter((s) => !tests.includes(`testStep('${s.id}'`)).map((s) => s.id);
  expect(untested).toEqual([]);
});
