import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { META_LYRIC, META_TEXT } from '../../../demo/song';
import { deliver } from '../../../testing/rehearsing';
import { smf, sourceFromBytes, Track } from '../../../testing/score-builder';
import type { Target } from '../target/schema';
import { builtInTargets } from '../target/index';
import { rehearsalOf } from '../handover/rehearsal';

/** More are tried with `LAW_RUNS=1000`. */
const RUNS = Number(process.env['LAW_RUNS'] ?? 12);

/** Words as they stand in files and fields of strangers. */
const words = fc.oneof(
  fc.constantFrom(
    '',
    ' ',
    '\n',
    'two\nlines',
    'a\r\nb',
    'tab\there',
    'nul\u0000',
    '=1+1',
    '-->',
    '<b>&amp;</b>',
    '"quoted", with a comma',
    "'apostrophe",
    'NOTE WEBVTT',
    '../../up',
    'C:\\tide',
    '🏮 lantern',
    '\ufeffmark',
    'ﬁ ligature',
    '\ud800',
    'x'.repeat(300),
  ),
  fc.string({ maxLength: 30, unit: 'binary' }),
);
const numbers = fc.constantFrom(
  '',
  '0',
  '-0',
  '-3',
  '1.5',
  '25',
  '120',
  ' 96 ',
  '1e3',
  '1e300',
  '0x10',
  '99999999999',
  '0.0000001',
);
const told = fc.record(
  {
    title: words,
    maker: words,
    displayName: words,
    kit: words,
    ending: words,
    sound: words,
    bpm: numbers,
    frameRate: numbers,
    frameShift: numbers,
    soundMs: numbers,
    rowsPerSecond: numbers,
  },
  { requiredKeys: [] },
);
const step = (key: string, id: string, params: unknown) => ({
  key,
  step: id,
  params,
  scope: {},
  on: true,
});

/** A song that sits where the target listens, with strange words everywhere. */
function songOf(target: Target, [track, marker, second, lyric, text]: readonly string[]) {
  const seat = target.seats.find((s) => s.kind !== 'file');
  const channel = seat && 'channel' in seat ? seat.channel : 1;
  const name = seat && 'track' in seat && seat.track ? seat.track : track!;
  const lowest = target.notes?.only?.[0] ?? target.notes?.lowest ?? seat?.accepts?.lowest ?? 60;
  const key = seat?.kind === 'laneGroup' ? seat.laneNotes[0]! : lowest;
  const bytes = (t: string) => new TextEncoder().encode(t);
  const notes = new Track(name)
    .note(channel, 3840, 240, key, 90)
    .note(channel, 5760, 240, key, 60)
    .meta(3840, META_LYRIC, bytes(lyric!))
    .meta(5760, META_LYRIC, bytes(`${lyric!} again`))
    .meta(5760, META_TEXT, bytes(text!));
  const head = new Track().tempo(0, 120).meter(0, 4, 4).marker(0, marker!).marker(3840, second!);
  return sourceFromBytes(smf(1, 480, [head, notes], 7680), 'odd.mid');
}

describe('what no rule has foretold, no device complains of', () => {
  for (const target of builtInTargets)
    it(`${target.id}: whatever the words are`, () => {
      fc.assert(
        fc.property(
          fc.array(words, { minLength: 5, maxLength: 5 }),
          told,
          words,
          fc.constantFrom('lyrics' as const, 'markers' as const, 'list' as const, null),
          fc.array(words, { minLength: 1, maxLength: 2 }),
          (texts, metadata, file, from, lines) => {
            const steps = [
              step('m', 'metadata', metadata),
              step('n', 'name-file', { name: file }),
              ...(from === null
                ? []
                : [step('c', 'captions', { from, ...(from === 'list' ? { lines } : {}) })]),
            ];
            const { rendition, findings, files } = deliver(songOf(target, texts), target, {
              steps,
            });
            const { unexplained } = rehearsalOf(files, rendition, target, findings);
            expect(unexplained).toEqual([]);
            for (const f of files)
              expect(f.path).toMatch(/^(?!\/)(?!.*(^|\/)\.\.(\/|$))[^\u0000-\u001f\\]+$/u);
          },
        ),
        { numRuns: RUNS },
      );
    });
});
