import type { Fit } from '../../core/plan/fit';
import { musicIn, sayFigures } from '../../core/compare/say-figures';
import { count } from '../../core/target/words';

/** What it would take, in a few words. */
export function sayFit({ now, mended, mends, seated, kept, out, figures, choices }: Fit): string {
  if (now.stops === 0 && mends === 0) return 'fits as it is';
  const share = seated === 0 ? 0 : Math.floor((kept * 100) / seated);
  return [
    seated === 0
      ? mended.stops === 0
        ? 'tempo and markers alone go over'
        : 'nothing would play'
      : out.parts > 0
        ? `leaves out ${count(out.parts, 'part')}, keeps ${kept === seated ? 'all' : `${share} %`} of the others`
        : kept === seated
          ? 'keeps every note'
          : `kept ${share} %`,
    seated === 0 ? '' : sayFigures(figures),
    choices > 0 ? count(choices, 'choice') : '',
    mended.stops > 0 ? `${count(mended.stops, 'stop')} would remain` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** Share of the notes that would play, and how gladly: what fits best first. */
export const gladness = ({ now, mended, seated, kept, figures, mends }: Fit): number =>
  (seated === 0 ? 0 : (musicIn(figures) ?? kept / seated)) * 100 -
  mended.stops * 20 -
  (now.stops > 0 ? 2 : 0) -
  Math.min(1, mends / 100);
