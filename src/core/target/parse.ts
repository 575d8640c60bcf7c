import { atOdds } from './at-odds';
import { sayLater } from '../diagnostic/later-version';
import { keysAt as keysOf, problemsOf, type Problem } from '../diagnostic/say-problems';
import { doubtsOf } from '../formats/own/doubts';
import { MEASURES, OVER_WORDS } from './limit-schema';
import { TargetSchema, type Target } from './schema';
import { STAND_INS, WRITER_OPTIONS } from './writer-options';

/** Why a piece of data is no target: where, as in `tempo.lowestBpm`, and what to do. */
export type TargetProblem = Problem;

export type TargetResult =
  | { readonly target: Target; readonly problems: readonly [] }
  | { readonly target?: undefined; readonly problems: readonly TargetProblem[] };

/** Largest target file that is read, in characters. */
export const LONGEST_TARGET = 1_000_000;

/** Checks data against the schema; an unknown key is answered with the nearest known one. */
export function parseTarget(data: unknown): TargetResult {
  const later = sayLater(data, 'schemaVersion', 1);
  if (later !== null) return { problems: [{ path: 'schemaVersion', says: later }] };
  const result = TargetSchema.safeParse(data);
  if (!result.success) return { problems: problemsOf(TargetSchema, result.error.issues) };
  const problems = contradictions(result.data);
  return problems.length > 0 ? { problems } : { target: result.data, problems: [] };
}

export function parseTargetText(text: string): TargetResult {
  if (text.length > LONGEST_TARGET)
    return { problems: [{ path: '', says: 'The file is too long to be a target.' }] };
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return { problems: [{ path: '', says: `This is not JSON: ${(error as Error).message}` }] };
  }
  return parseTarget(data);
}

/** Bounds of a block that have an order. */
const PAIRS: readonly (readonly [keyof Target, string, string])[] = [
  ['tempo', 'lowestBpm', 'highestBpm'],
  ['notes', 'lowest', 'highest'],
  ['velocity', 'lowest', 'highest'],
  ['end', 'leastBars', 'mostBars'],
  ['length', 'shortestMs', 'longestMs'],
  ['grid', 'chordLowest', 'chordHighest'],
  ['grid', 'triggerLowest', 'triggerHighest'],
  ['captions', 'leadLeastMs', 'leadMostMs'],
  ['presets', 'leadLeastMs', 'leadMostMs'],
  ['frames', 'shiftLowest', 'shiftHighest'],
  ['chains', 'shiftLowest', 'shiftHighest'],
];

function inOrder(
  out: TargetProblem[],
  path: string,
  data: Readonly<Record<string, unknown>> | undefined,
  low: string,
  high: string,
) {
  const [least, most] = [data?.[low], data?.[high]];
  if (typeof least === 'number' && typeof most === 'number' && least > most)
    out.push({
      path: `${path}.${low}`,
      says: `The lowest (${least}) is above the highest (${most}).`,
    });
}

/** A curve is of something, of it alone; a preset is there once. */
function curvesKnown(out: TargetProblem[], { curves, presets }: Target) {
  const taken = new Map<string, string>();
  curves?.list.forEach((curve, i) => {
    const path = `curves.list[${i}]`;
    inOrder(out, path, curve, 'lowest', 'highest');
    if (!curve.controllers && !curve.bend)
      out.push({ path, says: `“${curve.name}” says neither controllers nor the bend.` });
    const slots = [...(curve.controllers ?? []).map(String), ...(curve.bend ? ['the bend'] : [])];
    for (const slot of slots) {
      const there = taken.get(slot);
      const what = slot === 'the bend' ? 'The bend' : `Controller ${slot}`;
      if (there !== undefined) out.push({ path, says: `${what} belongs to “${there}” already.` });
      else taken.set(slot, curve.name);
    }
  });
  const there = new Set<string>();
  presets?.list.forEach(({ bank, program }, i) => {
    const slot = `${bank}.${program}`;
    if (there.has(slot))
      out.push({
        path: `presets.list[${i}]`,
        says: `Bank ${bank}, program ${program} is there already.`,
      });
    there.add(slot);
  });
}

/** What the shape alone cannot say: numbers that contradict one another. */
function contradictions(target: Target): TargetProblem[] {
  const out: TargetProblem[] = [];
  for (const [block, low, high] of PAIRS) {
    const data = target[block] as Readonly<Record<string, unknown>> | undefined;
    inOrder(out, block, data, low, high);
  }
  curvesKnown(out, target);
  inOrder(out, 'file.ppq', target.file?.ppq, 'lowest', 'highest');
  target.seats.forEach((seat, i) => {
    const at = `seats[${i}]`;
    inOrder(out, `${at}.accepts`, seat.accepts, 'lowest', 'highest');
    if (seat.kind !== 'file') return;
    inOrder(out, at, seat, 'leastBars', 'mostBars');
    const round = (id: string | undefined) =>
      target.seats.some((s) => s.id === id && s.kind === 'file' && s.plays === 'round');
    for (const end of ['from', 'to'] as const)
      if (seat.plays === 'crossing' && !round(seat[end]))
        out.push({
          path: `${at}.${end}`,
          says: `A crossing leads between two seats that play a round; “${seat[end] ?? ''}” is none.`,
        });
  });
  target.outputs.forEach(({ writer, options = {} }, i) => {
    const schema = WRITER_OPTIONS[writer];
    if (!schema)
      out.push({
        path: `outputs[${i}].writer`,
        says: `There is no writer "${writer}". There are ${Object.keys(WRITER_OPTIONS).join(', ')}.`,
      });
    const checked = schema?.safeParse(options);
    if (checked && !checked.success)
      for (const p of problemsOf(schema!, checked.error.issues))
        out.push({ path: `outputs[${i}].options.${p.path}`, says: p.says });
  });
  if (target.standIn !== undefined && !STAND_INS.includes(target.standIn))
    out.push({
      path: 'standIn',
      says: `There is no stand-in "${target.standIn}". There are ${STAND_INS.join(', ')}.`,
    });
  const twice = (path: string, names: readonly string[], what: string) =>
    names.forEach((name, i) => {
      if (names.indexOf(name) !== i)
        out.push({ path: `${path}[${i}]`, says: `The ${what} "${name}" is there twice.` });
    });
  twice(
    'kits',
    (target.kits ?? []).map((k) => k.id),
    'kit',
  );
  twice(
    'metadata.required',
    (target.metadata?.required ?? []).map((m) => m.key),
    'field',
  );
  (target.formats ?? []).forEach((format, i) => {
    for (const p of doubtsOf(format)) out.push({ path: `formats[${i}].${p.path}`, says: p.says });
  });
  target.outputs.forEach(({ writer, options }, i) => {
    const known = (target.formats ?? []).map((f) => f.id);
    if (writer === 'own-format' && !known.includes(String(options?.['format'])))
      out.push({
        path: `outputs[${i}].options.format`,
        says: `The target describes no format “${String(options?.['format'] ?? '')}”.`,
      });
  });
  (target.limits ?? []).forEach((limit, i) => {
    const at = `limits[${i}]`;
    inOrder(out, at, limit, 'least', 'most');
    inOrder(out, `${at}.where`, limit.where, 'softest', 'hardest');
    inOrder(out, `${at}.where`, limit.where, 'fromBar', 'toBar');
    const { words, over } = MEASURES[limit.measure];
    if (!(over as readonly string[]).includes(limit.over))
      out.push({
        path: `${at}.over`,
        says: `The ${words} is measured of ${over.map((o) => OVER_WORDS[o]).join(', ')}.`,
      });
    if ([limit.least, limit.most, limit.oneOf, limit.multipleOf].every((b) => b === undefined))
      out.push({ path: `${at}.most`, says: 'A limit needs a bound: a least, a most or a list.' });
    for (const seat of limit.where?.seats ?? [])
      if (!target.seats.some((s) => s.id === seat))
        out.push({ path: `${at}.where.seats`, says: `There is no seat “${seat}”.` });
  });
  for (const seat of target.polyphony?.seats ?? [])
    if (!target.seats.some((s) => s.id === seat))
      out.push({ path: 'polyphony.seats', says: `There is no seat “${seat}”.` });
  const ids = target.seats.map((s) => s.id);
  ids.forEach((id, i) => {
    if (ids.indexOf(id) !== i)
      out.push({ path: `seats[${i}].id`, says: `The seat id "${id}" is used twice.` });
  });
  const { formats, deliverFormat } = target.file ?? {};
  if (formats && deliverFormat !== undefined && !formats.includes(deliverFormat))
    out.push({
      path: 'file.deliverFormat',
      says: `Format ${deliverFormat} would be delivered but is not accepted.`,
    });
  return [...out, ...atOdds(target)];
}

/** The keys that a target may have at a path. */
export const keysAt = (path: readonly PropertyKey[]): string[] => keysOf(TargetSchema, path);
