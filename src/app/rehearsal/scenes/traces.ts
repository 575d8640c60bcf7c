import type { Dropped, Happening } from '../../../core/standin/played';
import { noteName } from '../../../core/target/words';
import { ChainHands } from '../hands/chain';
import { defineScene, type Takes } from '../scene';
import { seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly seen: readonly Happening[];
  readonly link: Happening | null;
  readonly links: number;
  readonly dropped: readonly Dropped[];
}
const BEHIND_US = 3_500_000;
const AHEAD_US = 2_000_000;

const takes: Takes = {
  says: 'Play the chain, link by link.',
  load: (played) =>
    played.events.some((e) => e.kind === 'pattern') ? new ChainHands(played.events) : null,
};

/** A trace of pitch and gate for each voice, and the link of the chain that is played. */
export const traces = defineScene<State>({
  id: 'traces',
  says: 'Pitch and gate of each voice, with the link of the chain.',
  takes,
  load(played, target) {
    const line = new Timeline(played, ['note']);
    const chain = new Timeline(played, ['pattern']);
    const seats = seatsIn(line.events, target)
      .filter((s) => s !== 'chain')
      .slice(0, 12);
    const range = new Map(
      seats.map((s) => {
        const keys = line.events.filter((e) => e.seat === s).map((e) => e.key);
        const low = keys.reduce((a, b) => Math.min(a, b), 127);
        const high = keys.reduce((a, b) => Math.max(a, b), 0);
        return [s, high < low ? [60, 72] : [low - 1, high + 1]] as const;
      }),
    );
    const at = (us: number): State => ({
      us,
      seen: line.across(us - BEHIND_US, us + AHEAD_US),
      link: chain.last(us),
      links: chain.behind(us),
      dropped: line.justDropped(us),
    });
    return {
      at,
      draw(pen, state, hands) {
        // In hand, the place in the chain is the hand's.
        const { us, seen, link, links, dropped } =
          hands?.hands instanceof ChainHands ? at(hands.hands.placeUs(hands.us)) : state;
        const { w, h, colour } = pen;
        const left = 104;
        const tall = (h - 50) / Math.max(1, seats.length);
        const x = (at: number) =>
          left + ((at - us + BEHIND_US) / (BEHIND_US + AHEAD_US)) * (w - left - 16);
        seats.forEach((seat, i) => {
          const top = 10 + i * tall;
          const gate = top + tall - 9;
          const [low, high] = range.get(seat)!;
          const y = (key: number) => gate - 6 - ((key - low!) / (high! - low!)) * (tall - 24);
          pen.line([[left, gate], [w - 16, gate]], { stroke: colour.line, width: 1 }); // prettier-ignore
          pen.words(seatNamed(target, seat), 12, top + tall / 2, { weight: 600, room: left - 20 });
          const mine = seen.filter((e) => e.seat === seat);
          for (const e of mine) {
            const from = Math.max(left, x(e.atUs));
            const to = Math.max(from, Math.min(w - 16, x(e.atUs + (e.lengthUs ?? 0))));
            const level = y(e.key);
            pen.line([[from, level], [to, level]], { stroke: colour.quill, width: 2.5 }); // prettier-ignore
            pen.rect(from, gate - 5, Math.max(2, to - from), 5, { fill: colour.edge });
          }
          const now = mine.find((e) => e.atUs <= us && us < e.atUs + (e.lengthUs ?? 0));
          if (now) pen.circle(x(us), y(now.key), 4.5, { fill: colour.gold, stroke: colour.ink });
          if (now)
            pen.words(noteName(now.key), left - 8, gate - 4, {
              size: 12,
              align: 'right',
              colour: colour.ink2,
            });
          if (dropped.some((d) => d.seat === seat)) pen.cross(x(us), top + tall / 2, 6);
        });
        pen.line([[x(us), 6], [x(us), h - 40]], { stroke: colour.lamp, width: 1.5 }); // prettier-ignore
        const [gone] = dropped.slice(-1);
        pen.words(
          gone
            ? `${seatNamed(target, gone.seat)}: ${gone.because}`
            : link
              ? `Pattern ${link.text}, link ${links} of ${chain.events.length}${link.key === 0 ? '' : `, ${link.key > 0 ? '+' : '−'}${Math.abs(link.key)} semitones`}`
              : 'At rest',
          12,
          h - 18,
          { colour: gone ? colour.wax : colour.ink2, room: w - 24 },
        );
      },
      describe: ({ us, seen, link }) => {
        const now = seen.filter((e) => e.atUs <= us && us < e.atUs + (e.lengthUs ?? 0));
        return `${link ? `Pattern ${link.text}. ` : ''}${now.length === 0 ? 'No voice sounds' : now.map((e) => `${seatNamed(target, e.seat)} ${noteName(e.key)}`).join(', ')}.`;
      },
    };
  },
});
