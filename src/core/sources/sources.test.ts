import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { processionBells, processionCues, processionDrums } from '../../../demo/procession';
import {
  builtIn,
  conductor,
  smf,
  song,
  sourceFromBytes,
  Track,
} from '../../../testing/score-builder';
import { wellFormed } from '../../../testing/arbitrary-smf';
import { writeOutputs } from '../outputs/index';
import { baseOf, baseRendition } from '../plan/base';
import { endTickOf } from '../score/score';
import { disagreements } from './disagree';
import { commonPpq } from './merge';
import { openSource, withKey, type SourceScore } from './source';
import type { SourceUse } from './use';

const target = builtIn('parlour-keyboard');
const take = (bytes: Uint8Array, key: string): SourceScore =>
  withKey(sourceFromBytes(bytes, `${key}.mid`), key, `${key}.mid`);
const drums = () => take(processionDrums(), 'drums');
const bells = () => take(processionBells(), 'bells');
const cues = () => take(processionCues(), 'cues');
const rule: SourceUse = { source: 'drums', as: 'together', rules: true };
const bytesOf = (sources: readonly SourceScore[], uses: readonly SourceUse[] = [rule]) => {
  const base = baseOf(sources, uses);
  return writeOutputs(baseRendition(base, target), target).files.map((f) => [
    f.path,
    Buffer.from(f.bytes).toString('hex'),
  ]);
};

describe('several sources as one', () => {
  it('one alone is itself, whatever it holds', () => {
    fc.assert(
      fc.property(wellFormed, (bytes) => {
        const { source } = openSource(bytes, { key: 'main', name: 'a.mid', sha256: 'x' });
        if (!source) return;
        const { rendition } = baseOf(source);
        expect(rendition.pieces[0]!.score).toBe(source.score);
      }),
      { numRuns: 200 },
    );
  });
  it('in whichever order they are brought in, the bytes are the same', () => {
    const made = [
      [drums(), bells(), cues()],
      [cues(), drums(), bells()],
      [bells(), cues(), drums()],
    ].map((list) => JSON.stringify(bytesOf(list)));
    expect(new Set(made).size).toBe(1);
  });
  it('holds every note of each, at its own place', () => {
    const [piece] = baseOf([drums(), bells(), cues()], [rule]).rendition.pieces;
    const { division, parts } = piece!.score;
    expect(division).toEqual({ kind: 'ppq', ticksPerQuarter: 960 });
    const came = [drums(), bells(), cues()].flatMap((s) =>
      s.score.parts.map((p) => ({
        p,
        ppq: (s.score.division as { ticksPerQuarter: number }).ticksPerQuarter,
      })),
    );
    for (const { p, ppq } of came) {
      const here = parts.find((o) => o.name === p.name && o.channel === p.channel)!;
      expect(Array.from(here.notes.start)).toEqual(
        Array.from(p.notes.start, (tick) => (tick * 960) / ppq),
      );
    }
  });
  it('without one of two, what is left is the other as it came', () => {
    const alone = bytesOf([drums()]);
    const uses: SourceUse[] = [rule, { source: 'bells', as: 'file' }];
    // A file of its own leaves the first as it is alone.
    expect(bytesOf([drums(), bells()], uses)[0]![1]).toBe(alone[0]![1]);
  });
  it('plans name notes by their own source, and ids by source again', () => {
    const base = baseOf([drums(), bells()], [rule]);
    const part = base.rendition.pieces[0]!.score.parts.find((p) => p.name === 'Treble bells')!;
    const ids = new Set([part.notes.id[3]!, part.notes.id[7]!]);
    const addresses = base.addressesOf(ids);
    expect(addresses).toHaveLength(2);
    expect(new Set(addresses.map((a) => base.notes(a)))).toEqual(ids);
  });
  it('finds the PPQ that all can be written in', () => {
    expect(commonPpq([96, 480, 960])).toEqual({ ppq: 960, exact: true });
    expect(commonPpq([480, 384])).toEqual({ ppq: 1920, exact: true });
    expect(commonPpq([32_749, 32_719]).exact).toBe(false);
  });
});

describe('where sources disagree', () => {
  const said = (list: SourceScore[], uses: SourceUse[] = [rule]) =>
    disagreements(baseOf(list, uses)).map((d) => ({ ...d, offers: d.offers.map((o) => o.title) }));
  it('one that ends four bars early may lack them at its start; put there, all agree', () => {
    const [found, ...others] = said([drums(), bells(), cues()]);
    expect(others).toEqual([]);
    expect(found).toMatchObject({
      source: 'bells',
      kind: 'length',
      says: 'bells.mid ends after 20 bars, drums.mid after 24: its opening rest was perhaps swallowed.',
      offers: ['Put 4 bars before it, to end together'],
    });
    const [offer] = disagreements(baseOf([drums(), bells(), cues()], [rule]))[0]!.offers;
    const { follows, offset } = offer!;
    const placed: SourceUse = { source: 'bells', as: 'together', follows, offset };
    expect(offset).toBe(4 * 4 * 480);
    expect(said([drums(), bells(), cues()], [rule, placed])).toEqual([]);
  });
  const tune = (
    key: string,
    bar: number,
    options: { bpm?: number; meter?: number; end?: number } = {},
  ) => {
    const line = new Track('Line').note(1, bar * 1920, 240, 60, 90);
    const { bpm = 120, meter = 4, end = 8 } = options;
    return withKey(song([conductor(bpm, meter), line], { endTick: end * 1920 }), key, `${key}.mid`);
  };
  const uses: SourceUse[] = [{ source: 'a', as: 'together', rules: true }];
  it('one that begins whole bars earlier is said first, with ways to line it up', () => {
    const [first] = said([tune('a', 3), tune('b', 0, { end: 5 })], uses);
    expect(first).toMatchObject({
      kind: 'start',
      says: 'b.mid begins 6 s, 3 bars before a.mid: its opening rest was perhaps swallowed.',
    });
    // By first note and by the end come to the same three bars.
    expect(first!.offers).toEqual(['Put 3 bars before it']);
  });
  it('one that begins later and ends together is as it should be', () => {
    expect(said([tune('a', 0), tune('b', 3)], uses)).toEqual([]);
  });
  it('tempo and meter are said, and one that follows the clock is measured by it', () => {
    const found = said([tune('a', 1), tune('b', 0, { bpm: 90, meter: 3 })], uses);
    expect(found.map((d) => d.kind)).toEqual(['start', 'tempo', 'meter']);
    expect(found[0]!.says).toContain('b.mid begins 2 s before a.mid');
    expect(found[0]!.offers[0]).toBe('Line up by first note');
  });
  it('an empty source, a source of frames, and a source without a conductor are taken', () => {
    const empty = withKey(song([new Track('Nothing')]), 'b', 'b.mid');
    expect(() => said([tune('a', 1), empty], uses)).not.toThrow();
    const framed = smf(1, 480, [new Track('F').note(1, 0, 100, 60, 80)]);
    framed[12] = 0xe7;
    framed[13] = 40;
    const frames = withKey(sourceFromBytes(framed), 'b', 'b.mid');
    const base = baseOf([tune('a', 1), frames], uses);
    expect(base.uses[1]!.follows).toBe('clock');
    expect(endTickOf(base.rendition.pieces[0]!.score)).toBeGreaterThan(0);
  });
});
