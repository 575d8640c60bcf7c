import type { Piece } from '../score/piece';
import { metadata } from '../steps/facts';
import { leaveOut, setChannel } from '../steps/routing';
import { deliveredEnd } from '../reading/ends';
import { setLength } from '../steps/length';
import { mapKeys } from '../steps/keys';
import { carveAtMarkers } from '../target/carving';
import { carve, takePlace } from '../steps/splitting';
import type { Seat, Target } from '../target/schema';
import { count, noteName, plain } from '../target/words';
import { defineRule, mend, Places, spanAt } from './define-rule';
import { barsUntil } from './end';

type FileSeat = Extract<Seat, { kind: 'file' }>;
const placesOf = (seats: readonly Seat[]): FileSeat[] =>
  seats.filter((s): s is FileSeat => s.kind === 'file');

/** The place that a piece takes: as a step said, else by the name of its file. */
export const placeOfPiece = ({ delivery }: Piece, seats: readonly Seat[]): FileSeat | undefined =>
  placesOf(seats).find((s) => s.id === delivery.place) ??
  placesOf(seats).find((s) => s.fileName.toLowerCase() === delivery.fileName.toLowerCase());

const sayBars = (n: number) => (n === 0.5 ? 'half a bar' : count(n, 'bar'));

export const places = defineRule({
  id: 'places',
  summary: 'Every file takes a place that the target has.',
  block: 'seats',
  phase: 'seating',
  codes: {
    'no-place': {
      title: 'No place for this file',
      wrong: (f) => `“${f['name']}” takes none of the places.`,
      then: (_, w) => `${w.Target} plays files by their places and passes over any other.`,
    },
  },
  check({ block: seats, piece, pieces, maps, report }) {
    if (placesOf(seats).length === 0) return;
    const name = piece.delivery.fileName;
    if (!placeOfPiece(piece, seats)) {
      const taken = new Set(pieces.map((p) => placeOfPiece(p, seats)?.id));
      const free = placesOf(seats).filter((s) => !taken.has(s.id));
      const offer = [free.find((s) => !s.optional), free[0]].filter(
        (s, i, all) => s !== undefined && all.indexOf(s) === i,
      );
      const end = deliveredEnd(piece);
      const cuts =
        pieces.length === 1
          ? carveAtMarkers(piece.score.conductor.markers, maps.bars, end, seats)
          : [];
      // A song that is longer than a place would lose its end there.
      const length = barsUntil(maps, end);
      const fitting = offer.filter((s) => cuts.length < 2 || takes(s!, length));
      report({
        code: 'no-place',
        data: { name },
        allowed: { places: placesOf(seats).length },
        mends: [
          ...fitting.map((s) =>
            mend(`Make it ${s!.name.toLowerCase()}`, takePlace, {
              place: s!.id,
              fileName: s!.fileName,
            }),
          ),
          ...(cuts.length > 1
            ? [mend(`Carve it at its markers into ${cuts.length} files`, carve, { places: cuts })]
            : []),
        ],
        ...(offer.length === 0 ? { noMend: 'Every place is taken: leave this file out.' } : {}),
      });
    }
  },
});

export const placeLength = defineRule({
  id: 'place-length',
  summary: 'Every file has a length that its place takes.',
  block: 'seats',
  phase: 'end',
  codes: {
    'place-length': {
      title: 'Not the length of its place',
      wrong: (f) => `“${f['name']}” is ${f['bars']} bars long.`,
      then: (f, w) =>
        `${w.Target} takes ${f['allowed']} for ${f['place']} and loses the beat otherwise.`,
    },
  },
  check({ block: seats, piece, maps, report }) {
    if (placesOf(seats).length === 0) return;
    const name = piece.delivery.fileName;
    const place = placeOfPiece(piece, seats);
    if (!place) return;
    const end = deliveredEnd(piece);
    const { whole, over } = barsUntil(maps, end);
    const bars = whole + over;
    const { onlyBars, leastBars, mostBars } = place;
    const exact = onlyBars !== undefined || leastBars !== undefined;
    if (takes(place, { whole, over })) return;
    const choices =
      onlyBars ?? range(exact ? Math.max(1, leastBars ?? 1) : 1, mostBars ?? whole + 1);
    const up = choices.filter((n) => n >= bars - 1e-9).sort((a, b) => a - b)[0];
    const down = choices.filter((n) => n <= bars + 1e-9).sort((a, b) => b - a)[0];
    const lengths = [up, down].filter(
      (n, i, all): n is number => n !== undefined && all.indexOf(n) === i,
    );
    report({
      code: 'place-length',
      spans: [spanAt(Math.max(0, end - 1))],
      data: {
        name,
        bars: plain(bars),
        place: place.name.toLowerCase(),
        allowed: onlyBars
          ? onlyBars.map(sayBars).join(' or ')
          : leastBars === undefined
            ? `at most ${sayBars(mostBars ?? 1)}`
            : `${leastBars} to ${mostBars} whole bars`,
      },
      measured: { value: Math.round(bars * 1000) / 1000, unit: 'bars' },
      allowed: {
        ...(onlyBars ? { onlyBars } : {}),
        ...(leastBars ? { leastBars } : {}),
        ...(mostBars ? { mostBars } : {}),
      },
      mends: lengths.map((n) => mend(`Make it ${sayBars(n)} long`, setLength, { bars: n })),
    });
  },
});

/** Whether a place takes a piece of this length. */
function takes(
  { onlyBars, leastBars, mostBars }: FileSeat,
  { whole, over }: { whole: number; over: number },
): boolean {
  const bars = whole + over;
  return (
    (onlyBars?.some((n) => Math.abs(n - bars) < 1e-9) ?? true) &&
    bars >= (leastBars ?? 0) - 1e-9 &&
    bars <= (mostBars ?? Infinity) + 1e-9 &&
    (onlyBars !== undefined || leastBars === undefined || over === 0)
  );
}

const range = (from: number, to: number) =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);

export const placesFilled = defineRule({
  id: 'places-filled',
  summary: 'Places that must not be missing are taken, and none is taken twice.',
  block: 'seats',
  phase: 'naming',
  over: 'delivery',
  codes: {
    'place-missing': {
      title: 'A place is missing',
      wrong: (f) => `No file takes ${f['place']} (${f['file']}).`,
      then: (_, w) => `${w.Target} does not show a song without it.`,
    },
    'place-twice': {
      title: 'One place, two files',
      wrong: (f) => `${f['times']} files take ${f['place']}.`,
      then: (_, w) => `${w.Target} keeps one of them.`,
    },
  },
  check({ block: seats, pieces, report }) {
    const all = placesOf(seats);
    if (all.length === 0) return;
    const taken = pieces.map((p) => placeOfPiece(p, seats));
    for (const place of all) {
      const times = taken.filter((t) => t?.id === place.id).length;
      const words = { place: place.name.toLowerCase(), file: place.fileName, times };
      if (times === 0 && !place.optional) {
        const [first] = pieces;
        const markers = first?.score.conductor.markers.length ?? 0;
        // With markers the song is carved by the finding of its own.
        const alone = pieces.length === 1 && taken[0] === undefined && markers < 2;
        report({
          code: 'place-missing',
          cause: place.id,
          data: words,
          ...(alone
            ? {
                mends: [
                  mend(`Make this file ${words.place}`, takePlace, {
                    place: place.id,
                    fileName: place.fileName,
                  }),
                ],
              }
            : { noMend: 'Carve it out with the step “Carve into files”.' }),
        });
      }
      if (times > 1)
        report({
          code: 'place-twice',
          cause: place.id,
          data: words,
          measured: { value: times, unit: 'files' },
          noMend: 'Edit the step “Carve into files”: a place takes one file.',
        });
    }
  },
});

export const channels = defineRule({
  id: 'channels',
  summary: 'Only the channels that the target listens to.',
  block: 'channels',
  phase: 'seating',
  codes: {
    'other-channel': {
      title: 'On a channel it does not hear',
      wrong: (f) => `“${f['name']}” is on channel ${f['channel']}: ${f['notesText']}.`,
      then: (f, w) => `${w.Target} listens to ${f['allowed']} and to nothing else.`,
    },
  },
  check({ heard, block, report }) {
    const allowed = new Set(block.only);
    for (const part of heard()) {
      if (allowed.has(part.channel) || part.notes.count + part.events.count === 0) continue;
      const first = new Places();
      if (part.notes.count > 0) first.add(part, 0);
      const to = block.only[0]!;
      report({
        code: 'other-channel',
        part,
        spans: first.spans,
        notes: part.notes.id,
        data: {
          name: part.name,
          channel: part.channel,
          notesText: count(part.notes.count, 'note'),
          allowed: block.only.length === 1 ? `channel ${to}` : `channels ${block.only.join(', ')}`,
        },
        measured: { value: part.channel, unit: 'channel' },
        allowed: { channels: block.only },
        mends: [
          mend(`Move it to channel ${to}`, setChannel, { channel: to }, [part]),
          mend('Leave the part out', leaveOut, {}, [part]),
        ],
      });
    }
  },
});

type Kit = NonNullable<Target['kits']>[number];

/** General MIDI level 1, percussion key map, in families; within one any stands in for another. */
const DRUM_FAMILIES: readonly (readonly number[])[] = [
  [36, 35],
  [38, 40, 37, 39],
  [41, 43, 45, 47, 48, 50],
  [42, 44, 46],
  [49, 57, 52, 55],
  [51, 59, 53],
  [54, 69, 70, 82],
  [56, 53, 67, 68],
  [60, 61, 62, 63, 64],
  [65, 66],
  [75, 76, 77, 37],
  [71, 72],
  [73, 74],
  [78, 79],
  [80, 81],
];

/** The drum of a kit that is nearest to a key: of its family first, else the nearest number. */
export function nearestDrum(key: number, kit: Kit): number {
  const there = new Set(kit.keys.map((k) => k.noteNumber));
  if (there.has(key)) return key;
  const family = DRUM_FAMILIES.find((f) => f.includes(key));
  const kin = family?.filter((k) => there.has(k)) ?? [];
  const nearest = (list: readonly number[]) =>
    list.reduce((a, b) => (Math.abs(b - key) < Math.abs(a - key) ? b : a));
  return kin.length > 0 ? nearest(kin) : nearest([...there]);
}

export const kitKeys = defineRule({
  id: 'kit-keys',
  summary: 'Only keys that the chosen kit has.',
  block: 'kits',
  phase: 'notes',
  codes: {
    'off-kit': {
      title: 'Drums that the kit does not have',
      wrong: (f) => `${f['notesText']} on ${f['keys']}.`,
      then: (f, w) => `${w.Target} has no sound there in the kit ${f['kit']} and stays silent.`,
    },
    'kit-unknown': {
      title: 'A kit it does not have',
      wrong: (f) => `The kit “${f['kit']}” is named.`,
      then: (f, w) => `${w.Target} has ${f['allowed']}.`,
    },
  },
  check({ heard, block: kits, piece, report }) {
    const used = new Map<number, number>();
    for (const part of heard()) {
      for (let i = 0; i < part.notes.count; i++) {
        const key = part.notes.noteNumber[i]!;
        used.set(key, (used.get(key) ?? 0) + 1);
      }
    }
    const missingIn = (kit: Kit) => {
      const there = new Set(kit.keys.map((k) => k.noteNumber));
      return [...used.keys()].filter((k) => !there.has(k)).sort((a, b) => a - b);
    };
    const named = piece.delivery.metadata?.kit;
    const chosen = kits.find((k) => k.id === named);
    if (named !== undefined && !chosen) {
      report({
        code: 'kit-unknown',
        data: { kit: named, allowed: kits.map((k) => k.name).join(', ') },
        allowed: { kits: kits.map((k) => k.id) },
        mends: kits.slice(0, 4).map((k) => mend(`Use the kit ${k.name}`, metadata, { kit: k.id })),
      });
      return;
    }
    if (kits.length === 0 || used.size === 0) return;
    // Without a choice the song is held against the kit that has the most of its notes.
    const notesOf = (kit: Kit) => missingIn(kit).reduce((n, k) => n + used.get(k)!, 0);
    const kit = chosen ?? kits.reduce((a, b) => (notesOf(b) < notesOf(a) ? b : a));
    const missing = missingIn(kit);
    if (missing.length === 0) return;
    const off = new Set(missing);
    const found = new Places();
    for (const part of heard()) {
      for (let i = 0; i < part.notes.count; i++)
        if (off.has(part.notes.noteNumber[i]!)) found.add(part, i);
    }
    const whole = kits.filter((k) => k !== kit && missingIn(k).length === 0);
    report({
      code: 'off-kit',
      cause: kit.id,
      ...found.found,
      data: {
        notesText: `${count(found.count, 'note')} ${found.count === 1 ? 'is' : 'are'}`,
        keys: missing
          .slice(0, 6)
          .map((k) => `${noteName(k)} (${k})`)
          .join(', '),
        kit: kit.name,
      },
      measured: { value: missing[0]!, unit: 'note number' },
      allowed: { kit: kit.id, keys: kit.keys.map((k) => k.noteNumber) },
      mends: [
        ...whole.map((k) => mend(`Use the kit ${k.name}`, metadata, { kit: k.id })),
        mend('Play each on the nearest drum of the kit', mapKeys, {
          keys: missing.map((from) => ({ from, to: nearestDrum(from, kit) })),
        }),
        mend('Leave these notes out', leaveOut, { keys: missing }),
      ],
    });
  },
});
