import type { Played } from '../../../core/standin/played';
import type { Target } from '../../../core/target/schema';
import type { Choice, Takes } from '../scene';
import { laneSeat, seatNamed } from '../seats';
import { StrikeHands, type Lane } from './strikes';

/** Keys for one hand on the left and one on the right; both reach the bar between them. */
const LEFT = ['KeyA', 'KeyS', 'KeyD', 'KeyF', 'KeyG'];
const RIGHT = ['KeyH', 'KeyJ', 'KeyK', 'KeyL', 'Semicolon'];
/** For one row of lanes: from the middle outwards, as many as there are. */
const ROWS: Readonly<Record<number, readonly string[]>> = {
  1: ['Space'],
  2: ['KeyF', 'KeyJ'],
  3: ['KeyF', 'Space', 'KeyJ'],
  4: ['KeyD', 'KeyF', 'KeyJ', 'KeyK'],
  5: ['KeyD', 'KeyF', 'Space', 'KeyJ', 'KeyK'],
  6: ['KeyS', 'KeyD', 'KeyF', 'KeyJ', 'KeyK', 'KeyL'],
  7: ['KeyS', 'KeyD', 'KeyF', 'Space', 'KeyJ', 'KeyK', 'KeyL'],
};

const playing = (played: Played) =>
  new Set(played.events.filter((e) => e.kind === 'strike').map((e) => e.seat));
const notesOf = (target: Target, seat: string) => laneSeat(target, seat)?.laneNotes ?? [];

/** Lanes of two sides; one that both have is struck by one key for both. */
function lanesOfSides(target: Target, seats: readonly string[]): Lane[] {
  const byNote = new Map<number, { seat: string; key: number }[]>();
  for (const seat of seats)
    notesOf(target, seat).forEach((note, i) => {
      const lane = { seat, key: i + 1 };
      byNote.set(note, [...(byNote.get(note) ?? []), lane]);
    });
  const used = new Map<string, number>();
  let pad = 0;
  return [...byNote].map(([note, lanes]) => {
    const [{ seat, key }] = lanes as [{ seat: string; key: number }];
    const shared = notesShared(target, note);
    const side = target.seats.findIndex((s) => s.id === seat) === 0 ? LEFT : RIGHT;
    const at = used.get(seat) ?? 0;
    if (!shared) used.set(seat, at + 1);
    const code = shared ? 'Space' : (side[at] ?? `Digit${at}`);
    return {
      id: `${seat} ${key}`,
      says: shared ? 'Shared lane' : `${seatNamed(target, seat)}, lane ${key}`,
      codes: [code, `Pad${pad++}`, `Note${note}`],
      lanes,
    };
  });
}

const notesShared = (target: Target, note: number) =>
  target.seats.filter((s) => s.kind === 'laneGroup' && s.laneNotes.includes(note)).length > 1;

function lanesOfRow(target: Target, seat: string): Lane[] {
  const notes = notesOf(target, seat);
  const row = ROWS[notes.length] ?? [];
  return notes.map((note, i) => ({
    id: `${notes.length} ${i + 1}`,
    says: `Lane ${i + 1}`,
    codes: [row[i] ?? `Digit${i + 1}`, `Pad${i}`, `Note${note}`],
    lanes: [{ seat, key: i + 1 }],
  }));
}

const strikesOf = (played: Played, seats: readonly string[]) =>
  played.events.filter((e) => e.kind === 'strike' && seats.includes(e.seat));

/** Two banks: either, or both at once. */
export const takesBanks: Takes = {
  says: 'Strike each stroke where it lands.',
  choices: (played, target) => {
    const there = playing(played);
    const sides = target.seats.filter((s) => there.has(s.id));
    const each: Choice[] = sides.map((s) => ({ id: s.id, says: s.name }));
    return sides.length > 1 ? [{ id: 'both', says: 'Both sides' }, ...each] : each;
  },
  load(played, target, choice) {
    const there = [...playing(played)];
    const seats = target.seats.map((s) => s.id).filter((s) => there.includes(s));
    const mine = choice === null || choice === 'both' ? seats : seats.filter((s) => s === choice);
    if (mine.length === 0) return null;
    return new StrikeHands(lanesOfSides(target, mine), strikesOf(played, mine));
  },
};

/** One rung of one part. */
export const takesRungs: Takes = {
  says: 'Strike each stroke as it reaches the rail.',
  choices: (played, target) => {
    const there = playing(played);
    return target.seats.filter((s) => there.has(s.id)).map((s) => ({ id: s.id, says: s.name }));
  },
  load(played, target, choice) {
    const there = playing(played);
    const seat = choice ?? target.seats.find((s) => there.has(s.id))?.id;
    if (seat === undefined || !there.has(seat)) return null;
    return new StrikeHands(lanesOfRow(target, seat), strikesOf(played, [seat]));
  },
};
