import * as z from 'zod';
import { breachesOf, placeOf } from '../../reading/measures';
import { notesWhere, pickNotes, sortNotes } from '../../score/columns';
import type { Maps } from '../../score/inventory';
import type { Piece } from '../../score/piece';
import type { Part } from '../../score/score';
import {
  isByNote,
  keepsLimit,
  LimitSchema,
  MEASURES,
  sayBounds,
  sayMeasure,
  type Limit,
} from '../../target/limit-schema';
import { TargetSchema } from '../../target/schema';
import { changeParts, defineStep, done } from '../define-step';

/** Values that a note can be given: of these the nearest within the bounds. */
const SETTABLE = ['velocity', 'length-ms', 'note-number', 'place-in-beat', 'place-in-bar'];

export const canBeSet = ({ measure, over }: Limit): boolean =>
  over === 'note' && SETTABLE.includes(measure);

const { measure, over, least, most, oneOf, multipleOf } = LimitSchema.shape;
const bounds = { measure, over, least, most, oneOf, multipleOf };
const where = LimitSchema.shape.where.unwrap().shape;
interface Params extends Pick<Limit, keyof typeof bounds>, NonNullable<Limit['where']> {}

/** A limit as parameters of this step: without the words of the target. */
export const asParams = (limit: Limit): Params => ({
  ...pick(limit, Object.keys(bounds) as (keyof typeof bounds)[]),
  ...limit.where,
});
const pick = <K extends keyof Limit>(limit: Limit, keys: readonly K[]): Pick<Limit, K> =>
  Object.fromEntries(keys.filter((k) => limit[k] !== undefined).map((k) => [k, limit[k]])) as Pick<
    Limit,
    K
  >;

const limitOf = (p: Params): Limit => {
  const { seats, keys, softest, hardest, fromBar, toBar, ...own } = p;
  const at = { seats, keys, softest, hardest, fromBar, toBar };
  return {
    ...own,
    title: MEASURES[p.measure].words,
    why: 'It is held.',
    ...(Object.values(at).some((v) => v !== undefined) ? { where: at } : {}),
  };
};

export const holdLimit = defineStep({
  id: 'hold-limit',
  reach: 'notes',
  title: 'Hold a limit of the target',
  summary:
    'Notes that break a limit of its own are left out, or given the nearest value that keeps it.',
  params: z.strictObject({
    ...bounds,
    ...where,
    lanes: z
      .array(z.strictObject({ seat: z.string().max(60), keys: z.array(z.int().min(0).max(127)) }))
      .max(128)
      .optional()
      .describe('The keys of the lanes, for jumps between lanes'),
    by: z.enum(['drop', 'nearest']).describe('Left out, or given the nearest value'),
  }),
  describe: (p) =>
    `${p.by === 'drop' ? 'leave out what breaks' : 'nearest value for'} ${sayMeasure(p)}, ${sayBounds(limitOf(p))}`,
  apply(input) {
    const { by, lanes = [], ...params } = input.params;
    const limit = limitOf(params);
    if (by === 'nearest' && !canBeSet(limit))
      return { refused: `The ${MEASURES[limit.measure].words} of a note cannot be set.` };
    if (by === 'drop' && !isByNote(limit))
      return { refused: `No note alone breaks the ${MEASURES[limit.measure].words}.` };
    const found = breachesOf(input.piece, limit, withLanes(lanes));
    const values = new Map(found.flatMap((b) => (b.note ? [[b.note.id, b.value] as const] : [])));
    let [changed, dropped] = [0, 0];
    const next: Piece = changeParts(input, (part) => {
      const { notes } = part;
      const own = notesWhere(notes, (i) => values.has(notes.id[i]!) && input.select.note(part, i));
      if (own.length === 0) return part;
      if (by === 'drop') {
        dropped += own.length;
        const gone = new Set(own);
        return {
          ...part,
          notes: pickNotes(
            notes,
            notesWhere(notes, (i) => !gone.has(i)),
          ),
        };
      }
      changed += own.length;
      return setTo(part, own, limit, input.maps);
    });
    return done(
      next,
      { changed, dropped, verb: `given the nearest ${MEASURES[limit.measure].words}` },
      [{ what: 'notes', count: dropped }],
    );
  },
});

/** Only the lanes of its seats are looked at. */
const withLanes = (lanes: readonly { seat: string; keys: readonly number[] }[]) =>
  TargetSchema.parse({
    schemaVersion: 1,
    id: 'lanes',
    version: '1.0.0',
    name: 'Lanes',
    summary: 'Lanes',
    seats: lanes.map(({ seat, keys }) => ({
      kind: 'laneGroup',
      id: seat,
      name: seat,
      channel: 1,
      laneNotes: keys,
    })),
    outputs: [{ writer: 'smf' }],
    checklist: [],
  });

/** The nearest value that keeps the bounds. */
export function nearestKept({ least, most, oneOf, multipleOf }: Limit, value: number): number {
  let to = value;
  if (oneOf) to = oneOf.reduce((a, b) => (Math.abs(b - value) < Math.abs(a - value) ? b : a));
  if (multipleOf !== undefined) to = Math.round(to / multipleOf) * multipleOf;
  if (least !== undefined && to < least)
    to = multipleOf === undefined ? least : Math.ceil(least / multipleOf - 1e-9) * multipleOf;
  if (most !== undefined && to > most)
    to = multipleOf === undefined ? most : Math.floor(most / multipleOf + 1e-9) * multipleOf;
  return to;
}

interface ClockLike {
  msAt(tick: number): number;
  tickAt(ms: number): number;
}

/** The end nearest to the one that a note has with which its length is kept; null where none is. */
export function endWithin(
  limit: Limit,
  start: number,
  was: number,
  clock: ClockLike,
): number | null {
  const from = clock.msAt(start);
  const near = clock.tickAt(from + nearestKept(limit, clock.msAt(was) - from));
  for (const tick of [near, near + 1, near - 1])
    if (tick > start && keepsLimit(limit, clock.msAt(tick) - from)) return tick;
  return null;
}

/** The start nearest to the one that a note has with which its place is kept; null where none is. */
export function startWithin(limit: Limit, was: number, maps: Maps): number | null {
  const { measure } = limit;
  if (measure !== 'place-in-beat' && measure !== 'place-in-bar') return null;
  const bar = maps.bars.barStart(maps.bars.barAt(was));
  const { numerator } = maps.bars.meterAt(bar);
  const beat = (maps.bars.barStart(maps.bars.barAt(was) + 1) - bar) / numerator;
  const value = placeOf(measure, maps, was);
  // The nearest place may stand in the beat, or the bar, before or behind.
  const around = measure === 'place-in-beat' ? 1 : numerator;
  const near = [0, around, -around]
    .map((by) => nearestKept(limit, value - by) + by - value)
    .sort((a, b) => Math.abs(a) - Math.abs(b));
  for (const away of near) {
    const to = Math.round(was + away * beat);
    if (to >= 0 && keepsLimit(limit, placeOf(measure, maps, to))) return to;
  }
  return null;
}

function setTo(
  part: Part,
  own: readonly number[] | Uint32Array | Int32Array,
  limit: Limit,
  maps: Maps,
): Part {
  const { notes } = part;
  const { clock } = maps;
  if (limit.measure.startsWith('place-')) return startsMoved(part, own, limit, maps);
  const velocity = Uint8Array.from(notes.velocity);
  const noteNumber = Uint8Array.from(notes.noteNumber);
  const end = Int32Array.from(notes.end);
  for (const i of own) {
    if (limit.measure === 'velocity')
      velocity[i] = Math.max(1, Math.min(127, Math.round(nearestKept(limit, velocity[i]!))));
    else if (limit.measure === 'note-number') {
      const to = Math.max(0, Math.min(127, Math.round(nearestKept(limit, noteNumber[i]!))));
      noteNumber[i] = to;
    } else {
      const tick = endWithin(limit, notes.start[i]!, notes.end[i]!, clock);
      if (tick !== null) end[i] = tick;
    }
  }
  return { ...part, notes: { ...notes, velocity, noteNumber, end } };
}

/** Their starts on the places that are nearest; lengths stay. */
function startsMoved(
  part: Part,
  own: readonly number[] | Uint32Array | Int32Array,
  limit: Limit,
  maps: Maps,
): Part {
  const { notes } = part;
  const start = Int32Array.from(notes.start);
  const end = Int32Array.from(notes.end);
  const onOrder = Uint32Array.from(notes.onOrder);
  const offOrder = Uint32Array.from(notes.offOrder);
  for (const i of own) {
    const to = startWithin(limit, start[i]!, maps);
    if (to === null) continue;
    end[i] = end[i]! + to - start[i]!;
    start[i] = to;
    onOrder[i] = 0;
    offOrder[i] = 0;
  }
  return { ...part, notes: sortNotes({ ...notes, start, end, onOrder, offOrder }) };
}
