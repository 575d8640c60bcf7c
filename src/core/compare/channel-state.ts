import { isDrumPart } from '../reading/importance/drums';
import { sortByKey } from '../score/columns';
import { isIn, type Part } from '../score/score';
import type { Hearing } from '../target/hearing';
import { lastAtOrBefore } from '../time/tempo-map';

/**
 * What shapes the sound of a channel beside its notes: program with its bank, level, expression,
 * pan, bend and the pedals that hold or soften notes. MIDI 1.0, "Channel Voice Messages" and
 * "Controller numbers". What a target does not hear is left out of it.
 */
const CONTROLLERS = [7, 10, 11, 64, 66, 67] as const;
const BANKS = [0, 32] as const;

/** Numbers for states: the same state, the same number, in all scores that share the table. */
export class States {
  private readonly numbers = new Map<string, number>([['', 0]]);
  number(text: string): number {
    const known = this.numbers.get(text);
    if (known !== undefined) return known;
    const made = this.numbers.size;
    this.numbers.set(text, made);
    return made;
  }
}

export interface ChannelState {
  /** The state in which a note begins and what it becomes until its end, as one number. */
  of(part: Part, index: number, endTick: number): number;
}

interface ChannelLine {
  /** When each state comes into force: tick, then place among what stands at the tick. */
  readonly ticks: Float64Array;
  readonly tracks: Int32Array;
  readonly orders: Float64Array;
  readonly states: Int32Array;
  /** The same, what follows without a change left out. */
  readonly course: Course;
}

/**
 * States as they follow each other, none twice in a row. Stretches are told apart by numbers for
 * pairs, pairs of pairs and so on: a note that lasts through thousands of bends is not walked along
 * them, and equal stretches have equal names in all scores that share the table.
 */
class Course {
  private readonly levels: Int32Array[];
  constructor(
    readonly ticks: Float64Array,
    readonly states: Int32Array,
    private readonly table: States,
  ) {
    this.levels = [states];
  }

  /** A name of the states from one index to before another. */
  between(from: number, to: number): string {
    const names: number[] = [];
    for (let at = from; at < to;) {
      const level = 31 - Math.clz32(to - at);
      names.push(this.level(level)[at]!);
      at += 2 ** level;
    }
    return `${to - from}:${names.join('>')}`;
  }

  private level(n: number): Int32Array {
    while (this.levels.length <= n) {
      const below = this.levels.at(-1)!;
      const half = 2 ** (this.levels.length - 1);
      const size = Math.max(0, this.states.length - 2 * half + 1);
      const name = (i: number) => `~${below[i]!},${below[i + half]!}`;
      this.levels.push(Int32Array.from({ length: size }, (_, i) => this.table.number(name(i))));
    }
    return this.levels[n]!;
  }
}

function courseOf(ticks: readonly number[], states: readonly number[], table: States): Course {
  const at: number[] = [];
  const kept: number[] = [];
  states.forEach((state, i) => {
    if (ticks[i + 1] === ticks[i] || kept.at(-1) === state) return;
    at.push(ticks[i]!);
    kept.push(state);
  });
  return new Course(Float64Array.from(at), Int32Array.from(kept), table);
}

/** Level 100, expression 127 and pan 64 are what General MIDI devices begin with; bend is centred. */
const BEGINS: Readonly<Record<number, number>> = { 7: 100, 10: 64, 11: 127 };

/** Null where no part has an event that shapes the sound. */
export function channelState(
  parts: readonly Part[],
  states: States,
  hearing: Hearing,
): ChannelState | null {
  const controllers = new Set<number>(CONTROLLERS.filter(hearing.controller));
  if (hearing.programs)
    for (const bank of BANKS) if (hearing.controller(bank)) controllers.add(bank);
  const byChannel = new Map<number, Part[]>();
  for (const part of parts) {
    if (!isIn(part) || part.events.count === 0) continue;
    byChannel.set(part.channel, [...(byChannel.get(part.channel) ?? []), part]);
  }
  const lines = new Map<number, ChannelLine>();
  for (const [channel, on] of byChannel) {
    const line = lineOf(on, states, controllers, hearing);
    if (line) lines.set(channel, line);
  }
  const kit = hearing.kit && parts.some((p) => isIn(p) && isDrumPart(p));
  if (lines.size === 0 && !kit) return null;
  // A key of a kit is a drum, of anything else a pitch.
  const asKit = (part: Part, state: number) =>
    kit && isDrumPart(part) ? states.number(`kit ${state}`) : state;
  return {
    of: (part, index, endTick) => asKit(part, stateOf(part, index, endTick)),
  };
  function stateOf(part: Part, index: number, endTick: number): number {
    const line = lines.get(part.channel);
    if (!line) return 0;
    const start = part.notes.start[index]!;
    let i = lastAtOrBefore(line.ticks, start);
    // Order at one tick is music: what stands behind the note-on is not yet in force for it.
    while (i > 0 && line.ticks[i] === start && behind(line, i, part, index)) i--;
    const first = line.states[i]!;
    if (i + 1 >= line.ticks.length || line.ticks[i + 1]! >= endTick) return first;
    // What happens before its end is heard in it; of one tick the last counts.
    const { course } = line;
    let from = lastAtOrBefore(course.ticks, line.ticks[i + 1]!);
    if (course.states[from] === first) from++;
    const to = lastAtOrBefore(course.ticks, endTick - 1) + 1;
    return to <= from ? first : states.number(`${first}>${course.between(from, to)}`);
  }
}

/** Whether a change stands behind a note-on of the same tick. */
function behind(line: ChannelLine, i: number, part: Part, index: number): boolean {
  const order = part.notes.onOrder[index]!;
  if (line.tracks[i] === part.sourceTrack && part.sourceTrack >= 0 && order > 0)
    return line.orders[i]! > order;
  return false;
}

function lineOf(
  parts: readonly Part[],
  states: States,
  controllers: ReadonlySet<number>,
  hearing: Hearing,
): ChannelLine | null {
  // Of one tick the tracks follow each other as they stand, each in its own order.
  const sorted = [...parts].sort((a, b) => a.track - b.track);
  const total = sorted.reduce((n, p) => n + p.events.count, 0);
  const ticks = new Float64Array(total);
  const part = new Uint32Array(total);
  const index = new Uint32Array(total);
  let n = 0;
  sorted.forEach((p, k) => {
    const { count, kind, data1, tick } = p.events;
    for (let i = 0; i < count; i++) {
      const heard =
        kind[i] === 0xb0
          ? controllers.has(data1[i]!)
          : kind[i] === 0xc0
            ? hearing.programs
            : kind[i] === 0xe0 && hearing.bends;
      if (!heard) continue;
      ticks[n] = tick[i]!;
      part[n] = k;
      index[n++] = i;
    }
  });
  if (n === 0) return null;
  const inForce = new Map<string, number>();
  const bank = new Map<number, number>();
  const out = { ticks: [-1], tracks: [-1], orders: [0], states: [0] };
  const order = sortByKey(ticks.subarray(0, n));
  for (let k = 0; k < n; k++) {
    const from = sorted[part[order[k]!]!]!;
    const i = index[order[k]!]!;
    const { kind, data1, data2, tick } = from.events;
    const number = data1[i]!;
    const put = (slot: string, value: number, begins: number) =>
      value === begins ? inForce.delete(slot) : inForce.set(slot, value);
    if (kind[i] === 0xc0) {
      // The bank that counts is the one in force when the program was chosen.
      const of = (bank.get(0) ?? 0) * 128 + (bank.get(32) ?? 0);
      put('p', of * 128 + number, 0);
    } else if (kind[i] === 0xe0) put('b', data2[i]! * 128 + number, 64 * 128);
    else if (number === 0 || number === 32) bank.set(number, data2[i]!);
    else put(`c${number}`, data2[i]!, BEGINS[number] ?? 0);
    const text = [...inForce]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([slot, value]) => `${slot}=${value}`)
      .join(' ');
    const state = states.number(text);
    if (state === out.states.at(-1)) continue;
    out.ticks.push(tick[i]!);
    out.tracks.push(from.sourceTrack);
    out.orders.push(from.events.order[i]!);
    out.states.push(state);
  }
  return {
    ticks: Float64Array.from(out.ticks),
    tracks: Int32Array.from(out.tracks),
    orders: Float64Array.from(out.orders),
    states: Int32Array.from(out.states),
    course: courseOf(out.ticks, out.states, states),
  };
}
