import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { deliver } from '../../../testing/rehearsing';
import { baseOf } from '../plan/base';
import { mapsOf } from '../score/inventory';
import { ticksPerQuarterOf } from '../score/score';
import { LONGEST_WAIT } from '../smf/file';
import { sayLeftBehind } from './extras';
import { withKey, openSource, type SourceScore } from './source';
import type { SourceUse } from './use';

const text = (s: string) => new TextEncoder().encode(s);
const openText = (s: string, name: string): SourceScore =>
  openSource(text(s), { key: name, name, sha256: name }).source!;
const stamp = (ms: number) =>
  `${String(Math.floor(ms / 60_000)).padStart(2, '0')}:${String(Math.floor(ms / 1000) % 60).padStart(2, '0')}.${String(ms % 1000).padStart(3, '0')}`;
const captions = (...ms: number[]) =>
  `WEBVTT\n\n${ms.map((m, i) => `${stamp(m)} --> ${stamp(m + 400)}\nLine ${i + 1}\n`).join('\n')}`;
const tune = (key: string, ppq: number, bpm: number, starts: readonly number[]): SourceScore => {
  const line = new Track('Line');
  for (const at of starts) line.note(1, at, Math.max(1, ppq >> 1), 60, 90);
  const head = conductor(bpm).marker(starts[0]!, `from ${key}`);
  return withKey(song([head, line], { ppq, endTick: 64 * ppq }), key, `${key}.mid`);
};

describe('what sources bring beside notes', () => {
  it('captions beside music are shown at their own time, whoever rules', () => {
    const vtt = openText(captions(1000, 3000), 'night.vtt');
    for (const rules of ['music', 'night.vtt'])
      for (const bpm of [120, 97]) {
        const base = baseOf(
          [tune('music', 480, bpm, [0, 480]), vtt],
          [{ source: rules, as: 'together', rules: true }],
        );
        const [piece] = base.rendition.pieces;
        const { clock } = mapsOf(piece!.score);
        const at = piece!.captions!.map((c) => clock.msAt(c.tick));
        at.forEach((ms, i) => expect(Math.abs(ms - [1000, 3000][i]!)).toBeLessThan(1));
        const advances = piece!.score.parts.find((p) => p.name === 'Advance')!.notes.start;
        expect(piece!.captions!.map((c) => c.tick)).toEqual(Array.from(advances));
      }
  });

  it('captions beside music reach the board at their own time', () => {
    const base = [tune('music', 480, 120, [0, 480]), openText(captions(1000, 3000), 'night.vtt')];
    const { played } = deliver(base, builtIn('song-board'));
    const at = played.events.filter((e) => e.kind === 'caption').map((e) => e.atUs);
    expect(at).toEqual([1_000_000, 3_000_000]);
  });

  it('flags keep to their notes where the PPQ is raised', () => {
    const chart = withKey(tune('chart', 480, 120, [480, 960]), 'chart', 'chart.mid');
    const flagged: SourceScore = {
      ...chart,
      extras: {
        flags: [{ flag: 'feather', track: 1, channel: 1, tick: 960, key: 60 }],
      },
    };
    for (const rules of ['chart', 'other']) {
      const other = tune('other', 1000, 120, [0]);
      const base = baseOf([flagged, other], [{ source: rules, as: 'together', rules: true }]);
      const [piece] = base.rendition.pieces;
      const ids = [...piece!.flags![0]!.notes];
      const part = piece!.score.parts.find((p) => p.ref.source === 'chart')!;
      expect(ids).toEqual([part.notes.id[1]]);
    }
  });

  it('markers of all are the song’s; tempos, meters and titles that stay behind are named', () => {
    const base = baseOf(
      [tune('a', 480, 120, [0]), tune('b', 480, 90, [960])],
      [{ source: 'a', as: 'together', rules: true }],
    );
    const [piece] = base.rendition.pieces;
    const { clock } = mapsOf(piece!.score);
    expect(piece!.score.conductor.markers.map((m) => [m.text, clock.msAt(m.tick)])).toEqual([
      ['from a', 0],
      ['from b', (2 * 60_000) / 90],
    ]);
    expect(base.behind).toEqual([{ source: 'b.mid', what: 'tempos', count: 1 }]);
  });

  it('a source that has texts and no part is not silenced', () => {
    const texts = withKey(song([new Track('Words').text(960, 0x05, 'salt')]), 'words', 'words.mid');
    const { files } = deliver([tune('a', 480, 120, [0]), texts], builtIn('parlour-keyboard'), {
      uses: [{ source: 'a', as: 'together', rules: true }],
    });
    expect(Buffer.from(files[0]!.bytes).includes('salt')).toBe(true);
  });

  it('a long show keeps its ticks below the longest wait', () => {
    const minutes = 95 * 120;
    const long = (key: string, ppq: number) => tune(key, ppq, 120, [0, minutes * ppq]);
    const base = baseOf([long('a', 960), long('b', 1000)]);
    const [piece] = base.rendition.pieces;
    const last = Math.max(...piece!.score.parts.map((p) => p.notes.start[1]!));
    expect(last).toBeLessThanOrEqual(LONGEST_WAIT);
    expect(base.remarks.join()).toContain('half a tick');
    const ruling = withKey(tune('late', 7, 120, [0, 250_000_000]), 'late', 'late.mid');
    const { rendition } = baseOf(
      [ruling, tune('c', 32_749, 120, [0])],
      [{ source: 'late', as: 'together', rules: true }],
    );
    for (const { notes } of rendition.pieces[0]!.score.parts)
      expect(Math.min(...notes.start)).toBeGreaterThanOrEqual(0);
  });
});

describe('random sources in random uses', () => {
  const source = fc.record({
    ppq: fc.constantFrom(24, 96, 480, 960, 1000, 25_000),
    bpm: fc.constantFrom(60, 97, 120, 180.5),
    starts: fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 6 }),
    captions: fc.uniqueArray(fc.integer({ min: 0, max: 20_000 }), { maxLength: 4 }),
    flags: fc.boolean(),
    follows: fc.constantFrom('bars' as const, 'clock' as const),
    as: fc.constantFrom('together' as const, 'together' as const, 'file' as const),
    offset: fc.integer({ min: 0, max: 4 }),
  });
  it('everything stands where its source’s notes stand, and nothing is lost unnamed', () => {
    fc.assert(
      fc.property(fc.array(source, { minLength: 1, maxLength: 4 }), fc.nat(), (made, rules) => {
        const sources = made.map((m, i): SourceScore => {
          const starts = m.starts.map((s) => s * m.ppq).sort((a, b) => a - b);
          const base = tune(`s${i}`, m.ppq, m.bpm, starts);
          return {
            ...base,
            extras: {
              captions: starts.slice(0, m.captions.length).map((tick, c) => ({
                tick,
                text: `s${i} ${c}`,
              })),
              ...(m.flags
                ? { flags: [{ flag: `f${i}`, track: 1, channel: 1, tick: starts[0]!, key: 60 }] }
                : {}),
            },
          };
        });
        const uses = made.map((m, i): SourceUse => ({
          source: `s${i}`,
          as: m.as,
          follows: m.follows,
          offset: m.follows === 'bars' ? m.offset * m.ppq : m.offset * 500_000,
          ...(i === rules % made.length ? { rules: true } : {}),
        }));
        const { rendition } = baseOf(sources, uses);
        const { pieces } = rendition;
        sources.forEach((s, i) => {
          const piece = pieces.find((p) => p.score.parts.some((q) => q.ref.source === s.key))!;
          const part = piece.score.parts.find((q) => q.ref.source === s.key)!;
          const own = (piece.captions ?? []).filter((c) => c.text.startsWith(`s${i} `));
          expect(own.map((c) => c.tick)).toEqual(Array.from(part.notes.start).slice(0, own.length));
          expect(own).toHaveLength(s.extras!.captions!.length);
          const flag = piece.flags?.find((f) => f.flag === `f${i}`);
          expect(flag ? [...flag.notes] : []).toEqual(made[i]!.flags ? [part.notes.id[0]] : []);
          const marker = piece.score.conductor.markers.find((m) => m.text === `from s${i}`)!;
          expect(marker.tick).toBe(part.notes.start[0]);
          // By the clock: as far apart as in its source, within a tick of what rules.
          const clock = mapsOf(piece.score).clock;
          const tickMs = clock.msAt(1);
          const from = mapsOf(s.score).clock;
          if (uses[i]!.as === 'file' || made[i]!.follows === 'clock') {
            const shift =
              clock.msAt(part.notes.start[0]!) - from.msAt(s.score.parts[0]!.notes.start[0]!);
            part.notes.start.forEach((tick, n) => {
              const ms = from.msAt(s.score.parts[0]!.notes.start[n]!);
              expect(Math.abs(clock.msAt(tick) - ms - shift)).toBeLessThanOrEqual(tickMs + 1e-6);
            });
          } else {
            const quarter = ticksPerQuarterOf(piece.score.division);
            const shift =
              part.notes.start[0]! / quarter - s.score.parts[0]!.notes.start[0]! / made[i]!.ppq;
            part.notes.start.forEach((tick, n) =>
              expect(
                Math.abs(tick / quarter - s.score.parts[0]!.notes.start[n]! / made[i]!.ppq - shift),
              ).toBeLessThanOrEqual(1 / quarter + 1e-9),
            );
          }
        });
      }),
      { numRuns: 300 },
    );
  });
});

it('what stays behind of a source is one sentence, with how much of each', () => {
  const because = 'a score does not carry it';
  expect(
    sayLeftBehind([
      { source: 'eels.it', what: 'slides of volume', count: 1, because },
      { source: 'b.mid', what: 'tempos', count: 2 },
      { source: 'eels.it', what: 'places between left and right', count: 6423, because },
    ]),
  ).toEqual([
    'Left behind of eels.it, as a score does not carry it: slides of volume (1), places between left and right (6,423).',
    'Left behind of b.mid, as another source rules: tempos (2).',
  ]);
});
