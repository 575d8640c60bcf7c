import { sayDamage } from '../core/diagnostic/damage';
import { holdAgainstExamples, readTargetPack } from '../core/handover/target-pack';
import { observe } from '../core/learning/observe';
import { separate } from '../core/learning/separate';
import { describeExample } from '../core/outputs/example/describe';
import { baseOf } from '../core/plan/base';
import { runPlan } from '../core/plan/run';
import { openSource, type SourceScore } from '../core/sources/source';
import type { Known } from './known';
import type { Engine } from './protocol';

/** Calls that learn from files somebody brings: each comes with its bytes, and nothing is kept. */
export const learningCalls = (
  answer: Known['answer'],
): Pick<Engine, 'describe' | 'separate' | 'readPack'> => ({
  describe: (call, request, progress) =>
    answer(call, progress, () => {
      const opened = scoreOf(request.score, request.scoreName);
      if ('problem' in opened) return opened;
      const { target } = request;
      const { rendition } = runPlan({ base: baseOf(opened.source), target, plan: { steps: [] } });
      const bytes = new Uint8Array(request.bytes);
      return describeExample(bytes, request.name, rendition.pieces[0]!, target);
    }),

  separate: (call, request, progress) =>
    answer(call, progress, (checkpoint) => {
      const trials = [];
      for (const [i, { name, bytes, taken }] of request.trials.entries()) {
        checkpoint(i, request.trials.length);
        const opened = scoreOf(bytes, name);
        if ('problem' in opened)
          return { proposals: [], unexplained: [], advice: null, problem: opened.problem };
        trials.push({ name, taken, observed: observe(opened.source, bytes.byteLength) });
      }
      const { proposals, unexplained, advice } = separate(trials, request.amiss);
      return {
        proposals: proposals.map(({ says, twins, nearest, sets }) => ({
          says,
          twins,
          nearest,
          sets,
        })),
        unexplained,
        advice,
        problem: null,
      };
    }),

  readPack: (call, bytes, progress) =>
    answer(call, progress, () => {
      const { pack, problems } = readTargetPack(new Uint8Array(bytes));
      if (!pack) return { problems };
      return { target: pack.target, results: holdAgainstExamples(pack), problems: [] as const };
    }),
});

function scoreOf(buffer: ArrayBuffer, name: string): { source: SourceScore } | { problem: string } {
  const opened = openSource(new Uint8Array(buffer), { key: 'main', name, sha256: name });
  if (opened.source) return { source: opened.source };
  return { problem: `${name}: ${opened.damage.map(sayDamage)[0] ?? 'It was not read.'}` };
}
