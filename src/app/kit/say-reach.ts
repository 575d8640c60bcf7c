import { sayFigures } from '../../core/compare/say-figures';
import { count } from '../../core/target/words';
import type { MendAllReply } from '../../worker/protocol';

const sayKept = ({ seated, kept, out }: MendAllReply, mayBeSilent: boolean) =>
  seated === 0
    ? mayBeSilent
      ? ''
      : 'nothing plays'
    : kept === seated
      ? `all ${out.parts > 0 ? 'other ' : ''}${count(seated, 'note')} kept`
      : `drops ${(seated - kept).toLocaleString('en-GB')} of ${count(seated, 'note')}`;

/** What mending came to, or would come to, in one line. A target without notes is silent by right. */
export function sayReach(r: MendAllReply, mayBeSilent: boolean): string {
  const { stops, cautions } = r.remaining;
  return [
    count(r.applied.length, 'mend'),
    r.out.parts > 0
      ? `leaves out ${count(r.out.parts, 'part')} (${count(r.out.notes, 'note')})`
      : '',
    sayKept(r, mayBeSilent),
    sayFigures(r.figures),
    stops === 0 ? 'no stop left' : `${count(stops, 'stop')} left`,
    cautions > 0 ? count(cautions, 'caution') : '',
    r.open > 0 ? `${count(r.open, 'choice')} open` : '',
    r.chosen > 0 ? `${count(r.chosen, 'choice')} taken` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}
