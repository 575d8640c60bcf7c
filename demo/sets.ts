import { openSource } from '../src/core/sources/source';
import { baseOf } from '../src/core/plan/base';
import { mendMany } from '../src/core/plan/mend';
import type { PlanStep } from '../src/core/plan/plan';
import { runPlan } from '../src/core/plan/run';
import { findTarget } from '../src/core/target/index';
import { week } from './week';

/** A row of a set of the demo: a song, by its job and what it is for, or a text. */
export type DemoRow = { readonly job: string; readonly target: string } | { readonly text: string };

export interface DemoSet {
  readonly id: string;
  readonly title: string;
  readonly rows: readonly DemoRow[];
}

const rail = (job: string) => ({ job: `demo-${job}`, target: 'lantern-rail' });
const loft = (job: string) => ({ job: `demo-${job}`, target: 'bell-loft' });
const crate = (job: string) => ({ job: `demo-${job}`, target: 'stomp-crate' });

export const demoSets: readonly DemoSet[] = [
  {
    id: 'demo-set-rail',
    title: 'Rail, opening night',
    rows: [
      rail('turn-of-the-tide'),
      rail('ninety-lanterns'),
      loft('salt-bell-round'),
      rail('lantern-song'),
      { text: 'After the ferry has landed' },
      loft('long-causeway'),
      rail('rope-walk'),
      rail('torn-page'),
      loft('turn-of-the-tide'),
    ],
  },
  {
    id: 'demo-set-crate',
    title: 'Crate, Boathouse card',
    rows: [
      crate('quay-stomp'),
      crate('eel-market'),
      crate('parlour-evening'),
      { text: 'Encores' },
      crate('ninety-lanterns'),
      crate('turn-of-the-tide'),
      crate('last-ferry-waltz'),
    ],
  },
];

/** What mending makes of a song of the week for a target; the likeliest of each choice. */
export function mendedSteps(jobId: string, targetId: string): PlanStep[] {
  const job = week.find((j) => j.id === jobId)!;
  const target = findTarget(targetId)!;
  const named = { key: 'main', name: job.file, sha256: '0'.repeat(64) };
  const base = baseOf([openSource(job.bytes(), named).source!], undefined);
  const { rendition } = runPlan({ base, target, plan: { steps: [] } });
  const { applied } = mendMany({
    rendition,
    target,
    base,
    reach: 'keep',
    accept: true,
    leftAsIs: [],
  });
  return applied.flatMap((a, i) =>
    a.steps.map((s, k): PlanStep => ({ ...s, key: `set-mend-${i + 1}-${k + 1}` })),
  );
}

/** Songs of the sets that their jobs have no plan for by themselves, mended. */
export const setPlans = () =>
  demoSets.flatMap((set) =>
    set.rows.flatMap((row) => {
      if ('text' in row) return [];
      const job = week.find((j) => j.id === row.job)!;
      const known = job.targets.some((t) => t.id === row.target);
      return known ? [] : [{ ...row, steps: mendedSteps(row.job, row.target) }];
    }),
  );
