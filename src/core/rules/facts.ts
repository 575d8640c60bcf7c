import { isIn, textOf } from '../score/score';
import { META, META_COPYRIGHT, META_TRACK_NAME } from '../smf/file';
import { stemOf } from '../smf/name';
import { toAscii } from '../smf/text';
import { captions as captionStep, metadata as metadataStep, wrap } from '../steps/facts';
import { turnInTime } from '../steps/advances';
import type { MetadataKey, Piece } from '../score/piece';
import type { Target } from '../target/schema';
import { count, plain } from '../target/words';
import { bpmOf } from '../time/tempo-map';
import { defineRule, mend, Places, spanAt } from './define-rule';

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
function known(key: MetadataKey, { score, delivery }: Piece, field: Field): string | null {
  if (key === 'bpm') {
    const us = score.conductor.tempos.find((t) => t.tick === 0)?.microsecondsPerQuarter ?? 500_000;
    return String(Math.round(bpmOf(us) * 1000) / 1000);
  }
  const texts = score.tracks.flatMap((t) => t.events.filter((e) => e.status === META));
  if (key === 'maker') {
    const found = texts.find((e) => e.type === META_COPYRIGHT);
    return found ? fit(textOf(found).replace(/^(©|\(c\))?\s*\d*\s*/i, ''), field) : null;
  }
  if (key === 'title' || key === 'displayName') {
    const stem = stemOf(delivery.fileName).replace(/[_-]+/g, ' ');
    const named = score.tracks[0]?.events.find((e) => e.type === META_TRACK_NAME);
    const lone = named && !score.parts.some((p) => p.track === 0 && p.notes.count > 0);
    const from = lone ? textOf(named) : stem;
    return fit(from, field) ?? fit(stem, field);
  }
  return null;
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
  block: 'metadata',
  phase: 'naming',
  codes: {
    'metadata-missing': {
      title: 'Something is not told',
      wrong: (f) => `No ${f['field']} is given.`,
      then: (_, w) => `${w.Target} asks for it and does not show a song without.`,
    },
    'metadata-long': {
      title: 'Too long to show',
      wrong: (f) => `The ${f['field']} “${f['value']}” has ${f['length']} characters.`,
      then: (f, w) => `${w.Target} shows ${f['most']}.`,
    },
    'metadata-letters': {
      title: 'Letters it cannot show',
      wrong: (f) => `The ${f['field']} “${f['value']}” holds ${f['outside']}.`,
      then: (_, w) => `${w.Target} shows a blank there, or refuses the song.`,
    },
  },
  check({ block, target, piece, report }) {
    const choices: Readonly<Partial<Record<MetadataKey, readonly string[]>>> = {
      frameRate: target.frames?.perSecond.map(String) ?? [],
      ending: target.frames?.endings ?? [],
      kit: target.kits?.map((k) => k.id) ?? [],
    };
    for (const field of block.required) {
      const value = piece.delivery.metadata?.[field.key];
      const words = FIELD_WORDS[field.key] ?? field.key;
      const base = { cause: field.key, allowed: { ...field } };
      const set = (to: string) =>
        mend(`Use “${to}” as the ${words}`, metadataStep, { [field.key]: to });
      if (value === undefined) {
        const guess = known(field.key, piece, field);
        const offers = guess === null ? (choices[field.key] ?? []).slice(0, 4) : [guess];
        report({
          code: 'metadata-missing',
          ...base,
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
          ...base,
          data: { field: words, value, length, most: field.longest },
          measured: { value: length, unit: 'characters' },
          ...mends,
        });
      const outside = lettersOutside(field.letters);
      const odd = outside ? [...new Set(value.match(outside) ?? [])] : [];
      if (odd.length > 0)
        report({
          code: 'metadata-letters',
          ...base,
          data: { field: words, value, outside: odd.slice(0, 8).join(' ') },
          measured: { value: odd.length, unit: 'letters' },
          ...(fitted === null ? { noMend: 'Give another with the step “Metadata”.' } : mends),
        });
    }
  },
});

export const captionRule = defineRule({
  id: 'captions',
  summary: 'One advance for each caption, in time for its word, and captions that fit the display.',
  block: 'captions',
  phase: 'events',
  codes: {
    'captions-none': {
      title: 'No captions',
      wrong: (f) => `There are ${f['notes']} and no captions.`,
      then: (_, w) => `${w.Target} turns through empty pages.`,
    },
    'captions-count': {
      title: 'Advances and captions do not agree',
      wrong: (f) => `There are ${f['captions']} and ${f['notes']}.`,
      then: (_, w) =>
        `${w.Target} turns one caption at each advance: from the first that is missing on it shows the wrong one.`,
    },
    'caption-large': {
      title: 'Captions too large',
      wrong: (f) =>
        `${f['countText']} more than ${f['lines']} lines of ${f['line']} characters, such as “${f['sample']}”.`,
      then: (_, w) => `${w.Target} cuts what does not fit.`,
    },
    'caption-lead': {
      title: 'Turned at the wrong moment',
      wrong: (f) => `${f['countText']} turned ${f['worst']}.`,
      then: (f, w) =>
        `${w.Target} needs each ${f['lowest']} to ${f['highest']} ms before its first word.`,
    },
  },
  check({ block, piece, maps, report }) {
    const list = piece.captions ?? [];
    const starts: { tick: number; part: number; index: number }[] = [];
    const parts = piece.score.parts.filter(isIn);
    parts.forEach((part, p) => {
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.noteNumber[i] === block.noteNumber)
          starts.push({ tick: part.notes.start[i]!, part: p, index: i });
    });
    starts.sort((a, b) => a.tick - b.tick);
    const notes = `${count(starts.length, 'advance')}`;
    if (list.length === 0) {
      if (starts.length === 0) return;
      const lyrics = piece.score.tracks.some((t) =>
        t.events.some((e) => e.status === META && e.type === 5),
      );
      const marks = piece.score.conductor.markers.length > 0;
      const from = lyrics ? 'lyrics' : marks ? 'markers' : null;
      report({
        code: 'captions-none',
        data: { notes },
        measured: { value: 0, unit: 'captions' },
        ...(from
          ? {
              mends: [
                mend(`Make them from the ${from}`, captionStep, {
                  from,
                  longestLine: block.longestLine,
                }),
              ],
            }
          : { noMend: 'Paste them as a list in the step “Captions”.' }),
      });
      return;
    }
    if (list.length !== starts.length)
      report({
        code: 'captions-count',
        data: { captions: count(list.length, 'caption'), notes },
        measured: { value: starts.length, unit: 'advances' },
        allowed: { advances: list.length },
        noMend: 'Add or leave out advances, or edit the captions.',
      });
    const large = list.filter((c) => {
      const rows = c.text.split('\n');
      return rows.length > block.mostLines || rows.some((r) => [...r].length > block.longestLine);
    });
    if (large.length > 0) {
      const wrapped = large.every((c) => {
        const rows = wrap(c.text.replace(/\n/g, ' '), block.longestLine).split('\n');
        return (
          rows.length <= block.mostLines && rows.every((r) => [...r].length <= block.longestLine)
        );
      });
      report({
        code: 'caption-large',
        spans: large.slice(0, 200).map((c) => spanAt(c.tick)),
        data: {
          countText: large.length === 1 ? 'One caption has' : `${large.length} captions have`,
          lines: block.mostLines,
          line: block.longestLine,
          sample: [...large[0]!.text].slice(0, 40).join(''),
        },
        measured: { value: large.length, unit: 'captions' },
        allowed: { mostLines: block.mostLines, longestLine: block.longestLine },
        ...(wrapped
          ? {
              mends: [
                mend('Break them at words', captionStep, {
                  from: 'present' as const,
                  longestLine: block.longestLine,
                }),
              ],
            }
          : { noMend: 'Part them into more captions, each with an advance of its own.' }),
      });
    }
    if (list.length !== starts.length) return;
    const { leadLeastMs = 0, leadMostMs = Infinity } = block;
    const places = new Places();
    let worst = 0;
    let distance = 0;
    list.forEach((caption, k) => {
      const note = starts[k]!;
      const lead = maps.clock.msAt(caption.tick) - maps.clock.msAt(note.tick);
      const off = lead < leadLeastMs ? leadLeastMs - lead : lead - leadMostMs;
      if (off <= 1e-6) return;
      places.add(parts[note.part]!, note.index);
      if (off > distance) [distance, worst] = [off, lead];
    });
    if (places.count === 0) return;
    report({
      code: 'caption-lead',
      ...places.found,
      data: {
        countText: places.count === 1 ? 'One caption is' : `${places.count} captions are`,
        worst:
          worst < 0
            ? `up to ${plain(-worst)} ms after the word`
            : `up to ${plain(worst)} ms before the word`,
        lowest: plain(leadLeastMs),
        highest: plain(leadMostMs),
      },
      measured: { value: Math.round(worst * 1000) / 1000, unit: 'ms' },
      allowed: { leadLeastMs, leadMostMs },
      mends: [
        mend('Turn each of them in time', turnInTime, {
          noteNumber: block.noteNumber,
          leadLeastMs,
          ...(Number.isFinite(leadMostMs) ? { leadMostMs } : {}),
        }),
      ],
    });
  },
});

export const strandNames = defineRule({
  id: 'strand-names',
  summary: 'Strands with names of their own, that the game listens for.',
  block: 'strands',
  phase: 'seating',
  codes: {
    'strand-unknown': {
      title: 'Nobody listens for it',
      wrong: (f) => `“${f['name']}” is none of the names that are listened for.`,
      then: (f, w) => `${w.Target} listens for ${f['names']} and passes over the rest.`,
    },
    'strand-twice': {
      title: 'Two strands of one name',
      wrong: (f) => `${f['times']} parts are named “${f['name']}”.`,
      then: (_, w) => `${w.Target} keeps the last of them.`,
    },
  },
  check({ block, piece, report }) {
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const times = new Map<string, number>();
    for (const p of parts) times.set(p.name, (times.get(p.name) ?? 0) + 1);
    for (const [name, n] of times) {
      if (n < 2) continue;
      report({
        code: 'strand-twice',
        cause: name,
        data: { name, times: n },
        measured: { value: n, unit: 'parts' },
        noMend: 'Join them with the step “Join parts”, or leave one out.',
      });
    }
    if (!block.names) return;
    const listened = new Set(block.names);
    for (const part of parts) {
      if (listened.has(part.name)) continue;
      report({
        code: 'strand-unknown',
        part,
        spans: [spanAt(part.notes.start[0]!)],
        data: { name: part.name, names: block.names.slice(0, 6).join(', ') },
        allowed: { names: block.names },
        noMend: 'Rename the track in the source, or add the name to the target.',
      });
    }
  },
});
