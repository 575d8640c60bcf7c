import { importanceOf, type PartRole } from '../reading/importance/importance';
import type { LineSpan } from '../reading/importance/spans';
import { mapsOf } from '../score/inventory';
import type { PartRef, Score } from '../score/score';

/** What a part is to the music, in words, and what speaks for it. */
export interface RoleView {
  /** Id of the part. */
  readonly part: string;
  readonly says: string;
  readonly why: string;
}

/** Bars, from 1, in which one part has a line. */
export interface LineSpanView {
  readonly ref: PartRef;
  readonly name: string;
  readonly fromBar: number;
  readonly bars: number;
}

export interface MusicView {
  readonly roles: readonly RoleView[];
  readonly tune: readonly LineSpanView[];
  readonly bass: readonly LineSpanView[];
}

const WORDS: Readonly<Record<PartRole, string>> = {
  tune: 'the tune',
  bass: 'the bass',
  beat: 'drums',
  chords: 'chords',
  'long chords': 'long chords',
  figure: 'a figure that comes back',
  'second line': 'a second line',
  double: 'a double',
  effect: 'an effect',
  cues: 'cues',
};

/** Who has what of a source, as the screens show it. */
export function musicView(score: Score): MusicView {
  const { parts, tune, bass } = importanceOf(score);
  const { bars } = mapsOf(score);
  // A pick-up is told with the bar that it leads to.
  const nearest = (tick: number) => {
    const bar = bars.barAt(tick);
    const [from, to] = [bars.barStart(bar), bars.barStart(bar + 1)];
    return tick - from > (to - from) / 2 ? bar + 1 : bar;
  };
  const spans = (line: readonly LineSpan[]) =>
    line.map(({ part, fromTick, toTick }): LineSpanView => {
      const first = nearest(fromTick);
      return {
        ref: part.ref,
        name: part.name,
        fromBar: first + 1,
        bars: Math.max(1, nearest(toTick) - first),
      };
    });
  return {
    roles: parts.map(({ part, role, brief, how }) => ({
      part: part.id,
      says: WORDS[role],
      why: [brief, ...how].filter(Boolean).join(', '),
    })),
    tune: spans(tune),
    bass: spans(bass),
  };
}
