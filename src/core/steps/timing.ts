import * as z from 'zod';
import { mapTicks } from '../score/map-ticks';
import {
  endTickOf,
  firstTickOf,
  ticksPerQuarterOf,
  type Score,
  type TempoMark,
} from '../score/score';
import { LATEST_TICK } from '../smf/file';
import { bpmOf, DEFAULT_TEMPO } from '../time/tempo-map';
import { count, plain } from '../target/words';
import { defineStep, done, withScore, type StepResult } from './define-step';
import type { Piece } from '../score/piece';
import { isWholeBpm, ppqForClock, sayBpm, wholeTempo } from '../time/tempos';
import { cutAt, heldByClock, mapper, scaled, shifted } from '../time/time-map';

const tempo = z.int().min(1).max(0xffffff).describe('Microseconds a quarter note');

export const noteCount = (score: Score): number =>
  score.parts.reduce((sum, p) => sum + (p.leftOut ? 0 : p.notes.count), 0);

const tempoAtZero = (microsecondsPerQuarter: number): TempoMark => ({
  tick: 0,
  microsecondsPerQuarter,
  track: 0,
  order: 0,
});

/** The default counts as a tempo of the file: readers play it. */
const withDefault = (tempos: readonly TempoMark[]): readonly TempoMark[] =>
  tempos[0]?.tick === 0 ? tempos : [tempoAtZero(DEFAULT_TEMPO), ...tempos];

const barTicks = (score: Score, numerator: number, denominator: number) =>
  (numerator * 4 * ticksPerQuarterOf(score.division)) / denominator;

const TOO_LATE = 'The end would pass the latest tick that a file can hold.';

/** Everything but the set-up at tick 0 moves by `ticks`. */
function moveAll(piece: Piece, ticks: number): StepResult {
  if (endTickOf(piece.score) + ticks > LATEST_TICK) return { refused: TOO_LATE };
  const map = shifted(ticks);
  const next = { ...piece, score: mapTicks(piece.score, mapper(map), true) };
  return done(next, { changed: noteCount(next.score), verb: 'moved' }, [], map);
}

export const restAtStart = defineStep({
  id: 'rest-at-start',
  reach: 'piece',
  title: 'Rest at the start',
  summary: 'Puts whole bars of rest before the music. What sets up the piece stays at the start.',
  params: z.strictObject({ bars: z.int().min(1).max(64).describe('Bars') }),
  describe: ({ bars }) => `${count(bars, 'bar')} of rest at the start`,
  apply({ piece, params, maps }) {
    const { numerator, denominator } = maps.bars.meterAt(0);
    const ticks = Math.ceil(params.bars * barTicks(piece.score, numerator, denominator));
    return moveAll(piece, ticks);
  },
});

export const shift = defineStep({
  id: 'shift',
  reach: 'piece',
  title: 'Shift',
  summary: 'Moves everything later by an exact time, behind the set-up at the start.',
  params: z.strictObject({
    ticks: z.int().min(0).optional().describe('Ticks'),
    ms: z.number().min(0).max(3_600_000).optional().describe('Milliseconds'),
    beats: z.number().min(0).max(100_000).optional().describe('Beats of the meter at the start'),
  }),
  describe: (p) =>
    p.ms !== undefined
      ? `${plain(p.ms)} ms later`
      : p.beats !== undefined
        ? `${count(p.beats, 'beat')} later`
        : `${count(p.ticks ?? 0, 'tick')} later`,
  apply({ piece, params, maps }) {
    // Rounded up: a shift in ms is asked for where a time must be reached.
    let ticks = params.ticks ?? 0;
    if (params.beats !== undefined) {
      const { denominator } = maps.bars.meterAt(0);
      const beat = (4 * ticksPerQuarterOf(piece.score.division)) / denominator;
      ticks = Math.round(params.beats * beat);
    }
    // What is put in runs at the tempo of tick 0, whatever stood there.
    if (params.ms !== undefined) ticks = maps.clock.ticksAtStart(params.ms);
    if (ticks === 0) return { refused: 'A shift needs a time above 0.' };
    return moveAll(piece, ticks);
  },
});

export const trimStart = defineStep({
  id: 'trim-start',
  reach: 'piece',
  title: 'Trim the start',
  summary: 'Takes away whole bars of rest before the first note.',
  params: z.strictObject({ bars: z.int().min(1).max(LATEST_TICK).describe('Bars') }),
  describe: ({ bars }) => `take ${count(bars, 'bar')} of rest from the start`,
  apply({ piece, params, maps }) {
    const cut = maps.bars.barStart(params.bars);
    const first = firstTickOf(piece.score) ?? Infinity;
    if (first < cut)
      return { refused: `There are notes in the first ${count(params.bars, 'bar')}.` };
    const map = cutAt(cut);
    const score = mapTicks(piece.score, mapper(map));
    // What was in force at the cut is in force at the start.
    const lastAtZero = <T extends { tick: number }>(list: readonly T[]) =>
      list.filter((e, i) => e.tick > 0 || list[i + 1]?.tick !== 0);
    const { conductor } = score;
    const next = withScore(piece, {
      ...score,
      conductor: {
        ...conductor,
        tempos: lastAtZero(conductor.tempos),
        meters: lastAtZero(conductor.meters),
        keys: lastAtZero(conductor.keys),
      },
    });
    return done(next, { changed: noteCount(next.score), verb: 'moved' }, [], map);
  },
});

export const holdClock = defineStep({
  id: 'one-tempo-holding-clock',
  reach: 'piece',
  title: 'One tempo, holding clock time',
  summary: 'Rewrites the bars at one tempo; every note stays at its clock time.',
  params: z.strictObject({
    microsecondsPerQuarter: tempo,
    ticksPerQuarter: z
      .int()
      .min(1)
      .max(32_767)
      .optional()
      .describe('PPQ; raised where it is too coarse'),
  }),
  describe: (p) => `hold clock time at ${sayBpm(p.microsecondsPerQuarter)}`,
  apply({ piece, params, maps }) {
    const { score } = piece;
    const us = params.microsecondsPerQuarter;
    const from = ticksPerQuarterOf(score.division);
    const ppq = params.ticksPerQuarter ?? ppqForClock(from, us);
    const map = heldByClock(maps.clock, ppq, us);
    const at = mapper(map);
    if (at(endTickOf(score)) > LATEST_TICK) return { refused: TOO_LATE };
    const moved = mapTicks(score, at);
    const next = withScore(piece, {
      ...moved,
      division: { kind: 'ppq', ticksPerQuarter: ppq },
      conductor: { ...moved.conductor, tempos: [tempoAtZero(us)] },
    });
    const counts = {
      changed: noteCount(next.score),
      verb: 'held at their clock time',
      events: Math.max(0, score.conductor.tempos.length - 1),
      eventWords: 'tempo events taken out',
    };
    return done(next, counts, [], map);
  },
});

export const holdBars = defineStep({
  id: 'one-tempo-holding-bars',
  reach: 'piece',
  title: 'One tempo, holding bars',
  summary: 'Replaces all tempos by one; every note stays in its bar and moves on the clock.',
  params: z.strictObject({ microsecondsPerQuarter: tempo }),
  describe: (p) => `one tempo, ${sayBpm(p.microsecondsPerQuarter)}, holding bars`,
  apply({ piece, params }) {
    if (piece.score.division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: hold its clock time instead.' };
    const { conductor } = piece.score;
    const tempos = [tempoAtZero(params.microsecondsPerQuarter)];
    const events = conductor.tempos.length;
    const next = withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempo events replaced', says: 'One tempo set' });
  },
});

export const stateTempo = defineStep({
  id: 'state-tempo',
  reach: 'piece',
  title: 'Write the tempo at the start',
  summary: 'Writes the tempo that is in force at tick 0, where it was only the default.',
  params: z.strictObject({}),
  describe: () => 'write the tempo at the start',
  apply({ piece, maps }) {
    const { conductor, division } = piece.score;
    if (division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: hold its clock time instead.' };
    if (conductor.tempos[0]?.tick === 0) return { refused: 'The tempo at the start is written.' };
    const tempos = [tempoAtZero(maps.clock.tempoAt(0)), ...conductor.tempos];
    const next = withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events: 1, eventWords: 'tempo event written' });
  },
});

export const clampTempo = defineStep({
  id: 'clamp-tempo',
  reach: 'piece',
  title: 'Clamp tempo',
  summary: 'Brings tempos that are too slow or too fast to the nearest allowed one, holding bars.',
  params: z.strictObject({
    lowestBpm: z.number().min(1).max(1000).optional(),
    highestBpm: z.number().min(1).max(1000).optional(),
  }),
  describe: (p) =>
    `clamp tempo to ${plain(p.lowestBpm ?? 1)}–${p.highestBpm === undefined ? '' : plain(p.highestBpm)} BPM`,
  apply({ piece, params }) {
    const { conductor } = piece.score;
    const slowest =
      params.lowestBpm === undefined ? 0xffffff : Math.floor(60_000_000 / params.lowestBpm);
    const fastest = params.highestBpm === undefined ? 1 : Math.ceil(60_000_000 / params.highestBpm);
    let events = 0;
    const tempos = withDefault(conductor.tempos).map((t) => {
      const us = Math.min(slowest, Math.max(fastest, t.microsecondsPerQuarter));
      if (us === t.microsecondsPerQuarter) return t;
      events++;
      return { ...t, microsecondsPerQuarter: us };
    });
    const next = events === 0 ? piece : withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempos changed' });
  },
});

export const tempoToList = defineStep({
  id: 'tempo-to-list',
  reach: 'piece',
  title: 'Nearest allowed tempo',
  summary: 'Brings each tempo to the nearest that the target has, holding bars.',
  params: z.strictObject({
    bpms: z.array(z.number().min(1).max(1000)).max(1000).optional().describe('Tempos in BPM'),
    whole: z.boolean().optional().describe('Whole numbers'),
    lowestBpm: z.number().min(1).max(1000).optional(),
    highestBpm: z.number().min(1).max(1000).optional(),
  }),
  describe: (p) =>
    p.bpms?.length ? `nearest tempo of ${p.bpms.map(plain).join(', ')}` : 'nearest whole tempo',
  apply({ piece, params }) {
    const list = params.bpms?.map((b) => Math.round(60_000_000 / b));
    if (!list?.length && !params.whole) return { refused: 'A list of tempos is needed.' };
    const { conductor } = piece.score;
    let events = 0;
    const tempos = withDefault(conductor.tempos).map((t) => {
      const bpm = bpmOf(t.microsecondsPerQuarter);
      let us = t.microsecondsPerQuarter;
      if (list?.length)
        us = list.reduce((a, b) => (Math.abs(bpmOf(b) - bpm) < Math.abs(bpmOf(a) - bpm) ? b : a));
      else if (!isWholeBpm(us)) us = wholeTempo(Math.max(1, Math.round(bpm)));
      const slowest = params.lowestBpm === undefined ? us : wholeTempo(params.lowestBpm);
      const fastest = params.highestBpm === undefined ? us : wholeTempo(params.highestBpm);
      us = Math.max(fastest, Math.min(slowest, us));
      if (us === t.microsecondsPerQuarter) return t;
      events++;
      return { ...t, microsecondsPerQuarter: us };
    });
    const next = events === 0 ? piece : withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempos changed' });
  },
});

export const thinTempo = defineStep({
  id: 'thin-tempo',
  reach: 'piece',
  title: 'Thin tempo events',
  summary: 'Drops tempo events that say nothing new, then merges the likest neighbours.',
  params: z.strictObject({
    most: z.int().min(1).max(100_000).describe('Tempo events that may stay'),
  }),
  describe: ({ most }) => `thin tempo events to ${most}`,
  apply({ piece, params }) {
    const { conductor } = piece.score;
    const before = conductor.tempos.length;
    const tempos = mergeTempos(conductor.tempos, params.most, endTickOf(piece.score));
    const events = before - tempos.length;
    const next = events === 0 ? piece : withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempo events taken out' });
  },
});

/**
 * Neighbours within a ratio of each other become one tempo that lasts as long in all, so that the
 * clock agrees again behind them. The ratio is the smallest that leaves few enough.
 */
function mergeTempos(tempos: readonly TempoMark[], most: number, endTick: number): TempoMark[] {
  const merge = (ratio: number): TempoMark[] => {
    const out: TempoMark[] = [];
    let low = 0;
    let high = 0;
    let sum = 0;
    let from = 0;
    tempos.forEach((t, i) => {
      const us = t.microsecondsPerQuarter;
      const until = tempos[i + 1]?.tick ?? Math.max(endTick, t.tick);
      const lowest = Math.min(low, us);
      const highest = Math.max(high, us);
      const last = out.at(-1);
      if (last && highest <= lowest * ratio) {
        [low, high] = [lowest, highest];
        sum += us * (until - t.tick);
        const length = until - from;
        if (length > 0 && low !== high)
          out[out.length - 1] = { ...last, microsecondsPerQuarter: Math.round(sum / length) };
        return;
      }
      out.push(t);
      [low, high, from, sum] = [us, us, t.tick, us * (until - t.tick)];
    });
    return out;
  };
  let best = merge(1);
  if (best.length <= most) return best;
  let low = 1;
  let high = 2 ** 24;
  for (let i = 0; i < 60; i++) {
    const ratio = Math.sqrt(low * high);
    const trial = merge(ratio);
    if (trial.length <= most) [best, high] = [trial, ratio];
    else low = ratio;
  }
  return best;
}

export const setMeter = defineStep({
  id: 'set-meter',
  reach: 'piece',
  title: 'Set meter',
  summary: 'One meter from the start; the notes stay where they are and the bars are counted anew.',
  params: z.strictObject({
    numerator: z.int().min(1).max(255),
    denominator: z.literal([1, 2, 4, 8, 16, 32, 64, 128]),
    keepLater: z.boolean().optional().describe('Leave the meters behind the start'),
  }),
  describe: (p) => `${p.keepLater ? 'begin in' : 'one meter,'} ${p.numerator}/${p.denominator}`,
  apply({ piece, params }) {
    const { conductor } = piece.score;
    const first = conductor.meters[0];
    const rest = first?.rest.length ? first.rest : Uint8Array.of(24, 8);
    const { numerator, denominator } = params;
    const later = params.keepLater ? conductor.meters.filter((m) => m.tick > 0) : [];
    const meters = [{ tick: 0, track: 0, order: 0, numerator, denominator, rest }, ...later];
    const events = conductor.meters.length - later.length;
    const next = withScore(piece, { conductor: { ...conductor, meters } });
    return done(next, { events, eventWords: 'meter events replaced', says: 'One meter set' });
  },
});

export const setPpq = defineStep({
  id: 'set-ppq',
  reach: 'piece',
  title: 'Set PPQ',
  summary: 'Writes the same music with another number of ticks to the quarter note.',
  params: z.strictObject({ ticksPerQuarter: z.int().min(1).max(32_767).describe('PPQ') }),
  describe: (p) => `PPQ ${p.ticksPerQuarter}`,
  apply({ piece, params }) {
    const { score } = piece;
    if (score.division.kind === 'smpte')
      return { refused: 'This piece is timed in frames: hold its clock time instead.' };
    const from = score.division.ticksPerQuarter;
    const to = params.ticksPerQuarter;
    const map = scaled(from, to);
    const at = mapper(map);
    if (at(endTickOf(score)) > LATEST_TICK) return { refused: TOO_LATE };
    const next = withScore(piece, {
      ...mapTicks(score, at),
      division: { kind: 'ppq', ticksPerQuarter: to },
    });
    return done(next, { changed: noteCount(score), verb: `at PPQ ${to}` }, [], map);
  },
});
