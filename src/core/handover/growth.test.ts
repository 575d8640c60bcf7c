import { describe, expect, it } from 'vitest';
import { grows } from '../../../testing/grows';
import { conductor, smf, song, sourceFromBytes, Track } from '../../../testing/score-builder';
import { comparePieces } from '../compare/by-id';
import { writeOutputs } from '../outputs/index';
import { baseOf, baseRendition } from '../plan/base';
import { inventoryOf } from '../score/inventory';
import { handsOf } from '../steps/hands';
import { steps } from '../steps/index';
import { runStep } from '../plan/run-step';
import { proof } from '../rules/proof';
import { openSource, type SourceScore } from '../sources/source';
import { rehearse } from '../standin/index';
import { builtInTargets } from '../target/index';
import { rehearsalOf } from './rehearsal';

type Shape = (n: number) => SourceScore;
/** Songs that are hard in a way of their own. */
const SHAPES: Readonly<Record<string, Shape>> = {
  'a line': (n) => {
    const track = new Track('Line');
    for (let i = 0; i < n; i++) track.note(1, i * 120, 100, 48 + (i % 24), 90);
    return song([conductor(), track]);
  },
  'one chord': (n) => {
    const track = new Track('Chord');
    for (let i = 0; i < n; i++) track.note(1, 1920, 480, i % 128, 90);
    return song([conductor(), track]);
  },
  'one key that is struck again and never let go': (n) => {
    const track = new Track('Key');
    for (let i = 0; i < n; i++) track.hang(1, i * 10, 60, 90);
    return song([conductor(), track]);
  },
  'long notes through bends': (n) => {
    const track = new Track('Bends');
    for (let i = 0; i < n; i++) track.event(i * 4, 0xe0, 1, i % 128, (i * 7) % 128);
    for (let i = 0; i < n; i++) track.note(1, i * 4, n * 8, 36 + (i % 60), 90);
    return song([conductor(), track]);
  },
  'a tempo, a marker and a meter a bar': (n) => {
    const head = new Track('Head');
    const track = new Track('Line');
    for (let i = 0; i < n; i++) {
      head.tempo(i * 960, 60 + (i % 90)).marker(i * 960, `m${i}`);
      head.meter(i * 960, 2 + (i % 2), 4);
      track.note(1, i * 960, 400, 60, 90);
    }
    return song([head, track]);
  },
};

describe('growth', () => {
  for (const [shape, make] of Object.entries(SHAPES)) {
    it(`${shape}: read, looked through, compared`, () => {
      grows((n) => {
        const source = make(n);
        const { rendition } = baseOf(source);
        return () => {
          inventoryOf(source.head, source.score);
          return comparePieces(
            rendition.pieces,
            rendition.pieces.map((p) => ({ ...p })),
          );
        };
      }, 1000);
    });
    it(`${shape}: two as one`, () => {
      grows((n) => {
        const [a, b] = [make(n), { ...make(n), key: 'b', name: 'b.mid' }];
        return () => baseOf([a, b], [{ source: 'b', as: 'together', follows: 'clock' }]);
      }, 1000);
    });
    for (const target of builtInTargets)
      it(`${shape}: proofed, written and rehearsed for ${target.id}`, () => {
        grows((n) => {
          const base = baseOf(make(n));
          const rendition = baseRendition(base, target);
          return () => {
            const findings = proof({ rendition, target, base });
            const { files } = writeOutputs(rendition, target);
            rehearse(files, target);
            return rehearsalOf(files, rendition, target, findings);
          };
        }, 250);
      }, 60_000);
  }

  it('hands of a chord, of a line and of a column of notes on one key', () => {
    for (const key of [(i: number) => i % 88, (i: number) => (i * 31) % 88, () => 60])
      grows((n) => {
        const track = new Track('A');
        for (let i = 0; i < n; i++) track.note(1, i % 2, 100, key(i), 90);
        const { notes } = song([conductor(), track]).score.parts[0]!;
        return () => handsOf(notes);
      }, 2000);
  });

  it('steps that need nothing said', () => {
    const none = steps.filter((s) => s.params.safeParse({}).success);
    expect(none.length).toBeGreaterThan(10);
    for (const shape of ['a line', 'one chord', 'long notes through bends'])
      for (const { id } of none)
        grows((n) => {
          const base = baseOf(SHAPES[shape]!(n));
          const call = { step: id, params: {}, scope: {} };
          return () => runStep(base.rendition, call, base);
        }, 250);
  }, 120_000);

  it('damage: tracks of a wrong length, data bytes, texts that are no texts', () => {
    const headOf = (tracks: number) => [
      ...[0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 1],
      ...[tracks >> 8, tracks & 255, 1, 0xe0],
    ];
    const chunk = (body: readonly number[], says: number) => [
      ...[0x4d, 0x54, 0x72, 0x6b, 0, 0, says >> 8, says & 255],
      ...body,
    ];
    const end = [0, 0xff, 0x2f, 0];
    const open = (bytes: Uint8Array) => openSource(bytes, { key: 'k', name: 'n.mid', sha256: 's' });
    for (const of of [
      (n: number) => Array.from({ length: n }, () => chunk(end, 1)).flat(),
      (n: number) => Array.from({ length: n }, () => chunk([0, 0xf4, 0, 0x90, 200, 200], 6)).flat(),
    ])
      grows((n) => {
        const bytes = Uint8Array.from([...headOf(n), ...of(n)]);
        return () => open(bytes);
      }, 2000);
    const text = (n: number) =>
      new TextEncoder().encode(
        `WEBVTT\n\n${Array.from({ length: n }, () => '00:01.000 --> 00:00.000\nSalt\n').join('\n')}`,
      );
    grows((n) => {
      const bytes = text(n);
      return () => openSource(bytes, { key: 'k', name: 'n.vtt', sha256: 's' });
    }, 2000);
  });

  it('a plain file', () => {
    const bytes = (n: number) => {
      const track = new Track('Line');
      for (let i = 0; i < n; i++) track.note(1, i * 10, 8, 60, 90);
      return smf(1, 480, [conductor(), track]);
    };
    grows((n) => {
      const file = bytes(n);
      return () => sourceFromBytes(file);
    }, 10_000);
  });
});
