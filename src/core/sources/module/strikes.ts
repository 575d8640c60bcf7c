import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Module } from './module';
import { Player, type PlayedRow } from './player';
import type { Voice } from './voice';

/** A value from a time on, in seconds; only where it changes. */
export interface Change {
  readonly at: number;
  readonly value: number;
}

/** A row in which an arpeggio sounds, in seconds, and its tones beside the key, in semitones. */
export interface ArpeggioRow {
  readonly at: number;
  readonly end: number;
  readonly tones: readonly number[];
}

/** One strike of a sample with all that becomes of it. */
export interface Strike {
  readonly id: number;
  readonly channel: number;
  readonly sample: number;
  /** From 1; 0 where cells name samples. */
  readonly instrument: number;
  /** As written in its cell; 60 is the key of the sample’s own rate. */
  readonly key: number;
  readonly soundingKey: number;
  /** Seconds. */
  readonly at: number;
  readonly end: number;
  readonly row: number;
  /** 0 to 1, as mixed: the first is the one it begins with. */
  readonly levels: readonly Change[];
  /** Semitones away from its key: slides, vibrato, tuning; without arpeggios. */
  readonly bends: readonly Change[];
  readonly pans: readonly Change[];
  /** Frames into the sample at which it began. */
  readonly offset: number;
  /** Semitones of an arpeggio beside its key, tick by tick. */
  readonly arpeggios: readonly Change[];
  readonly chords: readonly ArpeggioRow[];
  readonly ended: 'sample' | 'next' | 'cut' | 'song';
}

export interface Performance {
  readonly strikes: readonly Strike[];
  readonly rows: readonly PlayedRow[];
  readonly seconds: number;
  readonly roundTo: number | null;
  readonly cutShort: boolean;
}

interface Open {
  voice: Voice;
  sample: number;
  row: number;
  at: number;
  offset: number;
  levels: Change[];
  bends: Change[];
  pans: Change[];
  arpeggios: Change[];
  chords: { at: number; end: number; tones: number[] }[];
}

export interface PerformOptions {
  readonly order?: number;
  readonly checkpoint?: Checkpoint | undefined;
}

/** Plays a module from an order, the first where none is said, to its end and keeps every strike. */
export function perform(
  module: Module,
  { order = 0, checkpoint }: PerformOptions = {},
): Performance {
  const player = new Player(module, order);
  const open = new Map<Voice, Open>();
  const strikes: Strike[] = [];
  const close = (o: Open, end: number, ended: Strike['ended']) => {
    const v = o.voice;
    strikes.push({
      id: v.id,
      channel: v.channel,
      sample: o.sample,
      instrument: module.instruments ? v.instrumentNumber : 0,
      key: v.key,
      soundingKey: v.soundingKey,
      at: o.at,
      end: Math.max(o.at, end),
      row: o.row,
      levels: o.levels,
      bends: o.bends,
      pans: o.pans,
      offset: o.offset,
      arpeggios: o.arpeggios,
      chords: o.chords,
      ended,
    });
  };
  const total = module.orders.length;
  while (player.tick()) {
    const { at, seconds } = player;
    const sounding = new Set<Voice>();
    for (const v of player.voices()) {
      sounding.add(v);
      let o = open.get(v);
      // MOD: another sample has come up in it.
      if (o && o.sample !== v.sampleNumber) {
        close(o, at, 'next');
        o = undefined;
      }
      if (!o) {
        o = {
          voice: v,
          sample: v.sampleNumber,
          row: player.rows.length - 1,
          at,
          offset: v.position,
          levels: [],
          bends: [],
          pans: [],
          arpeggios: [],
          chords: [],
        };
        open.set(v, o);
      }
      const channel = player.channels[v.channel]!;
      const arpeggio = channel.voice === v ? channel.arpeggio : 0;
      const bend = 12 * Math.log2(v.frequency / player.keyFrequency(v)) - arpeggio;
      if (arpeggio > 0 || o.arpeggios.length > 0) push(o.arpeggios, at, arpeggio);
      chordOf(o, Math.max(o.at, player.rows.at(-1)!.at), at + seconds, arpeggio);
      push(o.levels, at, v.level);
      push(o.bends, at, Math.abs(bend) < 0.005 ? 0 : bend);
      push(o.pans, at, v.pan);
    }
    for (const [v, o] of open) {
      if (!sounding.has(v)) {
        const next = player.channels[v.channel]!.voice;
        close(o, at, next && next !== v && !next.ended && next.age === 1 ? 'next' : 'cut');
        open.delete(v);
        continue;
      }
      const over = v.advance(seconds);
      if (v.ended) {
        close(o, at + seconds - over, 'sample');
        open.delete(v);
      }
    }
    if ((player.rows.length & 63) === 0 && player.tickInRow === 1)
      checkpoint?.(Math.min(player.song.order, total), total);
  }
  const last = player.rows.at(-1);
  const end = last ? last.at + last.seconds : 0;
  for (const o of open.values()) close(o, end, 'song');
  strikes.sort((a, b) => a.at - b.at || a.channel - b.channel || a.id - b.id);
  return {
    strikes,
    rows: player.rows,
    seconds: end,
    roundTo: player.song.goesRoundTo,
    cutShort: player.cutShort,
  };
}

/** The tones of a row, gathered tick by tick; `end` moves on with its ticks. */
function chordOf({ chords }: Open, row: number, end: number, tone: number): void {
  let last = chords.at(-1);
  if (last?.at !== row) {
    if (tone <= 0) return;
    last = { at: row, end, tones: [] };
    chords.push(last);
  }
  last.end = end;
  if (tone > 0 && !last.tones.includes(tone)) last.tones.push(tone);
}

function push(changes: Change[], at: number, value: number): void {
  const last = changes.at(-1);
  if (!last || last.value !== value) changes.push({ at, value });
}
