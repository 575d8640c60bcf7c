import { allowedKeys, limitsFor } from './limits';
import { nameAllowed } from './naming';
import type { Target } from './schema';
import { count } from './words';

interface AtOdds {
  readonly path: string;
  readonly says: string;
}

/** Names of tracks that a target looks for. */
const tracksWanted = ({ seats, carrier }: Target): Set<string> =>
  new Set([
    ...seats.flatMap((s) => (s.kind === 'track' ? [s.track] : [])),
    ...(carrier ? [carrier.track] : []),
  ]);

/** A block that is said mildly forbids nothing. */
const forbidding = <T extends { readonly severity?: string | undefined }>(
  block: T | undefined,
): T | undefined => ((block?.severity ?? 'stop') === 'stop' ? block : undefined);

/** The one note of a carrier begins at tick 0 and lasts to the end. */
function carrierAtOdds({ carrier, ...target }: Target): AtOdds[] {
  if (!carrier) return [];
  const { noteNumber, velocity: soft } = carrier;
  const { leadInBars, leadInMs, quietMs } = forbidding(target.start) ?? {};
  const { lowest = 1, highest = 127 } = forbidding(target.velocity) ?? {};
  const notes = forbidding(target.notes);
  const out: string[] = [];
  if (leadInBars || leadInMs || quietMs)
    out.push('Its note begins at tick 0, and the start asks for a rest.');
  if (forbidding(target.length)?.longestMs !== undefined)
    out.push('Its note lasts to the end, longer than a note may.');
  // What every note is delivered with is written, however mildly it is said.
  const written = target.velocity?.deliveredAs ?? soft;
  if (soft < lowest || soft > highest || soft !== written)
    out.push(`Its velocity of ${soft} is not taken.`);
  if (notes && !allowedKeys(notes)[noteNumber]) out.push(`Its key ${noteNumber} is not taken.`);
  return out.map((says) => ({ path: 'carrier', says }));
}

/** Files of places are called as their seats say. */
const namesAtOdds = ({ seats, naming }: Target): AtOdds[] =>
  seats.flatMap((seat, i) => {
    const said = forbidding(naming);
    if (!said || seat.kind !== 'file' || nameAllowed(said, seat.fileName)) return [];
    const says = `“${seat.fileName}” is no name that its files may have.`;
    return [{ path: `seats[${i}].fileName`, says }];
  });

/** A seat has keys of its own, and the target takes none of them. */
const keysAtOdds = (target: Target): AtOdds[] =>
  target.seats.flatMap(({ id, name }, i) => {
    const limits = forbidding(target.notes) && limitsFor(target, { seat: id });
    if (!limits || allowedKeys(limits).includes(true)) return [];
    return [{ path: `seats[${i}]`, says: `None of the keys of “${name}” is taken (notes).` }];
  });

/** What is written once for all files of a crate, and has to be the same in all. */
const oncePerCrate = ({ tempo, meter, file }: Target): string[] => [
  ...(tempo?.constant ? [] : ['one tempo in all its files (tempo.constant)']),
  ...(meter?.constant ? [] : ['one meter in all its files (meter.constant)']),
  ...(file?.ppq?.only?.length === 1 ? [] : ['one PPQ in all its files (file.ppq.only)']),
];

/** Writers whose lists count rows. */
const OF_ROWS = new Set(['hole-list', 'strip-sheet']);

/**
 * Blocks that no file can keep together, each of which is right by itself: what the one asks for the
 * other forbids.
 */
export function atOdds(target: Target): AtOdds[] {
  const { outputs } = target;
  const text = forbidding(target.text);
  const notes = forbidding(target.notes);
  const { grid } = target;
  const out: AtOdds[] = [];
  const wanted = tracksWanted(target);
  if (text?.mostTrackNames !== undefined && text.mostTrackNames < wanted.size)
    out.push({
      path: 'text.mostTrackNames',
      says:
        `It looks for ${wanted.size === 1 ? 'a track' : `${wanted.size} tracks`} by name ` +
        `(${[...wanted].join(', ')}), and takes ${count(text.mostTrackNames, 'track name')}.`,
    });
  const { formats, deliverFormat, layout } = forbidding(target.file) ?? {};
  const single = layout === 'single' || deliverFormat === 0 || formats?.includes(1) === false;
  if (single && target.seats.filter((s) => s.kind === 'track').length > 1)
    out.push({
      path: layout === 'single' ? 'file.layout' : 'file.formats',
      says: 'Its seats are tracks, and the file that it takes has one for all.',
    });
  if (grid?.triggerLowest !== undefined && grid.triggerHighest !== undefined && notes) {
    const { triggerLowest: low, triggerHighest: high } = grid;
    if (
      !allowedKeys(notes)
        .slice(low, high + 1)
        .includes(true)
    )
      out.push({
        path: 'grid.triggerLowest',
        says: `None of its notes is on the trigger keys ${low} to ${high}.`,
      });
  }
  const marker = forbidding(target.end)?.loopMarker;
  if (text?.markers === 'none' && marker !== undefined)
    out.push({
      path: 'text.markers',
      says: `It looks for the marker “${marker}”, and takes no markers.`,
    });
  out.push(...carrierAtOdds(target), ...namesAtOdds(target), ...keysAtOdds(target));
  outputs.forEach(({ writer }, i) => {
    if (OF_ROWS.has(writer) && !grid?.rowsPerSecond)
      out.push({
        path: `outputs[${i}].writer`,
        says: `“${writer}” counts rows: say how many there are in a second (grid.rowsPerSecond).`,
      });
    const missing = writer === 'crate' ? oncePerCrate(target) : [];
    for (const fact of missing)
      out.push({ path: `outputs[${i}].writer`, says: `A crate needs ${fact}.` });
  });
  return out;
}
