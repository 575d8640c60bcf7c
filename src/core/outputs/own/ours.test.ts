import { describe, expect, it } from 'vitest';
import { week } from '../../../../demo/week';
import { builtIn, renditionOf, weekSource } from '../../../../testing/score-builder';
import type { Piece } from '../../score/piece';
import { frameRateOf } from '../../reading/frames';
import { strandOf, strandParts } from '../../reading/strands';
import { noteName } from '../../target/words';
import type { Target } from '../../target/schema';
import { CHART_VERSION } from '../../formats/chart';
import { doubtsOf } from '../../formats/own/doubts';
import { interpret } from '../../formats/own/interpret';
import { readFormat } from '../../formats/own/read';
import { FormatSchema, type Value } from '../../formats/own/schema';
import { rowRateOf } from '../../reading/rows';
import { mapsOf } from '../../score/inventory';
import { decodeUtf8 } from '../../smf/text';
import { findWriter } from '../index';
import { writeFormat } from './write';

const start = (more: object): Value => ({ is: 'time', of: 'start', unit: 'ms', ...more });

const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** Our time list, said in the language that everybody has for a format of their own. */
const timeList = (lowest: number) =>
  FormatSchema.parse({
    formatVersion: 1,
    id: 'time-list',
    name: 'Time list',
    files: [
      {
        path: '{file}-times.csv',
        lineEnd: 'crlf',
        container: {
          kind: 'table',
          rows: { of: 'notes' },
          columns: [
            { name: 'number', value: { is: 'row-number', first: 1 } },
            { name: 'cue', value: { is: 'key', as: 'number', from: Math.max(0, lowest - 1) } },
            { name: 'note', value: { is: 'key', as: 'number' } },
            { name: 'name', value: { is: 'key', as: 'name', names: NAMES } },
            {
              name: 'place',
              value: {
                is: 'joined',
                parts: [
                  start({ unit: 'bar' }),
                  '.',
                  start({ unit: 'beat' }),
                  '+',
                  start({ unit: 'tick-of-beat', ppq: 480 }),
                ],
              },
            },
            {
              name: 'clock',
              value: {
                is: 'joined',
                parts: [
                  start({ unit: 'minutes' }),
                  ':',
                  start({ unit: 'seconds', from: 'minute', decimals: 3, digits: 2 }),
                ],
              },
            },
            { name: 'ms', value: start({ decimals: 3, trim: true }) },
            {
              name: 'length ms',
              value: { is: 'time', of: 'length', unit: 'ms', decimals: 3, trim: true },
            },
            { name: 'marker', value: { is: 'marker' } },
            { name: 'part', value: { is: 'part', as: 'name' } },
            { name: 'caption', value: { is: 'constant', value: '' } },
          ],
        },
      },
    ],
  });

describe('our own formats, described as anybody describes theirs', () => {
  const rail = builtIn('lantern-rail');
  const format = timeList(rail.notes!.lowest!);
  it('leaves no doubt', () => expect(doubtsOf(format)).toEqual([]));
  const jobs = week.filter((j) => !['demo-torn-page', 'demo-sing-along'].includes(j.id));
  for (const job of jobs)
    it(`the time list of ${job.id} is the same byte for byte`, () => {
      const source = weekSource(job);
      // Ticks of the beat stand at the PPQ of the piece: the week is at 480.
      if (source.score.division.kind !== 'ppq' || source.score.division.ticksPerQuarter !== 480)
        return;
      const rendition = renditionOf(source, rail);
      const [ours] = findWriter('time-list')!.write(rendition, {}, rail, null).files;
      const [own] = writeFormat(format, rendition.pieces, rail).files;
      expect(decodeUtf8(own!.bytes)).toBe(decodeUtf8(ours!.bytes));
      const read = readFormat(format.files[0]!, ours!.bytes);
      expect(read.problem).toBeUndefined();
    });
});

/** The hole list of the strip organ: a row of the strip a line, its pipes in a cell for each rank. */
const holeList = (rate: number, pipes: readonly number[]) => {
  const rank = (seat: string): Value => ({
    is: 'list',
    each: { of: 'notes', seats: [seat], keys: [...pipes], order: ['key'], once: true },
    between: ' | ',
    parts: [{ is: 'key', as: 'name', names: NAMES }, ' ', { is: 'key', as: 'number' }],
  });
  return FormatSchema.parse({
    formatVersion: 1,
    id: 'hole-list',
    name: 'Hole list',
    files: [
      {
        path: '{file}-holes.csv',
        lineEnd: 'crlf',
        container: {
          kind: 'table',
          rows: { of: 'frames', rate, seats: ['front', 'rear'], keys: [...pipes] },
          columns: [
            { name: 'row', value: start({ unit: 'frames', rate }) },
            { name: 'seconds', value: start({ unit: 'seconds', decimals: 6 }) },
            { name: 'front', value: rank('front') },
            { name: 'rear', value: rank('rear') },
          ],
        },
      },
    ],
  });
};
describe('the hole list', () => {
  const organ = builtIn('strip-organ');
  it('leaves no doubt', () => expect(doubtsOf(holeList(8, organ.notes!.only!))).toEqual([]));
  for (const job of week.filter((j) => !['demo-torn-page', 'demo-sing-along'].includes(j.id)))
    it(`of ${job.id} is the same byte for byte`, () => {
      const rendition = renditionOf(weekSource(job), organ);
      const [piece] = rendition.pieces;
      const format = holeList(
        rowRateOf(piece!, mapsOf(piece!.score), organ.grid) ?? 8,
        organ.notes!.only!,
      );
      const [ours] = findWriter('hole-list')!.write(rendition, {}, organ, null).files;
      const [own] = writeFormat(format, rendition.pieces, organ).files;
      expect(decodeUtf8(own!.bytes)).toBe(decodeUtf8(ours!.bytes));
      expect(readFormat(format.files[0]!, ours!.bytes).problem).toBeUndefined();
    });
});

/** The tempo map: a row wherever tempo, meter, key or marker change. */
const tempoMap = FormatSchema.parse({
  formatVersion: 1,
  id: 'tempo-map',
  name: 'Tempo map',
  files: [
    {
      path: '{file}-tempo-map.csv',
      lineEnd: 'crlf',
      container: {
        kind: 'table',
        rows: { of: 'changes' },
        columns: [
          { name: 'tick', value: start({ unit: 'ticks', ppq: 480 }) },
          { name: 'bar', value: start({ unit: 'bar' }) },
          { name: 'beat', value: start({ unit: 'beat' }) },
          { name: 'seconds', value: start({ unit: 'seconds', decimals: 6 }) },
          { name: 'bpm', value: { is: 'bpm', decimals: 6, trim: true } },
          {
            name: 'meter',
            value: { is: 'joined', parts: [{ is: 'numerator' }, '/', { is: 'denominator' }] },
          },
          { name: 'key', value: { is: 'signature' } },
          { name: 'marker', value: { is: 'text' } },
        ],
      },
    },
  ],
});
describe('the tempo map', () => {
  const carrier = builtIn('tempo-carrier');
  it('leaves no doubt', () => expect(doubtsOf(tempoMap)).toEqual([]));
  for (const job of week.filter((j) => !['demo-torn-page', 'demo-sing-along'].includes(j.id)))
    it(`of ${job.id} is the same byte for byte, and reads back`, () => {
      const source = weekSource(job);
      if (source.score.division.kind !== 'ppq' || source.score.division.ticksPerQuarter !== 480)
        return;
      const rendition = renditionOf(source, carrier);
      const [ours] = findWriter('tempo-map')!.write(rendition, {}, carrier, null).files;
      const [own] = writeFormat(tempoMap, rendition.pieces, carrier).files;
      expect(decodeUtf8(own!.bytes)).toBe(decodeUtf8(ours!.bytes));
      const read = readFormat(tempoMap.files[0]!, ours!.bytes);
      expect(read.problem).toBeUndefined();
      const { tempos, meters, markers } = rendition.pieces[0]!.score.conductor;
      const told = interpret(read.file!, carrier);
      expect(told.tempos.map((t) => Math.round(t.microsecondsPerQuarter))).toEqual(
        tempos.map((t) => t.microsecondsPerQuarter),
      );
      expect(told.meters.map((m) => [m.numerator, m.denominator])).toEqual(
        meters.map((m) => [m.numerator, m.denominator]),
      );
      expect(told.markers.map((m) => m.text)).toEqual(markers.map((m) => m.text));
    });
});

const WEEK = week.filter((j) => !['demo-torn-page', 'demo-sing-along'].includes(j.id));
const number = (of: 'start' | 'end' | 'length', unit: string, more: object = {}): Value =>
  ({ is: 'time', of, unit, ...more }) as Value;
const constant = (value: string | number | null): Value => ({ is: 'constant', value });
const fact = (key: string, more: object = {}): Value => ({ is: 'fact', key, ...more });
const node = (value: Value, as?: 'number') => ({ value, ...(as ? { as } : {}) });
const object = (entries: Record<string, unknown>, line?: 'spaced') => ({
  // Ours stand in the order of the alphabet.
  object: Object.entries(entries)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([key, inner]) => ({ key, node: inner })),
  ...(line ? { line } : {}),
});
const whole = { kind: 'number' };

/** The table of frames: what changes in which frame, by channel in JSON, all in order in CSV. */
const frameTable = (rate: number, ending: string | null) =>
  FormatSchema.parse({
    formatVersion: 1,
    id: 'frames',
    name: 'Frames',
    files: [
      {
        path: '{file}.frames.json',
        container: {
          kind: 'json',
          indent: 2,
          root: object({
            format: node(constant('frames')),
            version: node(constant(1)),
            rate: node(constant(rate)),
            length: node(fact('lengthSeconds', { ...whole, times: rate })),
            shift: node(constant(0)),
            ending: node(constant(ending)),
            sound: node(constant(null)),
            channels: {
              each: { of: 'channels' },
              node: object({
                channel: node({ is: 'channel' }),
                name: node({ is: 'part', as: 'name' }),
                changes: {
                  each: { of: 'events', rate, order: ['start', 'off-first', 'channel', 'key'] },
                  node: object(
                    {
                      event: node({ is: 'on-off', on: 'on', off: 'off' }),
                      frame: node(number('start', 'frames', { rate })),
                      key: node({ is: 'key', as: 'number' }),
                      velocity: node({
                        is: 'case',
                        cases: [{ when: { on: false }, value: constant(null) }],
                        otherwise: { is: 'velocity' },
                      }),
                    },
                    'spaced',
                  ),
                },
              }),
            },
          }),
        },
      },
      {
        path: '{file}-frames.csv',
        lineEnd: 'crlf',
        container: {
          kind: 'table',
          rows: { of: 'events', rate, order: ['start', 'off-first', 'channel', 'key'] },
          columns: [
            { name: 'frame', value: number('start', 'frames', { rate }) },
            { name: 'seconds', value: number('start', 'seconds', { decimals: 6 }) },
            { name: 'channel', value: { is: 'channel' } },
            { name: 'event', value: { is: 'on-off', on: 'on', off: 'off' } },
            { name: 'key', value: { is: 'key', as: 'number' } },
            {
              name: 'velocity',
              value: {
                is: 'case',
                cases: [{ when: { on: false }, value: constant('') }],
                otherwise: { is: 'velocity' },
              },
            },
          ],
        },
      },
    ],
  });
describe('the table of frames', () => {
  const deck = builtIn('frame-deck');
  for (const job of WEEK)
    it(`of ${job.id} is the same byte for byte, and reads back`, () => {
      const rendition = renditionOf(weekSource(job), deck);
      const [piece] = rendition.pieces;
      const rate = frameRateOf(piece!) ?? deck.frames!.perSecond[0]!;
      const format = frameTable(rate, piece!.delivery.metadata?.ending ?? null);
      expect(doubtsOf(format)).toEqual([]);
      const ours = findWriter('frames')!.write(rendition, {}, deck, null).files;
      const own = writeFormat(format, rendition.pieces, deck).files;
      for (const n of [0, 1]) expect(decodeUtf8(own[n]!.bytes)).toBe(decodeUtf8(ours[n]!.bytes));
      const read = readFormat(format.files[1]!, ours[1]!.bytes);
      expect(read.problem).toBeUndefined();
      const told = interpret(read.file!, deck).notes;
      expect(told.every((n) => n.endUs !== null && n.endUs > n.startUs)).toBe(true);
      expect(told.every((n) => n.velocity !== null)).toBe(true);
    });
});

const tempos = {
  each: { of: 'tempos' },
  node: object({
    tick: node(number('start', 'ticks')),
    atUs: node(number('start', 'us')),
    microsecondsPerQuarter: node({ is: 'us-per-quarter' }),
  }),
};
const sections = {
  each: { of: 'markers' },
  node: object({
    tick: node(number('start', 'ticks')),
    atUs: node(number('start', 'us')),
    name: node({ is: 'text' }),
  }),
};
const ends = {
  endTick: node(fact('lengthTicks', whole)),
  endUs: node(fact('lengthMs', { ...whole, times: 1000 })),
};

/** Strands of cues: what a cue says depends on the part that it is of. */
function strands(piece: Piece) {
  const chosen = strandParts(piece).map((part) => ({ part, own: strandOf(piece, part) }));
  const spans = chosen.filter(({ own }) => own.kind === 'span').map(({ part }) => part.name);
  const byPart = (parts: string[], value: Value, otherwise: Value): Value =>
    parts.length === 0 ? otherwise : { is: 'case', cases: [{ when: { parts }, value }], otherwise };
  const of = (kind: string) =>
    chosen.filter(({ own }) => own.value === kind).map(({ part }) => part.name);
  const words = Array.from({ length: 128 }, (_, k) => [String(k), noteName(k)]);
  const value = byPart(
    of('note-name'),
    { is: 'key', as: 'word', words: Object.fromEntries(words) },
    byPart(
      of('note-number'),
      { is: 'key', as: 'number' },
      byPart(
        of('velocity'),
        { is: 'velocity' },
        byPart(of('length'), number('length', 'us', { addsUp: true }), constant(null)),
      ),
    ),
  );
  return FormatSchema.parse({
    formatVersion: 1,
    id: 'strands',
    name: 'Strands',
    files: [
      {
        path: '{file}.strands.json',
        container: {
          kind: 'json',
          indent: 2,
          root: object({
            format: node(constant('strands')),
            version: node(constant(1)),
            ppq: node(fact('ppq', whole)),
            tempos,
            ...ends,
            sound: node(constant(null)),
            passages: sections,
            strands: {
              each: { of: 'parts' },
              node: object({
                name: node({ is: 'part', as: 'name' }),
                source: node(constant(piece.delivery.fileName)),
                kind: node(byPart(spans, constant('span'), constant('instant'))),
                value: node({
                  is: 'case',
                  cases: chosen.map(({ part, own }) => ({
                    when: { parts: [part.name] },
                    value: constant(own.value),
                  })),
                  otherwise: constant(null),
                }),
                cues: {
                  each: { of: 'notes' },
                  node: object(
                    {
                      atUs: node(number('start', 'us')),
                      lengthTicks: node(byPart(spans, number('length', 'ticks'), constant(0))),
                      lengthUs: node(
                        byPart(spans, number('length', 'us', { addsUp: true }), constant(0)),
                      ),
                      tick: node(number('start', 'ticks')),
                      value: node(value),
                    },
                    'spaced',
                  ),
                },
              }),
            },
          }),
        },
      },
    ],
  });
}
describe('strands of cues', () => {
  const target = builtIn('cue-ledger');
  for (const job of WEEK)
    it(`of ${job.id} are the same byte for byte, and read back`, () => {
      const plain = renditionOf(weekSource(job), target);
      // Each part says something else.
      const says = ['velocity', 'note-name', 'length', 'none', 'note-number'] as const;
      const piece: Piece = {
        ...plain.pieces[0]!,
        strands: strandParts(plain.pieces[0]!).map(({ id, name }) => ({
          part: id,
          name,
          kind: name.length % 2 === 0 ? 'span' : 'instant',
          value: says[name.length % says.length]!,
        })),
      };
      const rendition = { ...plain, pieces: [piece] };
      const format = strands(piece);
      expect(doubtsOf(format)).toEqual([]);
      const [ours] = findWriter('strands')!.write(rendition, {}, target, null).files;
      const [own] = writeFormat(format, rendition.pieces, target).files;
      expect(decodeUtf8(own!.bytes)).toBe(decodeUtf8(ours!.bytes));
      const read = readFormat(format.files[0]!, ours!.bytes);
      expect(read.problem).toBeUndefined();
      // Which number is a velocity and which a key is told by the part above it.
      const told = interpret(read.file!, target);
      for (const choice of strandParts(piece).map((part) => strandOf(piece, part))) {
        const mine = told.notes.filter((n) => n.part === choice.name);
        const all = strandParts(piece).filter((p) => p.name === choice.name);
        expect(mine).toHaveLength(all.reduce((sum, p) => sum + p.notes.count, 0));
        expect(mine.every((n) => (n.velocity !== null) === (choice.value === 'velocity'))).toBe(
          true,
        );
        const keyed = choice.value === 'note-name' || choice.value === 'note-number';
        expect(mine.every((n) => (n.key !== null) === keyed)).toBe(true);
      }
    });
});

/** A chart of lanes: what is struck together, alike in length, velocity and flags, is one strike. */
const chart = (target: Target, piece: Piece) => {
  const lanes = target.seats.filter((s) => s.kind === 'laneGroup');
  const bySeat = (of: (s: (typeof lanes)[number]) => string | number | null): Value => ({
    is: 'case',
    cases: lanes.map((s) => ({ when: { seats: [s.id] }, value: constant(of(s)) })),
    otherwise: constant(null),
  });
  const hold = number('length', 'us', { addsUp: true });
  const holdMs = target.chart?.holdMs ?? 0;
  const { phraseBreakBeats } = target.chart ?? {};
  const onLanes = { onLanes: true };
  return FormatSchema.parse({
    formatVersion: 1,
    id: 'chart',
    name: 'Chart',
    files: [
      {
        path: '{file}.chart.json',
        container: {
          kind: 'json',
          indent: 2,
          root: object({
            format: node(constant('chart')),
            version: node(constant(CHART_VERSION)),
            target: node(constant(target.id)),
            title: node(fact('title', { told: true })),
            maker: node(fact('maker', { told: true })),
            bpm: node(fact('bpm', { ...whole, decimals: 6, told: true })),
            ppq: node(fact('ppq', whole)),
            tempos,
            meters: {
              each: { of: 'meters' },
              node: object({
                tick: node(number('start', 'ticks')),
                numerator: node({ is: 'numerator' }),
                denominator: node({ is: 'denominator' }),
              }),
            },
            sections,
            ...ends,
            sound: piece.delivery.metadata?.sound
              ? object({
                  file: node(fact('sound', { told: true })),
                  lengthUs: node(constant(null)),
                })
              : node(constant(null)),
            lines: {
              each: { of: 'seats', ...onLanes },
              node: object({
                seat: node(bySeat((s) => s.id)),
                name: node({ is: 'seat', as: 'name' }),
                track: node(bySeat((s) => s.track ?? null)),
                channel: node(bySeat((s) => s.channel)),
                rung: node(bySeat((s) => s.rung ?? null)),
                keys: {
                  each: { of: 'lanes' },
                  node: node({ is: 'key', as: 'number' }),
                  line: 'tight',
                },
                phrases:
                  phraseBreakBeats === undefined
                    ? { list: [] }
                    : {
                        each: { of: 'phrases', pauseBeats: phraseBreakBeats },
                        node: object(
                          {
                            fromTick: node(number('start', 'ticks')),
                            toTick: node(number('end', 'ticks')),
                          },
                          'spaced',
                        ),
                      },
                strikes: {
                  each: { of: 'strikes', ...onLanes, alike: ['length', 'velocity', 'flags'] },
                  node: object(
                    {
                      tick: node(number('start', 'ticks')),
                      atUs: node(number('start', 'us')),
                      lanes: {
                        each: { of: 'notes', order: ['key'] },
                        node: node({ is: 'key', as: 'lane', first: 1 }),
                        line: 'tight',
                      },
                      velocity: node({ is: 'velocity' }),
                      lengthTicks: node(number('length', 'ticks')),
                      holdUs: node({
                        is: 'case',
                        cases: [{ when: { longerMs: holdMs }, value: hold }],
                        otherwise: constant(0),
                      }),
                      flags: { list: [], line: 'tight' },
                    },
                    'spaced',
                  ),
                },
              }),
            },
          }),
        },
      },
    ],
  });
};
describe('charts of lanes', () => {
  for (const id of ['marsh-duel', 'reed-ladder'])
    for (const job of WEEK)
      it(`of ${job.id} for ${id} are the same byte for byte, and read back`, () => {
        const target = builtIn(id);
        const rendition = renditionOf(weekSource(job), target);
        const [piece] = rendition.pieces;
        const format = chart(target, piece!);
        const [ours] = findWriter('chart')!.write(rendition, {}, target, null).files;
        const [own] = writeFormat(format, rendition.pieces, target).files;
        expect(decodeUtf8(own!.bytes)).toBe(decodeUtf8(ours!.bytes));
        expect(readFormat(format.files[0]!, ours!.bytes).problem).toBeUndefined();
      });
});
