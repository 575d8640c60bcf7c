import type { Importance } from '../../reading/importance/importance';
import type { LineNotes } from '../../reading/lines';
import type { Piece } from '../../score/piece';
import { isIn, type Part } from '../../score/score';
import type { SeatFit } from '../../seating/fit-seats';
import { callStep } from '../../steps/define-step';
import { join, leaveOut, route } from '../../steps/routing';
import { fitVoices } from '../../steps/spacing/fit-voices';
import { split } from '../../steps/splitting';
import type { StepCall } from '../../steps/call';
import type { Seat, Target } from '../../target/schema';
import { quoted } from '../../target/words';
import type { Mend } from '../finding';
import { mendBy } from '../define-rule';
import { playing } from './playing';
import { routeTo } from './route-to';

/** So alike are doubles of one line. */
const DOUBLE = 0.7;

/** The most notes that are struck together. */
export function widest({ start, count: notes }: Pick<LineNotes, 'start' | 'count'>): number {
  let most = 0;
  let size = 0;
  for (let i = 0; i < notes; i++) {
    size = i > 0 && start[i] === start[i - 1] ? size + 1 : 1;
    if (size > most) most = size;
  }
  return most;
}

/** Share of the notes of a part that are struck together with another of it. */
function inChords({ notes: { start, count: notes } }: Part): number {
  let together = 0;
  for (let i = 0; i < notes; i++)
    if ((i > 0 && start[i] === start[i - 1]) || (i + 1 < notes && start[i] === start[i + 1]))
      together++;
  return notes === 0 ? 0 : together / notes;
}

/** Seats by their names: "Horn 1, Horn 2 and Horn 3". */
export function namesOf(seats: readonly Seat[]): string {
  const names = seats.map((s) => s.name);
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}

/** Each seat gets what sets its channel up. */
function channelsOf(seats: readonly Seat[]): { channels?: number[] } {
  const channels = seats.flatMap((s) => ('channel' in s ? [s.channel] : []));
  return channels.length === seats.length ? { channels } : {};
}

/** The chords of parts, as one, over seats of one voice: what rings on gives way to what is next. */
export function spreadOver(parts: readonly Part[], seats: readonly Seat[]): StepCall[] {
  const [first] = parts;
  const voice = (n: number) => ({ ...first!.ref, track: `${first!.ref.track}, voice ${n + 1}` });
  const voices = seats.length;
  return [
    ...(parts.length > 1 ? [callStep(join, {}, { parts: parts.map((p) => p.ref) })] : []),
    callStep(
      split,
      { by: 'voice' as const, voices, ...channelsOf(seats) },
      { parts: [first!.ref] },
    ),
    ...seats.map((s, n) => callStep(route, routeTo(s), { parts: [voice(n)] })),
    callStep(fitVoices, { voices: 1, over: 'seat' }, { parts: seats.map((_, n) => voice(n)) }),
  ];
}

/** Seats that nobody plays on; a part that only sets up its channel plays nothing there. */
export function idleSeats({ score }: Piece, target: Target): Seat[] {
  const taken = new Set(
    score.parts.flatMap((p) => (isIn(p) && p.seat && playing(p) ? [p.seat] : [])),
  );
  return target.seats.filter((s) => s.kind !== 'file' && !s.hand && !taken.has(s.id));
}

/** What only set up seats that are played now goes: who plays there brings a set-up along. */
export function clearing(parts: readonly Part[], seats: readonly Seat[]): StepCall[] {
  const there = new Set(seats.map((s) => s.id));
  const silent = parts.filter((p) => isIn(p) && p.seat && there.has(p.seat) && !playing(p));
  return silent.length === 0 ? [] : [callStep(leaveOut, {}, { parts: silent.map((p) => p.ref) })];
}

/** One line over several seats, a strike each in turn: each rests while the others sound. */
export function inTurn(part: Part, seats: readonly Seat[]): StepCall[] {
  const turn = (n: number) => ({ ...part.ref, track: `${part.ref.track}, turn ${n + 1}` });
  return [
    callStep(
      split,
      { by: 'turn' as const, voices: seats.length, ...channelsOf(seats) },
      { parts: [part.ref] },
    ),
    ...seats.map((s, n) => callStep(route, routeTo(s), { parts: [turn(n)] })),
  ];
}

/**
 * Seats of one voice: what plays the chords takes the seats of its doubles, and those of parts that
 * are missed least, so that chords stay chords. Each of these is a way of its own.
 */
export function chordsInstead(
  taken: readonly SeatFit[],
  free: readonly Seat[],
  target: Target,
  importance: Importance,
  leave: (out: readonly Part[]) => readonly StepCall[],
): Mend[] {
  const { polyphony, chart } = target;
  if (polyphony?.together !== 1 || polyphony.over !== 'seat' || chart) return [];
  if (free.some((s) => s.hand || s.several)) return [];
  const weight = (f: SeatFit) => importance.of(f.part)?.weight ?? 0;
  const chords = taken
    .filter((f) => inChords(f.part) > 0.5)
    .sort((a, b) => weight(b) - weight(a))[0];
  if (!chords) return [];
  const others = taken.filter((f) => f !== chords);
  const doubles = others.filter((f) =>
    [chords, ...others].some(
      (o) => o !== f && weight(o) >= weight(f) && importance.alike(f.part, o.part) >= DOUBLE,
    ),
  );
  const rest = others.filter((f) => !doubles.includes(f)).sort((a, b) => weight(a) - weight(b));
  const ways = [doubles, ...(rest.length > 1 ? [[...doubles, rest[0]!]] : [])];
  const idle = free.filter((s) => taken.every((f) => f.seat !== s));
  return ways.flatMap((out) => {
    const seats = [chords.seat, ...out.map((f) => f.seat), ...idle]
      .slice(0, widest(chords.part.notes))
      .sort((a, b) => target.seats.indexOf(a) - target.seats.indexOf(b));
    const stay = others.filter((f) => !out.includes(f));
    if (out.length === 0 || seats.length < 2) return [];
    const said = stay.map((f) => `${quoted(f.part.name)} at ${f.seat.name}`);
    const more = said.length > 2 ? [...said.slice(0, 2), `${said.length - 2} more`] : said;
    return [
      mendBy(
        `Seat ${[...more, `the chords of ${quoted(chords.part.name)}`].join(', ')} at ${namesOf(seats)}`,
        ...leave(out.map((f) => f.part).filter(playing)),
        ...stay.map((f) => callStep(route, routeTo(f.seat), { parts: [f.part.ref] })),
        ...spreadOver([chords.part], seats),
      ),
    ];
  });
}
