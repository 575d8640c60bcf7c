import { endTickOf, ticksPerQuarterOf, type Score } from '../score/score';
import {
  clampTempo,
  holdBars,
  holdClock,
  setMeter,
  stateTempo,
  tempoToList,
  thinTempo,
} from '../steps/timing';
import { isWholeBpm, plainBpm, ppqForClock, sayBpm, wholeTempo } from '../time/tempos';
import { metadata } from '../steps/facts';
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

const bpm = sayBpm;

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
  reads: ['constant'],
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
  reads: ['lowestBpm', 'highestBpm'],
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
    const worstUs = out.find((t) => bpmOf(t.us) === worst)!.us;
    function distance(rate: number) {
      return rate < (lowestBpm ?? 0) ? (lowestBpm ?? 0) / rate : rate / (highestBpm ?? Infinity);
    }
    report({
      code: 'tempo-range',
      spans: out.map((t) => spanAt(t.tick)),
      data: {
        places: out.length,
        bpm: plainBpm(worstUs),
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
  reads: ['mostEvents'],
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

export const tempoAllowed = defineRule({
  id: 'tempo-allowed',
  summary: 'Only tempos that the target has: of a list, or whole numbers.',
  block: 'tempo',
  reads: ['onlyBpm', 'wholeBpm'],
  phase: 'tempo and meter',
  codes: {
    'tempo-not-listed': {
      title: 'A tempo it does not have',
      wrong: (f) => `${f['placesText']} ${f['bpm']} BPM.`,
      then: (f, w) => `${w.Target} has ${f['allowed']} BPM and takes the nearest.`,
    },
    'tempo-not-whole': {
      title: 'Not a whole tempo',
      wrong: (f) => `${f['placesText']} ${f['bpm']} BPM.`,
      then: (_, w) => `${w.Target} keeps whole numbers only and would play beside the beat.`,
    },
  },
  check({ block, piece, target, report }) {
    const listed = block.onlyBpm && new Set(block.onlyBpm.map((b) => Math.round(60_000_000 / b)));
    const floors = block.onlyBpm && new Set(block.onlyBpm.map((b) => Math.floor(60_000_000 / b)));
    const all = stretches(piece.score);
    const ask = (code: string, fits: (us: number) => boolean, params: object, allowed: string) => {
      const out = all.filter((t) => !fits(t.us));
      if (out.length === 0) return;
      const [first] = out;
      const nearest = nearestOf(first!.us, block);
      report({
        code,
        spans: out.map((t) => spanAt(t.tick)),
        data: {
          placesText:
            out.length === 1 ? 'The tempo is' : `${out.length} tempos are others, such as`,
          bpm: plainBpm(first!.us),
          allowed,
        },
        measured: { value: Math.round(bpmOf(first!.us) * 1000) / 1000, unit: 'BPM' },
        allowed: block.onlyBpm ? { onlyBpm: block.onlyBpm } : { wholeBpm: true },
        mends: [
          ...(all.length === 1 ? [holdClockAt(piece.score, target, nearest)] : []),
          mend('Bring each to the nearest that it has', tempoToList, params),
        ],
      });
    };
    if (listed && floors)
      ask(
        'tempo-not-listed',
        (us) => listed.has(us) || floors.has(us),
        { bpms: block.onlyBpm },
        block.onlyBpm!.map(plain).join(', '),
      );
    if (block.wholeBpm) {
      const { lowestBpm, highestBpm } = block;
      const bounds = {
        ...(lowestBpm === undefined ? {} : { lowestBpm }),
        ...(highestBpm === undefined ? {} : { highestBpm }),
      };
      ask('tempo-not-whole', isWholeBpm, { whole: true, ...bounds }, 'whole');
    }
  },
});

function nearestOf(us: number, block: NonNullable<Target['tempo']>): number {
  const bpm = bpmOf(us);
  const { lowestBpm = 1, highestBpm = 1000 } = block;
  const list = block.onlyBpm ?? [
    Math.max(Math.ceil(lowestBpm), Math.min(Math.floor(highestBpm), Math.max(1, Math.round(bpm)))),
  ];
  const best = list.reduce((a, b) => (Math.abs(b - bpm) < Math.abs(a - bpm) ? b : a));
  return wholeTempo(best);
}

export const declaredBpm = defineRule({
  id: 'declared-bpm',
  summary: 'The BPM that is declared agrees with the first tempo of the file.',
  block: 'tempo',
  reads: ['declaredWithinBpm'],
  phase: 'naming',
  needs: ['declared'],
  codes: {
    'declared-differs': {
      title: 'Another BPM is declared',
      wrong: (f) => `${f['declared']} BPM are declared, the file begins at ${f['file']}.`,
      then: (f, w) =>
        `${w.Target} goes by what is declared: after one minute it stands ${f['drift']} ms beside the sound.`,
    },
  },
  check({ block, target, piece, report, need }) {
    if (block.declaredWithinBpm === undefined) return;
    const said = piece.delivery.metadata?.bpm;
    if (said === undefined) {
      // Where it is asked for as metadata, that finding says so already.
      if (!target.metadata?.required.some((f) => f.key === 'bpm')) need('declared');
      return;
    }
    const first = stretches(piece.score)[0]!;
    const file = bpmOf(first.us);
    const declared = Number(said);
    if (Math.abs(declared - file) <= block.declaredWithinBpm + 1e-9) return;
    const us = Math.round(60_000_000 / declared);
    report({
      code: 'declared-differs',
      spans: [spanAt(0)],
      data: {
        declared: said,
        file: plain(file),
        drift: plain(Math.abs(60_000 * (file / declared - 1))),
      },
      measured: { value: Math.round(file * 1000) / 1000, unit: 'BPM' },
      allowed: { declared, declaredWithinBpm: block.declaredWithinBpm },
      mends: [
        mend(`Declare ${plain(file)} BPM`, metadata, {
          bpm: String(Math.round(file * 1000) / 1000),
        }),
        ...(Number.isFinite(us) && us > 0 && us <= 0xffffff
          ? [
              mend(`Play at ${plain(declared)} BPM, holding bars`, holdBars, {
                microsecondsPerQuarter: us,
              }),
            ]
          : []),
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
  reads: ['constant'],
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

export const meterAllowed = defineRule({
  id: 'meter-allowed',
  summary: 'Only meters that the target can count.',
  block: 'meter',
  reads: ['only'],
  phase: 'tempo and meter',
  codes: {
    'meter-not-listed': {
      title: 'A meter it does not count',
      wrong: (f) => `The piece has ${f['meters']}.`,
      then: (f, w) => `${w.Target} counts ${f['allowed']} only.`,
    },
  },
  check({ block, maps, report }) {
    if (!block.only) return;
    const allowed = new Set(block.only.map(sayMeter));
    const out = maps.bars.meters.filter((m) => !allowed.has(sayMeter(m)));
    if (out.length === 0) return;
    const first = block.only[0]!;
    report({
      code: 'meter-not-listed',
      spans: out.map((m) => spanAt(m.tick)),
      data: {
        meters: [...new Set(out.map(sayMeter))].slice(0, 6).join(', '),
        allowed: [...allowed].join(', '),
      },
      measured: { value: out.length, unit: 'meters' },
      allowed: { only: block.only },
      mends: [mend(`Count it all in ${sayMeter(first)}`, setMeter, meterParams(first))],
    });
  },
});

export const sameInAll = defineRule({
  id: 'same-in-all',
  summary: 'One tempo and one meter, the same in all files of a delivery.',
  block: 'tempo',
  reads: ['constant'],
  phase: 'tempo and meter',
  over: 'delivery',
  codes: {
    'tempos-differ': {
      title: 'Not one tempo for all files',
      wrong: (f) => `The files begin at ${f['values']}.`,
      then: (f, w) => `${w.Target} runs all of them at that of ${f['first']}.`,
    },
    'meters-differ': {
      title: 'Not one meter for all files',
      wrong: (f) => `The files begin in ${f['values']}.`,
      then: (f, w) => `${w.Target} counts all of them as ${f['first']}.`,
    },
  },
  check({ block, target, pieces, report }) {
    if (!block.constant || pieces.length < 2) return;
    const first = pieces[0]!;
    const values = (of: (score: Score) => string) => [...new Set(pieces.map((p) => of(p.score)))];
    const tempos = values((s) => bpm(stretches(s)[0]!.us));
    const data = (list: string[]) => ({
      values: list.slice(0, 5).join(', '),
      first: first.delivery.fileName,
    });
    if (tempos.length > 1) {
      const us = stretches(first.score)[0]!.us;
      report({
        code: 'tempos-differ',
        data: data(tempos),
        measured: { value: tempos.length, unit: 'tempos' },
        mends: [mend(`Play all at ${bpm(us)}`, holdBars, { microsecondsPerQuarter: us })],
      });
    }
    if (!target.meter?.constant) return;
    const meterOf = (s: Score) => s.conductor.meters[0] ?? { numerator: 4, denominator: 4 };
    const meters = values((s) => sayMeter(meterOf(s)));
    if (meters.length > 1)
      report({
        code: 'meters-differ',
        data: data(meters),
        measured: { value: meters.length, unit: 'meters' },
        mends: [mend(`Count all in ${meters[0]}`, setMeter, meterParams(meterOf(first.score)))],
      });
  },
});

type Denominator = 1 | 2 | 4 | 8 | 16 | 32 | 64 | 128;
const meterParams = (m: { numerator: number; denominator: number }) => ({
  numerator: m.numerator,
  denominator: m.denominator as Denominator,
});
