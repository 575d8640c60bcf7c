import { BEND, curvesIn, presetsIn, type Curve, type Preset } from '../../reading/curves';
import { joinEvents, newEvents, pickEvents } from '../../score/columns';
import { isIn, type EventColumns, type Part } from '../../score/score';
import { withScore, type StepInput } from '../define-step';

/** A point of a curve; one that has `from` is the event that it came from, wherever it stands now. */
export interface Point {
  readonly tick: number;
  readonly value: number;
  readonly from?: number;
}

/** What a change of a curve may know beside its points. */
export interface Course extends Pick<Curve, 'channel' | 'kind' | 'number'> {
  /** Value in force before the first point that is changed; null where none was sent. */
  readonly before: number | null;
  /** Programs of its channel, in order. */
  readonly presets: readonly Preset[];
  readonly usAt: (tick: number) => number;
  /** As the rules count it: not rounded. */
  readonly exactUs: (tick: number) => number;
  readonly tickAt: (us: number) => number;
}

export interface ChangedCurves {
  readonly piece: StepInput<unknown>['piece'];
  /** Points that were moved, changed, added or taken out. */
  readonly events: number;
  readonly dropped: number;
  readonly added: number;
}

/** Which curves a step is for: controllers by number, or the bend. */
export interface Wanted {
  readonly controllers?: number[] | undefined;
  readonly bend?: boolean | undefined;
}
export const wants =
  ({ controllers, bend }: Wanted) =>
  (kind: number, number: number): boolean =>
    kind === BEND ? bend === true : kind === 0xb0 && (controllers?.includes(number) ?? false);

export const sayWanted = ({ controllers = [], bend }: Wanted): string =>
  [
    ...(controllers.length > 0
      ? [`controller${controllers.length > 1 ? 's' : ''} ${listOf(controllers)}`]
      : []),
    ...(bend ? ['the bend'] : []),
  ].join(' and ');
const listOf = (numbers: readonly number[]) =>
  numbers.length > 6
    ? `${numbers.slice(0, 5).join(', ')} and ${numbers.length - 5} more`
    : numbers.join(', ');

/** The programs of the channels of parts that a step is for, and of those parts alone. */
export const chosenParts = ({ piece, select }: Pick<StepInput<unknown>, 'piece' | 'select'>) =>
  piece.score.parts.filter((p) => isIn(p) && select.part(p));

/**
 * Changes curves of the chosen parts, those of one channel together whatever tracks they stand on.
 * Points outside the stretch stay; what `change` gives null for stays as it is.
 */
export function changeCurves(
  input: StepInput<unknown>,
  wanted: (kind: number, number: number) => boolean,
  change: (points: readonly Point[], course: Course) => readonly Point[] | null,
): ChangedCurves {
  const { piece, select, maps } = input;
  const parts = chosenParts(input);
  const presets = presetsIn(parts);
  const exactUs = (tick: number) => maps.clock.msAt(tick) * 1000;
  const usAt = (tick: number) => Math.round(exactUs(tick));
  const tickAt = (us: number) => maps.clock.tickAt(us / 1000);
  const edits = new Map<Part, { gone: Set<number>; added: [tick: number, event: Raw][] }>();
  const editOf = (part: Part) => {
    const there = edits.get(part) ?? { gone: new Set<number>(), added: [] };
    edits.set(part, there);
    return there;
  };
  let [events, dropped, added] = [0, 0, 0];
  for (const curve of curvesIn(parts)) {
    if (!wanted(curve.kind, curve.number)) continue;
    const points: Point[] = [];
    let before: number | null = null;
    for (let i = 0; i < curve.count; i++)
      if (select.at(curve.tick[i]!))
        points.push({ tick: curve.tick[i]!, value: curve.value[i]!, from: i });
      else if (points.length === 0) before = curve.value[i]!;
    const own = presets.filter((p) => p.channel === curve.channel);
    const { channel, kind, number } = curve;
    const next = change(points, {
      channel,
      kind,
      number,
      before,
      presets: own,
      usAt,
      exactUs,
      tickAt,
    });
    if (next === null) continue;
    const kept = new Set<number>();
    const fresh: { point: Point; part: Part }[] = [];
    const home = curve.parts[curve.part[points[0]?.from ?? 0]!]!;
    for (const point of next) {
      const { from } = point;
      if (from === undefined) {
        fresh.push({ point, part: home });
        added++;
      } else if (point.tick === curve.tick[from] && point.value === curve.value[from])
        kept.add(from);
      else {
        fresh.push({ point, part: curve.parts[curve.part[from]!]! });
        kept.add(from);
        editOf(curve.parts[curve.part[from]!]!).gone.add(curve.index[from]!);
        events++;
      }
    }
    for (const { from } of points)
      if (!kept.has(from!)) {
        editOf(curve.parts[curve.part[from!]!]!).gone.add(curve.index[from!]!);
        dropped++;
      }
    for (const { point, part } of fresh)
      editOf(part).added.push([point.tick, rawOf(kind, number, point.value)]);
  }
  const next = applyEdits(piece, edits);
  return { piece: next, events: events + dropped + added, dropped, added };
}

interface Raw {
  readonly kind: number;
  readonly data1: number;
  readonly data2: number;
}
export const rawOf = (kind: number, number: number, value: number): Raw =>
  kind === BEND
    ? { kind, data1: value & 127, data2: value >> 7 }
    : kind === 0xd0 || kind === 0xc0
      ? { kind, data1: value, data2: 0 }
      : { kind, data1: number, data2: value };

export type Edits = Map<Part, { gone: Set<number>; added: [tick: number, event: Raw][] }>;

/** Events taken out and put in; what is put in at a tick stands behind what is there. */
export function applyEdits(piece: StepInput<unknown>['piece'], edits: Edits) {
  if ([...edits.values()].every((e) => e.gone.size === 0 && e.added.length === 0)) return piece;
  const parts = piece.score.parts.map((part) => {
    const edit = edits.get(part);
    if (!edit || (edit.gone.size === 0 && edit.added.length === 0)) return part;
    return { ...part, events: edited(part.events, edit) };
  });
  return withScore(piece, { parts });
}

function edited(
  events: EventColumns,
  { gone, added }: { gone: ReadonlySet<number>; added: readonly [number, Raw][] },
): EventColumns {
  const kept: number[] = [];
  for (let i = 0; i < events.count; i++) if (!gone.has(i)) kept.push(i);
  const fresh = newEvents(added.length);
  added.forEach(([tick, { kind, data1, data2 }], i) => {
    fresh.tick[i] = tick;
    fresh.kind[i] = kind;
    fresh.data1[i] = data1;
    fresh.data2[i] = data2;
  });
  // Of order 0: behind what stands at its tick, in the order given.
  return joinEvents([pickEvents(events, kept), fresh]);
}
