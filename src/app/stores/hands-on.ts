import { useRafFn } from '@vueuse/core';
import { computed, onScopeDispose, reactive, ref, shallowRef, watch } from 'vue';
import { sayCode, type Doing, type Hands, type Pressed } from '../rehearsal/hands/hands';
import type { HandsSeen } from '../rehearsal/scene';
import { StampHands } from '../rehearsal/hands/stamps';
import { editsOf } from '../rehearsal/hands/recorded';
import { StrikeHands, type Tally } from '../rehearsal/hands/strikes';
import { db } from '../storage/db';
import { useCurveHand } from './curve-hand';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import { usePlaying } from './playing';
import { usePort } from './port';
import { useRehearsal } from './rehearsal';

/** What sounds by hand is sent to the synthesiser so far ahead. */
const AHEAD_US = 60_000;
const NOTHING: Tally = { struck: 0, missed: 0, beside: 0, errorsMs: [], letGoMs: [] };

/** The device in the user's hands: keys, pads and a MIDI input play it until Esc. */
export const useHandsOn = defineJobPart(() => {
  const job = useJob();
  const playing = usePlaying();
  const rehearsal = useRehearsal();
  const port = usePort();
  const on = ref(false);
  const choice = ref<string | null>(null);
  const hands = shallowRef<Hands | null>(null);
  const held = shallowRef<ReadonlySet<string>>(new Set());
  const last = shallowRef<Pressed | null>(null);
  const says = ref('');
  const tally = shallowRef<Tally>(NOTHING);
  /** Time of the device while it is in hand, microseconds. */
  const us = ref(0);
  /** The doing whose key is asked for. */
  const assigning = ref<string | null>(null);
  /** Keys that the user chose, by scene and doing. */
  const chosen = reactive<Record<string, string>>({});

  void db.settings
    .get('hands')
    .then((row) => void Object.assign(chosen, row?.value ?? {}))
    .catch(() => undefined);
  watch(chosen, () => {
    db.settings.put({ key: 'hands', value: { ...chosen } }).catch(() => undefined);
  });

  const takes = computed(() => rehearsal.definition?.takes ?? null);
  const choices = computed(() => {
    const played = rehearsal.reply?.played;
    return played && job.target ? (takes.value?.choices?.(played, job.target) ?? []) : [];
  });
  const load = (): Hands | null => {
    const played = rehearsal.reply?.played;
    if (!played || !job.target || !takes.value) return null;
    const known = choices.value.some((c) => c.id === choice.value);
    return takes.value.load(played, job.target, known ? choice.value : null);
  };
  const possible = computed(() => load() !== null);

  // --- what was stamped and turned ---------------------------------------------------------------
  const curveHand = useCurveHand();
  /** The last that was in hand: what it recorded waits until it is kept or let go. */
  const stamped = shallowRef<StampHands | null>(null);
  const recorded = ref({ stamps: 0, turns: 0 });
  const recount = () =>
    (recorded.value = {
      stamps: stamped.value?.stamps ?? 0,
      turns: stamped.value?.turns ?? 0,
    });
  /** The part that goes out on the pedal: the first with anything to turn, else the first. */
  const pedalPart = () => {
    const parts = job.shown?.delivered.parts.filter((p) => !p.leftOut) ?? [];
    return parts.find((p) => p.turns) ?? parts[0] ?? null;
  };
  function keepRecorded() {
    const [now, piece, part] = [stamped.value, job.shown?.delivered, pedalPart()];
    if (!now || !piece || !part || job.readOnly) return;
    const all = editsOf(now, piece.clock);
    now.strokes = [];
    recount();
    for (const { number, edits } of all) {
      const did = `${now.board.nameOf(number)} played by hand`;
      curveHand.put(part.ref, 0xb0, number, edits, did);
    }
  }
  function dropRecorded() {
    if (stamped.value) stamped.value.strokes = [];
    recount();
  }

  // --- keys -------------------------------------------------------------------------------------
  const nameOf = (doing: string) => `${rehearsal.definition?.id} ${doing}`;
  const codesOf = ({ id, codes }: Doing): readonly string[] => {
    const own = chosen[nameOf(id)];
    if (own === undefined) return codes;
    // Of the kind of key that was chosen the one that ships gives way.
    const kind = kindOf(own);
    return [own, ...codes.filter((c) => kindOf(c) !== kind)];
  };
  const keyOf = (doing: Doing) => sayCode(codesOf(doing)[0] ?? '');
  const doingOf = (code: string): string | null =>
    hands.value?.doings.find((d) => codesOf(d).includes(code))?.id ?? null;
  function assign(code: string) {
    const doing = assigning.value;
    if (doing === null) return;
    // A key does one thing: who had it takes this one's instead.
    const other = doingOf(code);
    const mine = hands.value?.doings.find((d) => d.id === doing);
    if (other !== null && other !== doing && mine)
      chosen[nameOf(other)] = codesOf(mine).find((c) => kindOf(c) === kindOf(code)) ?? '';
    chosen[nameOf(doing)] = code;
    assigning.value = null;
  }
  function asShipped() {
    for (const d of hands.value?.doings ?? []) delete chosen[nameOf(d.id)];
  }

  // --- time -------------------------------------------------------------------------------------
  type Sound = NonNullable<Awaited<ReturnType<typeof playing.hearFrom>>>;
  let sound: Sound | null = null;
  let beganSeconds = 0;
  /** The device's clock now; `ago` is how long ago it was that is asked for, by the page's clock. */
  const clockUs = (ago = 0): number =>
    hands.value?.clock === 'own'
      ? ((sound?.seconds() ?? 0) - beganSeconds) * 1e6 - ago * 1000
      : rehearsal.toDeviceUs(playing.nowMs() - (playing.playing ? (ago * playing.speed) / 100 : 0));

  const ticking = useRafFn(tick, { immediate: false });
  function tick() {
    const now = hands.value;
    if (!on.value || !now) return ticking.pause();
    readPads();
    us.value = clockUs();
    const ahead = now.clock === 'own' ? AHEAD_US : 0;
    const out = now.pass(us.value + ahead);
    if (out.length > 0 && sound)
      sound.strike(
        beganSeconds,
        out.map((s) => ({
          afterMs: s.atUs / 1000,
          lengthMs: s.lengthUs / 1000,
          ...soundOf(s.seat),
          key: s.key,
          velocity: s.velocity,
        })),
      );
    refresh();
  }
  function refresh() {
    says.value = hands.value?.says() ?? '';
    if (hands.value instanceof StrikeHands) tally.value = hands.value.tally;
    if (hands.value instanceof StampHands) recount();
  }

  /** The channel of a seat, from 0, and the program of the part that takes it. */
  function soundOf(seat: string) {
    const there = job.target?.seats.find((s) => s.id === seat);
    const part = job.shown?.delivered.parts.find((p) => p.seat === seat && !p.leftOut);
    const only = job.target?.channels?.only?.[0] ?? (job.target?.kits ? 10 : null);
    const channel =
      there && 'channel' in there && there.channel ? there.channel : (only ?? part?.channel ?? 1);
    return { channel: channel - 1, program: channel === 10 ? null : (part?.program ?? null) };
  }

  // --- presses ----------------------------------------------------------------------------------
  function press(doing: string, ago = 0) {
    const now = hands.value;
    if (!now || held.value.has(doing)) return;
    held.value = new Set([...held.value, doing]);
    last.value = now.press(doing, clockUs(ago));
    refresh();
  }
  function release(doing: string, ago = 0) {
    if (!held.value.has(doing)) return;
    held.value = new Set([...held.value].filter((d) => d !== doing));
    hands.value?.release(doing, clockUs(ago));
  }
  /** The dial at a share of its way, by the pointer or a controller. */
  function turn(share: number, ago = 0) {
    if (!(hands.value instanceof StampHands)) return;
    hands.value.turn(share, clockUs(ago));
    refresh();
  }
  /** Where the dial stands now, as a share of its way. */
  function dialAt(): number {
    const now = hands.value;
    const dial = now instanceof StampHands ? now.board.dial : null;
    if (!dial) return 0;
    const value = (now as StampHands).level(clockUs()) ?? dial.lowest;
    return (value - dial.lowest) / (dial.highest - dial.lowest);
  }
  /** A switch by its own number, the dial by any other that is no bank and no mode. */
  function control(number: number, value: number, ago: number) {
    const doing = hands.value?.doings.find((d) => d.id === String(number));
    if (doing) (value >= 64 ? press : release)(doing.id, ago);
    else if (number !== 0 && number !== 32 && number < 120) turn(value / 127, ago);
  }
  function down(code: string, ago: number): boolean {
    if (assigning.value !== null) {
      assign(code);
      return true;
    }
    const doing = doingOf(code);
    if (doing !== null) press(doing, ago);
    return doing !== null;
  }
  function up(code: string, ago: number) {
    const doing = doingOf(code);
    if (doing !== null) release(doing, ago);
  }

  const typing = (at: EventTarget | null) =>
    at instanceof HTMLElement && at.closest('input, textarea, [contenteditable="true"]') !== null;
  function keyDown(event: KeyboardEvent) {
    if (!on.value || typing(event.target) || event.metaKey || event.ctrlKey || event.altKey) return;
    const { code } = event;
    // Tab goes on through the page: nobody is caught here.
    if (code === 'Tab') return;
    if (code === 'Escape') {
      if (assigning.value !== null) assigning.value = null;
      else leave();
    } else if (event.repeat) {
      if (doingOf(code) === null) return;
    } else if (assigning.value === null && code === 'Enter' && hands.value?.clock === 'pulse') {
      if (event.target instanceof HTMLButtonElement) return;
      void (playing.playing ? playing.stop() : playing.play());
    } else if (assigning.value === null && code === 'Backspace') restart();
    else if (!down(code, performance.now() - event.timeStamp)) return;
    event.preventDefault();
    event.stopPropagation();
  }
  function keyUp(event: KeyboardEvent) {
    if (!on.value) return;
    up(event.code, performance.now() - event.timeStamp);
  }
  /** Buttons of game pads that were down at the last look. */
  let buttons = new Set<number>();
  function readPads() {
    const now = new Set<number>();
    for (const pad of navigator.getGamepads?.() ?? [])
      pad?.buttons.forEach((b, i) => {
        if (b.pressed) now.add(i);
      });
    for (const b of now) if (!buttons.has(b)) down(`Pad${b}`, 0);
    for (const b of buttons) if (!now.has(b)) up(`Pad${b}`, 0);
    buttons = now;
  }

  // --- in hand, and out of it -------------------------------------------------------------------
  let offs: (() => void)[] = [];
  /** What the stretch is that a restart goes back to: the section, or where it was begun. */
  const fromMs = ref(0);
  async function take() {
    if (on.value) return;
    const now = load();
    if (!now) return;
    if (now.clock === 'own') {
      playing.stop();
      sound = await playing.hearFrom();
      if (!sound) return;
      beganSeconds = sound.seconds();
    }
    fromMs.value = playing.ms;
    if (now instanceof StampHands) {
      // What waits goes on in the next device.
      if (stamped.value) now.strokes = stamped.value.strokes;
      stamped.value = now;
      playing.byFoot = (us) => {
        const dial = now.board.dial;
        const level = now.level(us);
        return {
          on: now.board.switches.map((n) => now.isOn(n, us)),
          level:
            dial && level !== null ? (level - dial.lowest) / (dial.highest - dial.lowest) : null,
        };
      };
    }
    hands.value = now;
    held.value = new Set();
    last.value = null;
    tally.value = NOTHING;
    on.value = true;
    window.addEventListener('keydown', keyDown, true);
    window.addEventListener('keyup', keyUp, true);
    const input = port.onInput(({ bytes, atMs }) => {
      const [status = 0, key = 0, velocity = 0] = bytes;
      const ago = performance.now() - atMs;
      if ((status & 0xf0) === 0x90 && velocity > 0) down(`Note${key}`, ago);
      else if ((status & 0xe0) === 0x80) up(`Note${key}`, ago);
      else if ((status & 0xf0) === 0xb0) control(key, velocity, ago);
    });
    offs = [
      input,
      () => window.removeEventListener('keydown', keyDown, true),
      () => window.removeEventListener('keyup', keyUp, true),
    ];
    ticking.resume();
  }
  function leave() {
    if (!on.value) return;
    on.value = false;
    assigning.value = null;
    for (const off of offs) off();
    offs = [];
    if (hands.value?.clock === 'own') playing.endHearing();
    playing.byFoot = null;
    sound = null;
    hands.value = null;
  }
  /** Again from the section or from where it was begun. */
  function restart() {
    if (hands.value instanceof StrikeHands) {
      hands.value.restart();
      playing.seek(fromMs.value);
      last.value = null;
      refresh();
    } else if (hands.value?.clock === 'pulse') playing.seek(fromMs.value);
    else if (hands.value) {
      leave();
      void take();
    }
  }
  function startAt(ms: number) {
    fromMs.value = ms;
    restart();
  }
  function choose(next: string) {
    choice.value = next;
    if (!on.value) return;
    leave();
    void take();
  }
  onScopeDispose(leave);
  // Another delivery, or none: what is in hand is another device.
  watch(
    () => rehearsal.reply,
    () => {
      if (!on.value) return;
      leave();
      void take();
    },
  );
  watch(
    () => rehearsal.open,
    (open) => {
      if (!open) leave();
    },
  );

  const seen = computed<HandsSeen | null>(() =>
    on.value && hands.value
      ? { hands: hands.value, us: us.value, held: held.value, last: last.value, keyOf }
      : null,
  );

  return {
    on,
    takes,
    possible,
    choices,
    choice,
    choose,
    hands,
    seen,
    says,
    tally,
    last,
    held,
    assigning,
    codesOf,
    keyOf,
    asShipped,
    take,
    leave,
    restart,
    startAt,
    press,
    release,
    turn,
    dialAt,
    recorded,
    keepRecorded,
    dropRecorded,
  };
});

const kindOf = (code: string) => /^(Pad|Note)\d+$/.exec(code)?.[1] ?? 'key';
