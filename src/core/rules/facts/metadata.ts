import { METADATA_KEYS, type Piece } from '../../score/piece';
import type { Target } from '../../target/schema';
import { META, META_COPYRIGHT, META_TEXT, META_TRACK_NAME } from '../../smf/file';
import { bpmOf, firstInForce } from '../../time/tempo-map';
import { defineRule, mend, says } from '../define-rule';
import { metadata as metadataStep } from '../../steps/facts';
import { besideDevices, isFileName, plainName, stemOf } from '../../smf/name';
import { factWords, sayFact } from '../../target/facts';
import { textOf, type TrackEvent } from '../../score/score';
import { toAscii } from '../../smf/text';

type Field = NonNullable<Target['metadata']>['required'][number];

const lettersOutside = (letters: Field['letters']): RegExp | null =>
  letters === 'printable-ascii'
    ? /[^\x20-\x7e]/g
    : letters === "A-Za-z0-9 '-"
      ? /[^A-Za-z0-9 '-]/g
      : null;

/** What the file itself knows of a field: it is never asked for again. */
function known(key: string, { score }: Piece, came: Piece, field: Field): string | null {
  if (key === 'bpm') {
    const first = firstInForce(score.conductor.tempos);
    const us = first?.tick === 0 ? first.microsecondsPerQuarter : 500_000;
    return String(Math.round(bpmOf(us) * 1000) / 1000);
  }
  const texts = score.tracks.flatMap((t) => t.events.filter((e) => e.status === META));
  const { from } = field;
  if (from !== undefined) {
    const said =
      from === 'file-name'
        ? stemOf(came.delivery.fileName)
        : from === 'first-marker'
          ? score.conductor.markers[0]?.text
          : textAt(texts, from === 'first-text' ? META_TEXT : META_TRACK_NAME);
    const fitted = said === undefined ? null : fit(said, field);
    return fitted !== null && faultOf(fitted, field) === null ? fitted : null;
  }
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

const textAt = (texts: readonly TrackEvent[], type: number): string | undefined => {
  const found = texts.find((e) => e.type === type);
  return found ? textOf(found) : undefined;
};

/** Why a value is none of its kind; null where it is. */
function faultOf(value: string, { kind, choices }: Field): string | null {
  if (kind === 'number' && !/^-?\d+(\.\d+)?$/.test(value)) return 'no number';
  if (kind === 'date' && !isDate(value)) return 'no date such as 2026-11-29';
  if (kind === 'choice' && choices && !choices.includes(value))
    return `none of ${choices.slice(0, 8).join(', ')}`;
  if (kind === 'file-name' && !isFileName(value)) return 'no name of a file';
  return null;
}

/** ISO 8601, a day that there is. */
function isDate(value: string): boolean {
  const said = /^(\d{4})-(\d\d)-(\d\d)$/.exec(value);
  if (!said) return false;
  const [year, month, day] = said.slice(1).map(Number) as [number, number, number];
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const days = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1] ?? 0;
  return day >= 1 && day <= days;
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

const isKnownKey = (key: string) => (METADATA_KEYS as readonly string[]).includes(key);

/** A text as the field takes it; null where nothing is left of it. */
function fit(text: string, { longest = 200, letters, kind }: Field): string | null {
  const outside = lettersOutside(letters);
  const spelt = outside ? toAscii(text).replace(outside, '') : text;
  const short = [...spelt.trim()].slice(0, longest).join('').trim();
  if (kind !== 'file-name') return short === '' ? null : short;
  const named = plainName([...besideDevices(short)].slice(0, longest).join(''));
  return named === '' || !isFileName(named) ? null : named;
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
      title: 'Metadata missing',
      named: (f) => `Missing: ${f.field}`,
      wrong: (f) => `No ${f.field} is given.`,
      then: (_, w) => `${w.Target} asks for it and does not show a song without.`,
    }),
    'metadata-kind': says<{ field: string; value: string; fault: string }>({
      title: 'Metadata of the wrong kind',
      wrong: (f) => `The ${f.field} “${f.value}” is ${f.fault}.`,
      then: (_, w) => `${w.Target} cannot read it.`,
    }),
    'metadata-long': says<{ field: string; value: string; length: number; most: number }>({
      title: 'Name too long to show',
      wrong: (f) => `The ${f.field} “${f.value}” has ${f.length} characters.`,
      then: (f, w) => `${w.Target} shows ${f.most}.`,
    }),
    'metadata-letters': says<{ field: string; value: string; outside: string }>({
      title: 'Name with letters that cannot be shown',
      wrong: (f) => `The ${f.field} “${f.value}” holds ${f.outside}.`,
      then: (_, w) => `${w.Target} shows a blank there, or refuses the song.`,
    }),
  },
  check({ block, target, piece, base, soundName, report }) {
    const choices: Readonly<Record<string, readonly string[]>> = {
      frameRate: target.frames?.perSecond.map(String) ?? [],
      ending: target.frames?.endings ?? [],
      kit: target.kits?.map((k) => k.id) ?? [],
    };
    for (const field of block.required) {
      const brought = field.key === 'sound' ? (soundName ?? undefined) : undefined;
      const value = piece.delivery.metadata?.[field.key] ?? brought;
      const words = factWords(field.key);
      const about = { cause: field.key, allowed: { ...field } };
      const sayValue = (said: string) =>
        (field.key === 'kit' ? target.kits?.find((k) => k.id === said)?.name : undefined) ??
        sayFact(field.key, said);
      const set = (to: string) =>
        mend(
          `Use “${sayValue(to)}” as the ${words}`,
          metadataStep,
          isKnownKey(field.key) ? { [field.key]: to } : { own: [{ key: field.key, value: to }] },
        );
      if (value === undefined) {
        if (field.optional) continue;
        const guess = known(field.key, piece, base.rendition.pieces[piece.base ?? 0]!, field);
        const offers =
          guess === null ? (field.choices ?? choices[field.key] ?? []).slice(0, 4) : [guess];
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
      const fault = faultOf(value, field);
      const fitted = fit(value, field);
      const mends = fitted === null ? {} : { mends: [set(fitted)] };
      if (fault !== null)
        report({
          code: 'metadata-kind',
          ...about,
          data: { field: words, value, fault },
          ...(field.choices
            ? { mends: field.choices.slice(0, 4).map(set) }
            : fitted !== null && faultOf(fitted, field) === null
              ? mends
              : { noMend: `Give another ${words} with the step “Metadata”.` }),
        });
      const length = [...value].length;
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
