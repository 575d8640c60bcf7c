import { META, META_TRACK_NAME } from '../../smf/file';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { isTextMeta } from '../../score/inventory';
import { markers as markerStep } from '../../steps/delivery';
import { spansOf } from './spans';
import { writtenEvents } from './written';
import { strip } from '../../steps/strip';
import { textOf, type TrackEvent } from '../../score/score';

const sayKept = (most: number) =>
  most === 0 ? 'Take the names out' : most === 1 ? 'Keep the first name' : `Keep the first ${most}`;

export const text = defineRule({
  id: 'text',
  summary: 'Track names, markers and other text that the target accepts.',
  story: {
    why: 'Names, lyrics and remarks travel in the file whether or not the device can read them.',
    mends: 'They are taken out, shortened at a word, or spelt in plain ASCII; what goes is listed.',
  },
  block: 'text',
  phase: 'events',
  codes: {
    'track-names': says<{ names: number; most: number }>({
      title: 'Too many track names',
      wrong: (f) =>
        f.names === 1 ? 'There is a track name.' : `There are ${f.names} track names.`,
      then: (f, w) =>
        f.most === 0
          ? `${w.Target} reads no names and may stop at one.`
          : `${w.Target} reads ${f.most === 1 ? 'one' : f.most} and may stop at the next.`,
    }),
    markers: says<{ countText: string; one: number; beside?: string }>({
      title: 'Markers not supported',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText}.`,
      then: (f, w) =>
        f.beside
          ? `${w.Target} reads “${f.beside}” and may stop at any other.`
          : `${w.Target} reads no markers and may stop at one.`,
    }),
    'other-text': says<{ countText: string; one: number; sample: string }>({
      title: 'Text events not supported',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText}, such as “${f.sample}”.`,
      then: (_, w) => `${w.Target} reads no text beside a track name and may stop at it.`,
    }),
    'marker-long': says<{ countText: string; one: number; most: number; sample: string }>({
      title: 'Markers too long to show',
      named: (f) => `${f.countText} over ${f.most} characters`,
      wrong: (f) =>
        `${f.countText} ${f.one ? 'is' : 'are'} longer than ${f.most} characters, such as “${f.sample}”.`,
      then: (f, w) => `${w.Target} shows ${f.most} characters and cuts the rest.`,
    }),
    'marker-letters': says<{ countText: string; one: number; sample: string }>({
      title: 'Markers with letters that cannot be shown',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'holds' : 'hold'} letters outside plain ASCII, such as “${f.sample}”.`,
      then: (_, w) => `${w.Target} shows a blank for each of them.`,
    }),
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
        mends: [mend('Remove the text events', strip, { kinds: ['text'] })],
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
          mend('Remove the other markers', strip, {
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
        mends: [mend('Spell markers in plain letters', markerStep, { transliterate: true })],
      });
  },
});

const sampleOf = (event: TrackEvent): string => {
  const shown = textOf(event).trim();
  return shown.length > 40 ? `${shown.slice(0, 40)}…` : shown;
};
