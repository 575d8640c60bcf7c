import type { Component } from 'vue';
import RehearsalPanel from '../rehearsal/RehearsalPanel.vue';
import SceneView from '../rehearsal/SceneView.vue';
import HandoverPanel from './HandoverPanel.vue';
import IntakePanel from './IntakePanel.vue';
import MarginColumn from '../margin/MarginColumn.vue';
import SeatingPanel from './SeatingPanel.vue';
import { TIMING_RULES } from './timing/timing-rules';
import TimingPanel from './timing/TimingPanel.vue';

/** A stage of a job that does something: its knot on the thread, its panel, what it settles. */
export interface StageDef {
  readonly id: string;
  readonly name: string;
  /** Within a sentence: "On to seating". */
  readonly onTo: string;
  readonly panel: Component;
  /** What stands above the sheet there. */
  readonly above?: Component;
  /** Work is done in its panel: it opens wider. */
  readonly wide?: true;
  /** The rules whose stops it is there to settle; null where it counts them all. */
  readonly settles: ReadonlySet<string> | null;
}

/** In the order of the work. */
export const STAGES = [
  {
    id: 'intake',
    name: 'Intake',
    onTo: 'On to intake',
    panel: IntakePanel,
    settles: new Set(['damage', 'sequences', 'division']),
  },
  {
    id: 'seating',
    name: 'Seating',
    onTo: 'On to seating',
    panel: SeatingPanel,
    wide: true,
    settles: new Set(['seating', 'nothing-delivered', 'channels', 'places']),
  },
  {
    id: 'timing',
    name: 'Timing',
    onTo: 'On to timing',
    panel: TimingPanel,
    wide: true,
    settles: TIMING_RULES,
  },
  { id: 'proof', name: 'Proof', onTo: 'On to proof', panel: MarginColumn, settles: null },
  {
    id: 'rehearsal',
    name: 'Rehearsal',
    onTo: 'On to the rehearsal',
    panel: RehearsalPanel,
    above: SceneView,
    settles: null,
  },
  {
    id: 'handover',
    name: 'Handover',
    onTo: 'On to the handover',
    panel: HandoverPanel,
    settles: null,
  },
] as const satisfies readonly StageDef[];

export type Stage = (typeof STAGES)[number]['id'];

export const stageOf = (id: unknown): StageDef & { readonly id: Stage } =>
  STAGES.find((s) => s.id === id) ?? STAGES[3];

export const stageAfter = (id: Stage): (StageDef & { readonly id: Stage }) | null =>
  STAGES[STAGES.findIndex((s) => s.id === id) + 1] ?? null;
