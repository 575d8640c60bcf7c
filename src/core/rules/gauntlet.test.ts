import { describe, expect, it } from 'vitest';
import {
  conductor,
  freeze,
  renditionOf,
  smf,
  snapshot,
  song,
  sourceFromBytes,
  Track,
  tryMend,
} from '../../../testing/score-builder';
import { META_LYRIC, META_TEXT } from '../../../demo/song';
import type { SourceScore } from '../sources/source';
import { mapsOf } from '../score/inventory';
import { builtInTargets } from '../target/index';
import { proof } from './proof';
import { sayFinding } from './say';
import { baseOf } from '../plan/base';

/** Scores at the edges of what there is; every rule of every target must live with them. */
const LAST = 2 ** 31 - 1;
const busy = (channel: number, name: string) => {
  const track = new Track(name);
  for (let i = 0; i < 64; i++)
    track.note(
      channel,
      i * 100 + (i % 7),
      90 + (i % 5) * 60,
      20 + ((i * 37) % 90),
      1 + ((i * 53) % 127),
    );
  track
    .event(3, 0xb0, channel, 1, 40)
    .event(50, 0xe0, channel, 0, 90)
    .event(99, 0xd0, channel, 9, 0);
  track
    .program(0, channel, 12)
    .program(400, channel, 13)
    .event(0, 0xb0, channel, 7, 3)
    .event(500, 0xb0, channel, 7, 90);
  return track;
};
const rough = () =>
  new Track('Lead')
    .tempo(0, 97.3)
    .meter(0, 7, 8)
    .tempo(333, 250)
    .meter(1000, 3, 4)
    .meter(1100, 5, 16)
    .tempo(5000, 31)
    .marker(7, 'Round')
    .marker(900, 'Überfahrt zur anderen Seite des Hafens')
    .meta(10, META_LYRIC, new TextEncoder().encode('low '))
    .meta(300, META_LYRIC, new TextEncoder().encode('tide'))
    .meta(20, META_TEXT, new TextEncoder().encode('a note to the crew'))
    .meta(30, 0x60, Uint8Array.of(1, 2))
    .sysex(40, [1, 2, 0xf7]);

const EDGES: readonly (readonly [string, () => SourceScore])[] = [
  ['no track with a note', () => song([conductor()])],
  ['no tempo, no meter, no note', () => song([new Track('Silent')])],
  ['one note at tick 0', () => song([conductor(), new Track('One').note(1, 0, 480, 60, 90)])],
  ['one note of no length', () => song([new Track('Dot').note(6, 0, 0, 60, 90)])],
  [
    'one note at the latest tick',
    () => song([conductor(), new Track('Late').note(1, LAST - 1, 1, 60, 90)], { endTick: LAST }),
  ],
  [
    'a note that never ends',
    () => song([conductor(), new Track('Hang').hang(10, 5, 36, 90)], { endTick: 4000 }),
  ],
  [
    'tempo and meter changes everywhere',
    () => song([rough(), busy(1, 'Left'), busy(6, 'Right'), busy(10, 'Drums'), busy(16, 'Cue')]),
  ],
  [
    'everything on one track',
    () =>
      song([busy(1, 'All').tempo(0, 100).note(2, 9, 9, 60, 3).note(12, 10, 400, 48, 9)], {
        format: 0,
      }),
  ],
  ['PPQ 25 in 7/8', () => song([conductor(100, 7, 8), busy(1, 'Odd')], { ppq: 25 })],
  ['timed in frames', () => song([busy(1, 'Frames')], { ppq: 0xe728 })],
  ['two of a name', () => song([conductor(), busy(3, 'Twin'), busy(3, 'Twin')])],
  [
    'sixteen channels',
    () =>
      sourceFromBytes(
        smf(
          1,
          60,
          Array.from({ length: 16 }, (_, c) => busy(c + 1, `Part ${c + 1}`)),
          64 * 60,
        ),
      ),
  ],
];

describe('every rule of every target', () => {
  for (const [name, make] of EDGES)
    it(`lives with: ${name}`, () => {
      const source = make();
      const stays: string[] = [];
      for (const target of builtInTargets) {
        const rendition = freeze(renditionOf(source, target));
        const before = snapshot(rendition);
        const findings = proof({ rendition, target, base: baseOf(source), recordingMs: 61_234 });
        expect(new Set(findings.map((f) => f.key)).size).toBe(findings.length);
        const maps = mapsOf(rendition.pieces[0]!.score);
        for (const f of findings) {
          const where = `${target.id}: ${f.key}`;
          const said = sayFinding(f, target, maps);
          for (const sentence of [said.title, said.wrong, said.then, said.where])
            expect(sentence, where).not.toMatch(/undefined|NaN|null|Infinity|\$\{|\[object|!/);
          for (const span of f.spans)
            expect(span.toTick > span.fromTick && span.fromTick >= 0, where).toBe(true);
          expect(
            f.mends.length > 0 || f.noMend !== undefined,
            `${where} has a mend or says why not`,
          ).toBe(true);
          expect(f.measured === undefined || Number.isFinite(f.measured.value), where).toBe(true);
          for (const mend of f.mends) {
            // A plan holds no tick of a piece: a step before it would move the music under it.
            for (const { params } of mend.steps)
              expect(JSON.stringify(params), where).not.toMatch(/[tT]ick"/);
            const trial = tryMend(rendition, mend, source, target);
            expect(trial.says, `${where} → ${mend.title}`).not.toMatch(/undefined|NaN|named "/);
            if (trial.refused !== null) continue;
            const left = proof({
              rendition: trial.rendition,
              target,
              base: baseOf(source),
              recordingMs: 61_234,
            });
            const same = left.find((g) => g.key === f.key);
            if (same && !REMAIN[name]?.includes(f.code))
              stays.push(`${where} after “${mend.title}”`);
          }
        }
        expect(snapshot(rendition)).toBe(before);
      }
      expect(stays).toEqual([]);
    });
});

/** What a part may be there for without a note. */
const OF_EVENTS =
  /^(program|bank|channel-events|repeated|set-up|control|silent|present|meta|preset)/;

it('a part without a note is no second part of those that play', () => {
  const tracks = (further: readonly Track[]) => [
    rough(),
    busy(1, 'Left'),
    busy(6, 'Right'),
    busy(10, 'Drums'),
    ...further,
    busy(16, 'Cue'),
  ];
  const only = (name: string, channel: number) => new Track(name).event(0, 0xb0, channel, 7, 100);
  const source = song(tracks([only('Words A', 1), only('Words B', 6), only('Words C', 10)]));
  let told = 0;
  for (const target of builtInTargets) {
    const base = renditionOf(source, target);
    const pieces = base.pieces.map((piece) => ({
      ...piece,
      delivery: { ...piece.delivery, layout: 'single' as const },
      // Each of them shares what the part that plays on its channel is for.
      score: {
        ...piece.score,
        parts: piece.score.parts.map((part) => {
          const plays = piece.score.parts.find((p) => p.channel === part.channel)!;
          return { ...part, seat: plays.seat, leftOut: plays.leftOut };
        }),
      },
    }));
    const rendition = { ...base, pieces };
    const maps = mapsOf(pieces[0]!.score);
    for (const f of proof({ rendition, target, base: baseOf(source), recordingMs: 61_234 })) {
      if (OF_EVENTS.test(f.code)) continue;
      told++;
      const said = sayFinding(f, target, maps);
      expect(`${said.title} ${said.wrong} ${said.then}`, `${target.id}: ${f.key}`).not.toMatch(
        /Words [ABC]/,
      );
    }
  }
  expect(told).toBeGreaterThan(60);
});

it('a hundred thousand notes are held against every target', () => {
  const tracks = Array.from({ length: 16 }, (_, c) => {
    const track = new Track(`Line ${c + 1}`);
    for (let i = 0; i < 6250; i++)
      track.note(
        c + 1,
        i * 120 + ((i * c) % 7),
        60 + ((i * 13) % 200),
        24 + ((i * 7 + c) % 64),
        30 + (i % 90),
      );
    return track;
  });
  const source = song([conductor(), ...tracks]);
  for (const target of builtInTargets) {
    const rendition = renditionOf(source, target);
    const findings = proof({ rendition, target, base: baseOf(source), recordingMs: 800_000 });
    // Grouped by cause: however many notes are wrong, the findings stay readable.
    expect(findings.length, target.id).toBeLessThan(200);
    for (const f of findings) expect(f.notes.length).toBeLessThanOrEqual(100_000);
  }
}, 60_000);

/** What one mend alone cannot clear there: nothing can stand behind the latest tick. */
const REMAIN: Readonly<Record<string, readonly string[]>> = {
  'one note at the latest tick': ['too-short', 'off-row'],
  // Their parts have no seat yet: nothing is delivered whose end could be moved.
  'one note of no length': ['sound-length'],
  'everything on one track': ['sound-length'],
  'sixteen channels': ['sound-length'],
};
