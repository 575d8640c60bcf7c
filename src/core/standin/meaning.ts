import type * as z from 'zod';
import type { Chain } from '../formats/chain';
import type { Chart } from '../formats/chart';
import type { Crate } from '../formats/crate';
import type { FrameRowSchema, Frames } from '../formats/frames';
import type { HoleRowSchema, TempoRowSchema, TimeRowSchema } from '../formats/lists';
import type { Strands } from '../formats/strands';
import { pitch } from './played';
import { clockOf } from './strict-smf';

/** Says where and what; the first faults of a file are enough. */
export type Says = (path: string, says: string) => void;

/** Two whole numbers of microseconds that were rounded on their own. */
const near = (a: number, b: number, by = 1) => Math.abs(a - b) <= by;
const line = (i: number) => `line ${i + 2}`;

/** Rows or entries that stand in order of a number. */
function rising<T>(
  list: readonly T[],
  of: (t: T) => number,
  at: (i: number) => string,
  says: Says,
) {
  for (let i = 1; i < list.length; i++)
    if (of(list[i]!) < of(list[i - 1]!)) says(at(i), 'It lies before the one above it.');
}

interface Timed {
  readonly tick: number;
  readonly atUs: number;
}

/** What is told twice agrees: clock times are those of the ticks. */
function clocked(
  { ppq, tempos }: { ppq: number; tempos: Chart['tempos'] },
  endTick: number,
  endUs: number,
  says: Says,
) {
  const us = clockOf({
    ppq,
    tempos: tempos.map((t, order) => ({ ...t, track: 0, order })),
  } as Parameters<typeof clockOf>[0]);
  const agrees = (at: string, { tick, atUs }: Timed) => {
    if (!near(us(tick), atUs))
      says(`${at}.atUs`, `Tick ${tick} stands at ${Math.round(us(tick))} µs.`);
    if (tick > endTick) says(`${at}.tick`, `It lies behind the end, tick ${endTick}.`);
  };
  if (tempos[0]!.tick !== 0) says('tempos[0].tick', 'The first tempo stands at tick 0.');
  rising(
    tempos,
    (t) => t.tick,
    (i) => `tempos[${i}]`,
    says,
  );
  tempos.forEach((t, i) => agrees(`tempos[${i}]`, t));
  if (!near(us(endTick), endUs)) says('endUs', `The end, tick ${endTick}, is another time.`);
  return { us, agrees };
}

function chart(c: Chart, says: Says) {
  const { us, agrees } = clocked(c, c.endTick, c.endUs, says);
  rising(
    c.meters,
    (m) => m.tick,
    (i) => `meters[${i}]`,
    says,
  );
  rising(
    c.sections,
    (s) => s.tick,
    (i) => `sections[${i}]`,
    says,
  );
  c.sections.forEach((s, i) => agrees(`sections[${i}]`, s));
  const seats = c.lines.map((l) => l.seat);
  c.lines.forEach((l, n) => {
    const at = `lines[${n}]`;
    if (seats.indexOf(l.seat) !== n) says(`${at}.seat`, `The seat ${l.seat} has two lines.`);
    rising(
      l.phrases,
      (p) => p.fromTick,
      (i) => `${at}.phrases[${i}]`,
      says,
    );
    l.phrases.forEach((p, i) => {
      if (p.toTick < p.fromTick) says(`${at}.phrases[${i}]`, 'It ends before it begins.');
    });
    rising(
      l.strikes,
      (s) => s.tick,
      (i) => `${at}.strikes[${i}]`,
      says,
    );
    l.strikes.forEach((s, i) => {
      const here = `${at}.strikes[${i}]`;
      agrees(here, s);
      const long = us(s.tick + s.lengthTicks) - us(s.tick);
      if (s.holdUs > 0 && !near(s.holdUs, long, 2)) says(`${here}.holdUs`, 'It is not as long.');
      if (s.lanes.some((lane) => lane > l.keys.length))
        says(`${here}.lanes`, 'There is no such lane.');
      if (new Set(s.lanes).size < s.lanes.length) says(`${here}.lanes`, 'A lane is there twice.');
    });
  });
}

function strands(s: Strands, says: Says) {
  const { us, agrees } = clocked(s, s.endTick, s.endUs, says);
  rising(
    s.passages,
    (p) => p.tick,
    (i) => `passages[${i}]`,
    says,
  );
  s.passages.forEach((p, i) => agrees(`passages[${i}]`, p));
  s.strands.forEach((strand, n) => {
    rising(
      strand.cues,
      (c) => c.tick,
      (i) => `strands[${n}].cues[${i}]`,
      says,
    );
    strand.cues.forEach((c, i) => {
      const at = `strands[${n}].cues[${i}]`;
      agrees(at, c);
      if (!near(c.lengthUs, us(c.tick + c.lengthTicks) - us(c.tick), 2))
        says(`${at}.lengthUs`, 'It is not as long as its ticks.');
      if (strand.kind === 'instant' && c.lengthTicks > 0)
        says(`${at}.lengthTicks`, 'An instant has no length.');
      if ((strand.value === 'none') !== (c.value === null))
        says(`${at}.value`, 'It is not what the strand says of its values.');
    });
  });
}

/** On and off in turns, for each key of a channel. */
class Held {
  private readonly held = new Set<string>();
  take(at: string, key: string, on: boolean, says: Says) {
    if (this.held.has(key) === on)
      says(at, on ? 'The key is on already.' : 'The key is not on: nothing goes off.');
    if (on) this.held.add(key);
    else this.held.delete(key);
  }
  end(at: string, says: Says) {
    if (this.held.size > 0) says(at, `${this.held.size} keys never go off.`);
  }
}

function frames(f: Frames, says: Says) {
  const channels = f.channels.map((c) => c.channel);
  f.channels.forEach(({ channel, changes }, n) => {
    const at = (i: number) => `channels[${n}].changes[${i}]`;
    if (channels.indexOf(channel) !== n) says(`channels[${n}]`, 'The channel is there twice.');
    rising(changes, (c) => c.frame, at, says);
    const held = new Held();
    changes.forEach((c, i) => {
      if ((c.velocity === null) === (c.event === 'on'))
        says(`${at(i)}.velocity`, 'Ons have a velocity, offs have none.');
      held.take(at(i), `${c.key}`, c.event === 'on', says);
    });
    held.end(`channels[${n}]`, says);
  });
}

type FrameRow = z.infer<typeof FrameRowSchema>;
function frameList(rows: readonly FrameRow[], says: Says) {
  rising(rows, (r) => r.frame, line, says);
  const last = rows.at(-1);
  const rate = last && last.frame > 0 ? Math.round((last.frame * 1e6) / last.seconds) : null;
  const held = new Held();
  rows.forEach((r, i) => {
    if (r.frame < 0 || (rate !== null && !near(r.seconds, (r.frame * 1e6) / rate)))
      says(`${line(i)}, seconds`, 'Frame and seconds contradict.');
    if ((r.velocity === '') === (r.event === 'on'))
      says(`${line(i)}, velocity`, 'Ons have a velocity, offs have none.');
    held.take(line(i), `${r.channel} ${r.key}`, r.event === 'on', says);
  });
  held.end('last line', says);
}

/** `1:02.500` in milliseconds. */
const msOfClock = (text: string): number | null => {
  const [, minutes, seconds] = /^(\d+):(\d\d\.\d{3})$/.exec(text) ?? [];
  return minutes === undefined ? null : Number(minutes) * 60_000 + Number(seconds) * 1000;
};

type TimeRow = z.infer<typeof TimeRowSchema>;
function timeList(rows: readonly TimeRow[], says: Says) {
  rising(rows, (r) => r.ms, line, says);
  const placeOf = (r: TimeRow) =>
    r.place.split(/[.+]/).reduce((sum, n, i) => sum + Number(n) * [1e12, 1e8, 1][i]!, 0);
  rising(rows, placeOf, line, says);
  rows.forEach((r, i) => {
    if (r.number !== i + 1)
      says(`${line(i)}, number`, `It is row ${i + 1}: one is missing, or moved.`);
    if (r.note < 0 || r.note > 127) says(`${line(i)}, note`, 'A note number is 0 to 127.');
    else if (r.name !== pitch(r.note))
      says(`${line(i)}, name`, `Note ${r.note} is ${pitch(r.note)}.`);
    if (r.note - r.cue !== rows[0]!.note - rows[0]!.cue)
      says(`${line(i)}, cue`, 'Cue and note do not go together as in the first row.');
    const clock = msOfClock(r.clock);
    if (clock === null || !near(clock, r.ms)) says(`${line(i)}, clock`, 'Clock and ms contradict.');
  });
}

type TempoRow = z.infer<typeof TempoRowSchema>;
function tempoMap(rows: readonly TempoRow[], says: Says) {
  rising(rows, (r) => r.tick, line, says);
  rising(rows, (r) => r.bar * 1000 + r.beat, line, says);
  let ppq: number | null = null;
  let tempo = { row: 0, bpm: 120 };
  rows.forEach((r, i) => {
    const from = rows[tempo.row]!;
    const ticks = r.tick - from.tick;
    const us = r.seconds - from.seconds;
    if (ticks > 0) {
      const found = (ticks * 60e6) / (tempo.bpm * Math.max(1, us));
      // BPM have six decimals: what follows from them is near, and the same in all rows.
      ppq ??= Math.round(found);
      if (us <= 0 || Math.abs(found - ppq) > Math.max(0.01, ppq / 1000))
        says(`${line(i)}, seconds`, 'Ticks and seconds contradict the tempo before them.');
    } else if (r.tick === from.tick && us !== 0)
      says(`${line(i)}, seconds`, 'One tick, two times.');
    if (r.bpm !== '') tempo = { row: i, bpm: Number(r.bpm) };
  });
}

type HoleRow = z.infer<typeof HoleRowSchema>;
function holeList(rows: readonly HoleRow[], says: Says) {
  const last = rows.at(-1);
  const rate = last && last.row > 0 ? Math.round((last.row * 1e6) / last.seconds) : null;
  rows.forEach((r, i) => {
    if (i > 0 && r.row <= rows[i - 1]!.row) says(line(i), 'Rows stand in order, each once.');
    if (r.row < 0) says(`${line(i)}, row`, 'Rows are counted from 0.');
    if (rate !== null && !near(r.seconds, (r.row * 1e6) / rate))
      says(`${line(i)}, seconds`, 'Row and seconds contradict.');
    if (r.front === '' && r.rear === '') says(line(i), 'A row without a hole.');
    for (const cell of [r.front, r.rear])
      for (const pipe of cell === '' ? [] : cell.split(' | ')) {
        const [name, number] = pipe.split(' ');
        const key = /^\d{1,3}$/.test(number ?? '') ? Number(number) : 128;
        if (key > 127 || name !== pitch(key)) says(line(i), `“${pipe}” is no pipe.`);
      }
  });
}

function crate(c: Crate, says: Says) {
  const ids = c.places.map((p) => p.place);
  const bar = (c.ppq * 4 * c.meter.numerator) / c.meter.denominator;
  c.places.forEach((p, i) => {
    const at = `places[${i}]`;
    if (ids.indexOf(p.place) !== i) says(`${at}.place`, 'It is there twice.');
    for (const next of p.next) if (!ids.includes(next)) says(`${at}.next`, `There is no ${next}.`);
    if (Math.max(1, Math.round((p.lengthTicks * 2) / bar)) !== p.halfBars)
      says(`${at}.halfBars`, 'It is not as long as its ticks.');
    if (!near(p.lengthUs, (p.lengthTicks * c.microsecondsPerQuarter) / c.ppq))
      says(`${at}.lengthUs`, 'It is not as long as its ticks.');
  });
}

function chain(c: Chain, says: Says) {
  const names = c.patterns.map((p) => p.pattern);
  c.patterns.forEach((p, i) => {
    if (names.indexOf(p.pattern) !== i) says(`patterns[${i}].pattern`, 'It is there twice.');
  });
  c.links.forEach((l, i) => {
    if (!names.includes(l.pattern))
      says(`links[${i}].pattern`, `There is no pattern ${l.pattern}.`);
  });
}

/** By format: what is wrong with data that its schema takes. */
export const MEANINGS: Readonly<Record<string, (data: never, says: Says) => void>> = {
  chart,
  strands,
  frames,
  crate,
  chain,
  'frame-list': frameList,
  'time-list': timeList,
  'tempo-map': tempoMap,
  'hole-list': holeList,
};
