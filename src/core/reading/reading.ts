import type { Checkpoint } from '../diagnostic/checkpoint';
import { mapsOf, type Maps } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, type Part } from '../score/score';
import { curvesIn, delivered, presetsIn, type Curve, type Preset } from './curves';
import { channelsOf, linesOf, seatGroupsOf, type OutputLine, type ToldBy } from './lines';

/** What is measured of a piece, each thing once and when it is first asked for. */
export interface Reading {
  readonly piece: Piece;
  readonly maps: Maps;
  /** What the far side takes for one voice each. */
  readonly lines: () => Iterable<OutputLine>;
  /** The notes of each seat together; without seats those of each channel. */
  readonly groups: () => Iterable<OutputLine>;
  /** The parts of each output channel, whatever their tracks. */
  readonly channels: () => Iterable<OutputLine>;
  /** The parts that are delivered; long work can be given up between two of them. */
  readonly heard: () => Iterable<Part>;
  /** What controllers, bends and pressures do on each output channel. */
  readonly curves: () => Iterable<Curve>;
  /** The programs of all channels, each channel in order of time. */
  readonly presets: () => Iterable<Preset>;
}

export function readingOf(
  piece: Piece,
  checkpoint: Checkpoint = () => {},
  toldBy: ToldBy = 'track',
): Reading {
  const once = <T>(make: (piece: Piece) => readonly T[]) => {
    let made: readonly T[] | null = null;
    return () => pausing((made ??= make(piece)), checkpoint);
  };
  return {
    piece,
    maps: mapsOf(piece.score),
    lines: once((p) => linesOf(p, toldBy)),
    groups: once((p) => seatGroupsOf(p, toldBy)),
    channels: once(channelsOf),
    heard: once((p) => p.score.parts.filter(isIn)),
    curves: once((p) => curvesIn(delivered(p))),
    presets: once((p) => presetsIn(delivered(p))),
  };
}

function* pausing<T>(list: readonly T[], checkpoint: Checkpoint): Iterable<T> {
  for (const [i, item] of list.entries()) {
    checkpoint(i, list.length);
    yield item;
  }
}
