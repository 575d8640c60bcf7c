import type { Piece } from '../score/piece';
import type { Maps } from '../score/inventory';
import { OFF_MISSING } from '../score/score';
import { deliveredEnd, lastNoteEnd, trackEnds } from '../reading/ends';
import { loop, stateSeam } from '../steps/loop';
import { seamOf } from '../reading/seam';
import { setLength } from '../steps/length';
import { pairStuck } from '../steps/spacing';
import { strip } from '../steps/strip';
import type { Target } from '../target/schema';
import { count, plain } from '../target/words';
import { defineRule, mend, Places, spanAt } from './define-rule';

/** Whole bars until a tick, and what is left over, as a share of the next bar. */
export function barsUntil({ bars }: Maps, tick: number): { whole: number; over: number } {
  const whole = bars.barAt(tick);
  const from = bars.barStart(whole);
  return { whole, over: tick === from ? 0 : (tick - from) / (bars.barStart(whole + 1) - from) };
}

type End = NonNullable<Target['end']>;

const lengthAllowed = (end: End, bars: number) =>
  bars >= (end.leastBars ?? 1) &&
  bars <= (end.mostBars ?? Infinity) &&
  (end.onlyBars?.includes(bars) ?? true);

/** The nearest allowed lengths: the next longer one first, then the next shorter. */
export function nearestLengths(end: End, bars: number): number[] {
  const most = Math.max(end.mostBars ?? 0, ...(end.onlyBars ?? []), Math.ceil(bars) + 1);
  let up: number | null = null;
  let down: number | null = null;
  for (let n = Math.max(1, Math.ceil(bars)); n <= most && up === null; n++)
    if (lengthAllowed(end, n)) up = n;
  for (let n = Math.min(most, Math.floor(bars)); n >= 1 && down === null; n--)
    if (lengthAllowed(end, n)) down = n;
  return [up, down].filter((n): n is number => n !== null);
}

export const wholeBars = defineRule({
  id: 'length-in-bars',
  summary: 'The piece is whole bars long, and as many as the target takes.',
  block: 'end',
  reads: ['wholeBars', 'leastBars', 'mostBars', 'onlyBars'],
  phase: 'end',
  codes: {
    'not-whole-bars': {
      title: 'Ends inside a bar',
      wrong: (f) => `The piece is ${f['bars']} bars long.`,
      then: (_, w) => `${w.Target} goes on at the end of the file, so the beat stumbles there.`,
    },
    'bars-not-allowed': {
      title: 'A length it does not take',
      wrong: (f) => `The piece is ${f['barsText']} long.`,
      then: (f, w) => `${w.Target} takes ${f['allowed']}.`,
    },
  },
  check({ block, piece, maps, report }) {
    const { onlyBars, leastBars, mostBars } = block;
    const limited = onlyBars ?? leastBars ?? mostBars;
    if (!block.wholeBars && limited === undefined) return;
    const end = deliveredEnd(piece);
    // Nothing is delivered yet: no part has a seat.
    if (end === 0) return;
    const { whole, over } = barsUntil(maps, end);
    const bars = whole + over;
    if (over === 0 && lengthAllowed(block, whole)) return;
    const sounding = barsUntil(maps, lastNoteEnd(piece.score));
    const needed = sounding.whole + (sounding.over > 0 ? 1 : 0);
    // What the notes need comes first: an export that is too long or too short is mended by it.
    const lengths = [
      ...new Set([
        ...(lengthAllowed(block, needed) ? [needed] : []),
        ...nearestLengths(block, bars),
      ]),
    ];
    const allowed = onlyBars
      ? `${onlyBars.join(', ')} bars`
      : leastBars !== undefined && mostBars !== undefined
        ? `${leastBars} to ${mostBars} whole bars`
        : mostBars !== undefined
          ? `at most ${count(mostBars, 'bar')}`
          : 'whole bars';
    report({
      code: over > 0 ? 'not-whole-bars' : 'bars-not-allowed',
      spans: [spanAt(Math.max(0, end - 1))],
      data: { bars: plain(bars), barsText: count(whole, 'bar'), allowed },
      measured: { value: Math.round(bars * 1000) / 1000, unit: 'bars' },
      allowed: {
        ...(onlyBars ? { onlyBars } : {}),
        ...(leastBars === undefined ? {} : { leastBars }),
        ...(mostBars === undefined ? {} : { mostBars }),
        wholeBars: true,
      },
      mends: lengths.map((n) => mend(`Make it ${count(n, 'bar')} long`, setLength, { bars: n })),
      ...(lengths.length === 0 ? { noMend: 'No length near this one is allowed.' } : {}),
    });
  },
});

export const filled = defineRule({
  id: 'filled-to-the-end',
  summary: 'Something sounds in the last bar.',
  block: 'end',
  reads: ['filled'],
  phase: 'end',
  codes: {
    'empty-end': {
      title: 'The end is empty',
      wrong: (f) => `${f['barsText']} at the end without a note.`,
      then: (_, w) => `${w.Target} plays them too: a hole in every round.`,
    },
  },
  check({ block, piece, maps, report }) {
    if (!block.filled) return;
    const end = deliveredEnd(piece);
    const last = lastNoteEnd(piece.score);
    if (last === 0) return;
    const { whole, over } = barsUntil(maps, end);
    const needed = barsUntil(maps, last);
    const bars = needed.whole + (needed.over > 0 ? 1 : 0);
    const empty = whole + (over > 0 ? 1 : 0) - bars;
    if (empty < 1) return;
    report({
      code: 'empty-end',
      spans: [{ fromTick: maps.bars.barStart(bars), toTick: end }],
      data: { barsText: empty === 1 ? 'One bar is' : `${empty} bars are` },
      measured: { value: empty, unit: 'empty bars' },
      allowed: { filled: true },
      ...(lengthAllowed(block, bars)
        ? { mends: [mend(`Make it ${count(bars, 'bar')} long`, setLength, { bars })] }
        : {
            noMend:
              'Without them it would have a length that is not taken: fill them, or repeat bars.',
          }),
    });
  },
});

export const tracksEqual = defineRule({
  id: 'tracks-equal',
  summary: 'Every track ends at the same tick, and no note rings past the end of its track.',
  block: 'end',
  reads: ['tracksEqual', 'nothingPast'],
  phase: 'end',
  codes: {
    'tracks-unequal': {
      title: 'Tracks of unequal length',
      wrong: (f) => `The tracks end between ${f['first']} and ${f['last']}.`,
      then: (_, w) => `${w.Target} starts each again at its own end, and they drift apart.`,
    },
    'past-end': {
      title: 'Rings past the end',
      wrong: (f) => `${f['countText']} past the end of the track.`,
      then: (_, w) => `${w.Target} stops there and may leave them hanging.`,
    },
  },
  check({ heard, block, piece, maps, report }) {
    const ends = trackEnds(piece);
    if (block.tracksEqual && ends.length > 1) {
      const first = ends.reduce((a, b) => Math.min(a, b));
      const last = ends.reduce((a, b) => Math.max(a, b));
      if (first !== last) {
        const say = (tick: number) => {
          const { whole, over } = barsUntil(maps, tick);
          return `${plain(whole + over)} bars`;
        };
        report({
          code: 'tracks-unequal',
          spans: [{ fromTick: first, toTick: last }],
          data: { first: say(first), last: say(last) },
          measured: { value: last - first, unit: 'ticks' },
          allowed: { tracksEqual: true },
          mends: [mend('End them all at the common end', setLength, {})],
        });
      }
    }
    if (!block.nothingPast) return;
    const places = new Places();
    let end = 0;
    for (const part of heard()) {
      const until = piece.score.tracks[part.track]?.endTick ?? 0;
      end = Math.max(end, until);
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.end[i]! > until) places.add(part, i);
    }
    if (places.count === 0) return;
    report({
      code: 'past-end',
      ...places.found,
      data: { countText: places.count === 1 ? 'One note sounds' : `${places.count} notes sound` },
      measured: { value: places.count, unit: 'notes' },
      allowed: { nothingPast: true },
      mends: end > 0 ? [mend('Cut them at the end', setLength, { toTick: end })] : [],
      ...(end > 0 ? {} : { noMend: 'The track has no length: set one first.' }),
    });
  },
});

/** The marker where the loop begins; tick 0 where the target names none. */
function loopStart(block: End, { score }: Piece): number | null {
  if (block.loopMarker === undefined) return 0;
  return score.conductor.markers.find((m) => m.text === block.loopMarker)?.tick ?? null;
}

export const loopMarker = defineRule({
  id: 'loop-marker',
  summary: 'One marker where the loop begins, a whole number of bars before the end.',
  block: 'end',
  reads: ['loopMarker'],
  phase: 'end',
  codes: {
    'loop-missing': {
      title: 'No loop marker',
      wrong: (f) => `There is no marker “${f['label']}”.`,
      then: (_, w) => `${w.Target} does not know where to go on and stops at the end.`,
    },
    'loop-twice': {
      title: 'Several loop markers',
      wrong: (f) => `The marker “${f['label']}” stands ${f['times']} times.`,
      then: (_, w) => `${w.Target} takes one of them, and not always the same.`,
    },
    'loop-not-bars': {
      title: 'The loop is no whole number of bars',
      wrong: (f) => `From “${f['label']}” to the end it is ${f['bars']} bars.`,
      then: (_, w) => `${w.Target} goes round there, and the beat stumbles.`,
    },
  },
  check({ block, piece, maps, report }) {
    const label = block.loopMarker;
    if (label === undefined) return;
    const found = piece.score.conductor.markers.filter((m) => m.text === label);
    const near = piece.score.conductor.markers.find(
      (m) => m.text !== label && m.text.trim().toLowerCase() === label.toLowerCase(),
    );
    const set = (bar: number) => mend(`Loop from bar ${bar}`, loop, { label, bar });
    const end = deliveredEnd(piece);
    if (found.length === 0) {
      const bar = near ? maps.bars.barAt(near.tick) + 1 : 1;
      report({
        code: 'loop-missing',
        data: { label },
        allowed: { loopMarker: label },
        ...(end > 0 ? { mends: [set(bar)] } : { noMend: 'The piece has no length.' }),
      });
      return;
    }
    if (found.length > 1) {
      const bars = [...new Set(found.map((m) => maps.bars.barAt(m.tick) + 1))];
      report({
        code: 'loop-twice',
        spans: found.map((m) => spanAt(m.tick)),
        data: { label, times: found.length },
        measured: { value: found.length, unit: 'markers' },
        allowed: { loopMarker: label },
        mends: bars.slice(0, 3).map(set),
      });
      return;
    }
    if (!block.loopWholeBars) return;
    const tick = found[0]!.tick;
    const from = barsUntil(maps, tick);
    const to = barsUntil(maps, end);
    if (from.over === 0 && to.over === 0) return;
    report({
      code: 'loop-not-bars',
      spans: [spanAt(tick)],
      data: { label, bars: plain(to.whole + to.over - from.whole - from.over) },
      measured: {
        value: Math.round((to.whole + to.over - from.whole - from.over) * 1000) / 1000,
        unit: 'bars',
      },
      allowed: { loopWholeBars: true },
      mends: [
        {
          title: `Loop from bar ${from.whole + 1}, and end on a bar line`,
          steps: [
            ...(from.over > 0 ? set(from.whole + 1).steps : []),
            ...(to.over > 0 ? mend('', setLength, { bars: to.whole + 1 }).steps : []),
          ],
        },
      ],
    });
  },
});

const SLOT_WORDS: Readonly<Record<number, string>> = {
  0xb001: 'the wheel',
  0xb007: 'the level',
  0xb00a: 'the side',
  0xb00b: 'the expression',
  0xb040: 'the sustain pedal',
  0xb042: 'the sostenuto pedal',
  0xc000: 'the program',
  0xe000: 'the bend',
};

export const seam = defineRule({
  id: 'seam',
  summary: 'Where it goes round, nothing hangs and nothing jumps.',
  block: 'end',
  reads: ['loops'],
  phase: 'end',
  codes: {
    'seam-hangs': {
      title: 'Hangs over the seam',
      wrong: (f) => `${f['countText']} not end before the loop goes round.`,
      then: (_, w) => `${w.Target} goes back with them still sounding, one more in each round.`,
    },
    'seam-jumps': {
      title: 'Jumps at the seam',
      wrong: (f) => `${f['what']} of “${f['name']}” ends otherwise than the loop begins.`,
      then: () => 'The first round sounds as it should and every later one does not.',
    },
  },
  check({ heard, block, piece, report, target }) {
    if (!block.loops) return;
    const from = loopStart(block, piece);
    if (from === null) return;
    const end = deliveredEnd(piece);
    const hanging = new Places();
    for (const part of heard()) {
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.offKind[i] === OFF_MISSING) hanging.add(part, i);
    }
    if (hanging.count > 0)
      report({
        code: 'seam-hangs',
        ...hanging.found,
        data: { countText: hanging.count === 1 ? 'One note does' : `${hanging.count} notes do` },
        measured: { value: hanging.count, unit: 'notes' },
        mends: [
          mend('End them with their bar', pairStuck, { until: 'bar-end' }),
          mend('Give them the usual length', pairStuck, { until: 'median' }),
        ],
      });
    for (const part of heard()) {
      if (part.notes.count === 0) continue;
      const differs = seamOf(part.events, from, end);
      if (differs.length === 0) continue;
      const controllers = differs.filter((d) => d.slot < 0xc000).map((d) => d.slot - 0xb000);
      // Where a target takes set-up once at the start only, saying it again is no mend.
      const once = target.events?.controllersOnceAtStart !== undefined;
      report({
        code: 'seam-jumps',
        part,
        spans: [spanAt(from), spanAt(Math.max(from, end - 1))],
        data: {
          name: part.name,
          what: upper(differs.map((d) => SLOT_WORDS[d.slot]!).join(' and ')),
        },
        measured: { value: differs.length, unit: 'values' },
        mends: [
          ...(once
            ? []
            : [mend('Say it again where the loop begins', stateSeam, { fromTick: from }, [part])]),
          ...(controllers.length === differs.length
            ? [
                {
                  title: 'Take the changes inside the loop out',
                  steps: mend('', strip, { kinds: ['controllers' as const], controllers }, [
                    part,
                  ]).steps.map((s) => ({ ...s, scope: { ...s.scope, fromTick: from + 1 } })),
                },
              ]
            : once
              ? [mend('Say it again where the loop begins', stateSeam, { fromTick: from }, [part])]
              : []),
        ],
      });
    }
  },
});

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Frames a second that were chosen, where they are. */
export const frameRateOf = (piece: Piece): number | null => {
  const said = Number(piece.delivery.metadata?.frameRate);
  return Number.isFinite(said) && said > 0 ? said : null;
};

export const soundLength = defineRule({
  id: 'sound-length',
  summary: 'As long as the sound that plays beside it.',
  block: 'end',
  reads: ['soundWithinMs', 'soundWithinFrames'],
  phase: 'end',
  needs: ['recording'],
  codes: {
    'sound-length': {
      title: 'Not as long as the sound',
      wrong: (f) => `The piece is ${f['piece']} s long, the sound ${f['sound']} s.`,
      then: (f, w) =>
        `${w.Target} allows ${f['within']} between the two and stops where the shorter one ends.`,
    },
  },
  check({ block, piece, maps, recordingMs, report, need }) {
    const { soundWithinMs, soundWithinFrames } = block;
    if (soundWithinMs === undefined && soundWithinFrames === undefined) return;
    if (recordingMs === null) {
      need('recording');
      return;
    }
    const rate = frameRateOf(piece);
    const within =
      soundWithinMs ?? (rate === null ? 1000 / 24 : 1000 / rate) * (soundWithinFrames ?? 1);
    const { clock } = maps;
    const ms = clock.msAt(deliveredEnd(piece));
    const off = ms - recordingMs;
    if (Math.abs(off) <= within + 1e-6) return;
    const toTick = clock.tickAt(recordingMs);
    report({
      code: 'sound-length',
      spans: [spanAt(Math.max(0, deliveredEnd(piece) - 1))],
      data: {
        piece: plain(ms / 1000),
        sound: plain(recordingMs / 1000),
        within:
          soundWithinMs === undefined
            ? `${count(soundWithinFrames ?? 1, 'frame')}`
            : `${plain(within)} ms`,
      },
      measured: { value: Math.round(off * 1000) / 1000, unit: 'ms' },
      allowed: soundWithinMs === undefined ? { soundWithinFrames } : { soundWithinMs },
      ...(toTick > 0
        ? { mends: [mend('End it with the sound', setLength, { toTick })] }
        : { noMend: 'The sound has no length.' }),
    });
  },
});

export const wholeFrames = defineRule({
  id: 'whole-frames',
  summary: 'Frame rate, frame shift and, where it goes round again, a whole number of frames.',
  block: 'frames',
  phase: 'end',
  codes: {
    'frame-rate': {
      title: 'A frame rate it does not have',
      wrong: (f) => `${f['rate']} frames a second are asked for.`,
      then: (f, w) => `${w.Target} runs at ${f['allowed']}.`,
    },
    'frame-shift': {
      title: 'Shifted too far',
      wrong: (f) => `The start is shifted by ${f['shift']} frames.`,
      then: (f, w) => `${w.Target} takes ${f['lowest']} to ${f['highest']}.`,
    },
    'ending-unknown': {
      title: 'An ending it does not know',
      wrong: (f) => `“${f['ending']}” is asked for at the end.`,
      then: (f, w) => `${w.Target} knows ${f['allowed']}.`,
    },
    'frames-drift': {
      title: 'A pass is no whole number of frames',
      wrong: (f) => `A pass lasts ${f['frames']} frames.`,
      then: (f) => `Round again it drifts by ${f['drift']} ms with each pass.`,
    },
  },
  check({ block, piece, maps, report }) {
    const { metadata = {} } = piece.delivery;
    const rate = frameRateOf(piece);
    if (rate !== null && !block.perSecond.includes(rate))
      report({
        code: 'frame-rate',
        data: { rate, allowed: block.perSecond.join(', ') },
        measured: { value: rate, unit: 'frames a second' },
        allowed: { perSecond: block.perSecond },
        noMend: 'Choose one of its rates in the step “Metadata”.',
      });
    const shift = Number(metadata.frameShift ?? '0');
    const { shiftLowest = -Infinity, shiftHighest = Infinity } = block;
    if (shift < shiftLowest || shift > shiftHighest)
      report({
        code: 'frame-shift',
        data: { shift, lowest: shiftLowest, highest: shiftHighest },
        measured: { value: shift, unit: 'frames' },
        allowed: { shiftLowest, shiftHighest },
        noMend: 'Give a smaller shift in the step “Metadata”.',
      });
    const { ending } = metadata;
    if (ending !== undefined && !(block.endings as readonly string[]).includes(ending))
      report({
        code: 'ending-unknown',
        data: { ending, allowed: block.endings.join(' and ') },
        allowed: { endings: block.endings },
        noMend: 'Choose one of them in the step “Metadata”.',
      });
    if (rate === null || ending !== 'round-again') return;
    const { clock } = maps;
    const end = deliveredEnd(piece);
    if (end === 0) return;
    const ms = clock.msAt(end);
    const frames = (ms * rate) / 1000;
    const drift = ((Math.round(frames) - frames) * 1000) / rate;
    // Half a tick is as near as a file can end.
    const tickMs = clock.msAt(end) - clock.msAt(Math.max(0, end - 1));
    if (Math.abs(drift) <= tickMs / 2 + 1e-6) return;
    const toTick = clock.tickAt((Math.ceil(frames) * 1000) / rate);
    report({
      code: 'frames-drift',
      spans: [spanAt(Math.max(0, end - 1))],
      data: { frames: plain(frames), drift: plain(Math.abs(drift)) },
      measured: { value: Math.round(frames * 1000) / 1000, unit: 'frames' },
      allowed: { wholeFrames: true },
      mends: [mend(`Fill it up to ${Math.ceil(frames)} frames`, setLength, { toTick })],
    });
  },
});
