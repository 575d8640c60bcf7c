import type { Maps } from '../score/inventory';
import type { HeardNotes } from './heard-notes';

/** From the first strike of a phrase to the end of its last. */
export interface Phrase {
  readonly fromTick: number;
  readonly toTick: number;
  readonly notes: number;
}

/** Phrases of a line: one ends where nothing sounds for so many beats of the meter in force. */
export function phrasesOf(
  notes: Pick<HeardNotes, 'count' | 'start' | 'end'>,
  { bars }: Maps,
  emptyBeats: number,
): Phrase[] {
  const out: { fromTick: number; toTick: number; notes: number }[] = [];
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    const last = out.at(-1);
    if (last && start < after(bars, last.toTick, emptyBeats)) {
      last.toTick = Math.max(last.toTick, notes.end[i]!);
      last.notes++;
    } else out.push({ fromTick: start, toTick: notes.end[i]!, notes: 1 });
  }
  return out;
}

/** The tick so many beats behind another, by the meters in between. */
function after(bars: Maps['bars'], tick: number, beats: number): number {
  const { bar, beat, tick: rest } = bars.placeAt(tick);
  let [inBar, onBeat] = [bar, beat + beats];
  for (;;) {
    const { numerator } = bars.meterAt(bars.barStart(inBar - 1));
    if (onBeat <= numerator) return bars.tickOf(inBar, onBeat, rest);
    onBeat -= numerator;
    inBar++;
  }
}
