import * as z from 'zod';
import { newNotes, joinNotes, pickEvents } from '../score/columns';
import { NO_EVENTS, OFF_BY_NOTE_OFF, type Marker, type Score } from '../score/score';
import { encodeUtf8, toAscii } from '../smf/text';
import { defineStep, done, NewIds, withScore } from './define-step';
import { trackNamed } from './routing';

export const setFormat = defineStep({
  id: 'set-format',
  reach: 'piece',
  title: 'Set format',
  summary: 'Sets the SMF format and how its tracks are laid out.',
  params: z.strictObject({
    format: z.literal([0, 1]),
    layout: z.enum(['as-is', 'single', 'conductor-first']),
    oneTrack: z.string().optional().describe('Put all parts on one track of this name'),
  }),
  describe: (p) =>
    `SMF ${p.format}` +
    (p.layout === 'conductor-first' ? ', conductor in a track of its own' : '') +
    (p.oneTrack === undefined ? '' : `, all parts on “${p.oneTrack}”`),
  apply({ piece, params }) {
    const layout =
      params.format === 0 ? 'single' : params.layout === 'single' ? 'as-is' : params.layout;
    let next = {
      ...piece,
      delivery: { ...piece.delivery, format: params.format, layout } as const,
    };
    if (params.oneTrack !== undefined) {
      const { tracks, index } = trackNamed(piece.score, params.oneTrack);
      const parts = piece.score.parts.map((p) => (p.leftOut ? p : { ...p, track: index }));
      next = withScore(next, { tracks, parts }) as typeof next;
    }
    return done(next, { says: `SMF ${params.format}` });
  },
});

export const nameFile = defineStep({
  id: 'name-file',
  reach: 'piece',
  title: 'Name the file',
  summary: 'Sets the name of the delivered file.',
  params: z.strictObject({
    name: z
      .string()
      .min(1)
      .max(120)
      .refine((n) => !/[/\\:*?"<>|]/.test(n) && !hasControl(n) && n !== '.' && n !== '..', {
        message: 'A file name holds no folder and none of \\ : * ? " < > |',
      }),
  }),
  describe: (p) => `name the file ${p.name}`,
  apply: ({ piece, params }) =>
    done(
      { ...piece, delivery: { ...piece.delivery, fileName: params.name } },
      { says: `Named ${params.name}` },
    ),
});

const hasControl = (text: string) => [...text].some((c) => c.charCodeAt(0) < 32);

export const markers = defineStep({
  id: 'markers',
  reach: 'piece',
  title: 'Marker labels',
  summary: 'Shortens marker labels and spells them in letters that the target can show.',
  params: z.strictObject({
    longest: z.int().min(1).max(1000).optional().describe('Characters'),
    transliterate: z.boolean().optional().describe('Spell accents and other letters in ASCII'),
  }),
  describe: (p) =>
    [
      p.transliterate ? 'spell marker labels in ASCII' : '',
      p.longest === undefined ? '' : `marker labels up to ${p.longest} characters`,
    ]
      .filter(Boolean)
      .join(', '),
  apply({ piece, params }) {
    const { conductor } = piece.score;
    let events = 0;
    const changed = conductor.markers.map((marker): Marker => {
      let { text } = marker;
      if (params.transliterate) text = toAscii(text);
      if (params.longest !== undefined) text = shortenLabel(text, params.longest);
      if (text === marker.text) return marker;
      events++;
      return { ...marker, text, encoding: 'utf-8', bytes: encodeUtf8(text) };
    });
    if (events === 0) return done(piece, {});
    return done(withScore(piece, { conductor: { ...conductor, markers: changed } }), {
      events,
      eventWords: 'labels changed',
    });
  },
});

/** Cut at a word where one ends late enough, so that a label still reads. */
export function shortenLabel(text: string, longest: number): string {
  const letters = [...text];
  if (letters.length <= longest) return text;
  const cut = letters.slice(0, longest).join('');
  const wholeWord = !/[\p{L}\p{N}]/u.test(letters[longest]!);
  const space = wholeWord ? cut.length : cut.lastIndexOf(' ');
  return (space >= longest / 2 ? cut.slice(0, space) : cut).trim();
}

export const carrierNote = defineStep({
  id: 'carrier-note',
  reach: 'piece',
  title: 'Carrier note',
  summary: 'One soft note through the whole length, on a track of its own.',
  params: z.strictObject({
    channel: z.int().min(1).max(16),
    noteNumber: z.int().min(0).max(127),
    velocity: z.int().min(1).max(127),
    track: z.string().min(1).max(200),
  }),
  describe: (p) => `carrier note ${p.noteNumber} on channel ${p.channel}, track “${p.track}”`,
  apply({ piece, params }) {
    const { tracks, index } = trackNamed(piece.score, params.track);
    const ids = new NewIds(piece);
    const end = [...tracks.map((t) => t.endTick), ...lastEvents(piece.score)].reduce(later, 1);
    const notes = newNotes(1);
    notes.end[0] = end;
    notes.noteNumber[0] = params.noteNumber;
    notes.velocity[0] = params.velocity;
    notes.offVelocity[0] = 64;
    notes.offKind[0] = OFF_BY_NOTE_OFF;
    notes.id[0] = ids.next();
    const old = piece.score.parts.filter((p) => p.track === index && !p.leftOut);
    if (old.some((p) => p.notes.count > 0))
      return { refused: `There are notes on a track named “${params.track}” already.` };
    const part = {
      id: `carrier-c${params.channel}`,
      ref: { source: '', track: params.track, channel: params.channel, occurrence: 0 },
      name: params.track,
      track: index,
      sourceTrack: -1,
      channel: params.channel,
      notes: joinNotes([notes]),
      events: pickEvents(NO_EVENTS, []),
      leftOut: false,
      seat: null,
      seatChosen: true,
    };
    const next = withScore(piece, { tracks, parts: [...piece.score.parts, part] });
    return done(ids.keep(next), { added: 1 });
  },
});

const later = (a: number, b: number) => Math.max(a, b);

const lastEvents = (score: Score): number[] => [
  ...score.conductor.tempos.map((t) => t.tick),
  ...score.conductor.meters.map((t) => t.tick),
  ...score.conductor.markers.map((t) => t.tick),
];
