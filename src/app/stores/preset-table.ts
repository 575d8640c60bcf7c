import { placesFor } from '../../core/reading/preset-places';
import type { StepCall } from '../../core/steps/call';
import type { Target } from '../../core/target/schema';
import type { PartView } from '../../core/wire/view';
import type { LaidPiece } from './job';

type Presets = NonNullable<Target['presets']>;

const FROM_MARKERS = 'presets-from-markers';
const FIRST = 'first-preset';

/** A place where a preset is to be there: a marker, the start, or where one stands by itself. */
export interface PresetRow {
  readonly tick: number;
  readonly marker: string | null;
  readonly preset: string | null;
  /** How long before its place it stands; null where there is none. */
  readonly leadMs: number | null;
}

export const presetId = ({ bank, program }: { bank: number; program: number }) =>
  `${bank}.${program}`;
export const presetOf = ({ list }: Presets, id: string | null) =>
  list.find((p) => presetId(p) === id) ?? null;

/** The part that presets stand on: what is seated, else the first that turns anything. */
export const presetPart = ({ parts }: Pick<LaidPiece, 'parts'>): PartView | null =>
  parts.find((p) => !p.leftOut && p.seat !== null && p.turns) ??
  parts.find((p) => !p.leftOut && p.turns) ??
  null;

/** Every place and the preset that is there, in order of time. */
export function presetRows(piece: LaidPiece, block: Presets): PresetRow[] {
  const { bars, clock, markers } = piece;
  const placeFor = placesFor(block.leadTo ?? 'markers', markers, { bars, clock });
  const found = new Map<number, { preset: string; leadMs: number }>();
  const presets = presetPart(piece)?.turns?.presets;
  presets?.tick.forEach((tick, i) => {
    const place = tick === 0 ? 0 : placeFor(tick);
    found.set(place, {
      preset: presetId({ bank: presets.bank[i]!, program: presets.program[i]! }),
      leadMs: Math.round(clock.msAt(place) - clock.msAt(tick)),
    });
  });
  const marks = new Map(markers.map((m) => [m.tick, m.text]));
  const ticks = new Set([0, ...marks.keys(), ...found.keys()]);
  return [...ticks]
    .sort((a, b) => a - b)
    .map((tick) => ({
      tick,
      marker: marks.get(tick) ?? null,
      preset: found.get(tick)?.preset ?? null,
      leadMs: found.get(tick)?.leadMs ?? null,
    }));
}

/** Only what a marker names, or the start, can be given another preset. */
export const canChoose = (row: PresetRow): boolean => row.marker !== null || row.tick === 0;

/** What gives a place another preset: the whole table as one step, each preset at its lead. */
export function presetCall(
  rows: readonly PresetRow[],
  row: PresetRow,
  id: string,
  { block, part }: { block: Presets; part: PartView },
): StepCall {
  const [bank, program] = id.split('.').map(Number) as [number, number];
  const scope = { parts: [part.ref] };
  if (row.marker === null) return { step: FIRST, params: { bank, program }, scope, on: true };
  // Every marker that has a preset stays in the table; those of one name have one.
  const table = new Map<string, { marker: string; bank: number; program: number }>();
  for (const r of rows) {
    const known = presetOf(block, r.preset);
    if (r.marker !== null && known)
      table.set(r.marker, { marker: r.marker, bank: known.bank, program: known.program });
  }
  table.set(row.marker, { marker: row.marker, bank, program });
  const { leadLeastMs = 0, leadMostMs = leadLeastMs } = block;
  const leadMs = Math.round((leadLeastMs + leadMostMs) / 2);
  return { step: FROM_MARKERS, params: { table: [...table.values()], leadMs }, scope, on: true };
}
