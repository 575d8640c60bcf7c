import { computed, ref, shallowRef, watch } from 'vue';
import { beforePlaced, placedIn, withPlaced, type Placed } from '../../core/plan/placed';
import type { SongBars } from '../../core/reading/stretches';
import { slotsOf, type Slot } from '../../core/target/slots';
import { count } from '../../core/target/words';
import { mapTick, unmapTick } from '../../core/time/time-map';
import type { PieceFile } from '../../worker/run-protocol';
import { newKey } from '../storage/job';
import { sideEngine } from './engine';
import { fileStem } from './handover';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import { useLooking } from './looking';
import { usePlaying } from './playing';

/** Bars that are carried to a place. */
export interface Carried {
  /** Index of the song that they are of. */
  readonly song: number;
  readonly fromBar: number;
  readonly bars: number;
  readonly name: string;
  /** The place that they come from, where they lie in one already. */
  readonly moves?: string;
}

/** What lies in a place. */
export interface Lying {
  readonly piece: number;
  readonly file: PieceFile;
  /** As the plan has it; null where the name of the file alone says it. */
  readonly placed: Placed | null;
  readonly stops: number;
}

export const sayStretch = ({ fromBar, bars }: Pick<Carried, 'fromBar' | 'bars'>): string =>
  bars <= 1
    ? `${bars < 1 ? 'half of ' : ''}bar ${fromBar}`
    : `bars ${fromBar}–${fromBar + Math.ceil(bars) - 1}`;

/** The places of a target that are files: what lies in them, and what is carried to them. */
export const usePlaces = defineJobPart(() => {
  const job = useJob();
  const looking = useLooking();
  const playing = usePlaying();

  const slots = computed<readonly Slot[]>(() =>
    job.target ? slotsOf(job.target, fileStem(job.record?.title ?? '')) : [],
  );
  const songs = shallowRef<readonly SongBars[]>([]);
  const inHand = shallowRef<Carried | null>(null);
  const opened = ref<string | null>(null);
  const steps = computed(() => job.plan?.now.steps ?? []);
  const placed = computed(() => placedIn(steps.value));

  const lying = computed<ReadonlyMap<string, Lying>>(() => {
    const out = new Map<string, Lying>();
    const files = job.shown?.pieces ?? [];
    files.forEach((file, piece) => {
      if (file.place === null || out.has(file.place)) return;
      const isOf = (at: number | null) => at === piece || (at === null && files.length === 1);
      const stops = job.findings.filter(
        (f) => isOf(f.piece) && f.severity === 'stop' && f.reason === null,
      ).length;
      const own = placed.value.find((p) => p.place === file.place) ?? null;
      out.set(file.place, { piece, file, placed: own, stops });
    });
    return out;
  });
  const slotOf = (id: string | null) => slots.value.find((s) => s.id === id) ?? null;

  // --- the bars that there are ----------------------------------------------------------------
  let asked = '';
  /** Reads the bars anew where what comes before the places has changed. */
  async function load() {
    const request = slots.value.length > 0 ? job.request() : null;
    if (!request) return;
    const { sources, target } = request;
    const plan = { ...request.plan, steps: beforePlaced(request.plan.steps) };
    const key = JSON.stringify([sources, target.id, plan]);
    if (key === asked) return;
    asked = key;
    const call = sideEngine().ask('songBars', { sources, target, plan });
    const reply = await call.result.catch(() => null);
    if (key !== asked) return;
    // What was given up or failed is asked for once more when something changes.
    if (!reply) return void (asked = '');
    songs.value = reply;
    if (inHand.value && inHand.value.song >= reply.length) inHand.value = null;
  }
  const fileOf = (song: number) =>
    songs.value.length > 1 ? (songs.value[song]?.file ?? null) : null;
  const songOf = (from: string | null) =>
    Math.max(0, songs.value.findIndex((s) => s.file === from)); // prettier-ignore
  const barsIn = (song: number) => songs.value[song]?.notes.length ?? 1;

  /** Bars that the notes chosen on the sheet stand in, counted on the song. */
  const chosen = computed<Carried | null>(() => {
    const span = looking.chosenSpan;
    const piece = looking.piece;
    const from = placed.value.find((p) => lying.value.get(p.place)?.piece === job.shown?.piece)?.from; // prettier-ignore
    const song = songOf(from ?? job.shown?.pieces[job.shown.piece]?.name ?? null);
    const own = songs.value[song];
    if (!span || !piece || !own) return null;
    const source = piece === job.shown?.source;
    const barAt = (tick: number) => {
      const base = source ? tick : unmapTick(piece.fromBase ?? undefined, tick);
      const at = mapTick(own.fromBase ?? undefined, base);
      const next = own.barTicks.findIndex((t) => t > at);
      return next < 0 ? own.notes.length : Math.max(1, next);
    };
    const fromBar = barAt(span.fromTick);
    const bars = Math.max(fromBar, barAt(span.toTick - 1)) - fromBar + 1;
    return { song, fromBar, bars, name: 'Chosen on the sheet' };
  });
  // --- laying ---------------------------------------------------------------------------------
  const order = (place: string) => slots.value.findIndex((s) => s.id === place);
  function lay(next: readonly Placed[], did: string) {
    const sorted = [...next].sort((a, b) => order(a.place) - order(b.place));
    const barsOf = (from: string | null) => barsIn(songOf(from));
    job.setSteps(withPlaced(steps.value, sorted, barsOf, newKey), did);
  }

  /** What lies there by its name alone stays where it is when the first bars are laid. */
  const all = computed<readonly Placed[]>(() => [
    ...placed.value,
    ...[...lying.value].flatMap(
      ([place, { file, placed: own }]): Placed[] =>
      own
        ? []
        : [{ place, fileName: file.name, from: songs.value.length > 1 ? file.name : null, fromBar: 1, bars: null }], // prettier-ignore
    ),
  ]);

  function laidAs(slot: Slot, { song, fromBar, bars }: Carried): Placed {
    const whole = fromBar === 1 && bars >= barsIn(song);
    const { id: place, fileName } = slot;
    return { place, fileName, from: fileOf(song), fromBar, bars: whole ? null : bars };
  }

  /** Lays what is carried into a place; what lies in both changes places. */
  function put(slot: Slot, carried = inHand.value) {
    if (!carried || job.readOnly) return;
    const { moves } = carried;
    if (moves === slot.id) return letGo();
    const there = all.value.find((p) => p.place === slot.id);
    const back = moves === undefined ? null : slotOf(moves);
    const next = [
      ...all.value.filter((p) => p.place !== slot.id && p.place !== moves),
      laidAs(slot, carried),
      ...(there && back ? [{ ...there, place: back.id, fileName: back.fileName }] : []),
    ];
    letGo();
    opened.value = slot.id;
    lay(next, `${slot.name}: ${sayStretch(carried)}`);
  }
  function empty(slot: Slot) {
    if (job.readOnly || !placed.value.some((p) => p.place === slot.id)) return;
    if (opened.value === slot.id) opened.value = null;
    lay(all.value.filter((p) => p.place !== slot.id), `${slot.name}: emptied`); // prettier-ignore
  }
  /** Other bars of the same song for a place. */
  function reach(slot: Slot, fromBar: number, bars: number) {
    const old = all.value.find((p) => p.place === slot.id);
    if (!old || job.readOnly) return;
    const next = laidAs(slot, { song: songOf(old.from), fromBar, bars, name: '' });
    lay([...all.value.filter((p) => p !== old), next], `${slot.name}: ${sayStretch({ fromBar, bars })}`); // prettier-ignore
  }

  /** Stretches by markers, else sections, each into the first free place that takes it. */
  const wouldFill = computed(() => {
    const free = slots.value.filter(
      (s) => !lying.value.get(s.id)?.placed && (s.plays === null || s.plays === 'round'),
    );
    const fits: { readonly slot: Slot; readonly carried: Carried }[] = [];
    const left: Carried[] = [];
    songs.value.forEach(({ stretches, notes }, song) => {
      const sounds = ({ fromBar, bars }: Pick<Carried, 'fromBar' | 'bars'>) =>
        notes.slice(fromBar - 1, fromBar - 1 + bars).some((n) => n > 0);
      const by = stretches.some((s) => s.by === 'marker') ? 'marker' : 'section';
      for (const { name, fromBar, bars } of stretches.filter((s) => s.by === by)) {
        const carried = { song, fromBar, bars, name };
        // A stretch in which nothing begins, such as a bar of set-up, would be a silent file.
        if (!sounds(carried)) continue;
        if (all.value.some((p) => songOf(p.from) === song && p.fromBar === fromBar)) continue;
        const at = free.findIndex((s) => s.takes(bars));
        if (at < 0) left.push(carried);
        else fits.push({ slot: free.splice(at, 1)[0]!, carried });
      }
    });
    return { fits, left };
  });
  function fill() {
    const { fits } = wouldFill.value;
    if (fits.length === 0 || job.readOnly) return;
    const filled = new Set(fits.map((f) => f.slot.id));
    lay(
      [...all.value.filter((p) => !filled.has(p.place)), ...fits.map((f) => laidAs(f.slot, f.carried))], // prettier-ignore
      `${count(fits.length, 'place')} filled`,
    );
  }

  // --- carrying -------------------------------------------------------------------------------
  function take(carried: Carried) {
    inHand.value = carried;
  }
  function letGo() {
    inHand.value = null;
  }
  /** What lies in a place is taken up, to be laid elsewhere. */
  function takeFrom(slot: Slot) {
    const there = all.value.find((p) => p.place === slot.id);
    if (!there) return;
    const song = songOf(there.from);
    const bars = there.bars ?? barsIn(song);
    inHand.value = { song, fromBar: there.fromBar, bars, name: slot.name, moves: slot.id };
  }

  // --- hearing --------------------------------------------------------------------------------
  const heard = ref<string | null>(null);
  let queue: string[] = [];
  /** One place stops for the next. */
  let changing = false;
  async function hearNext(place: string) {
    const there = lying.value.get(place);
    if (!there) return;
    const still = job.still();
    changing = true;
    try {
      playing.stop();
      await job.showPiece(there.piece);
      if (!still()) return;
      playing.listen = 'delivered';
      playing.setLoop(null);
      playing.seek(0);
      heard.value = place;
      await playing.play();
    } finally {
      changing = false;
    }
  }
  function hear(slot: Slot) {
    queue = [];
    if (heard.value === slot.id && playing.playing) return playing.stop();
    void hearNext(slot.id);
  }
  /** As the bars follow each other in the song; what leads in comes first, what ends it last. */
  const inOrder = computed(() => {
    const rank = ({ plays }: Slot) => (plays === 'lead-in' ? 0 : plays === 'end' ? 2 : 1);
    const at = ({ id }: Slot) => {
      const own = lying.value.get(id)?.placed;
      return own ? songOf(own.from) * 1e6 + own.fromBar : 0;
    };
    return slots.value
      .filter((s) => lying.value.has(s.id))
      .sort((a, b) => rank(a) - rank(b) || at(a) - at(b));
  });
  function hearAll() {
    const [first, ...others] = inOrder.value.map((s) => s.id);
    if (first === undefined) return;
    queue = others;
    void hearNext(first);
  }
  watch([() => playing.ended, () => playing.playing], ([ended, plays], [before]) => {
    if (plays || changing) return;
    const next = ended !== before ? queue.shift() : undefined;
    heard.value = null;
    if (next !== undefined) void hearNext(next);
    // Who stops it wants no more of it; between two places nothing plays either.
    else if (ended === before) queue = [];
  });

  return {
    slots,
    songs,
    lying,
    placed,
    inHand,
    opened,
    chosen,
    wouldFill,
    inOrder,
    heard,
    load,
    slotOf,
    songOf,
    barsIn,
    put,
    empty,
    reach,
    fill,
    take,
    takeFrom,
    letGo,
    hear,
    hearAll,
  };
});
