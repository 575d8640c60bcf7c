import { endTickOf, ticksPerQuarterOf, type Score } from '../score/score';
import {
  clampTempo,
  holdBars,
  holdClock,
  ppqForClock,
  setMeter,
  stateTempo,
  thinTempo,
} from '../steps/timing';
import type { Target } from '../target/schema';
import { plain } from '../target/words';
import { bpmOf } from '../time/tempo-map';
import { ppqAllowed } from './file';
import { defineRule, mend, spanAt } from './define-rule';

const within = (block: { lowestBpm?: number | undefined; highestBpm?: number | undefined }) => {
  // The file holds whole microseconds: a tempo that was typed as the limit must not breach it.
  const slowest = Math.ceil(60_000_000 / (block.lowestBpm ?? 1e-9));
  const fastest = Math.floor(60_000_000 / (block.highestBpm ?? 1e9));
  return (us: number) => us <= slowest && us >= fastest;
};

/** Tempos with how long each is in force, in ticks. */
function stretches(score: Score) {
  const { tempos } = score.conductor;
  const end = endTickOf(score);
  const list =
    tempos.length > 0 && tempos[0]!.tick === 0
      ? tempos
      : [{ tick: 0, microsecondsPerQuarter: 500_000 }, ...tempos];
  return list.map((t, i) => ({
    tick: t.tick,
    us: t.microsecondsPerQuarter,
    ms: ((list[i + 1]?.tick ?? Math.max(end, t.tick)) - t.tick) * t.microsecondsPerQuarter,
  }));
}

/** The first tempo in range, else the longest-sounding in range, else the nearest limit. */
export function tempoToHold(score: Score, block: NonNullable<Target['tempo']>): number {
  const all = stretches(score);
  const fits = within(block);
  const first = all.find((t) => t.ms > 0) ?? all[0]!;
  if (fits(first.us)) return first.us;
  const longest = new Map<number, number>();
  for (const t of all) if (fits(t.us)) longest.set(t.us, (longest.get(t.us) ?? 0) + t.ms);
  const best = [...longest].sort((a, b) => b[1] - a[1])[0];
  if (best) return best[0];
  return bpmOf(first.us) < (block.lowestBpm ?? 0)
    ? Math.floor(60_000_000 / block.lowestBpm!)
    : Math.ceil(60_000_000 / block.highestBpm!);
}

const bpm = (us: number) => `${plain(bpmOf(us))} BPM`;

/** A call that holds every note at its clock time, with a PPQ that the target takes. */
const holdClockAt = (score: Score, target: Target, us: number, title?: string) => {
  const from = ticksPerQuarterOf(score.division);
  const ticksPerQuarter = ppqForClock(from, us, (p) => ppqAllowed(target.file?.ppq, p));
  return mend(title ?? `Hold clock time at ${bpm(us)}`, holdClock, {
    microsecondsPerQuarter: us,
    ticksPerQuarter,
  });
};

export const tempoConstant = defineRule({
  id: 'tempo-constant',
  summary: 'One tempo, written at tick 0.',
  block: 'tempo',
  phase: 'tempo and meter',
  codes: {
    'tempo-changes': {
      title: 'Tempo changes',
      wrong: (f) =>
        `The tempo changes ${f['changes'] === 1 ? 'once' : `${f['changes']} times`}, from ${f['lowest']} to ${f['highest']} BPM.`,
      then: (_, w) =>
        `${w.Target} runs at one tempo, so its ${w.notes} drift after the first change.`,
    },
  },
  check({ block, piece, target, report }) {
    if (!block.constant) return;
    const { tempos } = piece.score.conductor;
    const all = stretches(piece.score);
    const changes = all.filter((t, i) => i > 0 && t.us !== all[i - 1]!.us);
    if (changes.length === 0 && tempos.length <= 1) return;
    if (changes.length === 0) {
      // The same tempo said again: one event is enough, and nothing moves.
      if (tempos[0]!.tick === 0)
        report({
          code: 'tempo-changes',
          severity: 'caution',
          cause: 'repeated',
          spans: tempos.slice(1).map((t) => spanAt(t.tick)),
          data: {
            changes: tempos.length - 1,
            lowest: plain(bpmOf(all[0]!.us)),
            highest: plain(bpmOf(all[0]!.us)),
          },
          mends: [mend('Say the tempo once', holdBars, { microsecondsPerQuarter: all[0]!.us })],
        });
      return;
    }
    const us = tempoToHold(piece.score, block);
    const rates = all.map((t) => bpmOf(t.us));
    report({
      code: 'tempo-changes',
      spans: changes.map((t) => spanAt(t.tick)),
      data: {
        changes: changes.length,
        lowest: plain(rates.reduce((a, b) => Math.min(a, b))),
        highest: plain(rates.reduce((a, b) => Math.max(a, b))),
      },
      measured: { value: changes.length + 1, unit: 'tempos' },
      allowed: { tempos: 1 },
      mends: [
        holdClockAt(piece.score, target, us),
        mend(`Hold the bars at ${bpm(us)}`, holdBars, { microsecondsPerQuarter: us }),
      ],
    });
  },
});

export const tempoRange = defineRule({
  id: 'tempo-range',
  summary: 'Every tempo within the range of the target.',
  block: 'tempo',
  phase: 'tempo and meter',
  codes: {
    'tempo-range': {
      title: 'Tempo out of range',
      wrong: (f) =>
        `The tempo ${f['places'] === 1 ? 'is' : `is, in ${f['places']} places,`} ${f['bpm']} BPM.`,
      then: (f, w) =>
        `${w.Target} runs from ${f['lowest']} to ${f['highest']} BPM and would play at the nearest it has.`,
    },
  },
  check({ block, piece, target, report }) {
    const fits = within(block);
    const out = stretches(piece.score).filter((t) => !fits(t.us));
    if (out.length === 0) return;
    const { lowestBpm, highestBpm } = block;
    const rates = out.map((t) => bpmOf(t.us));
    const worst = rates.reduce((a, b) => (distance(b) > distance(a) ? b : a));
    function distance(rate: number) {
      return rate < (lowestBpm ?? 0) ? (lowestBpm ?? 0) / rate : rate / (highestBpm ?? Infinity);
    }
    report({
      code: 'tempo-range',
      spans: out.map((t) => spanAt(t.tick)),
      data: {
        places: out.length,
        bpm: plain(worst),
        lowest: plain(lowestBpm ?? 0),
        highest: highestBpm === undefined ? 'any' : plain(highestBpm),
      },
      measured: { value: Math.round(worst * 1000) / 1000, unit: 'BPM' },
      allowed: { lowestBpm, highestBpm },
      mends: [
        holdClockAt(piece.score, target, tempoToHold(piece.score, block)),
        mend('Bring it to the nearest allowed tempo', clampTempo, {
          ...(lowestBpm === undefined ? {} : { lowestBpm }),
          ...(highestBpm === undefined ? {} : { highestBpm }),
        }),
      ],
    });
  },
});

export const tempoCount = defineRule({
  id: 'tempo-count',
  summary: 'No more tempo events than the target holds.',
  block: 'tempo',
  phase: 'tempo and meter',
  codes: {
    'tempo-count': {
      title: 'Too many tempo events',
      wrong: (f) => `The file holds ${f['count']} tempo events.`,
      then: (f, w) => `${w.Target} keeps ${f['most']} and plays on at the last of them.`,
    },
  },
  check({ block, piece, target, report }) {
    if (block.mostEvents === undefined) return;
    const { tempos } = piece.score.conductor;
    const most = block.mostEvents;
    if (tempos.length <= most) return;
    report({
      code: 'tempo-count',
      spans: tempos.slice(most).map((t) => spanAt(t.tick)),
      data: { count: tempos.length, most },
      measured: { value: tempos.length, unit: 'tempo events' },
      allowed: { mostEvents: most },
      mends: [
        mend(`Thin them to ${most}`, thinTempo, { most }),
        holdClockAt(piece.score, target, tempoToHold(piece.score, block)),
      ],
    });
  },
});

export const tempoAbsent = defineRule({
  id: 'tempo-absent',
  summary: 'A tempo is written at tick 0.',
  block: null,
  phase: 'tempo and meter',
  codes: {
    'tempo-absent': {
      title: 'No tempo at the start',
      wrong: (f) =>
        f['none'] ? 'The file names no tempo.' : `The first tempo stands at bar ${f['bar']}.`,
      then: (_, w) => `Readers assume 120 BPM until then; ${w.target} may keep the tempo it had.`,
    },
  },
  check({ piece, maps, report }) {
    const { conductor, division } = piece.score;
    const first = conductor.tempos[0];
    if (division.kind === 'smpte' || first?.tick === 0) return;
    report({
      code: 'tempo-absent',
      severity: 'caution',
      spans: [spanAt(0)],
      data: { none: first ? 0 : 1, bar: first ? maps.bars.barAt(first.tick) + 1 : 0 },
      mends: [mend('Write 120 BPM at the start', stateTempo, {})],
    });
  },
});

const sayMeter = (m: { numerator: number; denominator: number }) =>
  `${m.numerator}/${m.denominator}`;

export const meterAbsent = defineRule({
  id: 'meter-absent',
  summary: 'A meter is written at tick 0.',
  block: null,
  phase: 'tempo and meter',
  codes: {
    'meter-absent': {
      title: 'No meter at the start',
      wrong: (f) =>
        f['none'] ? 'The file names no meter.' : `The first meter stands at bar ${f['bar']}.`,
      then: (_, w) => `Readers assume 4/4 until then, and ${w.target} counts its bars by it.`,
    },
  },
  check({ piece, maps, report }) {
    const first = piece.score.conductor.meters[0];
    if (first?.tick === 0) return;
    report({
      code: 'meter-absent',
      severity: 'caution',
      spans: [spanAt(0)],
      data: { none: first ? 0 : 1, bar: first ? maps.bars.barAt(first.tick) + 1 : 0 },
      mends: [
        mend('Write 4/4 at the start', setMeter, { numerator: 4, denominator: 4, keepLater: true }),
      ],
    });
  },
});

export const meterConstant = defineRule({
  id: 'meter-constant',
  summary: 'One meter for the whole piece.',
  block: 'meter',
  phase: 'tempo and meter',
  codes: {
    'meter-changes': {
      title: 'The meter changes',
      wrong: (f) =>
        `The meter changes ${f['changes'] === 1 ? 'once' : `${f['changes']} times`}: ${f['meters']}.`,
      then: (f, w) => `${w.Target} counts the whole piece in ${f['first']}.`,
    },
  },
  check({ block, piece, maps, report }) {
    if (!block.constant) return;
    const { meters } = maps.bars;
    const changes = meters.filter((m, i) => i > 0 && sayMeter(m) !== sayMeter(meters[i - 1]!));
    const written = piece.score.conductor.meters;
    if (changes.length === 0 && written.length <= 1) return;
    const first = meters[0]!;
    if (changes.length === 0 && meters.length === 1) {
      report({
        code: 'meter-changes',
        severity: 'caution',
        cause: 'repeated',
        spans: written.slice(1).map((m) => spanAt(m.tick)),
        data: {
          changes: written.length - 1,
          meters: `${sayMeter(first)} again`,
          first: sayMeter(first),
        },
        mends: [mend('Say the meter once', setMeter, meterParams(first))],
      });
      return;
    }
    const said = [...new Set(meters.map(sayMeter))];
    report({
      code: 'meter-changes',
      spans: meters.slice(1).map((m) => spanAt(m.tick)),
      data: {
        changes: meters.length - 1,
        meters: said.slice(0, 6).join(', ') + (said.length > 6 ? '…' : ''),
        first: sayMeter(first),
      },
      measured: { value: meters.length, unit: 'meters' },
      allowed: { meters: 1 },
      mends: [mend(`Count it all in ${sayMeter(first)}`, setMeter, meterParams(first))],
    });
  },
});

type Denominator = 1 | 2 | 4 | 8 | 16 | 32 | 64 | 128;
const meterParams = (m: { numerator: number; denominator: number }) => ({
  numerator: m.numerator,
  denominator: m.denominator as Denominator,
});
