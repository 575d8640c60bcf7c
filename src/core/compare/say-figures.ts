/**
 * What a listener follows, in shares of the source from 0 to 1: the tune, the lowest line, the beat
 * and the harmony. Null where the source has none of it, or the target cannot hold it at all.
 */
export interface Figures {
  readonly tune: number | null;
  readonly bass: number | null;
  readonly beat: number | null;
  readonly chords: number | null;
}

export const FIGURES = ['tune', 'bass', 'beat', 'chords'] as const;

/** A share that is not whole is never said to be, and what is there is not said to be nothing. */
export const percentOf = (share: number): number =>
  share >= 1 ? 100 : share <= 0 ? 0 : Math.min(99, Math.max(1, Math.round(share * 100)));

/** In thousandths, downwards: what is not whole stays less than 1. */
export function inThousandths({ tune, bass, beat, chords }: Figures): Figures {
  const down = (share: number | null) => (share === null ? null : Math.floor(share * 1000) / 1000);
  return { tune: down(tune), bass: down(bass), beat: down(beat), chords: down(chords) };
}

/** “tune 98 %, bass 100 %, chords 92 %”; nothing where there is nothing to follow. */
export const sayFigures = (figures: Figures): string =>
  FIGURES.flatMap((f) => (figures[f] === null ? [] : [`${f} ${percentOf(figures[f])} %`])).join(
    ', ',
  );

/** How much of the music is there in one number from 0 to 1: the tune counts most. */
export function musicIn(figures: Figures): number | null {
  const weights = { tune: 3, bass: 1.5, beat: 1, chords: 1 } as const;
  let [sum, of] = [0, 0];
  for (const f of FIGURES)
    if (figures[f] !== null) [sum, of] = [sum + weights[f] * figures[f], of + weights[f]];
  return of === 0 ? null : sum / of;
}
