import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deliver, stepsOf, stopsOf, toldSteps } from '../../../testing/rehearsing';
import {
  builtIn,
  conductor,
  smf,
  song,
  sourceFromBytes,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { anyTune, dice, sourceOf } from '../../../testing/strangers/tune';
import { baseOf } from '../plan/base';
import { mendMany } from '../plan/mend';
import type { Finding } from '../rules/finding';
import { builtInTargets } from '../target/index';
import { rehearsalOf } from './rehearsal';

/** A band as files have it: many parts on one track or on several, keys that overlap, odd meters. */
const band = fc
  .record({
    format: fc.constantFrom(0 as const, 1 as const),
    ppq: fc.constantFrom(96, 120, 480, 960),
    tempos: fc.array(fc.constantFrom(60, 87.5, 97.98, 120, 179.9996), {
      minLength: 1,
      maxLength: 3,
    }),
    meter: fc.constantFrom([4, 4] as const, [3, 4] as const, [6, 8] as const, [5, 8] as const),
    twiceAtStart: fc.boolean(),
    parts: fc.array(
      fc.record({
        channel: fc.constantFrom(1, 2, 3, 4, 10, 16),
        program: fc.integer({ min: 0, max: 127 }),
        low: fc.integer({ min: 24, max: 72 }),
        notes: fc.array(
          fc.record({
            wait: fc.constantFrom(0, 0, 1, 1, 2, 3, 7),
            length: fc.constantFrom(1, 2, 2, 5, 16),
            key: fc.integer({ min: 0, max: 24 }),
            velocity: fc.integer({ min: 1, max: 127 }),
          }),
          { minLength: 1, maxLength: 40 },
        ),
      }),
      { minLength: 1, maxLength: 6 },
    ),
  })
  .map(({ format, ppq, tempos, meter, twiceAtStart, parts }) => {
    const head = new Track('Band');
    tempos.forEach((bpm, i) => head.tempo(i === 1 && twiceAtStart ? 0 : i * 4 * ppq, bpm));
    head.meter(0, meter[0], meter[1]);
    const unit = Math.max(1, ppq >> 2);
    const play = (track: Track, { channel, program, low, notes }: (typeof parts)[number]) => {
      track.program(0, channel, program);
      let tick = 0;
      for (const n of notes) {
        tick += n.wait * unit;
        track.note(channel, tick, n.length * unit, Math.min(127, low + n.key), n.velocity);
      }
    };
    if (format === 0) {
      parts.forEach((p) => play(head, p));
      return smf(0, ppq, [head]);
    }
    return smf(1, ppq, [
      head,
      ...parts.map((p, i) => {
        const track = new Track(`Part ${i + 1}`);
        play(track, p);
        return track;
      }),
    ]);
  });

describe('every refusal and every loss of a device is explained by a finding', () => {
  for (const target of builtInTargets)
    for (const mended of [false, true])
      it(`${target.id}${mended ? ', mended' : ''}`, () => {
        fc.assert(
          fc.property(band, (bytes) => {
            const { rendition, files, findings } = deliver(sourceFromBytes(bytes), target, {
              mended,
              steps: toldSteps(target),
            });
            expect(rehearsalOf(files, rendition, target, findings).unexplained).toEqual([]);
          }),
          { numRuns: mended ? 12 : 25, seed: 20261129 },
        );
      }, 60_000);
});

describe('a song of a stranger, mended as far as nothing is lost: no limit of notes is kept', () => {
  it.each(builtInTargets.map((t) => [t.id, t] as const))('%s', (_, target) => {
    for (let seed = 1; seed <= 10; seed++) {
      const source = sourceOf(anyTune(dice(seed), 'strange.mid', [4, 10]));
      const { rendition, files, findings } = deliver(source, target, {
        mended: 'lossless',
        steps: toldSteps(target),
      });
      expect(rehearsalOf(files, rendition, target, findings).unexplained, `${seed}`).toEqual([]);
    }
  });
});

describe('what somebody takes out by hand of what was mended: the device may miss it, and it is said', () => {
  const tune = sourceOf(anyTune(dice(41), 'strange.mid', [4, 7]));
  it.each(builtInTargets.map((t) => [t.id, t] as const))('%s', (_, target) => {
    const told = toldSteps(target);
    const { rendition } = deliver(tune, target, { steps: told });
    const base = baseOf(tune);
    const { applied } = mendMany({ rendition, target, base, reach: 'drop', accept: true });
    for (const kind of ['track names', 'text', 'markers', 'controllers', 'programs', 'bends']) {
      const params = { kinds: [kind] };
      const out = { key: 'out', step: 'strip', params, scope: {}, on: true };
      const on = deliver(tune, target, { steps: [...told, ...stepsOf(applied), out] });
      const { unexplained } = rehearsalOf(on.files, on.rendition, target, on.findings);
      expect(unexplained, kind).toEqual([]);
    }
  });
});

describe('a plan that was made for one song and is run on another: whatever becomes of it is said', () => {
  const tunes = [1, 2, 3, 4, 5, 6, 7].map((n) =>
    sourceOf(anyTune(dice(700 + n), 'strange.mid', [3, 8])),
  );
  it.each(builtInTargets.map((t) => [t.id, t] as const))('%s', (_, target) => {
    const told = toldSteps(target);
    const { rendition } = deliver(tunes[0]!, target, { steps: told });
    const { applied } = mendMany({
      rendition,
      target,
      base: baseOf(tunes[0]!),
      reach: 'drop',
      accept: true,
    });
    const steps = [...told, ...stepsOf(applied)];
    for (const [n, tune] of tunes.entries()) {
      const on = deliver(tune, target, { steps });
      const { unexplained } = rehearsalOf(on.files, on.rendition, target, on.findings);
      expect(unexplained, `song ${n}`).toEqual([]);
    }
  });
});

it('a file of the crate that is hundreds of bars long is refused by its place, whose stop says so', () => {
  const kit = new Track('Kit').note(10, 300 * 1920 - 480, 480, 36, 90);
  for (let bar = 0; bar < 299; bar++) kit.note(10, bar * 1920, 240, 36, 90);
  const target = builtIn('stomp-crate');
  const params = { kinds: ['track names'] };
  const nameless = { key: 'n', step: 'strip', params, scope: {}, on: true };
  const steps = [...toldSteps(target), nameless];
  const on = deliver(song([kit], { format: 0, name: 'b1.mid' }), target, { steps });
  expect(stopsOf(on).map((f) => f.code)).toContain('place-length');
  expect(on.played.refused.map((c) => c.says).join()).toContain('takes no 300.00 bars');
  const { unexplained } = rehearsalOf(on.files, on.rendition, target, on.findings);
  expect(unexplained).toEqual([]);
});

it('a chord whose trigger is lost to another rule is no riddle', () => {
  const { seats, grid } = builtIn('pattern-pads');
  const spacing = { sameKeyApartMs: 180 };
  const target = targetWith({ seats, grid, spacing, standIn: 'pads' });
  const line = new Track('Pad');
  for (const [tick, key] of [0, 96].flatMap((t) =>
    [24, 60 + t / 24, 67 + t / 24].map((k) => [t, k]),
  ))
    line.note(6, tick!, 48, key!, 90);
  const on = deliver(song([conductor(), line], { name: '1_salt.mid' }), target);
  expect(stopsOf(on).map((f) => f.code)).toEqual(['same-key-soon']);
  expect(on.played.dropped.map((d) => d.because).join()).toContain('no pluck key');
  const { unexplained } = rehearsalOf(on.files, on.rendition, target, on.findings);
  expect(unexplained).toEqual([]);
});

it('a chain of which one pattern is refused is not played at all, and that is no riddle', () => {
  const target = builtIn('tide-voices');
  const lines = Array.from({ length: 6 }, (_, n) => {
    const line = new Track(`Gulls ${n}`);
    for (let i = 0; i < 40; i++) line.note(n + 1, i * 480, 240, 60, 90);
    return line;
  });
  const file = (place: string, fromBar: number, bars: number) => {
    return { place, fromBar, bars, fileName: `${place}.mid` };
  };
  const link = { repeats: 1, shift: 0, voices: [1, 2, 3, 4, 5, 6] };
  const meter = { numerator: 7, denominator: 8, keepLater: true };
  const steps = [
    { step: 'carve', params: { places: [file('A', 1, 7), file('B', 8, 3)] } },
    { step: 'chain', params: { links: ['A', 'B'].map((pattern) => ({ pattern, ...link })) } },
    { step: 'set-meter', params: meter, scope: { file: 'A.mid' } },
    { step: 'set-meter', params: meter, scope: { file: 'B.mid' } },
  ].map((call, i) => ({ scope: {}, ...call, key: `${i}`, on: true }));
  const on = deliver(song([conductor(), ...lines]), target, { steps });
  expect(on.played.refused.map((c) => [c.file, c.block])).toContainEqual(['B.mid', 'end']);
  expect([...new Set(stopsOf(on).map((f) => f.code))]).toEqual(['not-whole-bars']);
  const { asMeant, unexplained } = rehearsalOf(on.files, on.rendition, target, on.findings);
  expect({ asMeant, unexplained }).toEqual({ asMeant: false, unexplained: [] });
});

describe('a stop hides nothing that it does not speak of', () => {
  const target = builtIn('parlour-keyboard');
  const line = new Track('Bells');
  for (let i = 0; i < 12; i++) line.note(1, 480 + i * 960, 480, 60 + i, 90);
  const delivered = deliver(song([conductor(), line], { format: 1 }), target);
  const tampered = (bytes: Uint8Array, key: number) => {
    // One note is another in the file than it is meant.
    const out = Uint8Array.from(bytes);
    for (let i = 0; i + 2 < out.length; i++)
      if ((out[i]! === 0x90 || out[i]! === 0x80) && out[i + 1] === key) out[i + 1] = key + 12;
    return out;
  };
  it('a writer that writes another note is found out beside a stop of the title', () => {
    const { rendition, files } = delivered;
    const harmless: Finding = {
      key: 'metadata/title-missing/*',
      rule: 'metadata',
      code: 'title-missing',
      severity: 'stop',
      part: null,
      spans: [],
      notes: new Uint32Array(0),
      data: {},
      mends: [],
    };
    const said = (list: typeof files) =>
      rehearsalOf(list, rendition, target, [harmless]).unexplained;
    const wrong = files.map((f) => ({ ...f, bytes: tampered(f.bytes, 62) }));
    expect(wrong.some((f, i) => !Buffer.from(f.bytes).equals(Buffer.from(files[i]!.bytes)))).toBe(
      true,
    );
    expect(said(files)).toEqual([]);
    expect(said(wrong).join()).toMatch(/1 note is not played as meant/);
  });
});
