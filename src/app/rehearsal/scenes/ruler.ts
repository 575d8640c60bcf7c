import type { Happening } from '../../../core/standin/played';
import { defineScene, inSeconds } from '../scene';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly tempo: number | null;
  readonly seen: readonly Happening[];
  readonly flags: readonly Happening[];
  readonly last: Happening | null;
  readonly next: Happening | null;
}
const BEHIND_US = 6_000_000;
const AHEAD_US = 18_000_000;
const bpm = (us: unknown) => 60_000_000 / Number(us);

/** What arrives elsewhere: the curve of the tempo along a ruler of seconds, with its markers. */
export const ruler = defineScene<State>({
  id: 'ruler',
  says: 'The tempo as it arrives: a curve along a ruler, with its markers.',
  load(played) {
    const line = new Timeline(played, ['tempo']);
    const marks = new Timeline(played, ['marker']);
    const all = line.events.map((e) => bpm(e.value));
    const low = all.reduce((a, b) => Math.min(a, b), 400) - 4;
    const high = all.reduce((a, b) => Math.max(a, b), 1) + 4;
    return {
      at: (us) => ({
        us,
        tempo: line.last(us) ? bpm(line.last(us)!.value) : null,
        seen: line.within(us - BEHIND_US, us + AHEAD_US),
        flags: marks.within(us - BEHIND_US, us + AHEAD_US),
        last: marks.last(us),
        next: marks.next(us),
      }),
      draw(pen, { us, tempo, seen, flags, last, next }) {
        const { w, h, colour } = pen;
        const [top, bottom] = [88, h - 60];
        const x = (at: number) => 20 + ((at - us + BEHIND_US) / (BEHIND_US + AHEAD_US)) * (w - 40);
        const y = (n: number) => bottom - ((n - low) / Math.max(1, high - low)) * (bottom - top);
        pen.words(tempo === null ? '–' : tempo.toFixed(2), 20, 34, { size: 36, weight: 600 });
        pen.words('BPM', 150, 42, { colour: colour.ink2 });
        pen.words(last?.text ?? '', w - 20, 28, {
          serif: true,
          size: 18,
          align: 'right',
          room: w / 2,
        });
        pen.words(
          next ? `${next.text} in ${inSeconds(next.atUs - us)}` : 'No marker follows',
          w - 20,
          52,
          { align: 'right', colour: colour.ink2, room: w / 2 },
        );
        pen.line([[20, bottom + 14], [w - 20, bottom + 14]], { stroke: colour.ink, width: 2 }); // prettier-ignore
        for (let s = Math.ceil((us - BEHIND_US) / 1_000_000); s * 1_000_000 < us + AHEAD_US; s++) {
          if (s < 0) continue;
          const long = s % 5 === 0;
          pen.line([[x(s * 1e6), bottom + 14], [x(s * 1e6), bottom + (long ? 24 : 19)]], { stroke: colour.ink, width: 1 }); // prettier-ignore
          if (long)
            pen.words(
              `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`,
              x(s * 1e6),
              bottom + 34,
              { size: 12, align: 'center', colour: colour.ink2 },
            );
        }
        const first = line.last(us - BEHIND_US);
        const steps = [...(first ? [first] : []), ...seen];
        const points: [number, number][] = steps.flatMap((e, i): [number, number][] => {
          const to = steps[i + 1]?.atUs ?? Math.min(us + AHEAD_US, line.lengthUs);
          const level = y(bpm(e.value));
          return [
            [Math.max(20, x(e.atUs)), level],
            [Math.max(20, x(Math.max(e.atUs, to))), level],
          ];
        });
        pen.line(points, { stroke: colour.quill, width: 2.5 });
        for (const f of flags) {
          pen.line([[x(f.atUs), top - 14], [x(f.atUs), bottom + 14]], { stroke: colour.edge, width: 1 }); // prettier-ignore
          pen.words(f.text ?? '', x(f.atUs) + 5, top - 12, { size: 12, room: 130 });
        }
        pen.line([[x(us), top - 24], [x(us), bottom + 20]], { stroke: colour.lamp, width: 2.5 }); // prettier-ignore
      },
      describe: ({ tempo, last, next, us }) =>
        `${tempo === null ? 'No tempo' : `${tempo.toFixed(2)} BPM`}${last ? `, in ${last.text}` : ''}. ${next ? `${next.text} in ${inSeconds(next.atUs - us)}.` : ''}`,
    };
  },
});
