import { computed } from 'vue';
import { MAKE_LEVELS } from '../../core/plan/made-by';
import { chartWorth, type ChartWorth } from '../../core/seating/chart-worth';
import type { Level } from '../../core/steps/levels';
import type { Seat } from '../../core/target/schema';
import { unmapTick } from '../../core/time/time-map';
import type { NoteView, PartView } from '../../core/wire/view';
import type { LevelsParams } from './hand-levels';
import { useJob, type LaidPiece } from './job';
import { defineJobPart } from './job/job-part';
import { useSeating } from './seating';

export type LaneSeat = Extract<Seat, { kind: 'laneGroup' }>;
export type LaneWay = 'keys' | 'contour' | 'shuffle';

export interface Directed {
  readonly fromTick: number;
  readonly toTick: number;
  readonly order: readonly number[];
}
export interface LanesParams {
  readonly lanes: readonly number[];
  readonly by: LaneWay;
  readonly seed?: number;
  readonly directed?: readonly Directed[];
}

/** Lanes, hardest first, that are levels of one part of the game. */
export interface LevelGroup {
  readonly name: string;
  readonly hardest: LaneSeat;
  readonly easier: readonly LaneSeat[];
}

/** Lanes of a chart: which parts would play well, how each is laid, and its easier levels. */
export const useLanes = defineJobPart(() => {
  const job = useJob();
  const seating = useSeating();

  const seats = computed(() =>
    seating.ownSeats.filter((s): s is LaneSeat => s.kind === 'laneGroup'),
  );
  const seatOf = (part: PartView) => seats.value.find((s) => s.id === part.seat) ?? null;
  /** Parts that play on lanes and were not made by a step for levels. */
  const laid = computed(() => seating.all.filter((p) => !p.leftOut && seatOf(p) && !isMade(p)));

  // Columns stay the same objects as long as their notes do.
  const known = new WeakMap<NoteView, ChartWorth | null>();
  function worthOf(columns: NoteView, source: LaidPiece): ChartWorth | null {
    const there = known.get(columns);
    if (there !== undefined) return there;
    const made = chartWorth(columns, source, source.endTick);
    known.set(columns, made);
    return made;
  }
  /** Parts of the source in the order of how well they would play as a chart. */
  const ranked = computed(() => {
    const source = job.shown?.source;
    if (!source || seats.value.length === 0) return [];
    return source.parts
      .filter((p) => p.columns.count > 0)
      .flatMap((part): { part: PartView; chart: ChartWorth }[] => {
        const chart = worthOf(part.columns, source);
        return chart ? [{ part, chart }] : [];
      })
      .sort((a, b) => b.chart.worth - a.chart.worth);
  });

  // --- how a part is laid ---------------------------------------------------------------------------
  const laying = (part: PartView) => seating.stepOf(part, 'lanes');
  const paramsOf = (part: PartView): LanesParams => ({
    lanes: seatOf(part)?.laneNotes ?? [],
    by: 'contour',
    ...(laying(part)?.params as Partial<LanesParams> | undefined),
  });
  function lay(part: PartView, change: Partial<LanesParams>, did: string) {
    const { directed, seed, ...rest } = { ...paramsOf(part), ...change };
    const params: LanesParams = {
      ...rest,
      ...(rest.by === 'shuffle' ? { seed: seed ?? 1 } : {}),
      ...(directed?.length ? { directed } : {}),
    };
    const call = { step: 'lanes', params, scope: { parts: [part.ref] }, on: true };
    job.upsertSteps(`${part.name}: ${did}`, [call], ['lanes']);
  }
  const asWritten = (part: PartView) => {
    const step = laying(part);
    if (step) job.removeStep(step.key, `${part.name}: lanes as written`);
  };
  /** A stretch of bars, from 1, whose notes take the lanes in an order. */
  function direct(part: PartView, fromBar: number, toBar: number, order: readonly number[]) {
    const piece = job.shown?.delivered;
    if (!piece) return;
    const base = (tick: number) => unmapTick(piece.fromBase ?? undefined, tick);
    const stretch: Directed = {
      fromTick: base(piece.bars.barStart(fromBar - 1)),
      toTick: base(piece.bars.barStart(toBar)),
      order: [...order],
    };
    const others = (paramsOf(part).directed ?? []).filter(
      (d) => d.toTick <= stretch.fromTick || d.fromTick >= stretch.toTick,
    );
    const directed = [...others, stretch].sort((a, b) => a.fromTick - b.fromTick);
    lay(part, { directed }, `bars ${fromBar}–${toBar} laid by hand`);
  }
  const undirect = (part: PartView, gone: Directed) =>
    lay(
      part,
      { directed: (paramsOf(part).directed ?? []).filter((d) => d !== gone) },
      'a stretch no longer laid by hand',
    );

  // --- levels ---------------------------------------------------------------------------------------
  const groups = computed<LevelGroup[]>(() => {
    const by = new Map<string, LaneSeat[]>();
    for (const seat of seats.value) {
      if (seat.rung === undefined) continue;
      const name = seat.track ?? seat.name;
      by.set(name, [...(by.get(name) ?? []), seat]);
    }
    return [...by].flatMap(([name, all]) => {
      const down = [...all].sort((a, b) => (b.rung ?? 0) - (a.rung ?? 0));
      const [hardest, ...easier] = down;
      return hardest && easier.length > 0 ? [{ name, hardest, easier }] : [];
    });
  });
  const playing = (seat: LaneSeat) =>
    seating.all.find((p) => !p.leftOut && p.seat === seat.id) ?? null;
  const maker = (group: LevelGroup) => {
    const hardest = playing(group.hardest);
    return hardest ? seating.stepOf(hardest, MAKE_LEVELS) : null;
  };
  function isMade(part: PartView): boolean {
    const steps = job.plan?.now.steps.filter((s) => s.on && s.step === MAKE_LEVELS) ?? [];
    return steps.some(
      (s) =>
        (s.params as LevelsParams).levels.some((l) => l.seat === part.seat) &&
        s.scope.parts?.some((ref) => part.ref.track.startsWith(`${ref.track}, `)),
    );
  }

  /** What a level may have at most: what the target allows on its rung. */
  function levelOf(seat: LaneSeat): Level {
    const rung = job.target?.chart?.rungs?.find((r) => r.rung === seat.rung);
    const holdMs = job.target?.chart?.holdMs;
    return {
      seat: seat.id,
      name: seat.name,
      channel: seat.channel ?? 1,
      ...(seat.track === undefined ? {} : { track: seat.track }),
      laneNotes: [...seat.laneNotes],
      together: rung?.together ?? 1,
      strikesASecond: rung?.strikesASecond ?? 4,
      ...(holdMs === undefined ? {} : { holdMs }),
      ...(rung?.releaseGapMs === undefined ? {} : { releaseGapMs: rung.releaseGapMs }),
      ...(rung?.holdsOverlap ? { holdsOverlap: true } : {}),
    };
  }
  function makeLevels(group: LevelGroup) {
    const hardest = playing(group.hardest);
    if (!hardest) return;
    const free = group.easier.filter((s) => !playing(s));
    const params = { from: [...group.hardest.laneNotes], levels: free.map(levelOf) };
    const call = { step: MAKE_LEVELS, params, scope: { parts: [hardest.ref] }, on: true };
    job.addSteps(`${group.name}: ${free.length} easier levels`, [call]);
  }
  /** Changes one level; null gives what was touched by hand back to being made. */
  function setLevel(group: LevelGroup, seat: string, change: Partial<Level> | null) {
    const step = maker(group);
    if (!step) return;
    const params = step.params as LevelsParams;
    const levels = params.levels.map((l) => {
      if (l.seat !== seat) return l;
      const { kept, ...made } = l;
      return change === null ? made : { ...made, ...(kept ? { kept } : {}), ...change };
    });
    const name = params.levels.find((l) => l.seat === seat)?.name ?? seat;
    const did = change === null ? `${name}: made anew` : `${name}: changed`;
    job.editStep(step.key, { ...step, params: { ...params, levels } }, did);
  }
  const noLevels = (group: LevelGroup) => {
    const step = maker(group);
    if (step) job.removeStep(step.key, `${group.name}: no easier levels`);
  };

  return {
    seats,
    seatOf,
    laid,
    ranked,
    laying,
    paramsOf,
    lay,
    asWritten,
    direct,
    undirect,
    groups,
    playing,
    maker,
    makeLevels,
    setLevel,
    noLevels,
  };
});
