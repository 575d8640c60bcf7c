import { describe, expect, it } from 'vitest';
import { FormatSchema, type OwnFile } from '../../formats/own/schema';
import { makeClock } from '../../time/tempo-map';
import { openSource } from '../source';

const encode = (text: string) => new TextEncoder().encode(text);
const seats = [
  { id: 'ebb', name: 'Ebb', kind: 'channel', channel: 3 },
  { id: 'flow', name: 'Flow', kind: 'channel', channel: 5 },
];
const format = (container: OwnFile['container']) =>
  FormatSchema.parse({
    formatVersion: 1,
    id: 'f',
    name: 'F',
    files: [{ path: 'a.txt', lastLineEnd: true, container }],
  });
const open = (container: OwnFile['container'], text: string) =>
  openSource(encode(text), {
    key: 'main',
    name: 'a.txt',
    sha256: 'x',
    own: [{ formats: [format(container)], seats }],
  });

const beats = {
  kind: 'lines' as const,
  lines: [
    {
      each: { of: 'tempos' as const },
      lines: [
        {
          parts: [
            'pace ',
            {
              value: {
                is: 'time' as const,
                of: 'start' as const,
                unit: 'ticks' as const,
                ppq: 384,
              },
            },
            ' ',
            { value: { is: 'bpm' as const } },
          ],
        },
      ],
    },
    {
      each: { of: 'notes' as const },
      lines: [
        {
          parts: [
            { value: { is: 'seat' as const, as: 'name' as const } },
            ' ',
            {
              value: {
                is: 'time' as const,
                of: 'start' as const,
                unit: 'ticks' as const,
                ppq: 384,
              },
            },
            ' ',
            {
              value: {
                is: 'time' as const,
                of: 'length' as const,
                unit: 'ticks' as const,
                ppq: 384,
              },
            },
            ' ',
            { value: { is: 'key' as const, as: 'number' as const } },
          ],
        },
      ],
    },
  ],
};

describe('a file of a format of one’s own as a source', () => {
  it('keeps its ticks, its tempos and its lengths behind a change of tempo', () => {
    const { source, readBy } = open(
      beats,
      'pace 0 120\npace 384 60\nEbb 1 100 60\nFlow 768 384 62\nEbb 1000 1 60\n',
    );
    expect(readBy).toBe(0);
    const { score } = source!;
    expect(score.division).toEqual({ kind: 'ppq', ticksPerQuarter: 384 });
    expect(score.parts.map((p) => [p.name, p.channel])).toEqual([
      ['Ebb', 3],
      ['Flow', 5],
    ]);
    const { notes: columns } = score.parts[0]!;
    expect([...columns.start.subarray(0, 2)]).toEqual([1, 1000]);
    expect([...columns.end.subarray(0, 2)]).toEqual([101, 1001]);
    const [flow] = [score.parts[1]!.notes];
    expect([flow.start[0], flow.end[0]]).toEqual([768, 1152]);
    expect(score.conductor.tempos.map((t) => [t.tick, t.microsecondsPerQuarter])).toEqual([
      [0, 500_000],
      [384, 1_000_000],
    ]);
  });

  it('notes by the clock stand at their clock under the tempos that it tells', () => {
    const clock = structuredClone(beats);
    for (const part of clock.lines[1]!.lines[0]!.parts)
      if (typeof part !== 'string' && part.value.is === 'time')
        part.value = { is: 'time', of: part.value.of, unit: 'ms' } as never;
    const { source } = open(clock, 'pace 0 120\npace 384 60\nEbb 250 100 60\nEbb 2500 500 60\n');
    const { score } = source!;
    const ppq = (score.division as { ticksPerQuarter: number }).ticksPerQuarter;
    const map = makeClock(score.division, score.conductor.tempos);
    const { notes: columns } = score.parts[0]!;
    expect([...columns.start.subarray(0, 2)].map((t) => map.msAt(t))).toEqual([250, 2500]);
    expect([...columns.end.subarray(0, 2)].map((t) => map.msAt(t))).toEqual([350, 3000]);
    // Half a second at 120 is one quarter; two seconds at 60 are two more.
    expect(columns.start[1]).toBe(3 * ppq);
  });

  it('captions, flags and facts come along; what MIDI cannot hold is refused with its place', () => {
    const told = {
      kind: 'lines' as const,
      lines: [
        { parts: ['by ', { value: { is: 'fact' as const, key: 'maker' } }] },
        {
          each: { of: 'notes' as const },
          lines: [
            {
              parts: [
                { value: { is: 'time' as const, of: 'start' as const, unit: 'ms' as const } },
                ' ',
                { value: { is: 'key' as const, as: 'number' as const } },
                ' ',
                {
                  value: {
                    is: 'flags' as const,
                    flag: 'loud',
                    yes: 'L',
                    no: 'q',
                  },
                },
              ],
            },
          ],
        },
        {
          each: { of: 'captions' as const },
          lines: [
            {
              parts: [
                'say ',
                { value: { is: 'time' as const, of: 'start' as const, unit: 'ms' as const } },
                ' ',
                { value: { is: 'text' as const } },
              ],
            },
          ],
        },
      ],
    };
    const { source } = open(told, 'by Ilse Marram\n500 60 L\n700 61 q\nsay 500 mind the step\n');
    expect(source!.extras).toMatchObject({
      metadata: { maker: 'Ilse Marram' },
      captions: [{ tick: 25_000, text: 'mind the step' }],
      flags: [{ flag: 'loud', track: 1, tick: 25_000, key: 60 }],
    });
    expect(open(told, 'by A\n500 190 L\n').damage).toMatchObject([
      { code: 'text-unreadable', place: 'note 1', says: 'A note number is 0 to 127.' },
    ]);
  });

  it('what is of none of the formats is left to those of ours', () => {
    expect(open(beats, 'nothing of it\n').source).toBeUndefined();
  });
});
