import { effectsOf, withFoot, type ByFoot } from '../audio/preset-effects';
import { useRafFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, markRaw, ref, shallowRef, watch } from 'vue';
import type { Plan } from '../../core/plan/plan';
import { samePart } from '../../core/score/address';
import type { PartRef } from '../../core/score/score';
import { levelled } from '../../core/sound/levels';
import { endOf } from '../../core/sound/edits';
import { Player } from '../audio/player';
import { makeBanks } from './banks';
import { engine } from './engine';
import { useJob } from './job';
import { useLooking } from './looking';
import { tellPlayer, type Beside } from './tell-player';
import { useRecording } from './recording';
import { useSettings } from './settings';
import { makeStrikes } from './strikes';
import { NOTHING_TRIED, triedPlan, type Tried } from './tried';

interface Stretch {
  readonly fromMs: number;
  readonly toMs: number;
}
/** What goes round; of a seam the end and then the beginning. */
export interface Loop extends Stretch {
  readonly then?: Stretch;
}

/** The pulse: where the music is, what is heard of it, how fast. */
export const usePlaying = defineStore('playing', () => {
  const job = useJob();
  const looking = useLooking();
  const settings = useSettings();
  const recording = useRecording();
  const playing = ref(false);
  const starting = ref(false);
  const problem = ref<string | null>(null);
  /** Milliseconds of the piece that is listened to. */
  const ms = ref(0);
  /** Counts how often the end was reached by playing. */
  const ended = ref(0);
  const listen = ref<'source' | 'delivered'>('delivered');
  const beside = ref<Beside>('both');
  const speed = ref(100);
  const loop = shallowRef<Loop | null>(null);
  const muted = shallowRef<ReadonlySet<string>>(new Set());
  const alone = shallowRef<ReadonlySet<string>>(new Set());
  let loaded: string | null = null;
  let loading = 0;
  let starts = 0;

  /** What is heard and is in no plan yet. */
  const tried = shallowRef<Tried>(NOTHING_TRIED);
  const withTried = (plan: Plan): Plan => triedPlan(plan, tried.value);

  const player = new Player({
    onEnd() {
      playing.value = false;
      ms.value = 0;
      ended.value++;
    },
    ownBank: () => banks.first(),
    onBankRefused: (why) => banks.refused(why),
  });
  /** Sounds of the user’s own, by job. */
  const banks = makeBanks(player, {
    problem: (says) => (problem.value = says),
    changed: () => (loaded = null),
  });

  const piece = computed(() =>
    job.shown ? (listen.value === 'source' ? job.shown.source : job.shown.delivered) : null,
  );
  const endMs = computed(() =>
    Math.max(piece.value?.clock.msAt(piece.value.endTick) ?? 0, endOf(recording.layout) / 1000),
  );
  const tick = computed(() => piece.value?.clock.tickAt(ms.value) ?? 0);
  /** Tick in the piece that the sheet shows: aligned by clock, less the common shift. */
  const shownTick = computed(() => {
    const shown = looking.piece;
    if (!shown || !piece.value || !job.shown) return 0;
    if (shown === piece.value) return tick.value;
    // A mend that is looked at may move all: what sounds is still the delivery as it is.
    const tried = looking.trial;
    if (tried && shown === tried.piece && listen.value === 'delivered')
      return shown.clock.tickAt(ms.value + tried.shiftMs);
    const shift = job.shown.commonShiftMs;
    return shown.clock.tickAt(ms.value + (shown === job.shown.source ? -shift : shift));
  });

  /** A MIDI port is played to. */
  const toPort = ref(false);

  /** What a pedal does to the music, by the place that is heard. */
  const effects = computed(() => {
    const now = piece.value;
    if (!now || !job.target?.presets || listen.value === 'source') return null;
    const part = now.parts.find((p) => !p.leftOut && (p.turns?.presets.tick.length ?? 0) > 0);
    return effectsOf(part?.turns ?? null, job.target, now.clock, tried.value.preset);
  });
  /** Who stamps and turns by hand is heard in the place of what is there. */
  const byFoot = shallowRef<((us: number) => ByFoot) | null>(null);
  let heardAs = '';
  watch([ms, effects, byFoot], ([at, of, foot]) => {
    const there = of?.(at) ?? null;
    const state = there && foot ? withFoot(there, foot(at * 1000)) : there;
    const said = JSON.stringify(state);
    if (said === heardAs) return;
    heardAs = said;
    player.setEffects(state);
  });

  function mutes(): Uint8Array {
    const parts = piece.value?.parts ?? [];
    return Uint8Array.from(parts, ({ id }) =>
      muted.value.has(id) || (alone.value.size > 0 && !alone.value.has(id)) ? 1 : 0,
    );
  }

  const indexOfPart = (ref: PartRef) =>
    piece.value?.parts.findIndex((p) => samePart(p.ref, ref)) ?? -1;

  /** Brings the schedule of what is listened to into the worklet, once for each state of the plan. */
  async function load(): Promise<boolean> {
    const request = job.request();
    if (!request) return false;
    const { sources, target, piece: which } = request;
    const plan = withTried(request.plan);
    const { part, db } = tried.value;
    // What listens to no notes is heard on the music that is left out; a port gets none of it.
    const withMusic = !toPort.value && (target.notes?.none ?? false);
    const key = JSON.stringify([sources, plan, target, which, listen.value, part, db, withMusic]);
    if (loaded === key) return true;
    const mine = ++loading;
    const asked = { ...request, plan, known: [], which: listen.value, withMusic };
    const call = engine().ask('schedule', asked);
    const schedule = await call.result;
    if (!schedule || mine !== loading) return false;
    await player.prepare();
    // It was left, or something else was asked for, while the sound was made ready.
    if (mine !== loading) return false;
    loaded = key;
    const at = part && listen.value === 'delivered' ? indexOfPart(part) : -1;
    player.setSchedule(at < 0 ? schedule : levelled(schedule, at, db), ms.value);
    player.setMutes(mutes());
    return true;
  }

  async function play() {
    if (playing.value || starting.value) return;
    starting.value = true;
    const start = ++starts;
    problem.value = null;
    try {
      if (!(await load())) return;
      if (piece.value && ms.value >= endMs.value) ms.value = 0;
      applyLoop();
      player.setVolume(settings.volume / 100);
      player.setSpeed(speed.value / 100);
      const mine = loading;
      await player.play(ms.value);
      if (mine !== loading) {
        player.stop();
        return;
      }
      playing.value = true;
      following.resume();
    } catch (error) {
      problem.value = `The sound cannot start: ${(error as Error).message}`;
    } finally {
      if (start === starts) starting.value = false;
    }
  }

  function stop() {
    if (!playing.value) return;
    ms.value = player.positionMs();
    player.stop();
    playing.value = false;
  }

  /** Where what is heard by itself ends, and what was heard alone before. */
  let until: { readonly ms: number; readonly alone: ReadonlySet<string> } | null = null;
  function endPassage() {
    if (!until) return;
    alone.value = until.alone;
    until = null;
    player.setMutes(mutes());
  }

  const following = useRafFn(
    () => {
      if (playing.value) return follow();
      following.pause();
      endPassage();
    },
    { immediate: false },
  );
  function follow() {
    ms.value = player.positionMs();
    if (until && ms.value >= until.ms) {
      stop();
      seek(until.ms);
      endPassage();
    }
  }

  function seek(toMs: number) {
    ms.value = Math.max(0, toMs);
    if (playing.value) void player.play(ms.value);
  }

  /** To a tick of the piece that the sheet shows. */
  function seekShown(to: number) {
    const shown = looking.piece;
    if (!shown || !job.shown) return;
    const at = shown.clock.msAt(to);
    const shift = job.shown.commonShiftMs;
    if (shown === piece.value) seek(at);
    else seek(at + (shown === job.shown.source ? shift : -shift));
  }

  function applyLoop() {
    if (!loop.value) return player.clearLoop();
    const { fromMs, toMs, then } = loop.value;
    const first = { from: fromMs, to: toMs };
    player.setLoop(then ? [first, { from: then.fromMs, to: then.toMs }] : [first]);
  }

  /**
   * One bar and no more, of one part or of all.
   * @param at tick of what is listened to; else of the chosen notes, or of the playhead
   */
  async function hearBar({ part, at }: { part?: string; at?: number } = {}) {
    const heard = piece.value;
    if (!heard) return;
    if (playing.value) stop();
    endPassage();
    const { bars, clock } = heard;
    const chosen = looking.piece === heard ? looking.chosenSpan?.fromTick : undefined;
    const bar = bars.barAt(at ?? chosen ?? tick.value);
    setLoop(null);
    seek(clock.msAt(bars.barStart(bar)));
    until = { ms: clock.msAt(bars.barStart(bar + 1)), alone: alone.value };
    if (part !== undefined) alone.value = new Set([part]);
    await play();
    player.setMutes(mutes());
    if (!playing.value) endPassage();
  }

  /** Loops a stretch of bars, or none. */
  function setLoop(next: Loop | null) {
    loop.value = next;
    applyLoop();
  }

  /**
   * The bars of the chosen notes, else of the open finding, else the four from here on; none where a
   * loop is on.
   */
  function loopHere() {
    if (loop.value) return setLoop(null);
    const shown = looking.piece;
    if (!shown || !job.shown) return;
    const span = looking.chosenSpan ?? looking.openFinding?.spans[0];
    const first = shown.bars.barAt(span?.fromTick ?? shownTick.value);
    const last = span ? shown.bars.barAt(Math.max(span.fromTick, span.toTick - 1)) : first + 3;
    const shift = shown === piece.value ? 0 : job.shown.commonShiftMs;
    const by = shown === job.shown.source ? shift : -shift;
    const fromMs = shown.clock.msAt(shown.bars.barStart(first)) + by;
    const toMs = shown.clock.msAt(shown.bars.barStart(last + 1)) + by;
    setLoop({ fromMs: Math.max(0, fromMs), toMs });
    if (!playing.value) seek(Math.max(0, fromMs));
  }

  const strikes = makeStrikes(player, (says) => (problem.value = says));

  function toggle(set: typeof muted, id: string) {
    const next = new Set(set.value);
    if (!next.delete(id)) next.add(id);
    set.value = next;
    player.setMutes(mutes());
  }

  // The player is the desk's; what is heard of a job ends with it.
  function leaveJob() {
    loading++;
    starts++;
    starting.value = false;
    stop();
    until = null;
    problem.value = null;
    listen.value = 'delivered';
    beside.value = 'both';
    ms.value = 0;
    ended.value = 0;
    loop.value = null;
    muted.value = new Set();
    alone.value = new Set();
    loaded = null;
    tried.value = NOTHING_TRIED;
  }
  watch(() => job.record?.id, leaveJob, { flush: 'sync' });

  tellPlayer(player, { listen, beside, speed });
  watch(tried, () => {
    if (playing.value) void load();
  });
  // The same moment of the music, in the other piece.
  watch(
    listen,
    (to) => {
      const shift = job.shown?.commonShiftMs ?? 0;
      const by = to === 'source' ? -shift : shift;
      // Where the playhead is, not where it was last drawn.
      if (playing.value) ms.value = player.positionMs();
      ms.value = Math.max(0, ms.value + by);
      if (loop.value) {
        const { fromMs, toMs } = loop.value;
        setLoop({ fromMs: Math.max(0, fromMs + by), toMs: toMs + by });
      }
      if (playing.value) void load();
    },
    { flush: 'sync' },
  );
  watch(
    () => job.shown,
    (shown) => {
      if (shown && playing.value) void load();
    },
  );
  return {
    playing,
    ended,
    byFoot,
    starting,
    problem,
    ms,
    tick,
    shownTick,
    listen,
    beside,
    speed,
    loop,
    muted,
    alone,
    piece,
    /** Where the sound is now, not where the playhead was last drawn. */
    nowMs: () => (playing.value ? player.positionMs() : ms.value),
    ...strikes,
    usePort(...to: Parameters<typeof player.usePort>) {
      toPort.value = to[0] !== null;
      player.usePort(...to);
    },
    setPort: player.setPort.bind(player),
    testPort: (channel: number) => player.testPort(channel),
    panicPort: () => player.panicPort(),
    play,
    stop,
    seek,
    seekShown,
    setLoop,
    loopHere,
    hearBar,
    banks: markRaw(banks),
    tried,
    prepare: () => player.prepare().catch(() => undefined),
    toggleMute: (id: string) => toggle(muted, id),
    toggleAlone: (id: string) => toggle(alone, id),
  };
});
