import { expect, it } from 'vitest';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { proof } from '../rules/proof';
import { baseOf } from './base';
import { runPlan } from './run';
import { isJudgedBehind, judgedBehind, Trials } from './trial';

/** Every way of a finding of a song on a target, the cheapest first, in words. */
function waysOf(source: ReturnType<typeof song>, id: string, code: string) {
  const target = builtIn(id);
  const base = baseOf(source);
  const { rendition } = runPlan({ base, target, plan: { steps: [] } });
  const findings = proof({ rendition, target, base });
  const finding = findings.find((f) => f.code === code)!;
  expect(isJudgedBehind(finding)).toBe(true);
  const trials = new Trials(base, target);
  return finding.mends
    .map((mend) => {
      const trial = trials.try(rendition, mend);
      const after = proof({ rendition: trial.rendition, target, base });
      return { title: mend.title, ...judgedBehind(trial, findings, after) };
    })
    .sort((a, b) => a.cost - b.cost);
}

/** Cues 300 ms apart at 100 BPM, half of that time apart where the tempo is 50. */
const cues = new Track('Cues');
for (let i = 0; i < 16; i++) cues.note(16, i * 240, 120, 40 + (i % 8), 90);
for (let i = 0; i < 16; i++) cues.note(16, 4000 + i * 120, 60, 40 + (i % 8), 90);

it('a tempo under which the target’s own times stay kept comes first, with the drift told', () => {
  // A slow second half: at the tempo of the first its cues stand within 250 ms of each other.
  const ways = waysOf(
    song([conductor(100).tempo(4000, 50), cues]),
    'lantern-rail',
    'tempo-changes',
  );
  expect(ways[0]!.title).toBe('Hold clock time at 100 BPM');
  expect(ways[0]!.costs).not.toMatch(/then/);
  const bars = ways.filter((w) => w.title.startsWith('Hold the bars'));
  expect(bars.length).toBe(2);
  for (const way of bars) expect(way.title).toMatch(/: up to [\d,.]+ ms beside the clock$/);
  // By the tempo that lasts as long the clock agrees again at the end: the drift is the smaller.
  expect(bars.at(-1)!.costs).toMatch(
    /, then 2 stops: notes off their clock time, notes too close together$/,
  );
});

it('told drift is the drift that notes have', () => {
  const source = song([conductor(100).tempo(1920, 120), cues]);
  const [way] = waysOf(source, 'lantern-rail', 'tempo-changes').filter((w) =>
    w.title.startsWith('Hold the bars at 100'),
  );
  const { notes } = source.score.parts.find((p) => p.notes.count > 0)!;
  const end = notes.end[notes.count - 1]!;
  // At 120 a quarter lasts 100 ms less than at 100.
  const meant = ((end - 1920) / 480) * 100;
  expect(way!.title).toContain(`up to ${Math.round(meant).toLocaleString('en-GB')} ms`);
});
