import * as z from 'zod';
import { captionText } from '../score/caption-text';
import type { Caption, Metadata, Piece } from '../score/piece';
import { isIn, textOf, type TrackEvent } from '../score/score';
import { META, META_LYRIC } from '../smf/file';
import { isFileName } from '../smf/name';
import { ENDING_WORDS, endingKey, factWords, sayFact } from '../target/facts';
import { count, plain } from '../target/words';
import { defineStep, done } from './define-step';

const text = (what: string) => z.string().max(500).optional().describe(what);

interface Limits {
  readonly least: number;
  readonly most: number;
  readonly whole?: boolean;
}
/** What our formats hold; what a target allows of it is for its rules. */
const NUMBERS = {
  bpm: { least: 0.01, most: 100_000 },
  frameRate: { least: 1, most: 240, whole: true },
  frameShift: { least: -100_000, most: 100_000, whole: true },
  soundMs: { least: 0, most: 86_400_000 },
  rowsPerSecond: { least: 0.01, most: 1000 },
} as const satisfies Partial<Record<keyof Metadata, Limits>>;

/** Why a text is none of these numbers, in words; null where it is one. */
function faultOf(value: string, { least, most, whole = false }: Limits): string | null {
  if (!/^-?\d+(\.\d+)?$/.test(value)) return 'not a number';
  const n = Number(value);
  if (n < least || n > most) return `not from ${plain(least)} to ${plain(most)}`;
  return whole && !Number.isInteger(n) ? 'not a whole number' : null;
}

export const metadata = defineStep({
  id: 'metadata',
  reach: 'piece',
  title: 'Metadata',
  summary: 'What the target asks to be told beside the music. An empty field takes it away.',
  params: z.strictObject({
    title: text('Title'),
    maker: text('Who made it'),
    bpm: text('Declared BPM'),
    displayName: text('Name on the display'),
    kit: text('Kit, by its id'),
    frameRate: text('Frames a second'),
    frameShift: text('Frames that the start is shifted by'),
    ending: text('round again, or rest at the end'),
    sound: text('Name of the sound file that plays beside it'),
    soundMs: text('Length of that sound file in milliseconds'),
    rowsPerSecond: text('Rows a second of the strip'),
    own: z
      .array(
        z.strictObject({
          key: z.string().min(1).max(40).describe('The fact, as the target names it'),
          value: z.string().max(1000).describe('What it is; nothing takes it away'),
        }),
      )
      .max(64)
      .optional()
      .describe('Facts that the target names itself'),
  }),
  describe: (p) => {
    const { own = [], ...known } = p;
    const all = [...Object.entries(known), ...own.map((o) => [o.key, o.value] as const)];
    const said = all.map(([key, value]) => `${factWords(key)} “${sayFact(key, String(value))}”`);
    return said.length === 0 ? 'no metadata' : said.join(', ');
  },
  apply({ piece, params }) {
    const next: Record<string, string | undefined> = { ...piece.delivery.metadata };
    const { own = [], ...known } = params;
    const all = [...Object.entries(known), ...own.map((o) => [o.key, o.value] as const)];
    for (const [key, value] of all) {
      if (value === undefined) continue;
      if (value === '') delete next[key];
      else next[key] = value;
    }
    for (const [key, limits] of Object.entries(NUMBERS)) {
      const value = params[key as keyof typeof NUMBERS];
      const fault = value ? faultOf(value, limits) : null;
      if (fault !== null) return { refused: `“${value}” is ${fault} (${factWords(key)}).` };
    }
    if (params.sound && !isFileName(params.sound))
      return {
        refused: `“${params.sound.slice(0, 60)}” is not the name of a file (${factWords('sound')}).`,
      };
    const ending = params.ending ? endingKey(params.ending.trim()) : undefined;
    if (params.ending && ending === undefined) {
      const known = [...ENDING_WORDS.values()].map((w) => `“${w}”`).join(' or ');
      return { refused: `“${params.ending.slice(0, 60)}” is no ending: ${known} is needed.` };
    }
    if (ending !== undefined) next['ending'] = ending;
    return done(
      { ...piece, delivery: { ...piece.delivery, metadata: next as Metadata } },
      { says: `${count(all.length, 'field')} set` },
    );
  },
});

export const captions = defineStep({
  id: 'captions',
  reach: 'notes',
  title: 'Captions',
  summary:
    'Makes captions from the lyrics, the markers, or a list of lines that are laid on the notes.',
  params: z.strictObject({
    from: z
      .enum(['lyrics', 'markers', 'list', 'present'])
      .describe('present: those that are there, their lines broken anew'),
    lines: z.array(z.string().max(400)).max(5000).optional().describe('A caption a line'),
    longestLine: z.int().min(1).max(200).optional().describe('Characters; longer ones are broken'),
    mostLines: z
      .int()
      .min(1)
      .max(20)
      .optional()
      .describe('Lyrics of more lines become several captions, each at its own word'),
    apartMs: z
      .number()
      .min(0)
      .max(60_000)
      .optional()
      .describe('One that comes sooner is joined to the one before, where both fit'),
  }),
  describe: (p) =>
    p.from === 'list'
      ? `captions from a list of ${count(p.lines?.length ?? 0, 'line')}`
      : p.from === 'present'
        ? `captions in lines of ${p.longestLine ?? 42} characters`
        : `captions from the ${p.from}`,
  apply({ piece, params, select, maps }) {
    const found: Caption[] = [];
    // Of some parts only, the lyrics of their tracks.
    const { parts } = piece.score;
    const sung = parts.every(select.part)
      ? null
      : new Set(parts.filter(select.part).map((p) => p.track));
    if (params.from === 'markers')
      for (const m of piece.score.conductor.markers.filter((m) => select.at(m.tick)))
        found.push({ tick: m.tick, text: m.text.trim() });
    else if (params.from === 'list') {
      const ticks = new Set<number>();
      for (const part of piece.score.parts)
        if (isIn(part) && select.part(part))
          for (let i = 0; i < part.notes.count; i++)
            if (select.note(part, i)) ticks.add(part.notes.start[i]!);
      const sorted = [...ticks].sort((a, b) => a - b);
      const lines = (params.lines ?? []).filter((l) => l.trim() !== '');
      if (lines.length === 0) return { refused: 'The list holds no line.' };
      if (lines.length > sorted.length)
        return {
          refused: `There are ${lines.length} captions but only ${sorted.length} notes to turn them.`,
        };
      lines.forEach((line, i) => found.push({ tick: sorted[i]!, text: line.trim() }));
    } else if (params.from === 'present')
      for (const c of (piece.captions ?? []).filter((c) => select.at(c.tick)))
        found.push({ tick: c.tick, text: c.text.replace(/\s*\n\s*/g, ' ') });
    else
      found.push(
        ...fromLyrics(
          piece.score.tracks
            .filter((_, t) => sung === null || sung.has(t))
            .flatMap((t) => t.events.filter((e) => select.at(e.tick))),
          (params.longestLine ?? Infinity) * (params.mostLines ?? Infinity),
          (text) =>
            wrap(text, params.longestLine ?? Infinity).split('\n').length <=
            (params.mostLines ?? Infinity),
        ),
      );
    const made = found.flatMap((c) => {
      const words = captionText(c.text);
      return words === '' ? [] : [{ ...c, text: words }];
    });
    if (made.length === 0)
      return {
        refused:
          params.from === 'present'
            ? 'There are no captions yet.'
            : `There are no ${params.from} to make captions from.`,
      };
    const list = joined(made, params, (tick) => maps.clock.msAt(tick));
    // What is shown outside the stretches stays as it is.
    const others = (piece.captions ?? []).filter((c) => !select.at(c.tick));
    return done(
      { ...piece, captions: [...others, ...list].sort((a, b) => a.tick - b.tick) },
      {
        says:
          `${count(list.length, 'caption')} made` +
          (list.length < made.length ? `, of ${count(made.length, 'text')}` : ''),
      },
    );
  },
});

/** Captions in lines; those that nobody could turn to, the next comes so soon, are one. */
function joined(
  made: readonly Caption[],
  { longestLine = Infinity, mostLines = Infinity, apartMs = 0 }: z.infer<typeof captions.params>,
  msAt: (tick: number) => number,
): Caption[] {
  const out: Caption[] = [];
  const inTime = [...made].sort((a, b) => a.tick - b.tick);
  for (const caption of inTime) {
    const text = wrap(caption.text, longestLine);
    const before = out.at(-1);
    if (
      before &&
      (caption.tick === before.tick || msAt(caption.tick) - msAt(before.tick) < apartMs)
    ) {
      const both = before.text === text ? text : wrap(`${before.text} ${text}`, longestLine);
      if (both.split('\n').length <= mostLines) {
        out[out.length - 1] = { ...before, text: both };
        continue;
      }
    }
    out.push({ ...caption, text });
  }
  return out;
}

/** What captions can be made from: the words that are sung, else what the markers say; null where neither. */
export function captionsFrom({ score }: Piece): 'lyrics' | 'markers' | null {
  const sung = score.tracks.some((t) =>
    t.events.some(
      (e) =>
        e.status === META &&
        e.type === META_LYRIC &&
        captionText(
          textOf(e)
            .replace(/[\\/\n\r]/g, ' ')
            .trim(),
        ) !== '',
    ),
  );
  if (sung) return 'lyrics';
  return score.conductor.markers.some((m) => captionText(m.text.trim()) !== '') ? 'markers' : null;
}

/** Syllables are joined to phrases: a slash, a line end or a capital after a stop begins a new one. */
function fromLyrics(
  events: readonly TrackEvent[],
  most: number,
  fits: (text: string) => boolean,
): Caption[] {
  const lyrics = events
    .filter((e) => e.status === META && e.type === META_LYRIC)
    .sort((a, b) => a.tick - b.tick);
  const out: { tick: number; text: string }[] = [];
  let open: { tick: number; text: string } | null = null;
  for (const e of lyrics) {
    const syllable = textOf(e);
    const begins = /^[\\/\n\r]/.test(syllable);
    const bare = syllable.replace(/^[\\/\n\r]+/, '');
    // A word is not parted: only where a new one begins may a caption end.
    const word: boolean = open !== null && (/\s$/.test(open.text) || /^\s/.test(bare));
    const full: boolean =
      open !== null &&
      word &&
      (open.text.length + bare.length > most || !fits((open.text + bare).trim()));
    if (begins || !open || full) {
      if (open && open.text.trim() !== '') out.push(open);
      open = { tick: e.tick, text: '' };
    }
    const hyphen: boolean = open.text.endsWith('-');
    if (hyphen) open.text = open.text.slice(0, -1);
    const glued: boolean = hyphen || open.text === '' || /\s$/.test(open.text) || /^\s/.test(bare);
    open.text += (glued ? '' : ' ') + bare.replace(/[\n\r]+$/, '');
    if (/[\n\r]$/.test(bare)) {
      out.push(open);
      open = null;
    }
  }
  if (open && open.text.trim() !== '') out.push(open);
  return out.map((c) => ({ tick: c.tick, text: c.text.trim() }));
}

/** Breaks at spaces so that no line is longer; a longer word is left as it is. */
export function wrap(line: string, longest: number): string {
  const rows: string[] = [];
  for (const part of line.split('\n')) {
    let row = '';
    for (const word of part.split(/\s+/)) {
      if (row !== '' && [...`${row} ${word}`].length > longest) {
        rows.push(row);
        row = word;
      } else row = row === '' ? word : `${row} ${word}`;
    }
    rows.push(row);
  }
  return rows.join('\n');
}
