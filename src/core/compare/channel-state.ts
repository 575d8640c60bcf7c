import { isIn, type Score } from '../score/score';
import { lastAtOrBefore } from '../time/tempo-map';

/**
 * What shapes the sound of a channel beside its notes: program, bank, level, bend and the pedals
 * that hold notes. MIDI 1.0, "Channel Voice Messages" and "Controller numbers".
 */
const SHAPING_CONTROLLERS = new Set([0, 7, 11, 32, 64, 66]);

export interface ChannelState {
  /** A number for the state in which a note begins and what changes in it until its end. */
  at(channel: number, startTick: number, endTick: number): number;
}

interface Line {
  /** Ticks of the changes, rising. */
  ticks: Float64Array;
  /** State behind each change, as a number. */
  state: Float64Array;
}

const mix = (value: number, into: number) =>
  (Math.imul(into ^ value, 0x9e3779b1) ^ (into >>> 15)) >>> 0;

/** Null where no part has an event that shapes the sound. */
export function channelState(score: Score): ChannelState | null {
  const events = new Map<number, { tick: number; order: number; slot: number; value: number }[]>();
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const { count, kind, tick, data1, data2, order } = part.events;
    for (let i = 0; i < count; i++) {
      const controller = kind[i] === 0xb0;
      if (controller ? !SHAPING_CONTROLLERS.has(data1[i]!) : kind[i] !== 0xc0 && kind[i] !== 0xe0)
        continue;
      const list = events.get(part.channel) ?? [];
      if (list.length === 0) events.set(part.channel, list);
      list.push({
        tick: tick[i]!,
        order: order[i]!,
        slot: kind[i]! * 128 + (controller ? data1[i]! : 0),
        value: controller ? data2[i]! : data1[i]! * 128 + data2[i]!,
      });
    }
  }
  if (events.size === 0) return null;
  const lines = new Map<number, Line>();
  for (const [channel, list] of events) {
    list.sort((a, b) => a.tick - b.tick || a.order - b.order);
    const inForce = new Map<number, number>();
    const ticks: number[] = [-1];
    const state: number[] = [0];
    list.forEach((e, i) => {
      inForce.set(e.slot, e.value);
      if (list[i + 1]?.tick === e.tick) return;
      let sum = 0;
      for (const [slot, value] of inForce) {
        // The bank that counts is the one in force when the program was chosen.
        if (value !== defaultOf(slot)) sum = (sum + mix(value, slot * 7919)) >>> 0;
      }
      if (sum === state.at(-1)) return;
      ticks.push(e.tick);
      state.push(sum);
    });
    lines.set(channel, { ticks: Float64Array.from(ticks), state: Float64Array.from(state) });
  }
  return {
    at(channel, startTick, endTick) {
      const line = lines.get(channel);
      if (!line) return 0;
      let i = lastAtOrBefore(line.ticks, startTick);
      let sum = line.state[i]!;
      while (++i < line.ticks.length && line.ticks[i]! < endTick) sum = mix(line.state[i]!, sum);
      return sum;
    },
  };
}

/** Level 100 and expression 127 are what General MIDI devices begin with; bend is centred. */
const defaultOf = (slot: number): number =>
  slot === 0xb0 * 128 + 7 ? 100 : slot === 0xb0 * 128 + 11 ? 127 : slot === 0xe0 * 128 ? 64 : 0;
