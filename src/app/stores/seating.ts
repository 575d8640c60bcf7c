import { contentOf } from '../../core/wire/content';
import { computed, ref, shallowRef, watch } from 'vue';
import { mostAtOnce } from '../../core/score/at-once';
import { clashes, fitting, keyCounts, summedCounts } from '../../core/seating/key-use';
import { programAt } from '../../core/seating/seat-sound';
import type { StepCall } from '../../core/steps/call';
import { allowedKeys, limitsFor } from '../../core/target/limits';
import type { Seat } from '../../core/target/schema';
import { count } from '../../core/target/words';
import type { NoteView, PartView } from '../../core/wire/view';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import { useLooking } from './looking';

/** Where a part can go at the desk: a seat, the target as a whole, or the pile of what is left out. */
export const AS_IT_IS = '—taken—';
export const LEFT_OUT = '—out—';
export const NO_SEAT = '—none—';

export interface SeatView {
  readonly id: string;
  readonly name: string;
  readonly seat: Seat | null;
  /** A table of 128; null where every key is taken. */
  readonly allowed: readonly boolean[] | null;
  /** Voices that it may sound at once; null where that is not limited. */
  readonly together: number | null;
  readonly parts: readonly PartView[];
}

/** What would become of parts at a seat, before they sit there. */
export interface Preview {
  readonly counts: Uint32Array;
  readonly notes: number;
  readonly fits: number;
  readonly clashes: number;
  readonly atOnce: number;
}

/** The seat desk: who sits where, what is chosen and aimed at, and the one step a gesture makes. */
export const useSeating = defineJobPart(() => {
  const job = useJob();
  const looking = useLooking();
  /** Ids of parts that are chosen at the desk. */
  const picked = shallowRef<ReadonlySet<string>>(new Set());
  /** The seat that is aimed at, by pointer or by key. */
  const aim = ref<string | null>(null);
  /** The seat whose tools are open. */
  const opened = ref<string | null>(null);

  const all = computed(() => {
    const parts = job.shown?.delivered.parts ?? [];
    return parts.filter(contentOf(parts, job.target));
  });
  const indexOf = (part: PartView) =>
    job.shown?.delivered.parts.findIndex((p) => p.id === part.id) ?? 0;
  const ownSeats = computed(() => job.target?.seats.filter((s) => s.kind !== 'file') ?? []);
  /** Everything is taken as it is, or goes to places that are files. */
  const takesAll = computed(
    () =>
      job.target?.seating?.unseated === 'taken' ||
      job.target?.seats.some((s) => s.kind === 'file') === true,
  );

  // Columns stay the same objects as long as their notes do: each is counted once.
  const counted = new WeakMap<NoteView, Uint32Array>();
  const voiced = new WeakMap<NoteView, number>();
  function countsOf(columns: NoteView): Uint32Array {
    const found = counted.get(columns) ?? keyCounts([columns]);
    counted.set(columns, found);
    return found;
  }
  const countsOfAll = (all: readonly NoteView[]) => summedCounts(all.map(countsOf));
  function atOnceOf(all: readonly NoteView[]): number {
    const [only] = all;
    if (!only || all.length > 1) return mostAtOnce(all);
    const found = voiced.get(only) ?? mostAtOnce(all);
    voiced.set(only, found);
    return found;
  }

  /** The kit that was chosen, else the one that has the most of what is played. */
  const kit = computed(() => {
    const kits = job.target?.kits ?? [];
    const chosen = job.shown?.delivered.delivery.metadata?.kit;
    const counts = countsOfAll(all.value.filter((p) => !p.leftOut).map((p) => p.columns));
    const has = (k: (typeof kits)[number]) =>
      k.keys.reduce((n, { noteNumber }) => n + counts[noteNumber]!, 0);
    return (
      kits.find((k) => k.id === chosen) ??
      kits.reduce<(typeof kits)[number] | null>((a, b) => (a && has(a) >= has(b) ? a : b), null)
    );
  });

  const seats = computed<SeatView[]>(() => {
    const { target } = job;
    if (!target) return [];
    const ofKit = kit.value && { only: kit.value.keys.map((k) => k.noteNumber) };
    const view = (id: string, name: string, seat: Seat | null, parts: PartView[]): SeatView => {
      const limits = limitsFor(target, { seat: seat?.id ?? null }) ?? ofKit;
      const { polyphony } = target;
      const of = polyphony?.seats;
      const limited = polyphony && (!of || (seat && of.includes(seat.id)));
      return {
        id,
        name,
        seat,
        allowed: limits ? allowedKeys(limits) : null,
        together: limited && polyphony.over !== 'all' ? polyphony.together : null,
        parts,
      };
    };
    const own = ownSeats.value.map((s) =>
      view(
        s.id,
        s.name,
        s,
        all.value.filter((p) => !p.leftOut && p.seat === s.id),
      ),
    );
    if (!takesAll.value) return own;
    const rest = all.value.filter((p) => !p.leftOut && !own.some((s) => s.parts.includes(p)));
    return [...own, view(AS_IT_IS, 'Taken as they are', null, rest)];
  });
  const unseated = computed(() =>
    takesAll.value ? [] : all.value.filter((p) => !p.leftOut && p.seat === null),
  );
  const leftOut = computed(() => all.value.filter((p) => p.leftOut));

  const chosen = computed(() => {
    const ids = picked.value.size > 0 ? picked.value : new Set([looking.part]);
    return all.value.filter((p) => ids.has(p.id));
  });

  function pick(id: string, more: boolean) {
    const next = new Set(more ? picked.value : []);
    if (more && next.has(id)) next.delete(id);
    else next.add(id);
    picked.value = next;
    looking.choosePart(next.size > 0 ? id : null);
  }
  // Walked to by a key: then it is that one alone.
  watch(
    () => looking.part,
    (id) => {
      if (id === null) picked.value = new Set();
      else if (!picked.value.has(id)) picked.value = new Set([id]);
    },
  );

  /** What the chosen parts would come to at a seat, beside those that sit there. */
  function previewAt(view: SeatView, parts: readonly PartView[]): Preview | null {
    const coming = parts.filter((p) => !view.parts.includes(p));
    if (coming.length === 0) return null;
    const columns = coming.map((p) => p.columns);
    const there = view.parts.map((p) => p.columns);
    const counts = countsOfAll(columns);
    const notes = columns.reduce((n, c) => n + c.count, 0);
    return {
      counts,
      notes,
      fits: view.allowed ? fitting(counts, view.allowed) : notes,
      clashes: clashes(columns, there),
      atOnce: atOnceOf([...there, ...columns]),
    };
  }

  const ROUTING = ['route', 'leave-out'];

  /** Seats parts, takes them as they are, or leaves them out: one step a part, replaced by the next. */
  function place(parts: readonly PartView[], to: string) {
    const moving = parts.filter((p) => whereIs(p) !== to);
    if (moving.length === 0 || job.readOnly || to === NO_SEAT) return;
    const seat = ownSeats.value.find((s) => s.id === to);
    const who = moving.length === 1 ? moving[0]!.name : count(moving.length, 'part');
    const did =
      to === LEFT_OUT
        ? `${who}: left out`
        : seat
          ? `${who}: seat at ${seat.name}`
          : `${who}: taken as ${moving.length === 1 ? 'it is' : 'they are'}`;
    const call = (part: PartView): StepCall => ({
      step: to === LEFT_OUT ? 'leave-out' : 'route',
      params:
        to === LEFT_OUT
          ? {}
          : seat
            ? {
                seat: seat.id,
                ...('channel' in seat ? { channel: seat.channel } : {}),
                ...('track' in seat && seat.track ? { track: seat.track } : {}),
              }
            : { seat: '', channel: part.channel },
      scope: { parts: [part.ref] },
      on: true,
    });
    /** A seat with sounds of its own has the part play one of them. */
    const sounds = moving.flatMap((part): StepCall[] => {
      const program = programAt(seat, part.program);
      const scope = { parts: [part.ref] };
      return program === null
        ? []
        : [{ step: 'set-program', params: { program }, scope, on: true }];
    });
    job.upsertSteps(did, [...moving.map(call), ...sounds], ROUTING);
    aim.value = null;
  }

  const whereIs = (part: PartView): string => {
    if (part.leftOut) return LEFT_OUT;
    if (part.seat !== null && ownSeats.value.some((s) => s.id === part.seat)) return part.seat;
    return takesAll.value ? AS_IT_IS : NO_SEAT;
  };

  /** The step of a kind that stands for one part alone, so that a desk tool can go on with it. */
  const stepOf = (part: PartView, step: string) =>
    job.plan?.now.steps.findLast(
      (s) =>
        s.step === step &&
        s.on &&
        JSON.stringify(s.scope) === JSON.stringify({ parts: [part.ref] }),
    ) ?? null;

  /** Moves a part to another pitch; what was moved at the desk before is added to. */
  function transpose(part: PartView, semitones: number) {
    const there = stepOf(part, 'transpose');
    const was = (there?.params as { semitones?: number } | undefined)?.semitones ?? 0;
    const now = was + semitones;
    if (semitones === 0) return;
    if (there && now === 0) {
      job.removeStep(there.key, `${part.name}: as written`);
      return;
    }
    const word = now > 0 ? 'up' : 'down';
    const call = { step: 'transpose', params: { semitones: now }, scope: { parts: [part.ref] } };
    const did = `${part.name}: ${word} ${count(Math.abs(now), 'semitone')}`;
    job.upsertSteps(did, [{ ...call, on: true }], ['transpose']);
  }

  return {
    picked,
    aim,
    opened,
    all,
    seats,
    ownSeats,
    unseated,
    leftOut,
    takesAll,
    kit,
    chosen,
    indexOf,
    pick,
    previewAt,
    countsOfAll,
    atOnceOf,
    place,
    whereIs,
    stepOf,
    transpose,
  };
});
