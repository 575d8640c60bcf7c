import type { Mend } from '../finding';
import type { Maps } from '../../score/inventory';
import { isDrumPart } from '../../reading/importance/drums';
import { isChordal, TUNE, type Importance } from '../../reading/importance/importance';
import { joinNotes, notesWhere, pickNotes } from '../../score/columns';
import { isIn, type Part } from '../../score/score';
import { fitSeats, type SeatFit } from '../../seating/fit-seats';
import { inRests, type InRests } from '../../seating/in-rests';
import { sharing } from '../../seating/together';
import { callStep } from '../../steps/define-step';
import { follow, followedName } from '../../steps/follow';
import { handsOf as handsOfNotes } from '../../steps/hands';
import { leaveNotesOut } from '../../steps/leave-notes-out';
import { join, leaveOut, route } from '../../steps/routing';
import { split } from '../../steps/splitting';
import type { StepCall } from '../../steps/call';
import { heardIn } from '../../target/heard';
import type { Seat, Target } from '../../target/schema';
import { kindOf } from '../../target/seat-kind';
import { count, quoted } from '../../target/words';
import { mendBy } from '../define-rule';
import { playing } from './playing';
import { routeTo } from './route-to';
import { chordsInstead } from './spread';

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
  importance: Importance,
): WhoPlays {
  const seats = target.seats.filter((s) => s.kind !== 'file');
  const taken = new Set(
    parts.flatMap((p) => (isIn(p) && p.seat !== null && p.notes.count > 0 ? [p.seat] : [])),
  );
  const open = hardestOnly(target, seats).filter((s) => s.several || !taken.has(s.id));
  const free = open.filter((s) => s.part !== 'rest');
  const seat = (list: readonly Part[], at: readonly Seat[]) =>
    fitSeats(list, at, target, maps, importance);
  const share = (there: readonly Seating[], over: readonly Part[]) =>
    sharing(target, there, over, importance);
  const found = seat(unseated, free);
  const mends: Mend[] = [];
  const hands = handsOf(unseated, free, found.taken, importance, (rest) => {
    const at = free.filter((s) => !s.hand);
    const beside = seat(rest, at);
    return [...beside.taken, ...share(beside.taken, beside.over)];
  });
  const alone = free.length === 1 && !target.seats.some((s) => s.several);
  if (alone) {
    const single = found.all.slice(0, MOST_CANDIDATES);
    mends.push(...oneSeat(single, unseated, (fit) => share([fit], others(unseated, fit.part))));
    const line = following(unseated, free[0]!, target, importance);
    // Whoever has nearly all of the tune is the tune.
    const most = Math.max(0, ...unseated.map((p) => importance.of(p)?.tune ?? 0));
    const oneVoice = target.polyphony?.together === 1 || target.chart !== undefined;
    if (line) mends.splice(oneVoice && most < MOST_OF_TUNE ? 0 : 1, 0, line);
  } else if (free.length > 0 && found.taken.length > 0 && !hands.instead) {
    const meanwhile = (there: readonly Seating[], over: readonly Part[]) =>
      inRests(target, there, over, maps, importance);
    mends.push(
      allSeats(
        found.taken,
        found.over,
        share(found.taken, found.over),
        meanwhile(found.taken, found.over),
      ),
    );
    mends.push(
      ...chordsInstead(found.taken, free, target, importance, (out) =>
        without([...found.over, ...out]),
      ),
    );
    const line = followingAmong(unseated, found.taken, importance, (rest, at) => {
      const beside = seat(rest, at);
      return [...beside.taken, ...share(beside.taken, beside.over)];
    });
    if (line) mends.push(line);
    for (const set of found.others) {
      const over = unseated.filter((p) => playing(p) && set.every((f) => f.part !== p));
      mends.push(allSeats(set, over, share(set, over), meanwhile(set, over)));
    }
  }
  mends.push(...hands.mends);
  if (free.length === 0) {
    const seated = parts.flatMap((part) => {
      const at = seats.find((s) => isIn(part) && s.id === part.seat);
      return at && playing(part) ? [{ part, seat: at }] : [];
    });
    // Who was seated by somebody sits alone until somebody says otherwise.
    const chosen = seated.some((f) => f.part.seatChosen);
    const more = chosen ? [] : share(seated, found.over);
    if (more.length > 0) mends.push(asWell(more, unseated));
  }
  const silent = unseated.filter((p) => heardIn(p, target) === 0 && !playing(p));
  // What only sets up a channel goes with the choice: it would be asked again behind it.
  const settled = mends.map((m): Mend => {
    const at = new Set(
      m.steps.flatMap(({ step, params }) =>
        step === route.id ? [(params as ReturnType<typeof routeTo>).seat] : [],
      ),
    );
    const there = parts.filter((p) => isIn(p) && p.seat && at.has(p.seat) && !playing(p));
    return { ...m, steps: [...m.steps, ...without([...silent, ...there])] };
  });
  const some = parts.some((p) => isIn(p) && p.seat !== null && playing(p));
  if (some || silent.length === unseated.length) settled.push(leaving(unseated));
  // What is left over beside seats that are taken on purpose has nowhere to go.
  const nowhere = free.length === 0 && some;
  return {
    mends: settled,
    clear: nowhere || silent.length === unseated.length || (found.clear && !hands.instead),
  };
}

/** So much of the tune is all of it. */
const MOST_OF_TUNE = 0.95;

const others = (parts: readonly Part[], one: Part) => parts.filter((p) => p !== one);

/** One line made of several parts, for a seat of one voice. */
function following(
  unseated: readonly Part[],
  at: Seat,
  target: Target,
  importance: Importance,
): Mend | null {
  if (kindOf(at, target) === 'drums') return null;
  const having = unseated.filter((p) => (importance.of(p)?.tune ?? 0) > 0);
  if (having.length < 2) return null;
  const [main] = [...having].sort((a, b) => tuneNotes(b, importance) - tuneNotes(a, importance));
  const ref = { ...main!.ref, track: followedName(main!.ref.track, 'tune') };
  const said = having.map((p) => quoted(p.name));
  const names = said.length > 3 ? `${said.slice(0, 3).join(', ')} and others` : said.join(', ');
  return mendBy(
    `Follow the tune from ${names} at ${at.name}`,
    callStep(follow, { line: 'tune' }, { parts: having.map((p) => p.ref) }),
    ...without(unseated),
    callStep(route, routeTo(at), { parts: [ref] }),
  );
}

/** Of several seats the one of the tune follows it from part to part; the others as they would be. */
function followingAmong(
  unseated: readonly Part[],
  taken: readonly SeatFit[],
  importance: Importance,
  beside: (rest: readonly Part[], free: readonly Seat[]) => readonly Seating[],
): Mend | null {
  const having = unseated.filter((p) => (importance.of(p)?.tune ?? 0) > 0);
  const [main] = [...having].sort((a, b) => tuneNotes(b, importance) - tuneNotes(a, importance));
  const at = taken.find((f) => f.part === main)?.seat;
  const enough = taken.reduce((sum, f) => sum + (importance.of(f.part)?.tune ?? 0), 0);
  if (!main || !at || having.length < 2 || enough >= MOST_OF_TUNE) return null;
  const ref = { ...main.ref, track: followedName(main.ref.track, 'tune') };
  const more = beside(
    unseated.filter((p) => p !== main),
    taken.flatMap((f) => (f.seat === at ? [] : [f.seat])),
  );
  const out = unseated.filter((p) => more.every((f) => f.part !== p));
  const said = more.slice(0, 2).map((f) => `${quoted(f.part.name)} at ${f.seat.name}`);
  const rest = more.length - said.length;
  return mendBy(
    `Follow the tune from ${count(having.length, 'part')} at ${at.name}, ${said.join(', ')}${
      rest > 0 ? ` and ${rest} more` : ''
    }`,
    callStep(follow, { line: 'tune' }, { parts: having.map((p) => p.ref) }),
    ...without(out),
    callStep(route, routeTo(at), { parts: [ref] }),
    ...more.map(seat),
  );
}

function tuneNotes({ notes }: Part, { flags }: Importance): number {
  let n = 0;
  for (let i = 0; i < notes.count; i++) if (flags[notes.origin[i]!]! & TUNE) n++;
  return n;
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

/** One seat: each candidate with what speaks for it, and who can be heard beside it. */
const oneSeat = (
  all: readonly SeatFit[],
  unseated: readonly Part[],
  beside: (fit: SeatFit) => readonly Seating[],
): Mend[] =>
  all.map((fit) => {
    const more = beside(fit);
    const left = unseated.filter((p) => p !== fit.part && more.every((f) => f.part !== p));
    const alone = left.filter(playing).length === 0;
    const why = fit.why === '' ? '' : ` (${fit.why})`;
    const names = [fit, ...more].slice(0, 3).map((f) => quoted(f.part.name));
    const rest = 1 + more.length - names.length;
    return mendBy(
      `Seat ${names.join(', ')}${rest > 0 ? ` and ${rest} more` : ''} at ${fit.seat.name}${
        alone ? '' : ', without the others'
      }${more.length > 0 ? '' : why}`,
      ...without(left),
      seat(fit),
      ...more.map(seat),
    );
  });

/** Several seats: the best assignment over all of them, who shares one, and who plays while it rests. */
function allSeats(
  taken: readonly SeatFit[],
  over: readonly Part[],
  more: readonly Seating[],
  meanwhile: readonly InRests[],
): Mend {
  const said = taken.slice(0, 3).map((f) => `${quoted(f.part.name)} at ${f.seat.name}`);
  const others = taken.length - said.length + more.length;
  const left = over.filter((p) => [...more, ...meanwhile].every((f) => f.part !== p));
  const rest = left.filter(playing).length;
  const resting = meanwhile
    .slice(0, 2)
    .map((f) => `${quoted(f.part.name)} while ${f.seat.name} rests`);
  const further = meanwhile.length - resting.length;
  return mendBy(
    `Seat ${said.join(', ')}${others > 0 ? ` and ${others} more` : ''}${
      resting.length > 0 ? `, ${resting.join(', ')}` : ''
    }${further > 0 ? ` and ${further} more in rests` : ''}${
      rest > 0 ? `, without ${count(rest, 'other')}` : ''
    }`,
    ...without(left),
    ...meanwhile.map(({ part, silent }) =>
      callStep(leaveNotesOut, {}, { parts: [part.ref], stretches: silent }),
    ),
    ...[...taken, ...more, ...meanwhile].map(seat),
  );
}

/** Every seat is taken: those that can be heard beside who is there sit there too. */
function asWell(more: readonly Seating[], unseated: readonly Part[]): Mend {
  const left = unseated.filter((p) => more.every((f) => f.part !== p));
  const rest = left.filter(playing).length;
  const said = more.slice(0, 3).map((f) => `${quoted(f.part.name)} at ${f.seat.name}`);
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
/** Notes of which hands are told apart to see whether both get some. */
const MOST_TRIED = 4000;

/** Two hands: of parts that say which hand they are, else of what hands play, joined and parted. */
function handsOf(
  unseated: readonly Part[],
  free: readonly Seat[],
  taken: readonly SeatFit[],
  importance: Importance,
  elsewhere: (rest: readonly Part[]) => readonly Seating[],
): { mends: Mend[]; instead: boolean } {
  const left = free.find((s) => s.hand === 'left');
  const right = free.find((s) => s.hand === 'right');
  const pitched = unseated.filter((p) => playing(p) && !isDrumPart(p));
  if (!left || !right || pitched.length === 0) return { mends: [], instead: false };
  const hand = (s: Seat) => taken.find((f) => f.seat === s);
  const said = [left, right].every((s) => hand(s)?.named);
  if (said) return { mends: [], instead: false };
  // Hands play chords; a single line is for who sings or plays it.
  const chordal = pitched.filter((p) => isChordal(importance.of(p)) && spanOf(p) > 12);
  const keyboard = pitched.filter(isKeyboard);
  const wide = pitched.filter((p) => spanOf(p) > 12);
  const byWeight = (list: readonly Part[]) =>
    [...list]
      .sort(
        (a, b) =>
          (importance.of(b)?.weight ?? 0) - (importance.of(a)?.weight ?? 0) ||
          (a.name < b.name ? -1 : 1),
      )
      .map((p) => [p]);
  // Of long parts every so many notes tell as much.
  const both = (group: readonly Part[]) => {
    const all = group.reduce((n, p) => n + p.notes.count, 0);
    const every = Math.ceil(all / MOST_TRIED);
    const some = group.map((p) => notesWhere(p.notes, (i) => i % every === 0));
    const hands = handsOfNotes(joinNotes(group.map((p, g) => pickNotes(p.notes, some[g]!))));
    return hands.includes(0) && hands.includes(1);
  };
  const groups = [
    ...(keyboard.length > 1 ? [keyboard] : []),
    ...byWeight(keyboard),
    ...byWeight(chordal),
    ...byWeight(wide),
    // Lines that are no keyboard part make two hands together.
    ...(pitched.length > 1 ? [pitched] : []),
  ];
  const key = (group: readonly Part[]) => group.map((p) => p.id).join();
  const candidates: (readonly Part[])[] = [];
  const seen = new Set<string>();
  for (const group of groups) {
    if (candidates.length === MOST_CANDIDATES) break;
    if (seen.has(key(group)) || !both(group)) continue;
    seen.add(key(group));
    candidates.push(group);
  }
  const mends = candidates.map((group) => {
    const first = group[0]!;
    const part = (name: string) => ({ ...first.ref, track: `${first.ref.track}, ${name} hand` });
    const rest = unseated.filter((p) => !group.includes(p));
    const more = elsewhere(rest);
    const gone = rest.filter((p) => more.every((f) => f.part !== p));
    const names =
      group.length > 3
        ? count(group.length, 'part')
        : group.map((p) => quoted(p.name)).join(' and ');
    const others = more.slice(0, 2).map((f) => `${quoted(f.part.name)} at ${f.seat.name}`);
    const uncounted = more.length - others.length;
    return mendBy(
      `Split ${names} by hand${others.length > 0 ? `, ${others.join(', ')}` : ''}${
        uncounted > 0 ? ` and ${uncounted} more` : ''
      }${gone.some(playing) ? ', without the others' : ''}`,
      ...without(gone),
      ...(group.length > 1 ? [callStep(join, {}, { parts: group.map((p) => p.ref) })] : []),
      callStep(split, { by: 'hand' }, { parts: [first.ref] }),
      callStep(route, routeTo(left), { parts: [part('left')] }),
      callStep(route, routeTo(right), { parts: [part('right')] }),
      ...more.map(seat),
    );
  });
  return { mends, instead: mends.length > 0 && (keyboard.length > 0 || chordal.length > 0) };
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
