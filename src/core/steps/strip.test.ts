import { describe, expect, it } from 'vitest';
import { META_LYRIC } from '../../../demo/song';
import { song, conductor, targetWith, Track } from '../../../testing/score-builder';
import { score, parts } from '../../../testing/songs';
import { testStep } from '../../../testing/step-tester';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import type { StepCall } from './call';

const texts = song([
  conductor().marker(0, 'Go'),
  new Track('A')
    .note(1, 0, 480, 60, 9)
    .text(0, META_LYRIC, 'la')
    .sysex(0, [1, 0xf7])
    .control(0, 1, 7, 9)
    .control(0, 1, 10, 9),
  new Track('B').note(1, 0, 9, 62, 9),
]);

testStep('strip', [
  {
    name: 'text and markers',
    source: texts,
    params: { kinds: ['text', 'markers'] },
    effect: { events: 2 },
    expect: (after) => expect(score(after).conductor.markers).toEqual([]),
  },
  {
    name: 'one controller',
    source: texts,
    params: { kinds: ['controllers'], controllers: [10] },
    effect: { events: 1 },
    expect: (after) => expect([...parts(after)[0]!.events.data1]).toEqual([7]),
  },
  {
    name: 'names beyond the first',
    source: texts,
    params: { kinds: ['track names'], keepNames: 1 },
    effect: { events: 1 },
    expect: (after) => expect(score(after).tracks.map((t) => t.name)).toEqual([null, 'A', null]),
  },
]);

testStep('drop-duplicates', [
  {
    name: 'keeps the first of equal values',
    source: song([
      conductor(),
      new Track('A')
        .note(1, 0, 480, 60, 9)
        .note(1, 0, 240, 60, 9)
        .control(0, 1, 7, 9)
        .control(5, 1, 7, 9)
        .control(6, 1, 7, 10)
        .control(7, 1, 7, 9),
    ]),
    params: { notes: true, events: true },
    effect: { notesDropped: 1, events: 1 },
  },
  {
    name: 'one of what two parts of a channel strike at once: the longest, then the loudest',
    source: song([
      conductor(),
      new Track('A').note(10, 0, 240, 36, 90).note(10, 480, 240, 36, 90),
      new Track('B').note(10, 0, 480, 36, 50).note(10, 480, 240, 36, 99).note(10, 480, 9, 38, 9),
      new Track('C').note(1, 480, 240, 36, 127),
    ]),
    params: { notes: true, events: false, between: true },
    effect: { notesDropped: 2 },
    expect: (after) =>
      expect(parts(after).map((p) => [...p.notes.velocity])).toEqual([[], [50, 99, 9], [127]]),
  },
]);

describe('text of a track that is not written', () => {
  it('is taken out, and is no loss: it would not go out', () => {
    const base = baseOf(texts);
    const call = (step: string, params: unknown, more: Partial<StepCall> = {}) => ({
      ...{ key: step, step, params, scope: {}, on: true },
      ...more,
    });
    const lost = (...before: ReturnType<typeof call>[]) => {
      const steps = [...before, call('strip', { kinds: ['text'] })];
      const { outcomes } = runPlan({ base, target: targetWith({}), plan: { steps } });
      return outcomes.at(-1)!.losses.filter((l) => l.count > 0);
    };
    expect(lost()).toEqual([{ what: 'text', count: 1 }]);
    const layout = call('set-format', { layout: 'conductor-first', format: 1 });
    const ref = base.rendition.pieces[0]!.score.parts[0]!.ref;
    expect(lost(layout, call('leave-out', {}, { scope: { parts: [ref] } }))).toEqual([]);
  });
});
