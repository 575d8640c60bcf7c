import { commonOf } from '../compare/by-id';
import { mapsOf } from '../score/inventory';
import { firstTickOf, isIn, ticksPerQuarterOf } from '../score/score';
import { deliveredEnd, lastNoteEnd } from '../reading/ends';
import { gatherSetUp } from '../steps/sound';
import { restAtStart, shift, trimStart } from '../steps/timing';
import { count, plain } from '../target/words';
import { defineRule, HAIR, mend, Places, spanAt } from './define-rule';

export const startRest = defineRule({
  id: 'start-rest',
  summary: 'Whole bars of rest before the first note.',
  block: 'start',
  reads: ['leadInBars'],
  phase: 'start',
  codes: {
    'rest-owed': {
      title: 'Starts too soon',
      wrong: (f) =>
        `${f['has'] === 0 ? 'This file begins at once' : `Only ${f['hasText']} of rest stand before the first note`}; ${f['owedText']} owed.`,
      then: (f, w) =>
        `${w.Target} waits ${f['leadInText']} before its first ${w.note}, so every ${w.note} lands ${f['earlyS']} s early.`,
    },
  },
  check({ block, piece, maps, report }) {
    if (!block.leadInBars) return;
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const { numerator, denominator } = maps.bars.meterAt(0);
    // Bars of the meter at tick 0, in ticks × denominator so that nothing is rounded.
    const bar = numerator * 4 * ticksPerQuarterOf(piece.score.division);
    const has = Math.floor((first * denominator) / bar);
    if (has >= block.leadInBars) return;
    const owed = block.leadInBars - has;
    const wanted = Math.ceil((block.leadInBars * bar) / denominator);
    // The rest that is put in runs at the tempo of tick 0.
    const ms = maps.clock.msAtStart(Math.ceil((owed * bar) / denominator));
    report({
      code: 'rest-owed',
      spans: [{ fromTick: 0, toTick: wanted }],
      notes: notesBefore(piece, wanted),
      data: {
        has,
        hasText: count(has, 'bar'),
        owedText: owed === 1 ? '1 bar is' : `${owed} bars are`,
        leadInText: count(block.leadInBars, 'bar'),
        earlyS: plain(ms / 1000),
      },
      measured: { value: has, unit: 'bars' },
      allowed: { leadInBars: block.leadInBars },
      mends: [mend(`Put back ${count(owed, 'bar')} of rest`, restAtStart, { bars: owed })],
    });
  },
});

function notesBefore({ score }: { score: Parameters<typeof firstTickOf>[0] }, tick: number) {
  const ids: number[] = [];
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const { notes } = part;
    for (let i = 0; i < notes.count && notes.start[i]! < tick; i++) ids.push(notes.id[i]!);
  }
  return Uint32Array.from(ids);
}

export const firstNote = defineRule({
  id: 'first-note',
  summary: 'The clock time before which no note may stand.',
  block: 'start',
  reads: ['leadInMs'],
  phase: 'start',
  codes: {
    'first-note': {
      title: 'Before it is ready',
      wrong: (f) => `The first note stands at ${f['ms']} ms.`,
      then: (f, w) => `${w.Target} is ready after ${f['leadIn']} ms and drops what comes before.`,
    },
  },
  check({ block, piece, maps, report }) {
    if (!block.leadInMs) return;
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const ms = maps.clock.msAt(first);
    if (ms >= block.leadInMs - HAIR) return;
    // Whole bars keep the music on its bar lines; the exact shift keeps it as early as it can be.
    const { numerator, denominator } = maps.bars.meterAt(0);
    const bar = (numerator * 4 * ticksPerQuarterOf(piece.score.division)) / denominator;
    let bars = 1;
    while (ms + maps.clock.msAtStart(Math.ceil(bars * bar)) < block.leadInMs && bars < 64) bars++;
    const until = maps.clock.tickAt(block.leadInMs);
    const data = { ms: plain(ms), leadIn: plain(block.leadInMs) };
    report({
      code: 'first-note',
      spans: [{ fromTick: 0, toTick: Math.max(1, until) }],
      notes: notesBefore(piece, until),
      data,
      measured: { value: Math.round(ms * 1000) / 1000, unit: 'ms' },
      allowed: { leadInMs: block.leadInMs },
      mends: [
        mend(`Put ${count(bars, 'bar')} of rest at the start`, restAtStart, { bars }),
        mend(`Move everything ${plain(Math.ceil(block.leadInMs - ms))} ms later`, shift, {
          ms: block.leadInMs - ms,
        }),
      ],
    });
  },
});

export const inBar1 = defineRule({
  id: 'in-bar-1',
  summary: 'The music begins in bar 1, without an empty bar before it.',
  block: 'start',
  reads: ['inBar1'],
  phase: 'start',
  codes: {
    'empty-start': {
      title: 'Begins too late',
      wrong: (f) => `${f['barsText']} before the first note.`,
      then: (_, w) => `${w.Target} begins at bar 1 and loops the silence with it.`,
    },
  },
  check({ block, piece, maps, report }) {
    if (!block.inBar1) return;
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const bars = maps.bars.barAt(first);
    if (bars === 0) return;
    report({
      code: 'empty-start',
      spans: [{ fromTick: 0, toTick: first }],
      data: { barsText: bars === 1 ? 'One bar is empty' : `${bars} bars are empty` },
      measured: { value: bars, unit: 'bars' },
      allowed: { inBar1: true },
      mends: [mend(`Take away ${count(bars, 'bar')} of rest`, trimStart, { bars })],
    });
  },
});

export const soundLeadIn = defineRule({
  id: 'sound-lead-in',
  summary: 'The lead-in holds in the sound file as in the score.',
  block: 'start',
  reads: ['soundToo'],
  phase: 'end',
  needs: ['recording'],
  codes: {
    'sound-lead-in': {
      title: 'Sound and score do not begin together',
      wrong: (f) =>
        `The score is ${f['score']} s long with its lead-in, the sound ${f['sound']} s: ${f['differ']} s apart.`,
      then: (_, w) =>
        `${w.Target} starts both at once. A rest that stands in one of them only sets everything off by as much.`,
    },
  },
  check({ block, piece, maps, recordingMs, report, need }) {
    if (!block.soundToo) return;
    if (recordingMs === null) {
      need('recording');
      return;
    }
    const first = firstTickOf(piece.score);
    if (first === null) return;
    const { clock } = maps;
    const rest = clock.msAt(first);
    const end = clock.msAt(lastNoteEnd(piece.score));
    // The sound may ring on behind the score, but cannot end before its last note.
    if (recordingMs >= end - SAME_LENGTH_MS) return;
    const differ = end - recordingMs;
    report({
      code: 'sound-lead-in',
      spans: [{ fromTick: 0, toTick: Math.max(1, first) }],
      data: {
        score: plain(end / 1000),
        sound: plain(recordingMs / 1000),
        differ: plain(differ / 1000),
      },
      measured: { value: Math.round(differ), unit: 'ms' },
      allowed: { soundToo: true },
      noMend:
        rest > 0
          ? 'Put the same rest into the sound file, or take it out of the score.'
          : 'Use the sound file that belongs to this score.',
    });
  },
});

const SAME_LENGTH_MS = 30;

export const restSwallowed = defineRule({
  id: 'rest-swallowed',
  summary: 'A rest at the start that the sound has and the score has not.',
  block: null,
  phase: 'start',
  needs: ['recording'],
  codes: {
    'rest-swallowed': {
      title: 'The rest at the start is gone',
      wrong: (f) =>
        `The score begins at once and ends ${f['differ']} s before the sound: ${f['barsText']}.`,
      then: () =>
        'An export that begins at the first note swallows the rest, and everything is early against the recording.',
    },
  },
  check({ piece, maps, recordingMs, report }) {
    if (recordingMs === null || piece.score.division.kind === 'smpte') return;
    const first = firstTickOf(piece.score);
    if (first !== 0) return;
    const { clock, bars } = maps;
    const end = clock.msAt(deliveredEnd(piece));
    const missing = recordingMs - end;
    const bar = clock.msAt(bars.barStart(1)) - clock.msAt(0);
    const owed = Math.round(missing / bar);
    if (owed < 1 || owed > 64 || Math.abs(missing - owed * bar) > SAME_LENGTH_MS) return;
    report({
      code: 'rest-swallowed',
      severity: 'caution',
      spans: [{ fromTick: 0, toTick: 1 }],
      data: {
        differ: plain(missing / 1000),
        barsText: owed === 1 ? 'that is one bar' : `that is ${owed} bars`,
      },
      measured: { value: Math.round(missing), unit: 'ms' },
      mends: [mend(`Put back ${count(owed, 'bar')} of rest`, restAtStart, { bars: owed })],
    });
  },
});

export const earlyEvents = defineRule({
  id: 'early-events',
  summary: 'No set-up on its way to the start: it stands at tick 0, or behind the lead-in.',
  block: 'start',
  reads: ['leadInBars', 'leadInMs'],
  phase: 'start',
  codes: {
    'event-early': {
      title: 'Events before it is ready',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'stands' : 'stand'} inside the lead-in, behind tick 0.`,
      then: (_, w) =>
        `${w.Target} sets itself up at tick 0 and may pass over what comes before its start.`,
    },
  },
  check({ heard, block, piece, maps, report }) {
    const { leadInBars = 0, leadInMs = 0 } = block;
    const until = Math.max(maps.bars.barStart(leadInBars), maps.clock.tickAt(leadInMs));
    const first = firstTickOf(piece.score);
    // Where the rest is still owed, the music itself stands there: that comes first.
    if (first === null || first < until) return;
    for (const part of heard()) {
      const ticks = [...part.events.tick].filter((t) => t > 0 && t < until);
      if (ticks.length === 0) continue;
      report({
        code: 'event-early',
        severity: 'caution',
        part,
        spans: [...new Set(ticks)].slice(0, 200).map(spanAt),
        data: {
          name: part.name,
          countText: count(ticks.length, 'event'),
          one: ticks.length === 1 ? 1 : 0,
        },
        measured: { value: ticks[0]!, unit: 'ticks' },
        allowed: { beforeTick: until },
        mends: [mend('Set them at the very start', gatherSetUp, { beforeTick: until }, [part])],
      });
    }
  },
});

export const clock = defineRule({
  id: 'clock-time',
  summary:
    'Every note at the clock time it has in the source, plus one common shift where allowed.',
  block: 'clock',
  phase: 'tempo and meter',
  codes: {
    'clock-moved': {
      title: 'Off its clock time',
      wrong: (f) =>
        `${f['notesText']} moved on the clock against the source, by up to ${f['ms']} ms.`,
      then: (_, w) =>
        `${w.Target} runs beside the recording, so these ${w.notes} come at the wrong moment.`,
    },
  },
  check({ block, piece, maps, base, report }) {
    // Clock time in what came, by note id; NaN where no note has that id.
    const came = base.rendition.pieces.map((p) => p.score);
    const ids = came.reduce((n, s) => Math.max(n, s.lastId), 0);
    const before = new Float64Array(ids + 1).fill(NaN);
    for (const score of came) {
      const sourceClock = mapsOf(score).clock;
      for (const { notes } of score.parts)
        for (let i = 0; i < notes.count; i++)
          before[notes.id[i]!] = sourceClock.msAt(notes.start[i]!);
    }
    const heard = piece.score.parts.filter(isIn);
    // The first note alone: a view with only what begins first.
    const first = block.of === 'first-note' ? firstTickOf(piece.score) : null;
    const total = heard.reduce((n, p) => n + p.notes.count, 0);
    const moved = new Float64Array(total);
    let n = 0;
    for (const { notes } of heard)
      for (let i = 0; i < notes.count; i++) {
        const origin = notes.origin[i]!;
        const from = origin > 0 && origin <= ids ? before[origin]! : NaN;
        moved[n++] = maps.clock.msAt(notes.start[i]!) - from;
      }
    const known = moved.filter((by) => !Number.isNaN(by));
    const shiftMs = block.shift === 'common' ? commonOf(known) : 0;
    const places = new Places();
    let most = 0;
    n = 0;
    for (const part of heard)
      for (let i = 0; i < part.notes.count; i++) {
        // A note of no source has no time to keep: NaN is never beyond the limit.
        const off = Math.abs(moved[n++]! - shiftMs);
        if (!(off > block.withinMs + HAIR)) continue;
        if (first !== null && part.notes.start[i] !== first) continue;
        places.add(part, i);
        if (off > most) most = off;
      }
    if (places.count === 0) return;
    report({
      code: 'clock-moved',
      ...places.found,
      data: {
        notesText:
          first !== null
            ? 'The first note has'
            : `${count(places.count, 'note')} ${places.count === 1 ? 'has' : 'have'}`,
        ms: plain(most),
      },
      measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
      allowed: { withinMs: block.withinMs, shift: block.shift },
      noMend:
        'A step in the plan moved them: switch it off, or use one that holds clock time in its place.',
    });
  },
});
