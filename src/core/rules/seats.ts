import { isIn, type Part } from '../score/score';
import { carrierNote } from '../steps/delivery';
import { leaveOut, route, setChannel } from '../steps/routing';
import type { Seat } from '../target/schema';
import { count } from '../target/words';
import type { Mend } from '../diagnostic/finding';
import { callStep } from '../steps/define-step';
import { split } from '../steps/splitting';
import type { Piece } from '../score/piece';
import { defineRule, mend, mendBy, Places } from './define-rule';

const playing = (p: Part) => p.notes.count > 0;
const named = (parts: readonly Part[]) => {
  const names = parts.slice(0, 4).map((p) => `“${p.name}”`);
  const more = parts.length - names.length;
  return names.join(', ') + (more > 0 ? ` and ${more} more` : '');
};

const spansOfFirst = (part: Part) => {
  const places = new Places();
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

/** The parameters that seat a part at a seat. */
export const routeTo = (seat: Seat) => ({
  seat: seat.id,
  ...('channel' in seat ? { channel: seat.channel } : {}),
  ...('track' in seat && seat.track ? { track: seat.track } : {}),
});

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

export const seating = defineRule({
  id: 'seating',
  summary: 'Every part has a seat at the target, on the channel of that seat, or is left out.',
  block: 'seats',
  phase: 'seating',
  codes: {
    unseated: {
      title: 'No seat',
      wrong: (f) => `${f['names']} ${f['parts'] === 1 ? 'has' : 'have'} no seat.`,
      then: (f, w) =>
        `${w.Target} ignores or misplays ${f['parts'] === 1 ? 'it' : 'them'}: ${f['notesText']}.`,
    },
    'wrong-channel': {
      title: 'On another channel',
      wrong: (f) => `“${f['name']}” is on channel ${f['channel']}.`,
      then: (f, w) =>
        `${w.Target} listens on channel ${f['allowed']} for ${f['seat']} and hears nothing.`,
    },
    'wrong-track': {
      title: 'On another track',
      wrong: (f) =>
        `“${f['name']}” stands on ${f['track'] ? `the track “${f['track']}”` : 'a track without a name'}.`,
      then: (f, w) => `${w.Target} looks for ${f['seat']} on the track “${f['allowed']}”.`,
    },
    'empty-seat': {
      title: 'An empty seat',
      wrong: (f) => `No part takes the seat ${f['seat']}.`,
      then: (_, w) => `${w.Target} plays nothing there.`,
    },
    'left-out': {
      title: 'Left out',
      wrong: (f) => `${f['names']} ${f['parts'] === 1 ? 'is' : 'are'} left out: ${f['notesText']}.`,
      then: () => 'They are listed in the receipt.',
    },
  },
  check({ block: seats, target, piece, heard, report }) {
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
      const places = new Places();
      for (const p of unseated) if (playing(p)) places.add(p, 0);
      const notes = unseated.reduce((sum, p) => sum + p.notes.count, 0);
      const all = unseated.length === 1 ? 'it' : 'them';
      const first = seats[0];
      report({
        code: 'unseated',
        spans: places.spans,
        notes: idsOf(unseated),
        data: {
          names: named(unseated),
          parts: unseated.length,
          notes,
          notesText: count(notes, 'note'),
        },
        mends: [
          mend(`Leave ${all} out`, leaveOut, {}, unseated),
          ...(first && seats.length === 1
            ? [mend(`Seat ${all} at ${first.name}`, route, routeTo(first), unseated)]
            : []),
        ],
      });
    }
    for (const part of heard()) {
      const seat = seats.find((s) => s.id === part.seat);
      // A seat that is a channel is told by it; the name of its track is only a proposal.
      const named = seat?.kind === 'track' || seat?.kind === 'laneGroup';
      const wanted = named ? seat.track : undefined;
      const on = piece.score.tracks[part.track]?.name ?? null;
      // Names tell seats apart; a single track for all can have but one.
      if (seat && wanted !== undefined && on !== wanted && piece.delivery.layout !== 'single')
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
      const places = new Places();
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
      if (parts.some((p) => isIn(p) && p.seat === seat.id && playing(p))) continue;
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

export const carrier = defineRule({
  id: 'carrier-note',
  summary: 'One soft note through the whole length, on its own track.',
  block: 'carrier',
  phase: 'end',
  codes: {
    'carrier-missing': {
      title: 'No carrier note',
      wrong: () => 'The file holds no note.',
      then: (_, w) => `${w.Target} may drop a file without notes, and the tempo map with it.`,
    },
    'carrier-differs': {
      title: 'Not the carrier note',
      wrong: () => 'The notes of this file are not the one carrier note through the whole length.',
      then: (_, w) => `${w.Target} would play them.`,
    },
  },
  check({ block, piece, report }) {
    const parts = piece.score.parts.filter((p) => isIn(p) && playing(p));
    const { channel, noteNumber, velocity, track } = block;
    const params = { channel, noteNumber, velocity, track };
    if (parts.length === 0) {
      report({
        code: 'carrier-missing',
        allowed: params,
        mends: [mend('Add the carrier note', carrierNote, params)],
      });
      return;
    }
    const only = parts.length === 1 ? parts[0]! : null;
    const end = Math.max(0, ...piece.score.tracks.map((t) => t.endTick));
    const right =
      only !== null &&
      only.notes.count === 1 &&
      only.channel === channel &&
      only.notes.noteNumber[0] === noteNumber &&
      only.notes.velocity[0] === velocity &&
      only.notes.start[0] === 0 &&
      only.notes.end[0]! >= end &&
      piece.score.tracks[only.track]?.name === track;
    if (right) return;
    const places = new Places();
    for (const p of parts) for (let i = 0; i < p.notes.count; i++) places.add(p, i);
    report({
      code: 'carrier-differs',
      ...places.found,
      allowed: params,
      mends: [
        {
          title: 'Leave these notes out and add the carrier note',
          steps: [...mend('', leaveOut, {}, parts).steps, ...mend('', carrierNote, params).steps],
        },
      ],
    });
  },
});

export const nothingDelivered = defineRule({
  id: 'nothing-delivered',
  summary: 'Something is delivered: a target with seats gets notes.',
  block: 'seats',
  phase: 'seating',
  over: 'delivery',
  codes: {
    'no-notes': {
      title: 'Nothing would be delivered',
      wrong: (f) =>
        f['came'] === 0
          ? 'The source holds no note.'
          : `Of ${f['cameText']} none is left: every part is left out or has no seat.`,
      then: (_, w) => `${w.Target} gets a file in which nothing happens.`,
    },
    'file-empty': {
      title: 'An empty file',
      wrong: (f) => `“${f['file']}” holds no note.`,
      then: (_, w) => `${w.Target} plays nothing for it.`,
    },
  },
  check({ block: seats, target, pieces, base, report }) {
    // Where nothing can be seated nothing needs to be.
    if (seats.length === 0 || target.carrier) return;
    const notes = (list: readonly Piece[], delivered: boolean) =>
      list.map(({ score }) =>
        score.parts.reduce((n, p) => n + (delivered && !isIn(p) ? 0 : p.notes.count), 0),
      );
    const held = notes(pieces, true);
    if (held.every((n) => n === 0)) {
      const came = notes(base.rendition.pieces, false).reduce((a, b) => a + b, 0);
      report({
        code: 'no-notes',
        data: { came, cameText: count(came, 'note') },
        measured: { value: 0, unit: 'notes' },
        noMend: came === 0 ? 'Bring in a file with notes.' : 'Seat a part in Seating.',
      });
      return;
    }
    held.forEach((n, i) => {
      if (n > 0) return;
      const file = pieces[i]!.delivery.fileName;
      report({
        code: 'file-empty',
        cause: file,
        severity: 'caution',
        data: { file },
        measured: { value: 0, unit: 'notes' },
        noMend: 'Carve it from other bars, or leave it out of the carving.',
      });
    });
  },
});
