import { describe, expect, it } from 'vitest';
import { week } from '../../../../demo/week';
import { builtIn, renditionOf, sourceFromBytes } from '../../../../testing/score-builder';
import { doubtsOf } from '../../formats/own/doubts';
import { readFormat } from '../../formats/own/read';
import { FormatSchema, type Value } from '../../formats/own/schema';
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
