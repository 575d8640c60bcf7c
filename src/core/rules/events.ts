import { isKnownMeta, isTextMeta } from '../score/inventory';
import { layoutOf } from '../score/layout';
import { isIn, textOf, type Part, type TrackEvent } from '../score/score';
import { META, META_TRACK_NAME } from '../smf/file';
import { markers as markerStep } from '../steps/delivery';
import { repeatsOf } from '../reading/news';
import { dropDuplicates, strip } from '../steps/strip';
import { count } from '../target/words';
import type { Span } from '../diagnostic/finding';
import type { Piece } from '../score/piece';
import { defineRule, mend, spanAt } from './define-rule';

interface Gathered {
  total: number;
  ticks: number[];
  numbers: Set<number>;
}

function gather(
  parts: readonly Part[],
  wanted: (kind: number, data1: number) => boolean,
): Gathered {
  const out: Gathered = { total: 0, ticks: [], numbers: new Set() };
  for (const part of parts) {
    if (!isIn(part)) continue;
    const { kind, data1, tick, count: n } = part.events;
    for (let i = 0; i < n; i++) {
      if (!wanted(kind[i]!, data1[i]!)) continue;
      out.total++;
      out.ticks.push(tick[i]!);
      out.numbers.add(data1[i]!);
    }
  }
  return out;
}

/** Distinct places, at most as many as can be shown. */
const MOST_SPANS = 500;
const spansOf = (ticks: readonly number[]): Span[] =>
  [...new Set(ticks)]
    .sort((a, b) => a - b)
    .slice(0, MOST_SPANS)
    .map(spanAt);

export const channelEvents = defineRule({
  id: 'channel-events',
  summary: 'Controllers, programs, bends and aftertouch that the target accepts.',
  block: 'events',
  reads: ['controllers', 'controllersWithout', 'bends', 'aftertouch', 'programs'],
  phase: 'events',
  codes: {
    controllers: {
      title: 'Controllers',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']} (${f['numbers']}).`,
      then: (f, w) =>
        f['some']
          ? `${w.Target} keeps these for the player's own hands, and the two fight.`
          : `${w.Target} has no controllers and may stop at the first one.`,
    },
    programs: {
      title: 'Program changes',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']}.`,
      then: (_, w) => `${w.Target} has one sound and may stop at a program change.`,
    },
    bends: {
      title: 'Pitch bends',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']}.`,
      then: (_, w) => `${w.Target} cannot bend and may stop at one.`,
    },
    aftertouch: {
      title: 'Aftertouch',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']}.`,
      then: (_, w) => `${w.Target} knows no aftertouch and may stop at it.`,
    },
  },
  check({ block, piece, report }) {
    const { parts } = piece.score;
    const { controllers, controllersWithout } = block;
    const allowed = Array.isArray(controllers) ? new Set(controllers) : null;
    const without = controllersWithout && new Set(controllersWithout);
    if ((controllers !== undefined && controllers !== 'any') || without) {
      const all = controllers === undefined || controllers === 'any';
      const found = gather(
        parts,
        (kind, number) =>
          kind === 0xb0 && ((!all && !allowed?.has(number)) || without?.has(number) === true),
      );
      const numbers = [...found.numbers].sort((a, b) => a - b);
      if (found.total > 0)
        report({
          code: 'controllers',
          spans: spansOf(found.ticks),
          data: {
            countText: count(found.total, 'controller event'),
            one: found.total === 1 ? 1 : 0,
            numbers: numbers.slice(0, 8).join(', '),
            some: without ? 1 : 0,
          },
          measured: { value: found.total, unit: 'controller events' },
          allowed: without ? { controllersWithout } : { controllers },
          mends: [
            mend('Take them out', strip, {
              kinds: ['controllers'],
              ...(allowed || without ? { controllers: numbers } : {}),
            }),
          ],
        });
    }
    const none = (
      code: 'programs' | 'bends' | 'aftertouch',
      accepted: string | undefined,
      kinds: readonly number[],
      word: string,
    ) => {
      if (accepted !== 'none') return;
      const found = gather(parts, (kind) => kinds.includes(kind));
      if (found.total === 0) return;
      report({
        code,
        spans: spansOf(found.ticks),
        data: { countText: count(found.total, word), one: found.total === 1 ? 1 : 0 },
        measured: { value: found.total, unit: code },
        allowed: { [code]: 'none' },
        mends: [mend('Take them out', strip, { kinds: [code] })],
      });
    };
    none('programs', block.programs, [0xc0], 'program change');
    none('bends', block.bends, [0xe0], 'pitch bend');
    none('aftertouch', block.aftertouch, [0xa0, 0xd0], 'aftertouch event');
  },
});

/** Meta and sysex events of the tracks that will be written. */
function writtenEvents(piece: Piece) {
  const tracks = new Set(layoutOf(piece).flatMap((t) => t.tracks));
  return piece.score.tracks.flatMap((track, i) => (tracks.has(i) ? track.events : []));
}

export const systemEvents = defineRule({
  id: 'system-events',
  summary: 'Sysex and unknown meta events.',
  block: 'events',
  reads: ['sysex', 'unknownMeta'],
  phase: 'events',
  codes: {
    sysex: {
      title: 'System exclusive data',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']}.`,
      then: (_, w) => `${w.Target} cannot read another device's data and may stop at it.`,
    },
    'unknown-meta': {
      title: 'Unknown meta events',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']}.`,
      then: (_, w) => `${w.Target} does not know them and may stop there.`,
    },
  },
  check({ block, piece, report }) {
    const events = writtenEvents(piece);
    const found = [
      ['sysex', block.sysex, events.filter((e) => e.status !== META), 'sysex event'],
      [
        'unknown-meta',
        block.unknownMeta,
        events.filter((e) => e.status === META && !isKnownMeta(e.type) && !isTextMeta(e.type)),
        'unknown meta event',
      ],
    ] as const;
    for (const [code, accepted, list, word] of found) {
      if (accepted !== 'none' || list.length === 0) continue;
      report({
        code,
        spans: spansOf(list.map((e) => e.tick)),
        data: { countText: count(list.length, word), one: list.length === 1 ? 1 : 0 },
        measured: { value: list.length, unit: `${word}s` },
        allowed: { [code]: 'none' },
        mends: [
          mend('Take them out', strip, { kinds: [code === 'sysex' ? 'sysex' : 'unknown meta'] }),
        ],
      });
    }
  },
});

export const repeatedEvents = defineRule({
  id: 'repeated-events',
  summary: 'Controllers, programs and bends that say again what is already so.',
  block: null,
  phase: 'events',
  codes: {
    repeated: {
      title: 'Said twice',
      wrong: (f) =>
        `${f['countText']} ${f['one'] ? 'repeats' : 'repeat'} the value that is already in force.`,
      then: (_, w) =>
        `It sounds the same, but some readers, ${w.target} perhaps among them, stumble over doubled set-up.`,
    },
  },
  check({ piece, report }) {
    let total = 0;
    const ticks: number[] = [];
    for (const [part, again] of repeatsOf(piece.score))
      for (const i of again) {
        total++;
        ticks.push(part.events.tick[i]!);
      }
    if (total === 0) return;
    report({
      code: 'repeated',
      severity: 'remark',
      spans: spansOf(ticks),
      data: { countText: count(total, 'event'), one: total === 1 ? 1 : 0 },
      measured: { value: total, unit: 'events' },
      mends: [mend('Drop the repeats', dropDuplicates, { notes: false, events: true })],
    });
  },
});

const sayKept = (most: number) =>
  most === 0 ? 'Take the names out' : most === 1 ? 'Keep the first name' : `Keep the first ${most}`;

export const text = defineRule({
  id: 'text',
  summary: 'Track names, markers and other text that the target accepts.',
  block: 'text',
  phase: 'events',
  codes: {
    'track-names': {
      title: 'Too many track names',
      wrong: (f) =>
        f['names'] === 1 ? 'There is a track name.' : `There are ${f['names']} track names.`,
      then: (f, w) =>
        f['most'] === 0
          ? `${w.Target} reads no names and may stop at one.`
          : `${w.Target} reads ${f['most'] === 1 ? 'one' : f['most']} and may stop at the next.`,
    },
    markers: {
      title: 'Markers',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']}.`,
      then: (f, w) =>
        f['beside']
          ? `${w.Target} reads “${f['beside']}” and may stop at any other.`
          : `${w.Target} reads no markers and may stop at one.`,
    },
    'other-text': {
      title: 'Text events',
      wrong: (f) => `There ${f['one'] ? 'is' : 'are'} ${f['countText']}, such as “${f['sample']}”.`,
      then: (_, w) => `${w.Target} reads no text beside a track name and may stop at it.`,
    },
    'marker-long': {
      title: 'Labels too long',
      wrong: (f) =>
        `${f['countText']} ${f['one'] ? 'is' : 'are'} longer than ${f['most']} characters, such as “${f['sample']}”.`,
      then: (f, w) => `${w.Target} shows ${f['most']} characters and cuts the rest.`,
    },
    'marker-letters': {
      title: 'Letters it cannot show',
      wrong: (f) =>
        `${f['countText']} ${f['one'] ? 'holds' : 'hold'} letters outside plain ASCII, such as “${f['sample']}”.`,
      then: (_, w) => `${w.Target} shows a blank for each of them.`,
    },
  },
  check({ block, piece, target, report }) {
    const texts = writtenEvents(piece).filter((e) => e.status === META && isTextMeta(e.type));
    const names = texts.filter((e) => e.type === META_TRACK_NAME);
    const others = texts.filter((e) => e.type !== META_TRACK_NAME);
    const marks = piece.score.conductor.markers;
    const most = block.mostTrackNames;
    if (most !== undefined && names.length > most)
      report({
        code: 'track-names',
        spans: spansOf(names.map((e) => e.tick)),
        data: { names: names.length, most },
        measured: { value: names.length, unit: 'track names' },
        allowed: { mostTrackNames: most },
        mends: [
          mend(sayKept(most), strip, {
            kinds: ['track names'],
            keepNames: most,
          }),
        ],
      });
    if (block.others === 'none' && others.length > 0)
      report({
        code: 'other-text',
        spans: spansOf(others.map((e) => e.tick)),
        data: {
          countText: count(others.length, 'text event'),
          one: others.length === 1 ? 1 : 0,
          sample: sampleOf(others[0]!),
        },
        measured: { value: others.length, unit: 'text events' },
        allowed: { others: 'none' },
        mends: [mend('Take the text out', strip, { kinds: ['text'] })],
      });
    const label = target.end?.loopMarker;
    const extra = block.markers === 'loop-marker' ? marks.filter((m) => m.text !== label) : [];
    if (extra.length > 0)
      report({
        code: 'markers',
        cause: 'beside-the-loop',
        spans: spansOf(extra.map((m) => m.tick)),
        data: {
          countText: count(extra.length, 'marker'),
          one: extra.length === 1 ? 1 : 0,
          beside: label ?? '',
        },
        measured: { value: extra.length, unit: 'markers' },
        allowed: { markers: label },
        mends: [
          mend('Take the others out', strip, {
            kinds: ['markers'],
            ...(label === undefined ? {} : { keepMarker: label }),
          }),
        ],
      });
    if (block.markers === 'none') {
      if (marks.length > 0)
        report({
          code: 'markers',
          spans: spansOf(marks.map((m) => m.tick)),
          data: { countText: count(marks.length, 'marker'), one: marks.length === 1 ? 1 : 0 },
          measured: { value: marks.length, unit: 'markers' },
          allowed: { markers: 'none' },
          mends: [mend('Take the markers out', strip, { kinds: ['markers'] })],
        });
      return;
    }
    const longest = block.longestMarker;
    const long = longest === undefined ? [] : marks.filter((m) => [...m.text].length > longest);
    if (longest !== undefined && long.length > 0)
      report({
        code: 'marker-long',
        spans: spansOf(long.map((m) => m.tick)),
        data: {
          countText: count(long.length, 'marker label'),
          one: long.length === 1 ? 1 : 0,
          most: longest,
          sample: long[0]!.text,
        },
        measured: {
          value: long.reduce((most, m) => Math.max(most, [...m.text].length), 0),
          unit: 'characters',
        },
        allowed: { longestMarker: longest },
        mends: [mend(`Shorten them to ${longest} characters`, markerStep, { longest })],
      });
    const foreign =
      block.markerLetters === 'printable-ascii'
        ? marks.filter((m) => !/^[ -~]*$/.test(m.text))
        : [];
    if (foreign.length > 0)
      report({
        code: 'marker-letters',
        spans: spansOf(foreign.map((m) => m.tick)),
        data: {
          countText: count(foreign.length, 'marker label'),
          one: foreign.length === 1 ? 1 : 0,
          sample: foreign[0]!.text,
        },
        allowed: { markerLetters: 'printable-ascii' },
        mends: [mend('Spell them in plain letters', markerStep, { transliterate: true })],
      });
  },
});

const sampleOf = (event: TrackEvent): string => {
  const shown = textOf(event).trim();
  return shown.length > 40 ? `${shown.slice(0, 40)}…` : shown;
};
