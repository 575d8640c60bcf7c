import { defineAsyncComponent, type Component } from 'vue';
import { count } from '../../core/target/words';
import MarginColumn from '../margin/MarginColumn.vue';
import { TIMING_RULES } from './timing/timing-rules';

/** How a stage stands: its knot on the thread, and in words. */
export interface StageState {
  readonly is: 'nothing' | 'order' | 'stops';
  readonly says: string;
}

/** What of a job the knots are told by. */
export interface JobStands {
  /** Open stops that a set of rules found; all of them where none is named. */
  readonly stops: (rules: ReadonlySet<string> | null) => number;
  /** Something was held against a target, and it stands. */
  readonly judged: boolean;
  readonly stopped: boolean;
  readonly handovers: number;
}

/** What the one button of the docket does there; null where it leads on to the next stage. */
export interface MainAction {
  readonly label: string;
  readonly does: 'mend-lossless' | 'next-stop' | 'hand-over';
}

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
  state(job: JobStands): StageState;
  /**
   * @param lossless findings that a mend without loss would end
   * @param stops stops that are open
   */
  mainAction?(lossless: number, stops: number): MainAction | null;
}

/** By the stops that a stage is there to settle. */
const byStops =
  (rules: ReadonlySet<string> | null) =>
  ({ stops, judged, stopped }: JobStands): StageState => {
    const open = stops(rules);
    if (open > 0) return { is: 'stops', says: count(open, 'stop') };
    if (judged) return { is: 'order', says: 'in order' };
    return { is: 'nothing', says: stopped ? 'not proofed' : 'nothing done' };
  };

/** Loaded when its stage is opened first. */
const later = (load: Parameters<typeof defineAsyncComponent>[0]) => defineAsyncComponent(load);
const INTAKE = new Set(['damage', 'sequences', 'division']);
const SEATING = new Set(['seating', 'nothing-delivered', 'channels', 'places']);

/** In the order of the work. */
export const STAGES = [
  {
    id: 'intake',
    name: 'Intake',
    onTo: 'On to intake',
    panel: later(() => import('./IntakePanel.vue')),
    settles: INTAKE,
    state: byStops(INTAKE),
  },
  {
    id: 'seating',
    name: 'Seating',
    onTo: 'On to seating',
    panel: later(() => import('./SeatingPanel.vue')),
    wide: true,
    settles: SEATING,
    state: byStops(SEATING),
  },
  {
    id: 'timing',
    name: 'Timing',
    onTo: 'On to timing',
    panel: later(() => import('./timing/TimingPanel.vue')),
    wide: true,
    settles: TIMING_RULES,
    state: byStops(TIMING_RULES),
  },
  {
    id: 'proof',
    name: 'Proof',
    onTo: 'On to proof',
    panel: MarginColumn,
    settles: null,
    state: byStops(null),
    mainAction(lossless: number, stops: number): MainAction | null {
      if (lossless > 0)
        return { label: `Mend what loses nothing (${lossless})`, does: 'mend-lossless' };
      if (stops > 0)
        return {
          label: stops > 1 ? `To the next stop (${stops})` : 'To the stop',
          does: 'next-stop',
        };
      return null;
    },
  },
  {
    id: 'rehearsal',
    name: 'Rehearsal',
    onTo: 'On to the rehearsal',
    panel: later(() => import('../rehearsal/RehearsalPanel.vue')),
    above: later(() => import('../rehearsal/SceneView.vue')),
    settles: null,
    state: byStops(null),
  },
  {
    id: 'handover',
    name: 'Handover',
    onTo: 'On to the handover',
    panel: later(() => import('./HandoverPanel.vue')),
    settles: null,
    state: ({ handovers }: JobStands): StageState =>
      handovers > 0
        ? { is: 'order', says: `handed over ${count(handovers, 'time')}` }
        : { is: 'nothing', says: 'nothing done' },
    mainAction: (): MainAction => ({ label: 'Hand over', does: 'hand-over' }),
  },
] as const satisfies readonly StageDef[];

export type Stage = (typeof STAGES)[number]['id'];

export const stageOf = (id: unknown): StageDef & { readonly id: Stage } =>
  STAGES.find((s) => s.id === id) ?? STAGES[3];

export const stageAfter = (id: Stage): (StageDef & { readonly id: Stage }) | null =>
  STAGES[STAGES.findIndex((s) => s.id === id) + 1] ?? null;
