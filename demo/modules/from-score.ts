import { isDrumPart } from '../../src/core/reading/importance/drums';
import { mapsOf } from '../../src/core/score/inventory';
import { ticksPerQuarterOf, type Score } from '../../src/core/score/score';
import { seeded } from '../song';
import { randomSound } from './sounds';
import type { TuneCell, TuneSample } from './tune';
import { writeIt } from './write-it';
import { writeMod } from './write-mod';
import { writeS3m } from './write-s3m';
import { writeXm } from './write-xm';

/** A song as somebody would have entered it, and what is true of it. */
export interface MadeModule {
  readonly as: 'mod' | 's3m' | 'xm' | 'it';
  readonly bytes: Uint8Array;
  readonly rowsPerBeat: number;
  /** Milliseconds at which each note was entered, rising. */
  readonly ms: readonly number[];
  /** By number of the sample, from 1. */
  readonly isDrum: readonly boolean[];
}

/** Channels of each format that are surely heard. */
const MOST_CHANNELS = { mod: 30, s3m: 16, xm: 30, it: 40 } as const;
const ROWS = 64;
const MOST_SAMPLES = 31;
const MOST_PATTERNS = 120;

/** Sixteen and a half thousand frames: a sample is at its rate at the key that is written. */
const RATE = 16_726;
/** In MOD all have one rate, about half of it: drums are struck an octave higher there. */
const DRUM_KEY = { mod: 72, s3m: 60, xm: 60, it: 60 } as const;

interface Entered {
  readonly row: number;
  readonly end: number;
  readonly key: number;
  readonly sample: number;
  readonly volume: number;
}

/**
 * A score entered by rows, with sounds that have no names; null where the format has no room for it.
 *
 * @param grid rows a beat, and ticks a row
 */
export function moduleFromScore(
  score: Score,
  as: MadeModule['as'],
  seed: number,
  grid: { readonly rowsPerBeat: number; readonly speed: number },
): MadeModule | null {
  const roll = seeded(seed);
  const { clock, bars } = mapsOf(score);
  const meter = bars.meterAt(0);
  const { rowsPerBeat, speed } = grid;
  const beatTicks = (ticksPerQuarterOf(score.division) * 4) / meter.denominator;
  const beatSeconds = (clock.tempoAt(0) * 4) / meter.denominator / 1e6;
  const tempo = Math.round((rowsPerBeat * speed * 2.5) / beatSeconds);
  if (tempo < 32 || tempo > 255 || (as === 'mod' && speed !== 6)) return null;

  const samples: TuneSample[] = [];
  const isDrum = [false];
  const known = new Map<string, number>();
  const sampleFor = (id: string, drum: number | null): number => {
    const there = known.get(id);
    if (there) return there;
    samples.push({ name: '', rate: RATE, ...randomSound(drum, RATE, roll) });
    isDrum.push(drum !== null);
    known.set(id, samples.length);
    return samples.length;
  };
  const entered: Entered[] = [];
  for (const part of score.parts) {
    const drum = isDrumPart(part);
    const { start, end, noteNumber, velocity, count } = part.notes;
    for (let i = 0; i < count; i++) {
      const at = (tick: number) => Math.round((tick / beatTicks) * rowsPerBeat);
      const key = noteNumber[i]!;
      entered.push({
        row: at(start[i]!),
        end: Math.max(at(start[i]!) + 1, at(end[i]!)),
        key: drum ? DRUM_KEY[as] : Math.max(24, Math.min(107, key)),
        sample: sampleFor(drum ? `drum ${key}` : part.id, drum ? key : null),
        volume: Math.max(1, velocity[i]! >> 1),
      });
    }
  }
  if (samples.length > MOST_SAMPLES) return null;

  const columns: Map<number, TuneCell>[] = [];
  const freeFrom: number[] = [];
  const placed: Entered[] = [];
  for (const note of entered.sort((a, b) => a.row - b.row)) {
    let c = freeFrom.findIndex((row) => row <= note.row);
    if (c < 0) {
      if (columns.length === MOST_CHANNELS[as] - 1) continue;
      c = columns.push(new Map()) - 1;
    }
    freeFrom[c] = note.end;
    placed.push(note);
    columns[c]!.set(note.row, { note: note.key, sample: note.sample, volume: note.volume });
    if (!columns[c]!.has(note.end)) columns[c]!.set(note.end, { volume: 0 });
  }
  // MOD has no place for its tempo but a cell.
  if (as === 'mod') columns.push(new Map([[0, { fx: ['F', tempo] }]]));
  const barRows = rowsPerBeat * meter.numerator;
  const rows =
    as === 'xm' || as === 'it' ? Math.max(1, Math.floor(ROWS / barRows)) * barRows : ROWS;
  const total = entered.reduce((last, n) => Math.max(last, n.end), 0) + 1;
  const inColumn = (cell: TuneCell | undefined): TuneCell | null =>
    !cell || cell.volume === undefined
      ? (cell ?? null)
      : { ...cell, volume: as === 'xm' ? 0x10 + cell.volume : cell.volume };
  const patterns = Array.from({ length: Math.ceil(total / rows) }, (_, p) =>
    Array.from({ length: rows }, (__, r) =>
      columns.map((column) => inColumn(column.get(p * rows + r))),
    ),
  );
  if (patterns.length > MOST_PATTERNS) return null;
  const orders = patterns.map((_, i) => i);
  const tune = { name: '', channels: columns.length, speed, tempo, orders, patterns, samples };
  const write = { mod: writeMod, s3m: writeS3m, xm: writeXm, it: writeIt }[as];
  return {
    as,
    bytes: as === 'it' ? writeIt(tune, true) : write(tune),
    rowsPerBeat,
    ms: placed.map((n) => (n.row * speed * 2500) / tempo).sort((a, b) => a - b),
    isDrum,
  };
}
