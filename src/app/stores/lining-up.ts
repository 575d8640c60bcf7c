import { watchDebounced } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Doubt } from '../../core/sound/align/alignment';
import { HOP_MS, heardFeatures } from '../../core/sound/align/frames';
import { jumpMs, missingBars, sayBars } from '../../core/sound/align/jumps';
import { editedTime, endOf, recordingTime } from '../../core/sound/edits';
import type { Anchor } from '../../core/steps/timing/fit-tempo';
import { count, plain } from '../../core/target/words';
import { mapTick, unmapTick } from '../../core/time/time-map';
import type { PlanStep } from '../../core/plan/plan';
import type { StepCall } from '../../core/steps/call';
import { refOf } from '../../core/sources/which';
import { cameFrom } from '../../core/time/came-from';
import type { How, LineUpReply, LineUpRequest } from '../../worker/protocol';
import { soundEngine } from './engine';
import { useJob, type LaidPiece } from './job';
import { defineJobPart } from './job/job-part';
import { useRecording } from './recording';
import { waysTogether } from './ways-together';

/** A place of the score that was found in the recording; ticks of the base, times of the recording. */
export interface Match {
  readonly tick: number;
  readonly us: number;
}

export interface Found {
  readonly how: How;
  readonly reply: NonNullable<LineUpReply>;
  /** As the plan stood when it was looked for: a proposal is of that state alone. */
  readonly piece: LaidPiece;
  readonly steps: readonly PlanStep[];
  readonly matches: readonly Match[];
}

/** The beat of the score nearest to a time of its clock. */
function nearestBeat({ bars, clock }: LaidPiece, ms: number): number {
  const { bar, beat } = bars.placeAt(clock.tickAt(ms));
  const before = bars.tickOf(bar, beat);
  const next = nextBeatOf(bars, before);
  return Math.abs(clock.msAt(next) - ms) < Math.abs(clock.msAt(before) - ms) ? next : before;
}
function nextBeatOf(bars: LaidPiece['bars'], tick: number): number {
  const { bar, beat } = bars.placeAt(tick);
  return beat < bars.meterAt(tick).numerator ? bars.tickOf(bar, beat + 1) : bars.barStart(bar);
}
const nextBeat = ({ bars }: LaidPiece, tick: number) => nextBeatOf(bars, tick);

const DOUBTS: Readonly<Record<Doubt, string>> = {
  other: 'It is no more alike than another song would be: listen before you take it.',
  little: 'Only a part of the score is in it: listen before you take it.',
  repeats:
    'The music repeats itself, and other places fit nearly as well: listen before you take it.',
  sparse: 'There is little to go by: listen before you take it.',
};
const FIT = 'fit-tempo';
/** Nearer than that both are together. */
const SAME_MS = 1;
/** A fit along a freely played recording takes an anchor every so many notes at the most. */
const MOST_ANCHORS = 400;

/** Where the recording lies beside the score, and what is done about it. */
export const useLiningUp = defineJobPart(() => {
  const job = useJob();
  const recording = useRecording();
  const found = shallowRef<Found | null>(null);
  const busy = ref<How | null>(null);
  const problem = ref<string | null>(null);
  let asked = 0;
  /** Once the plan that was just changed is on the screen: what is left over is told. */
  let again = false;

  const baseTick = (piece: LaidPiece, ms: number) =>
    unmapTick(piece.fromBase ?? undefined, piece.clock.tickAt(ms));

  /** Of a module it is known what it sounds like: where each frame of the score stood in it. */
  function cameOf(piece: LaidPiece, scoreMs: number): LineUpRequest['module'] {
    const ruling = job.shown?.uses.find((u) => u.rules)?.source;
    const source = job.sourcesNow.find((s) => s.key === ruling);
    const isModule = source && job.sources.get(source.key)?.module;
    const isOfIt = piece.parts.some((p) => p.ref.source === ruling);
    if (!isModule || !isOfIt || !job.shown) return undefined;
    const came = cameFrom(piece, job.shown.source);
    const cameMs = Float64Array.from(
      { length: Math.ceil(scoreMs / HOP_MS) },
      (_, t) => came((t + 0.5) * HOP_MS) ?? NaN,
    );
    return { source: refOf(source), cameMs };
  }

  async function ask(how: How | null): Promise<LineUpReply> {
    const piece = job.shown?.delivered;
    const listened = recording.listened;
    if (!piece || !listened) return null;
    // All that the score plays, left out or not: the recording has it.
    const count = piece.parts.reduce((n, p) => n + p.columns.count, 0);
    const fromMs = new Float64Array(count);
    const toMs = new Float64Array(count);
    const key = new Uint8Array(count);
    const velocity = new Uint8Array(count);
    let n = 0;
    for (const { columns, channel } of piece.parts)
      for (let i = 0; i < columns.count; i++, n++) {
        fromMs[n] = piece.clock.msAt(columns.start[i]!);
        toMs[n] = piece.clock.msAt(columns.end[i]!);
        key[n] = columns.noteNumber[i]! + (channel === 10 ? 128 : 0);
        velocity[n] = columns.velocity[i]!;
      }
    // Beginnings as they are heard now, after what the plan does to the sound.
    const at: number[] = [];
    const strength: number[] = [];
    listened.facts.onsets.ms.forEach((t, i) => {
      const us = editedTime(recording.layout, t * 1000);
      if (us === null) return;
      at.push(us / 1000);
      strength.push(listened.facts.onsets.strength[i]!);
    });
    const onsets = { ms: Float64Array.from(at), strength: Float32Array.from(strength) };
    const features = heardFeatures(
      listened.facts.features,
      endOf(recording.layout) / 1000,
      (ms) => {
        const us = recordingTime(recording.layout, ms * 1000);
        return us === null ? null : us / 1000;
      },
    );
    const scoreMs = piece.clock.msAt(piece.endTick) + 500;
    const module = cameOf(piece, scoreMs);
    return soundEngine().ask('lineUp', {
      fromMs,
      toMs,
      key,
      velocity,
      scoreMs,
      onsets,
      features,
      ...(module ? { module } : {}),
      how,
    }).result;
  }

  /** Looks for the place; told in one way where that is asked for, else in the simplest. */
  async function look(how?: How) {
    const piece = job.shown?.delivered;
    const steps = job.plan?.now.steps;
    if (!piece || !steps || !recording.listened) return;
    const mine = ++asked;
    problem.value = null;
    let best: { how: How; reply: NonNullable<LineUpReply> } | null = null;
    try {
      busy.value = how ?? 'offset';
      const reply = await ask(how ?? null);
      if (mine !== asked) return;
      if (reply) best = { how: reply.how, reply };
    } catch (error) {
      if (mine === asked) problem.value = `It could not be lined up: ${(error as Error).message}`;
      return;
    } finally {
      if (mine === asked) busy.value = null;
    }
    if (!best) {
      found.value = null;
      if (how) problem.value = 'Nothing of the score was found in the recording in this way.';
      return;
    }
    const matches = best.reply.pairs.flatMap(({ scoreMs, soundMs }): Match[] => {
      const us = recordingTime(recording.layout, soundMs * 1000);
      return us === null ? [] : [{ tick: baseTick(piece, scoreMs), us: Math.round(us) }];
    });
    found.value = { ...best, piece, steps, matches };
  }

  // It is looked for by itself once there is something to look for; then when it is asked for.
  watch(
    [() => recording.listened?.sha256, () => job.record?.id, () => job.shown !== null],
    ([sha256, , shown]) => {
      asked++;
      found.value = null;
      busy.value = null;
      if (sha256 && shown) void look();
    },
    { immediate: true },
  );

  watch(
    () => job.revision,
    () => {
      if (!again) return;
      again = false;
      void look('offset');
    },
  );

  // What was found is of a plan: when that is another one and rests, it is looked for anew.
  watchDebounced(
    () => job.revision,
    () => {
      if (found.value && !busy.value && found.value.steps !== job.plan?.now.steps) void look();
    },
    { debounce: 700 },
  );

  /** The step that holds the anchors, whether it is in force or not. */
  const step = computed(() => job.plan?.now.steps.findLast((s) => s.step === FIT) ?? null);
  const params = computed(
    () =>
      (step.value?.params ?? { anchors: [] }) as { anchors: readonly Anchor[]; smooth?: boolean },
  );
  const anchors = computed(() => params.value.anchors);

  function setAnchors(
    next: readonly Anchor[],
    did: string,
    more: { smooth?: boolean; on?: boolean } = {},
  ) {
    const sorted = [...next].sort((a, b) => a.tick - b.tick);
    const smooth = more.smooth ?? params.value.smooth ?? false;
    const call: StepCall = {
      step: FIT,
      params: { anchors: sorted, smooth },
      scope: {},
      // Anchors are gathered first; the tempo is fitted when it is asked for.
      on: more.on ?? step.value?.on ?? false,
    };
    if (!step.value) job.addSteps(did, [call]);
    else if (sorted.length === 0) job.removeStep(step.value.key, did);
    else job.editStep(step.value.key, call, did);
  }

  /** A place of the score and the moment at which it is heard; one there already is moved. */
  function setAnchor(anchor: Anchor, did: string) {
    setAnchors([...anchors.value.filter((a) => a.tick !== anchor.tick), anchor], did);
  }

  /** At a tick of what is delivered, as it is heard at a time of its clock. */
  function anchorAt(tick: number, heardMs: number) {
    const piece = job.shown?.delivered;
    const us = recordingTime(recording.layout, heardMs * 1000);
    if (!piece || us === null) return;
    const base = unmapTick(piece.fromBase ?? undefined, tick);
    setAnchor({ tick: base, us: Math.round(us) }, 'An anchor set');
  }

  /**
   * A tap on the beat: the moment that is heard now, less the hand’s delay, is that of the next beat
   * of the score. The first tap begins at the beat that is nearest to the playhead.
   */
  function tapBeat(nowMs: number) {
    const piece = job.shown?.delivered;
    if (!piece) return;
    const at = tapped.value === null ? nearestBeat(piece, nowMs) : nextBeat(piece, tapped.value);
    if (at > piece.endTick) return;
    tapped.value = at;
    anchorAt(at, nowMs);
  }
  /** The beat that was tapped last; null where tapping has not begun. */
  const tapped = ref<number | null>(null);

  /** The beats that were estimated from the sound, each for the next beat of the score from the first note on. */
  function takeBeats() {
    const piece = job.shown?.delivered;
    const beats = recording.listened?.facts.beat?.ms;
    if (!piece || !beats || piece.firstTick === null) return;
    const first = recording.listened?.facts.firstMs ?? 0;
    const from = [...beats].filter((ms) => ms >= first - 60);
    let tick = nearestBeat(piece, piece.clock.msAt(piece.firstTick));
    const next: Anchor[] = [];
    for (const ms of from.slice(0, MOST_ANCHORS)) {
      if (tick > piece.endTick) break;
      next.push({
        tick: unmapTick(piece.fromBase ?? undefined, tick),
        us: Math.round(ms * 1000),
      });
      tick = nextBeat(piece, tick);
    }
    setAnchors(next, `${count(next.length, 'anchor')} on the estimated beat`);
  }

  /** The one tempo that was found, as two anchors: the first and the last match, put on its line. */
  function endsOf({ reply, piece }: Found): Anchor[] {
    const { offsetMs, ratio, pairs } = reply;
    if (ratio === null) return [];
    return [pairs[0], pairs.at(-1)].flatMap((pair): Anchor[] => {
      if (!pair) return [];
      const us = recordingTime(recording.layout, (offsetMs + ratio * pair.scoreMs) * 1000);
      return us === null ? [] : [{ tick: baseTick(piece, pair.scoreMs), us: Math.round(us) }];
    });
  }
  function takeTempo() {
    if (found.value) setAnchors(endsOf(found.value), 'Anchors at both ends');
  }

  /** What the tempo would be fitted to: a place a bar where it changes, both ends where it is one. */
  const along = computed(() => {
    if (!found.value) return [];
    return found.value.reply.ratio === null ? barMatches() : endsOf(found.value);
  });

  /** The tempo along the recording, and both put together where the first place is: one change. */
  function fitAlong(goesOut: boolean) {
    const piece = job.shown?.delivered;
    const list = along.value;
    const first = list[0] && offOf(list[0]);
    if (!piece || !first || list.length < 2) return;
    const did = `Tempo fitted to ${count(list.length, 'anchor')}`;
    const smooth = found.value?.reply.ratio === null;
    const [together] =
      Math.abs(first.off) > SAME_MS ? waysTogether(piece, first.off, 0, goesOut) : [];
    again = true;
    if (step.value) return setAnchors(list, did, { smooth, on: true });
    const fitted = { step: FIT, params: { anchors: list, smooth }, scope: {}, on: true };
    job.addSteps(did, [fitted, ...(together?.steps ?? [])]);
  }

  /** Only what lies in these bars counts: the tempo before and behind them stays as it is. */
  function countOnly(fromBar: number, toBar: number) {
    const piece = job.shown?.delivered;
    if (!piece) return;
    const [from, to] = [piece.bars.barStart(fromBar - 1), piece.bars.barStart(toBar)];
    const next = anchors.value.map(({ tick, us }) => {
      const at = mapTick(piece.fromBase ?? undefined, tick);
      return at >= from && at <= to ? { tick, us } : { tick, us, out: true };
    });
    setAnchors(next, `Anchors of bars ${fromBar} to ${toBar} count`);
  }

  /** Of what was found one place a bar, its first: enough to follow a hand, few enough to be read. */
  function takeMatches() {
    const rising = barMatches();
    setAnchors(rising, `${count(rising.length, 'anchor')} from what was found`);
  }
  function barMatches(): Match[] {
    const piece = job.shown?.delivered;
    let bar = -1;
    const all = (found.value?.matches ?? []).filter(({ tick }, i, list) => {
      const here = piece?.bars.barAt(mapTick(piece.fromBase ?? undefined, tick)) ?? i;
      const first = here !== bar;
      bar = here;
      return first || i === list.length - 1;
    });
    const each = Math.max(1, Math.ceil(all.length / MOST_ANCHORS));
    const some = all.filter((_, i) => i % each === 0 || i === all.length - 1);
    return some.filter((m, i) => i === 0 || (m.tick > some[i - 1]!.tick && m.us > some[i - 1]!.us));
  }

  /** Milliseconds by which the sound is later than the score, at a match or an anchor, as they are now. */
  function offOf({ tick, us }: Match): { ms: number; off: number; tick: number } | null {
    const piece = job.shown?.delivered;
    if (!piece) return null;
    const heard = editedTime(recording.layout, us);
    if (heard === null) return null;
    const at = mapTick(piece.fromBase ?? undefined, tick);
    const ms = piece.clock.msAt(at);
    return { ms, off: heard / 1000 - ms, tick: at };
  }

  const drift = computed(() => (found.value?.matches ?? []).flatMap((m) => offOf(m) ?? []));
  const anchorDrift = computed(() =>
    anchors.value.map((anchor) => ({ anchor, at: offOf(anchor) })),
  );

  /** The tempo through the anchors, in force; the sound is put to where the first of them is. */
  function fit(smooth: boolean) {
    const counted = anchorDrift.value.filter((a) => !a.anchor.out && a.at);
    const first = counted[0]?.at;
    if (!first || counted.length < 2) return;
    setAnchors(anchors.value, `Tempo fitted to ${count(counted.length, 'anchor')}`, {
      smooth,
      on: true,
    });
    again = true;
  }

  /** What of either is not in the other, in words. */
  function sayJumps({ reply: { jumps }, piece }: Found): string[] {
    return jumps.map((jump) => {
      const more = jumpMs(jump);
      const lost = missingBars(piece, jump);
      const { bar } = piece.bars.placeAt(piece.clock.tickAt(Math.max(0, jump.scoreFromMs)));
      if (lost) return `The recording lacks ${sayBars(lost)} of the score.`;
      const s = `${plain(Math.round(Math.abs(more)) / 1000)} s`;
      return more > 0
        ? `At bar ${bar} the recording lacks ${s} of the score.`
        : `At bar ${bar} the recording has ${s} that the score does not have.`;
    });
  }

  /** In words, what was found; null while nothing is. */
  const says = computed(() => {
    if (!found.value) return null;
    const { offsetMs, ratio, share, doubt } = found.value.reply;
    const piece = found.value.piece;
    const bar = piece.clock.msAt(piece.bars.barStart(1));
    const bars = Math.round(offsetMs / bar);
    const whole = Math.abs(offsetMs - bars * bar) < 30;
    const matched = `${Math.round(share * 100)} % of the score was found in it`;
    const sure = doubt === null;
    const how = `${matched}.${sure ? '' : ` ${DOUBTS[doubt]}`}`;
    const jumps = sure ? sayJumps(found.value) : [];
    if (doubt === 'other')
      return { where: 'This does not seem to be a recording of this score.', how, bars: 0, sure };
    if (ratio === null)
      return {
        where: [`The tempo of the recording wanders. It begins ${later(offsetMs)}.`, ...jumps].join(
          ' ',
        ),
        how,
        bars: 0,
        sure,
      };
    const tempo =
      Math.abs(ratio - 1) < 0.0002
        ? ''
        : ` It runs ${plain(Math.round(Math.abs(ratio - 1) * 100_000) / 1000)} % ${ratio > 1 ? 'slower' : 'faster'}.`;
    const where =
      Math.abs(offsetMs) <= 20
        ? 'Score and recording begin together.'
        : `The recording has the first note ${later(offsetMs)}${whole && bars !== 0 ? `: ${count(Math.abs(bars), 'bar')}` : ''}.`;
    return {
      where: [`${where}${tempo}`, ...jumps].join(' '),
      how,
      bars: whole ? bars : 0,
      sure,
    };
  });
  const later = (ms: number) =>
    `${plain(Math.abs(Math.round(ms)) / 1000)} s ${ms < 0 ? 'earlier' : 'later'}`;

  return {
    found,
    busy,
    problem,
    look,
    lookAgain: () => (again = true),
    says,
    step,
    params,
    anchors,
    setAnchors,
    setAnchor,
    anchorAt,
    takeMatches,
    along,
    fitAlong,
    tapBeat,
    tapped,
    takeBeats,
    takeTempo,
    countOnly,
    drift,
    anchorDrift,
    fit,
  };
});
