import type { Mend } from '../finding';
import type { Piece } from '../../score/piece';
import { setFormat } from '../../steps/delivery';
import type { Seat, Target } from '../../target/schema';
import { SpanList, defineRule, mend, mendBy, says } from '../define-rule';
import { callStep } from '../../steps/define-step';
import { listed } from '../../diagnostic/words';
import { count, quoted } from '../../target/words';
import { importanceOf } from '../../reading/importance/importance';
import { isIn, type Part } from '../../score/score';
import { heardIn } from '../../target/heard';
import { route, setChannel } from '../../steps/routing';
import { playing } from './playing';
import { routeTo } from './route-to';
import { whoPlays } from './who-plays';
import { split } from '../../steps/splitting';

const named = (parts: readonly Part[]) => {
  const names = parts.slice(0, 4).map((p) => quoted(p.name));
  const more = parts.length - names.length;
  return names.join(', ') + (more > 0 ? ` and ${more} more` : '');
};

const spansOfFirst = (part: Part) => {
  const places = new SpanList();
  places.add(part, 0);
  return places.spans;
};

function idsOf(parts: readonly Part[]): Uint32Array {
  const ids = new Uint32Array(parts.reduce((n, p) => n + p.notes.count, 0));
  let at = 0;
  for (const { notes } of parts) {
    ids.set(notes.id, at);
    at += notes.count;
  }
  return ids;
}

/** Both hands on one part, where the target has a seat for each: they are split and seated. */
function splitByHand(seats: readonly Seat[], parts: readonly Part[]): Mend | null {
  const left = seats.find((s) => s.hand === 'left');
  const right = seats.find((s) => s.hand === 'right');
  const playing = parts.filter((p) => isIn(p) && p.notes.count > 1);
  const [both] = playing;
  if (!left || !right || playing.length !== 1 || !both) return null;
  const hand = (name: string) => ({ ...both.ref, track: `${both.ref.track}, ${name} hand` });
  return mendBy(
    'Split it by hand',
    callStep(split, { by: 'hand' }, { parts: [both.ref] }),
    callStep(route, routeTo(left), { parts: [hand('left')] }),
    callStep(route, routeTo(right), { parts: [hand('right')] }),
  );
}

/**
 * Seats that are told apart by their tracks, in a file that has one for all; none where the format of
 * the file is not taken anyway, which its own rule says.
 */
function seatsOnOneTrack({ score, delivery }: Piece, { seats, outputs, file }: Target): Seat[] {
  const isTaken = file?.formats?.includes(delivery.format) ?? true;
  if (delivery.layout !== 'single' || !isTaken) return [];
  if (!outputs.some((o) => o.writer === 'smf')) return [];
  const taken = new Set(score.parts.filter((p) => isIn(p) && playing(p)).map((p) => p.seat));
  return seats.filter((s) => s.kind === 'track' && taken.has(s.id));
}

export const seating = defineRule({
  id: 'seating',
  summary: 'Every part has a seat at the target, on the channel of that seat, or is left out.',
  story: {
    why: 'The session has more parts than the target has seats, or its channels have other numbers.',
    mends:
      'Seat the part, or move it to the channel of its seat. Split it by hand where both hands are on it; let it play where a seat of one voice rests for long; or leave it out.',
  },
  block: 'seats',
  phase: 'seating',
  codes: {
    unseated: says<{ names: string; parts: number; notes: number; notesText: string }>({
      title: 'Part without a seat',
      wrong: (f) => `${f.names} ${f.parts === 1 ? 'has' : 'have'} no seat.`,
      then: (f, w) =>
        `${w.Target} ignores or misplays ${f.parts === 1 ? 'it' : 'them'}: ${f.notesText}.`,
    }),
    'one-track': says<{ seats: string }>({
      title: 'Seats on one track',
      wrong: (f) => `${f.seats} are tracks, and the file has one for all.`,
      then: (_, w) => `${w.Target} cannot tell them apart.`,
    }),
    'wrong-channel': says<{ name: string; channel: number; allowed: number; seat: string }>({
      title: 'Part on the wrong channel',
      wrong: (f) => `“${f.name}” is on channel ${f.channel}.`,
      then: (f, w) =>
        `${w.Target} listens on channel ${f.allowed} for ${f.seat} and hears nothing.`,
    }),
    'wrong-track': says<{ name: string; track: string; allowed: string; seat: string }>({
      title: 'Part on the wrong track',
      wrong: (f) =>
        `“${f.name}” stands on ${f.track ? `the track “${f.track}”` : 'a track without a name'}.`,
      then: (f, w) => `${w.Target} looks for ${f.seat} on the track “${f.allowed}”.`,
    }),
    'empty-seat': says<{ seat: string }>({
      title: 'Seat without a part',
      wrong: (f) => `No part takes the seat ${f.seat}.`,
      then: (_, w) => `${w.Target} plays nothing there.`,
    }),
    'left-out': says<{ names: string; parts: number; notes: number; notesText: string }>({
      title: 'Part left out',
      wrong: (f) => `${f.names} ${f.parts === 1 ? 'is' : 'are'} left out: ${f.notesText}.`,
      then: () => 'They are listed in the receipt.',
    }),
  },
  check({ block: seats, target, piece, base, maps, heard, report }) {
    const parts = piece.score.parts;
    // Seats that are files are taken by pieces; some targets take every part as it is.
    const apart = seats.some((s) => s.kind === 'file') || target.seating?.unseated === 'taken';
    if (apart) {
      reportLeftOut();
      return;
    }
    const unseated = parts.filter(
      (p) => isIn(p) && p.seat === null && !p.seatChosen && p.notes.count + p.events.count > 0,
    );
    if (unseated.length > 0) {
      const places = new SpanList();
      for (const p of unseated) if (playing(p)) places.add(p, 0);
      // Channels that are only set up are told where nothing else is.
      const some = unseated.filter(playing);
      const told = some.length > 0 ? some : unseated;
      const notes = unseated.reduce((sum, p) => sum + p.notes.count, 0);
      const { mends, clear } = whoPlays(
        parts,
        unseated,
        target,
        maps,
        importanceOf(base.rendition.pieces[piece.base ?? 0]!.score),
      );
      report({
        code: 'unseated',
        spans: places.spans,
        notes: idsOf(unseated),
        data: {
          names: named(told),
          parts: told.length,
          notes,
          notesText: count(notes, 'note'),
        },
        mends,
        ...(mends.length === 0
          ? { noMend: 'None of them fits a seat by itself: seat one by hand in Seating.' }
          : {}),
        ...(clear ? {} : { choice: 'Somebody has to choose who plays.' }),
      });
    }
    const onOne = seatsOnOneTrack(piece, target);
    if (onOne.length > 1)
      report({
        code: 'one-track',
        data: { seats: listed(onOne.map((s) => s.name)) },
        measured: { value: 1, unit: 'track' },
        mends: [mend('Write SMF 1', setFormat, { format: 1, layout: 'as-is' })],
      });
    for (const part of heard()) {
      const seat = seats.find((s) => s.id === part.seat);
      // A seat that is a channel is told by it; the name of its track is only a proposal.
      const named = seat?.kind === 'track' || seat?.kind === 'laneGroup';
      const wanted = named ? seat.track : undefined;
      const on = piece.score.tracks[part.track]?.name ?? null;
      // Names tell seats apart; a single track for all can have but one. Lanes are written with the name
      // that the seat has: a track without one says nothing against it.
      const differs = on !== wanted && !(on === null && seat?.kind === 'laneGroup');
      if (seat && wanted !== undefined && differs && piece.delivery.layout !== 'single')
        report({
          code: 'wrong-track',
          part,
          spans: playing(part) ? spansOfFirst(part) : [],
          notes: part.notes.id,
          data: { name: part.name, track: on ?? '', allowed: wanted, seat: seat.name },
          allowed: { track: wanted },
          mends: [mend(`Put it on the track “${wanted}”`, route, routeTo(seat), [part])],
        });
      if (!seat || !('channel' in seat) || part.channel === seat.channel) continue;
      const places = new SpanList();
      if (playing(part)) places.add(part, 0);
      report({
        code: 'wrong-channel',
        part,
        spans: places.spans,
        notes: part.notes.id,
        data: { name: part.name, channel: part.channel, allowed: seat.channel, seat: seat.name },
        measured: { value: part.channel, unit: 'channel' },
        allowed: { channel: seat.channel },
        mends: [
          mend(`Move it to channel ${seat.channel}`, setChannel, { channel: seat.channel }, [part]),
        ],
      });
    }
    const byHand = splitByHand(seats, parts);
    for (const seat of seats) {
      if (seat.optional) continue;
      if (parts.some((p) => isIn(p) && p.seat === seat.id && heardIn(p, target) > 0)) continue;
      report({
        code: 'empty-seat',
        severity: 'caution',
        cause: seat.id,
        data: { seat: seat.name },
        ...(byHand
          ? { mends: [byHand] }
          : { noMend: 'Seat a part there in Seating, or leave it empty.' }),
      });
    }
    reportLeftOut();
    function reportLeftOut() {
      const out = parts.filter((p) => p.leftOut && playing(p));
      if (out.length === 0) return;
      const notes = out.reduce((sum, p) => sum + p.notes.count, 0);
      report({
        code: 'left-out',
        severity: 'remark',
        data: { names: named(out), parts: out.length, notes, notesText: count(notes, 'note') },
        noMend: 'Seat them in Seating if they are wanted.',
      });
    }
  },
});
