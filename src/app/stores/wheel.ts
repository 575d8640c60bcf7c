import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { programName } from '../../core/seating/programs';
import type { StepCall } from '../../core/steps/call';
import { count } from '../../core/target/words';
import type { PartView } from '../../core/wire/view';
import { useJob } from './job';
import { usePlaying } from './playing';
import { useSeating } from './seating';

export type WheelKind = 'sound' | 'octave' | 'key' | 'seat' | 'kit';

export interface Candidate {
  readonly name: string;
  /** What it comes to in the plan; none where it is as it is now. */
  readonly call: StepCall | null;
}

/**
 * The try-out wheel: candidates of one kind for the chosen part, heard one after the other while the
 * music plays. Nothing is in the plan before one is kept.
 */
export const useWheel = defineStore('wheel', () => {
  const job = useJob();
  const playing = usePlaying();
  const seating = useSeating();
  const open = ref(false);
  const kind = ref<WheelKind>('sound');
  const at = ref(0);

  const part = computed<PartView | null>(
    () => seating.chosen[0] ?? seating.all.find((p) => !p.leftOut) ?? null,
  );
  const kinds = computed<{ id: WheelKind; name: string }[]>(() => [
    { id: 'sound', name: 'Sound' },
    { id: 'octave', name: 'Octave' },
    { id: 'key', name: 'Semitones' },
    ...(seating.ownSeats.length > 1 ? [{ id: 'seat' as const, name: 'Seat' }] : []),
    ...((job.target?.kits?.length ?? 0) > 1 ? [{ id: 'kit' as const, name: 'Kit' }] : []),
  ]);

  const candidates = computed<Candidate[]>(() => {
    const p = part.value;
    if (!p) return [];
    const call = (step: string, params: unknown, whole = false): StepCall => ({
      step,
      params,
      scope: whole ? {} : { parts: [p.ref] },
      on: true,
    });
    if (kind.value === 'octave' || kind.value === 'key') {
      const steps = kind.value === 'octave' ? [-24, -12, 0, 12, 24] : range(-11, 11);
      return steps.map((n) => ({
        name: n === 0 ? 'As it is' : `${n > 0 ? 'Up' : 'Down'} ${sayBy(n)}`,
        call: n === 0 ? null : call('transpose', { semitones: n }),
      }));
    }
    if (kind.value === 'seat')
      return seating.ownSeats.map((seat) => ({
        name: seat.name,
        call:
          seat.id === p.seat
            ? null
            : call('route', {
                seat: seat.id,
                ...('channel' in seat ? { channel: seat.channel } : {}),
                ...('track' in seat && seat.track ? { track: seat.track } : {}),
              }),
      }));
    if (kind.value === 'kit')
      return (job.target?.kits ?? []).map((kit) => ({
        name: kit.name,
        call: kit.id === seating.kit?.id ? null : call('metadata', { kit: kit.id }, true),
      }));
    // The seat's own sounds where it has a list of them, else all of General MIDI.
    const seat = seating.ownSeats.find((s) => s.id === p.seat);
    const sounds = seat?.sounds?.map((s) => ({ program: s.program, name: s.name }));
    const all = sounds ?? range(0, 127).map((n) => ({ program: n, name: programName(n) }));
    return all.map(({ program, name }) => ({
      name: `${name} (${program + 1})`,
      call: program === p.program ? null : call('set-program', { program }),
    }));
  });
  const now = computed(() => candidates.value[at.value] ?? null);

  /** The wheel stands on what is there now. */
  function toNow() {
    const there = candidates.value.findIndex((c) => c.call === null);
    at.value = Math.max(0, there);
  }
  function start() {
    if (!part.value) return;
    // What is tried is heard as it would be delivered.
    playing.listen = 'delivered';
    open.value = true;
    if (!kinds.value.some((k) => k.id === kind.value)) kind.value = 'sound';
    toNow();
  }
  function turn(by: number) {
    const n = candidates.value.length;
    if (n > 0) at.value = (at.value + by + n) % n;
  }
  function stop() {
    open.value = false;
    playing.tried = [];
  }
  function toggle() {
    if (open.value) stop();
    else start();
  }

  /** Puts what is heard into the plan. */
  function keep() {
    const p = part.value;
    const found = now.value;
    stop();
    if (!p || !found?.call || job.readOnly) return;
    const { step, params } = found.call;
    const did = `${p.name}: ${found.name}`;
    if (step === 'transpose') seating.transpose(p, (params as { semitones: number }).semitones);
    else if (step === 'route') seating.place([p], (params as { seat: string }).seat);
    else if (step === 'metadata') job.addSteps(`Kit ${found.name}`, [found.call]);
    else job.upsertSteps(did, [found.call], [step]);
  }

  watch(kind, toNow);
  watch([now, open], () => {
    if (open.value) playing.tried = now.value?.call ? [now.value.call] : [];
  });
  // Another part, another plan: the wheel begins anew.
  watch([() => part.value?.id, () => job.shown], () => {
    if (open.value) toNow();
  });

  return { open, kind, kinds, at, part, candidates, now, turn, toggle, stop, keep };
});

const range = (from: number, to: number) =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i);
const sayBy = (n: number) =>
  n % 12 === 0 ? count(Math.abs(n) / 12, 'octave') : count(Math.abs(n), 'semitone');
