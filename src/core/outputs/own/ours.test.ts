import { describe, expect, it } from 'vitest';
import { week } from '../../../../demo/week';
import { builtIn, renditionOf, sourceFromBytes } from '../../../../testing/score-builder';
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
      const source = sourceFromBytes(job.bytes(), job.file);
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
      const rendition = renditionOf(sourceFromBytes(job.bytes(), job.file), organ);
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
      const source = sourceFromBytes(job.bytes(), job.file);
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
