import type { Dropped, Happening } from '../../../core/standin/played';
import { defineScene, inSeconds } from '../scene';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly shown: Happening | null;
  readonly next: Happening | null;
  readonly turned: number;
  readonly dropped: readonly Dropped[];
}

/** The board as the singers see it: two lines, and the next caption below in pencil. */
export const board = defineScene<State>({
  id: 'board',
  says: 'The lines that the singers read, and the ones that come next.',
  load(played) {
    const line = new Timeline(played, ['caption']);
    return {
      at: (us) => ({
        us,
        shown: line.last(us),
        next: line.next(us),
        turned: line.behind(us),
        dropped: line.justDropped(us),
      }),
      draw(pen, { us, shown, next, turned, dropped }) {
        const { w, h, colour } = pen;
        const wide = Math.min(w - 60, 720);
        const left = (w - wide) / 2;
        const tall = Math.min(h * 0.52, 190);
        const top = h * 0.1;
        pen.rect(left, top, wide, tall, { fill: colour.band, stroke: colour.ink, width: 2.5 }, 8);
        for (const x of [left + 16, left + wide - 16])
          pen.line([[x, top + tall], [x, h * 0.9]], { stroke: colour.ink, width: 3 }); // prettier-ignore
        const since = shown ? us - shown.atUs : Infinity;
        const lines = (shown?.text ?? '').split('\n');
        const longest = lines.reduce((n, l) => Math.max(n, l.length), 1);
        const size = Math.max(13, Math.min(34, tall / 4.4, (wide - 40) / (longest * 0.5)));
        lines.forEach((text, i) =>
          pen.words(text, w / 2, top + tall / 2 + (i - (lines.length - 1) / 2) * size * 1.5, {
            size,
            serif: true,
            align: 'center',
            room: wide - 30,
            colour: since < 250_000 && !pen.still ? colour.lamp : colour.ink,
          }),
        );
        if (!shown)
          pen.words('The board is empty', w / 2, top + tall / 2, {
            align: 'center',
            colour: colour.ink2,
          });
        const below = top + tall + 26;
        if (next) {
          const text = (next.text ?? '').replace('\n', ' / ');
          pen.words(text, w / 2, below, {
            align: 'center',
            serif: true,
            size: 16,
            colour: colour.ink2,
            room: wide,
          });
          pen.words(`in ${inSeconds(next.atUs - us)}`, w / 2, below + 24, {
            align: 'center',
            colour: colour.ink2,
          });
        } else
          pen.words('No caption follows', w / 2, below, { align: 'center', colour: colour.ink2 });
        pen.words(`${turned} of ${line.events.length}`, left + 28, below + 24, {
          colour: colour.ink2,
        });
        const [gone] = dropped.slice(-1);
        if (gone)
          pen.words(gone.because, left + wide - 28, below + 24, {
            align: 'right',
            colour: colour.wax,
          });
      },
      describe: ({ us, shown, next }) =>
        `${shown ? `The board shows: ${(shown.text ?? '').replace('\n', ' / ')}` : 'The board is empty'}. ${next ? `It turns in ${inSeconds(next.atUs - us)}.` : 'No caption follows.'}`,
    };
  },
});
