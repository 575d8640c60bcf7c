import type { MetadataKey, Piece } from '../../score/piece';
import type { Target } from '../../target/schema';
import { META, META_COPYRIGHT, META_TRACK_NAME } from '../../smf/file';
import { bpmOf, firstInForce } from '../../time/tempo-map';
import { defineRule, mend, says } from '../define-rule';
import { metadata as metadataStep } from '../../steps/facts';
import { stemOf } from '../../smf/name';
import { textOf } from '../../score/score';
import { toAscii } from '../../smf/text';

const FIELD_WORDS: Readonly<Record<string, string>> = {
  title: 'title',
  maker: 'maker',
  bpm: 'declared BPM',
  displayName: 'name for the display',
  kit: 'kit',
  frameRate: 'frame rate',
  ending: 'ending',
  sound: 'sound file',
};

type Field = NonNullable<Target['metadata']>['required'][number];

const lettersOutside = (letters: Field['letters']): RegExp | null =>
  letters === 'printable-ascii'
    ? /[^\x20-\x7e]/g
    : letters === "A-Za-z0-9 '-"
      ? /[^A-Za-z0-9 '-]/g
      : null;

/** What the file itself knows of a field: it is never asked for again. */
function known(key: MetadataKey, { score }: Piece, came: Piece, field: Field): string | null {
  if (key === 'bpm') {
    const first = firstInForce(score.conductor.tempos);
    const us = first?.tick === 0 ? first.microsecondsPerQuarter : 500_000;
    return String(Math.round(bpmOf(us) * 1000) / 1000);
  }
  const texts = score.tracks.flatMap((t) => t.events.filter((e) => e.status === META));
  if (key === 'maker') {
    const found = texts.find((e) => e.type === META_COPYRIGHT);
    const name = found ? nameIn(textOf(found)) : null;
    return name === null ? null : fit(name, field);
  }
  if (key === 'title' || key === 'displayName') {
    // A file that was carved has the name of its place: the song has that of what it came from.
    const stem = stemOf(came.delivery.fileName).replace(/[_-]+/g, ' ');
    const named = score.tracks[0]?.events.find((e) => e.type === META_TRACK_NAME);
    const lone = named && !score.parts.some((p) => p.track === 0 && p.notes.count > 0);
    const from = lone ? textOf(named) : stem;
    return (saysNothing(from) ? null : fit(from, field)) ?? fit(stem, field);
  }
  return null;
}

/** What programs and templates leave where nobody filled in a name. */
const PLACEHOLDER =
  /holder|unknown|untitled|your name|no name|^none$|n\/a|x{3,}|^(new )?(song|track|sequence|title|composer|artist|author|copyright|name)\s*\d*$/i;

/** No letter of any script, a label without its value, or what stands where nothing was said. */
const saysNothing = (text: string): boolean =>
  (text.match(/\p{L}/gu)?.length ?? 0) < 2 || /:\s*$/.test(text) || PLACEHOLDER.test(text.trim());

/** The name in a notice of who made it: without years, signs and set phrases; null where none is left. */
export function nameIn(notice: string): string | null {
  const bare = notice
    .split(/[\r\n]/)[0]!
    .replace(/all rights reserved\.?/i, '')
    .replace(/copyright/gi, '')
    .replace(/©|\(c\)/gi, '')
    .replace(/\b\d{4}(\s*[-–,/]\s*\d{2,4})*\b/g, '')
    .replace(
      /^\s*(composer|composed by|written by|music by|arranged by|artist|author|by)\b\s*:?/i,
      '',
    )
    .replace(/^[\s:;,.|/–-]+|[\s:;,|/–-]+$/g, '');
  return saysNothing(bare) ? null : bare;
}

/** A text as the field takes it; null where nothing is left of it. */
function fit(text: string, { longest = 200, letters }: Field): string | null {
  const outside = lettersOutside(letters);
  const spelt = outside ? toAscii(text).replace(outside, '') : text;
  const short = [...spelt.trim()].slice(0, longest).join('').trim();
  return short === '' ? null : short;
}

export const metadata = defineRule({
  id: 'metadata',
  summary: 'What the target asks to be told beside the music.',
  story: {
    why: 'A file of music does not know its title or its maker.',
    mends: 'What the file does know is offered; the rest is asked for once.',
  },
  block: 'metadata',
  phase: 'naming',
  codes: {
    'metadata-missing': says<{ field: string }>({
      title: 'Something is not told',
      wrong: (f) => `No ${f.field} is given.`,
      then: (_, w) => `${w.Target} asks for it and does not show a song without.`,
    }),
    'metadata-long': says<{ field: string; value: string; length: number; most: number }>({
      title: 'Too long to show',
      wrong: (f) => `The ${f.field} “${f.value}” has ${f.length} characters.`,
      then: (f, w) => `${w.Target} shows ${f.most}.`,
    }),
    'metadata-letters': says<{ field: string; value: string; outside: string }>({
      title: 'Letters it cannot show',
      wrong: (f) => `The ${f.field} “${f.value}” holds ${f.outside}.`,
      then: (_, w) => `${w.Target} shows a blank there, or refuses the song.`,
    }),
  },
  check({ block, target, piece, base, soundName, report }) {
    const choices: Readonly<Partial<Record<MetadataKey, readonly string[]>>> = {
      frameRate: target.frames?.perSecond.map(String) ?? [],
      ending: target.frames?.endings ?? [],
      kit: target.kits?.map((k) => k.id) ?? [],
    };
    for (const field of block.required) {
      const brought = field.key === 'sound' ? (soundName ?? undefined) : undefined;
      const value = piece.delivery.metadata?.[field.key] ?? brought;
      const words = FIELD_WORDS[field.key] ?? field.key;
      const about = { cause: field.key, allowed: { ...field } };
      const set = (to: string) =>
        mend(`Use “${to}” as the ${words}`, metadataStep, { [field.key]: to });
      if (value === undefined) {
        const guess = known(field.key, piece, base.rendition.pieces[piece.base ?? 0]!, field);
        const offers = guess === null ? (choices[field.key] ?? []).slice(0, 4) : [guess];
        report({
          code: 'metadata-missing',
          ...about,
          data: { field: words },
          ...(offers.length === 0
            ? { noMend: `Give the ${words} with the step “Metadata”.` }
            : { mends: offers.map(set) }),
        });
        continue;
      }
      const length = [...value].length;
      const fitted = fit(value, field);
      const mends = fitted === null ? {} : { mends: [set(fitted)] };
      if (field.longest !== undefined && length > field.longest)
        report({
          code: 'metadata-long',
          ...about,
          data: { field: words, value, length, most: field.longest },
          measured: { value: length, unit: 'characters' },
          ...mends,
        });
      const outside = lettersOutside(field.letters);
      const odd = outside ? [...new Set(value.match(outside) ?? [])] : [];
      if (odd.length > 0)
        report({
          code: 'metadata-letters',
          ...about,
          data: { field: words, value, outside: odd.slice(0, 8).join(' ') },
          measured: { value: odd.length, unit: 'letters' },
          ...(fitted === null ? { noMend: 'Give another with the step “Metadata”.' } : mends),
        });
    }
  },
});
