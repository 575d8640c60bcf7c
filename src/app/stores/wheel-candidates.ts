import type { PlanStep } from '../../core/plan/plan';
import type { RowRate } from '../../core/plan/row-rates';
import { nearestInKind } from '../../core/seating/drum-kinds';
import { programName } from '../../core/seating/programs';
import type { StepCall } from '../../core/steps/call';
import { rowRateSteps } from '../../core/plan/made-by';
import type { Seat, Target } from '../../core/target/schema';
import { count, plain } from '../../core/target/words';
import type { PartView } from '../../core/wire/view';
import { presetCall, presetId, presetPart, presetRows } from './preset-table';
import type { LaidPiece } from './job';
import type { TriedPreset } from './tried';

export type WheelKind = 'preset' | 'sound' | 'octave' | 'key' | 'seat' | 'kit' | 'rows';

export interface Candidate {
  readonly name: string;
  /** What it would do, where that is not heard at once. */
  readonly says?: string;
  /** What it comes to in the plan; none where it is as it is now. */
  readonly calls: readonly StepCall[] | null;
  /** Keys of steps whose place it takes. */
  readonly without?: readonly string[];
  /** The preset that it is, and from where to where it is heard. */
  readonly preset?: TriedPreset;
}

const range = (from: number, to: number) =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i);
const sayBy = (n: number) =>
  n % 12 === 0 ? count(Math.abs(n) / 12, 'octave') : count(Math.abs(n), 'semitone');
const of = (part: PartView, step: string, params: unknown): StepCall => ({
  step,
  params,
  scope: { parts: [part.ref] },
  on: true,
});

export const pitches = (part: PartView, by: 'octave' | 'key'): Candidate[] =>
  (by === 'octave' ? [-24, -12, 0, 12, 24] : range(-11, 11)).map((n) => ({
    name: n === 0 ? 'As it is' : `${n > 0 ? 'Up' : 'Down'} ${sayBy(n)}`,
    calls: n === 0 ? null : [of(part, 'transpose', { semitones: n })],
  }));

export const seatsFor = (part: PartView, seats: readonly Seat[]): Candidate[] =>
  seats.map((seat) => ({
    name: seat.name,
    calls:
      seat.id === part.seat
        ? null
        : [
            of(part, 'route', {
              seat: seat.id,
              ...('channel' in seat ? { channel: seat.channel } : {}),
              ...('track' in seat && seat.track ? { track: seat.track } : {}),
            }),
          ],
  }));

/** The seat’s own sounds where it has a list of them, else all of General MIDI. */
export function soundsFor(part: PartView, seat: Seat | undefined): Candidate[] {
  const own = seat?.sounds?.map((s) => ({ program: s.program, name: s.name }));
  const all = own ?? range(0, 127).map((n) => ({ program: n, name: programName(n) }));
  return all.map(({ program, name }) => ({
    name: `${name} (${program + 1})`,
    calls: program === part.program ? null : [of(part, 'set-program', { program })],
  }));
}

/** Each kit with what it has not on the nearest drum that it has. */
export function kitsFor(
  kits: NonNullable<Target['kits']>,
  now: string | null,
  counts: ArrayLike<number>,
): Candidate[] {
  const used = range(0, 127).filter((key) => counts[key]! > 0);
  return kits.map((kit) => {
    const there = kit.keys.map((k) => ({ key: k.noteNumber, name: k.name }));
    const off = used.filter((key) => !there.some((t) => t.key === key));
    const keys = nearestInKind(off, there);
    const mapped = { step: 'map-keys', params: { keys }, scope: {}, on: true };
    const named = { step: 'metadata', params: { kit: kit.id }, scope: {}, on: true };
    const calls = [...(keys.length > 0 ? [mapped] : []), named];
    return {
      name: kit.name,
      says:
        keys.length === 0
          ? 'has every drum'
          : `${count(keys.length, 'key')} on the nearest drum of it`,
      calls: kit.id === now && keys.length === 0 ? null : calls,
    };
  });
}

const seconds = (ms: number) => `${plain(Math.round(Math.abs(ms) / 100) / 10)} s`;

/** Row rates: how far notes stand from their rows, what runs together, how long it lasts. */
export function rowsFor(
  rates: readonly RowRate[],
  steps: readonly PlanStep[],
  now: string | undefined,
): Candidate[] {
  const without = rowRateSteps(steps).map((s) => s.key);
  const candidates = rates.map((r): Candidate => {
    const drift =
      Math.abs(r.driftMs) < 50
        ? ''
        : `, ${seconds(r.driftMs)} ${r.driftMs > 0 ? 'longer' : 'shorter'} at the end`;
    return {
      name: `${plain(r.rate)} rows a second${r.percent === 100 ? '' : ` at ${plain(r.percent)} %`}`,
      says:
        `notes within ${Math.ceil(r.worstMs)} ms, ` +
        `${r.clashes === 0 ? 'none run' : `${r.clashes.toLocaleString('en-GB')} run`} together` +
        `${drift}, ${r.rows.toLocaleString('en-GB')} rows in ${seconds(r.lengthMs)}` +
        (r.fits ? '' : ': more than it holds'),
      calls: r.steps,
      without,
    };
  });
  return now === undefined
    ? [{ name: 'As it is', says: 'no rate is chosen', calls: null }, ...candidates]
    : [{ name: `As it is, ${now} rows a second`, calls: null }, ...candidates];
}

/** The presets of a pedal, for the section that a tick is in. */
export function presetsFor(
  piece: LaidPiece,
  block: NonNullable<Target['presets']>,
  tick: number,
): Candidate[] {
  const part = presetPart(piece);
  const rows = presetRows(piece, block).filter((r) => r.tick === 0 || r.marker !== null);
  const row = rows.findLast((r) => r.tick <= tick);
  if (!part || !row) return [];
  const next = rows.find((r) => r.tick > tick);
  const where = row.marker === null ? 'at the start' : `at ${row.marker}`;
  const calls = (id: string) => [presetCall(rows, row, id, { block, part })];
  const listed = block.list.map((p): Candidate => {
    const id = presetId(p);
    return {
      name: p.name,
      says: p.on?.length ? `${where}, switches on ${p.on.join(', ')}` : where,
      calls: id === row.preset ? null : calls(id),
      preset: { bank: p.bank, program: p.program, fromTick: row.tick, toTick: next?.tick ?? null },
    };
  });
  const there = listed.some((c) => c.calls === null);
  return there ? listed : [{ name: 'As it is', says: where, calls: null }, ...listed];
}
