import type { Mend } from '../finding';
import type { Maps } from '../../score/inventory';
import { isIn, type Part } from '../../score/score';
import { fitSeats, type SeatFit } from '../../seating/fit-seats';
import { sharing } from '../../seating/together';
import { callStep } from '../../steps/define-step';
import { join, leaveOut, route } from '../../steps/routing';
import { split } from '../../steps/splitting';
import type { StepCall } from '../../steps/call';
import type { Seat, Target } from '../../target/schema';
import { count } from '../../target/words';
import { mendBy } from '../define-rule';
import { playing } from './common';

/** The parameters that seat a part at a seat. */
export const routeTo = (seat: Seat) => ({
  seat: seat.id,
  ...('channel' in seat ? { channel: seat.channel } : {}),
  ...('track' in seat && seat.track ? { track: seat.track } : {}),
});

const MOST_CANDIDATES = 5;

export interface WhoPlays {
  readonly mends: readonly Mend[];
  /** Nothing speaks for another way. */
  readonly clear: boolean;
}

/** Ways to seat the parts that have no seat, the likeliest first; leaving all of them out is the last. */
export function whoPlays(
  parts: readonly Part[],
  unseated: readonly Part[],
  target: Target,
  maps: Maps,
): WhoPlays {
  const seats = target.seats.filter((s) => s.kind !== 'file');
  const taken = new Set(parts.flatMap((p) => (isIn(p) && p.seat !== null ? [p.seat] : [])));
  const free = hardestOnly(target, seats).filter((s) => !taken.has(s.id));
  const found = fitSeats(unseated, free, target, maps);
  const mends: Mend[] = [];
  const hands = handsOf(unseated, free, found.taken);
  if (free.length === 1) mends.push(...oneSeat(found.all.slice(0, MOST_CANDIDATES), unseated));
  else if (free.length > 1 && found.taken.length > 0 && !hands.instead)
    mends.push(allSeats(found.taken, found.over, sharing(target, found.taken, found.over)));
  mends.push(...hands.mends);
  if (free.length === 0) {
    const seated = parts.flatMap((part) => {
      const at = seats.find((s) => isIn(part) && s.id === part.seat);
      return at && playing(part) ? [{ part, seat: at }] : [];
    });
    // Who was seated by somebody sits alone until somebody says otherwise.
    const chosen = seated.some((f) => f.part.seatChosen);
    const more = chosen ? [] : sharing(target, seated, found.over);
    if (more.length > 0) mends.push(asWell(more, unseated));
  }
  const silent = unseated.filter((p) => !playing(p));
  const some = parts.some((p) => isIn(p) && p.seat !== null && playing(p));
  if (some || silent.length === unseated.length) mends.push(leaving(unseated));
  // What is left over beside seats that are taken on purpose has nowhere to go.
  const nowhere = free.length === 0 && some;
  return {
    mends,
    clear: nowhere || silent.length === unseated.length || (found.clear && !hands.instead),
  };
}

/** Of seats that are levels of one part the hardest is played first; the others are made from it. */
function hardestOnly(target: Target, seats: readonly Seat[]): readonly Seat[] {
  const rungs = seats.flatMap((s) =>
    s.kind === 'laneGroup' && s.rung !== undefined ? [s.rung] : [],
  );
  if (rungs.length === 0 || !target.chart?.rungs) return seats;
  const hardest = Math.max(...rungs);
  return seats.filter((s) => s.kind !== 'laneGroup' || s.rung === hardest);
}

type Seating = Pick<SeatFit, 'part' | 'seat'>;

const seat = ({ part, seat: at }: Seating): StepCall =>
  callStep(route, routeTo(at), { parts: [part.ref] });
const without = (parts: readonly Part[]): StepCall[] =>
  parts.length === 0 ? [] : [callStep(leaveOut, {}, { parts: parts.map((p) => p.ref) })];

const leaving = (parts: readonly Part[]): Mend =>
  mendBy(`Leave ${parts.length === 1 ? 'it' : 'them'} out`, ...without(parts));

/** One seat: each candidate with what speaks for it. */
const oneSeat = (all: readonly SeatFit[], unseated: readonly Part[]): Mend[] =>
  all.map((fit) => {
    const others = unseated.filter((p) => p !== fit.part);
    const alone = others.filter(playing).length === 0;
    const why = fit.why === '' ? '' : ` (${fit.why})`;
    return mendBy(
      `Seat “${fit.part.name}” at ${fit.seat.name}${alone ? '' : ', without the others'}${why}`,
      ...without(others),
      seat(fit),
    );
  });

/** Several seats: the best assignment over all of them, and who shares one. */
function allSeats(
  taken: readonly SeatFit[],
  over: readonly Part[],
  more: readonly Seating[],
): Mend {
  const said = taken.slice(0, 3).map((f) => `“${f.part.name}” at ${f.seat.name}`);
  const others = taken.length - said.length + more.length;
  const left = over.filter((p) => more.every((f) => f.part !== p));
  const rest = left.filter(playing).length;
  return mendBy(
    `Seat ${said.join(', ')}${others > 0 ? ` and ${others} more` : ''}${
      rest > 0 ? `, without ${count(rest, 'other')}` : ''
    }`,
    ...without(left),
    ...[...taken, ...more].map(seat),
  );
}

/** Every seat is taken: those that can be heard beside who is there sit there too. */
function asWell(more: readonly Seating[], unseated: readonly Part[]): Mend {
  const left = unseated.filter((p) => more.every((f) => f.part !== p));
  const rest = left.filter(playing).length;
  const said = more.slice(0, 3).map((f) => `“${f.part.name}” at ${f.seat.name}`);
  const others = more.length - said.length;
  return mendBy(
    `Seat ${said.join(', ')}${others > 0 ? ` and ${others} more` : ''} as well${
      rest > 0 ? `, without ${count(rest, 'other')}` : ''
    }`,
    ...without(left),
    ...more.map(seat),
  );
}

const MOST_KEYBOARD_PROGRAM = 23;

/** Two hands: of parts that say which hand they are, else of the keyboard parts, joined and parted. */
function handsOf(
  unseated: readonly Part[],
  free: readonly Seat[],
  taken: readonly SeatFit[],
): { mends: Mend[]; instead: boolean } {
  const left = free.find((s) => s.hand === 'left');
  const right = free.find((s) => s.hand === 'right');
  const pitched = unseated.filter((p) => playing(p) && p.channel !== 10);
  if (!left || !right || pitched.length === 0) return { mends: [], instead: false };
  const hand = (s: Seat) => taken.find((f) => f.seat === s);
  const said = [left, right].every((s) => hand(s)?.why.includes('name'));
  if (said) return { mends: [], instead: false };
  // A single line is no matter for two hands.
  const wide = pitched.filter((p) => spanOf(p) > 12);
  const keyboard = pitched.filter(isKeyboard);
  const byNotes = (list: readonly Part[]) =>
    [...list]
      .sort((a, b) => b.notes.count - a.notes.count || (a.name < b.name ? -1 : 1))
      .map((p) => [p]);
  const groups = [
    ...(keyboard.length > 1 ? [keyboard] : []),
    ...byNotes(keyboard),
    ...byNotes(wide),
    // Lines that are no keyboard part make two hands together.
    ...(pitched.length > 1 ? [pitched] : []),
  ];
  const key = (group: readonly Part[]) => group.map((p) => p.id).join();
  const candidates = groups.filter((g, n) => groups.findIndex((o) => key(o) === key(g)) === n);
  const mends = candidates.slice(0, MOST_CANDIDATES).map((group) => {
    const first = group[0]!;
    const part = (name: string) => ({ ...first.ref, track: `${first.ref.track}, ${name} hand` });
    const others = unseated.filter((p) => !group.includes(p));
    const names = group.map((p) => `“${p.name}”`).join(' and ');
    return mendBy(
      `Split ${names} by hand${others.some(playing) ? ', without the others' : ''}`,
      ...without(others),
      ...(group.length > 1 ? [callStep(join, {}, { parts: group.map((p) => p.ref) })] : []),
      callStep(split, { by: 'hand' }, { parts: [first.ref] }),
      callStep(route, routeTo(left), { parts: [part('left')] }),
      callStep(route, routeTo(right), { parts: [part('right')] }),
    );
  });
  return { mends, instead: true };
}

function spanOf({ notes }: Part): number {
  let low = 127;
  let high = 0;
  for (let i = 0; i < notes.count; i++) {
    low = Math.min(low, notes.noteNumber[i]!);
    high = Math.max(high, notes.noteNumber[i]!);
  }
  return high - low;
}

function isKeyboard({ events, name }: Part): boolean {
  for (let i = 0; i < events.count; i++)
    if (events.kind[i] === 0xc0) return events.data1[i]! <= MOST_KEYBOARD_PROGRAM;
  return /piano|organ|keys|clav/i.test(name);
}
