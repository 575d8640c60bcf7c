import { allowedKeys } from './limits';
import { nameAllowed } from './naming';
import type { Target } from './schema';

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

/** The one note of a carrier begins at tick 0 and lasts to the end. */
function carrierAtOdds({ carrier, start, length, velocity, notes }: Target): AtOdds[] {
  if (!carrier) return [];
  const { noteNumber, velocity: soft } = carrier;
  const { leadInBars, leadInMs, quietMs } = start ?? {};
  const { lowest = 1, highest = 127, deliveredAs = soft } = velocity ?? {};
  const says = [
    (leadInBars || leadInMs || quietMs) && 'It begins at tick 0, and the start takes no note.',
    length?.longestMs !== undefined && 'It lasts to the end, longer than a note may.',
    (soft < lowest || soft > highest || soft !== deliveredAs) &&
      `Its velocity of ${soft} is not taken.`,
    notes && !allowedKeys(notes)[noteNumber] && `Its key ${noteNumber} is not taken.`,
  ];
  return says.flatMap((why) => (why ? [{ path: 'carrier', says: why }] : []));
}

/** Files of places are called as their seats say. */
const namesAtOdds = ({ seats, naming }: Target): AtOdds[] =>
  seats.flatMap((seat, i) => {
    if (!naming || seat.kind !== 'file' || nameAllowed(naming, seat.fileName)) return [];
    const says = `“${seat.fileName}” is no name that “naming” takes.`;
    return [{ path: `seats[${i}].fileName`, says }];
  });

/** What is written once for all files of a crate, and has to be the same in all. */
const oncePerCrate = ({ tempo, meter, file }: Target): string[] => [
  ...(tempo?.constant ? [] : ['one tempo (tempo.constant)']),
  ...(meter?.constant ? [] : ['one meter (meter.constant)']),
  ...(file?.ppq?.only?.length === 1 ? [] : ['one PPQ (file.ppq.only)']),
];

/** Writers whose lists count rows. */
const OF_ROWS = new Set(['hole-list', 'strip-sheet']);

/**
 * Blocks that no file can keep together, each of which is right by itself: what the one asks for the
 * other forbids.
 */
export function atOdds(target: Target): AtOdds[] {
  const { text, grid, notes, outputs } = target;
  const out: AtOdds[] = [];
  const wanted = tracksWanted(target);
  if (text?.mostTrackNames !== undefined && text.mostTrackNames < wanted.size)
    out.push({
      path: 'text.mostTrackNames',
      says:
        `It looks for ${wanted.size === 1 ? 'a track' : `${wanted.size} tracks`} by name ` +
        `(${[...wanted].join(', ')}), and takes ${text.mostTrackNames} track names.`,
    });
  const { formats, deliverFormat, layout } = target.file ?? {};
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
      out.push({ path: 'grid.triggerLowest', says: `It has none of the keys ${low} to ${high}.` });
  }
  if (text?.markers === 'none' && target.end?.loopMarker !== undefined)
    out.push({
      path: 'text.markers',
      says: `It looks for the marker “${target.end.loopMarker}”, and takes no markers.`,
    });
  out.push(...carrierAtOdds(target), ...namesAtOdds(target));
  outputs.forEach(({ writer }, i) => {
    if (OF_ROWS.has(writer) && !grid?.rowsPerSecond)
      out.push({
        path: `outputs[${i}].writer`,
        says: `“${writer}” counts rows: say how many there are in a second (grid.rowsPerSecond).`,
      });
    const missing = writer === 'crate' ? oncePerCrate(target) : [];
    for (const fact of missing)
      out.push({
        path: `outputs[${i}].writer`,
        says: `A crate says it once for all its files: it needs ${fact}.`,
      });
  });
  return out;
}
