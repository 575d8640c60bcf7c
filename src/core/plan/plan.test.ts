import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { benchSong } from '../../../bench/songs';
import { week } from '../../../demo/week';
import {
  builtIn,
  conductor,
  freeze,
  smf,
  snapshot,
  song,
  sourceFromBytes,
  weekSource,
  Track,
  tryMend,
} from '../../../testing/score-builder';
import { compareById, comparePieces } from '../compare/by-id';
import { hearingOf } from '../target/hearing';
import { asDelivered } from '../reading/as-delivered';
import { readBack } from '../compare/read-back';
import { writeOutputs } from '../outputs/index';
import { fileOf } from '../score/to-file';
import { inventoryOf } from '../score/inventory';
import { writeSmf } from '../smf/write';
import { proof, tallyOf } from '../rules/proof';
import { mendMany } from './mend';
import type { Plan, PlanStep } from './plan';
import { parseRecipe } from './recipe';
import { makeRecipe, recipeFor } from './use-recipe';
import { baseRendition } from './base';
import { runPlan } from './run';
import { PlanMemory } from './memory';
import { sayStep } from '../steps/words';
import { baseOf } from './base';

const rail = builtIn('lantern-rail');
const sources = week.map((job) => ({
  job,
  source: weekSource(job),
  target: builtIn(job.targets[0]!.id),
  plan: { steps: job.targets[0]!.steps } as Plan,
}));
const step = (id: string, params: unknown, extra: Partial<PlanStep> = {}): PlanStep => ({
  key: id,
  step: id,
  params,
  scope: {},
  on: true,
  ...extra,
});

describe('a plan', () => {
  const source = song([
    conductor(),
    new Track('A').note(1, 0, 480, 60, 90).note(1, 480, 480, 62, 90),
  ]);
  const target = builtIn('bell-loft');
  it('shares what a step did not touch, and remembers what led where', () => {
    const memory = new PlanMemory();
    const plan: Plan = {
      steps: [
        step('set-format', { format: 0, layout: 'single' }),
        step('name-file', { name: 'A.mid' }),
      ],
    };
    const first = runPlan({ base: baseOf(source), target, plan, memory });
    const again = runPlan({ base: baseOf(source), target, plan, memory });
    expect(again.rendition.pieces[0]!.score.parts[0]!.notes).toBe(source.score.parts[0]!.notes);
    expect(snapshot(again.rendition)).toBe(snapshot(first.rendition));
  });
  it('switched off, a step does nothing', () => {
    const plan: Plan = { steps: [step('transpose', { semitones: 12 }, { on: false })] };
    const run = runPlan({ base: baseOf(source), target, plan });
    expect(snapshot(run.rendition)).toBe(snapshot(baseRendition(baseOf(source), target)));
    expect(run.outcomes[0]).toMatchObject({ on: false, effect: null, refused: null });
  });
  it('order counts', () => {
    const up = step('transpose', { semitones: 24 });
    const fold = step('fold-octaves', { lowest: 60, highest: 71 });
    const keys = (steps: PlanStep[]) => [
      ...runPlan({ base: baseOf(source), target, plan: { steps } }).rendition.pieces[0]!.score
        .parts[0]!.notes.noteNumber,
    ];
    expect(keys([up, fold])).toEqual([60, 62]);
    expect(keys([fold, up])).toEqual([84, 86]);
  });
  it('runs again on a newer export: parts are found though a track was added', () => {
    const plan: Plan = {
      steps: [
        step('transpose', { semitones: 12 }, { scope: { parts: [source.score.parts[0]!.ref] } }),
        step(
          'leave-out',
          {},
          {
            scope: {
              notes: [
                { part: source.score.parts[0]!.ref, startTick: 480, noteNumber: 62, occurrence: 0 },
              ],
            },
          },
        ),
      ],
    };
    const newer = song([
      conductor(),
      new Track('New').note(5, 0, 9, 40, 9),
      new Track('A').note(1, 0, 480, 60, 90).note(1, 500, 480, 62, 90),
    ]);
    const run = runPlan({ base: baseOf(newer), target, plan });
    expect(run.outcomes[0]!.effect).toMatchObject({ notesChanged: 2 });
    // The note stands elsewhere now: it is listed and nothing is guessed.
    expect(run.outcomes[1]).toMatchObject({ refused: expect.stringMatching(/not in this source/) });
    expect(run.outcomes[1]!.missing.notes).toHaveLength(1);
  });
  it('steps are named in words', () => {
    const call = step(
      'transpose',
      { semitones: 12 },
      { scope: { parts: [{ source: '', track: 'Tenor bells', channel: 2, occurrence: 0 }] } },
    );
    expect(sayStep(call)).toBe('Tenor bells: up 12 semitones');
    const unnamed = { ...call.scope.parts![0]!, track: ', tune', channel: 4 };
    expect(sayStep({ ...call, scope: { parts: [unnamed] } })).toBe(
      'Channel 4, tune: up 12 semitones',
    );
  });
});

it('eight thousand tracks are read, seated, left out and written', () => {
  const tracks = Array.from({ length: 8000 }, (_, i) =>
    new Track(`T${i}`).note((i % 15) + 1, i, 10, 60, 90),
  );
  const source = song([conductor(), ...tracks]);
  const { rendition } = runPlan({ base: baseOf(source), target: rail, plan: { steps: [] } });
  const found = proof({ rendition, target: rail, base: baseOf(source) }).find(
    (f) => f.code === 'unseated',
  )!;
  const out = tryMend(rendition, found.mends[0]!, source, rail);
  // One plays, and the others are left out by name.
  expect(out.rendition.pieces[0]!.score.parts.filter((p) => !p.leftOut)).toHaveLength(1);
  inventoryOf(source.head, source.score);
  expect(writeSmf(fileOf(out.rendition.pieces[0]!)).length).toBeGreaterThan(20);
});

it('parts of several tracks, put on one, are written so that no note is cut or hangs', () => {
  const notes = fc.array(
    fc.tuple(fc.nat(8), fc.integer({ min: 1, max: 4 }), fc.integer({ min: 60, max: 62 })),
    { maxLength: 12 },
  );
  fc.assert(
    fc.property(notes, notes, fc.boolean(), (first, second, single) => {
      const track = (name: string, channel: number, list: typeof first) => {
        const t = new Track(name);
        const busy = new Map<number, number>();
        for (const [at, length, key] of [...list].sort((a, b) => a[0] - b[0])) {
          // No overlap on a key within a part; ends and beginnings at one tick are wanted.
          if ((busy.get(key) ?? 0) > at) continue;
          busy.set(key, at + length);
          t.note(channel, at * 480, length * 480, key, 90);
        }
        return t;
      };
      const source = song([conductor(), track('A', 1, first), track('B', 2, second)]);
      const steps = [
        step('set-format', {
          format: single ? 0 : 1,
          layout: single ? 'single' : 'as-is',
          oneTrack: 'All',
        }),
      ];
      const piece = runPlan({ base: baseOf(source), target: rail, plan: { steps } }).rendition
        .pieces[0]!;
      expect(readBack(piece, writeSmf(fileOf(piece))).differences).toEqual([]);
    }),
    { numRuns: 150 },
  );
});

describe('default seating', () => {
  it('by name, by channel where the file is plainly made for it, then the only part', () => {
    const seat = (source: ReturnType<typeof song>) =>
      baseRendition(baseOf(source), rail).pieces[0]!.score.parts.map((p) => p.seat);
    const one = (name: string, channel: number) => new Track(name).note(channel, 0, 9, 40, 9);
    expect(seat(song([one('x', 16)]))).toEqual(['cue-line']);
    // Of several the number of a channel says nothing, unless the name says what it is.
    expect(seat(song([one('x', 16), one('y', 2)]))).toEqual([null, null]);
    expect(seat(song([one('Lamp cues', 16), one('y', 2)]))).toEqual(['cue-line', null]);
    expect(seat(song([one('cue line', 3), one('y', 2)]))).toEqual(['cue-line', null]);
    expect(seat(song([one('x', 3)]))).toEqual(['cue-line']);
    expect(seat(song([one('x', 3), one('y', 4)]))).toEqual([null, null]);
  });
});

describe('a recipe', () => {
  it('finds its sources in another job by name, then in their order', () => {
    const ref = (source: string) => ({ source, track: 'Bells', channel: 1, occurrence: 0 });
    const recipe = makeRecipe(
      'Tide',
      rail,
      {
        uses: [{ source: 'x', as: 'together', rules: true }],
        steps: ['x', 'y', 'gone'].map((s) => ({
          key: s,
          step: 'leave-out',
          params: {},
          scope: { parts: [ref(s)] },
          on: true,
        })),
      },
      [],
      [
        { key: 'x', name: 'drums.mid' },
        { key: 'y', name: 'bells.mid' },
      ],
    );
    const there = [
      { key: 'a', name: 'bells.mid' },
      { key: 'b', name: 'other drums.mid' },
    ];
    const { uses, steps } = recipeFor(recipe, there);
    expect(uses).toEqual([{ source: 'b', as: 'together', rules: true }]);
    expect(steps.map((s) => s.scope.parts![0]!.source)).toEqual(['b', 'a', 'gone']);
    // One of an older version names one source alone.
    const plain = {
      ...makeRecipe('Old', rail, recipe.plan, []),
      plan: { steps: [{ ...recipe.plan.steps[0]!, scope: { parts: [ref('main')] } }] },
    };
    expect(recipeFor(plain, there).steps[0]!.scope.parts![0]!.source).toBe('a');
  });
  it('comes back from its file', () => {
    const recipe = makeRecipe('Tide', rail, { steps: [step('transpose', { semitones: -12 })] }, [
      { key: 'a', reason: 'b' },
    ]);
    expect(parseRecipe(JSON.stringify(recipe)).recipe).toEqual(recipe);
  });
  it.each([
    ['{', /not JSON/],
    ['{"recipeVersion":3}', /recipeVersion/],
    [
      JSON.stringify(makeRecipe('x', rail, { steps: [step('fly', {})] }, [])),
      /no step named "fly"/,
    ],
    [
      JSON.stringify(
        makeRecipe('x', rail, { steps: [step('transpose', { semitones: 'up' })] }, []),
      ),
      /plan.steps.0.params.semitones/,
    ],
  ])('%s is refused with its place', (text, says) => {
    expect(parseRecipe(text).problem).toMatch(says);
  });
});

describe('mends', () => {
  it.each(sources.map((s) => [s.job.title, s] as const))(
    '%s: what is called lossless is',
    (_, s) => {
      const { rendition } = runPlan({ ...s, base: baseOf(s.source) });
      for (const f of proof({
        rendition: freeze(rendition),
        target: s.target,
        base: baseOf(s.source),
      }))
        for (const mend of f.mends) {
          const trial = tryMend(rendition, mend, s.source, s.target);
          if (!trial.lossless) continue;
          const compared = comparePieces(rendition.pieces, trial.rendition.pieces);
          expect(compared).toMatchObject({
            dropped: 0,
            added: 0,
            keyChanged: 0,
            velocityChanged: 0,
          });
          expect(compared.furthestMs).toBeLessThanOrEqual(1.000001);
        }
    },
  );

  it.each(sources.map((s) => [s.job.title, s] as const))(
    '%s: mended, written, read back, clean',
    (_, s) => {
      const { rendition } = runPlan({ ...s, base: baseOf(s.source) });
      const result = mendMany({
        rendition,
        target: s.target,
        base: baseOf(s.source),
        reach: 'drop',
        accept: true,
      });
      expect(tallyOf(result.findings).stops).toBe(0);
      const { files } = writeOutputs(result.rendition, s.target);
      for (const file of files.filter((f) => f.piece !== undefined))
        expect(
          readBack(asDelivered(result.rendition.pieces[file.piece!]!, s.target), file.bytes),
        ).toMatchObject({
          same: true,
          differences: [],
        });
    },
  );

  it.each(sources.map((s) => [s.job.title, s] as const))(
    '%s: only lossless ones leave the music as it is',
    (_, s) => {
      const { rendition } = runPlan({ ...s, base: baseOf(s.source) });
      const { rendition: after } = mendMany({
        rendition,
        target: s.target,
        base: baseOf(s.source),
        reach: 'lossless',
      });
      const hearing = hearingOf(s.target);
      expect(comparePieces(rendition.pieces, after.pieces, { hearing }).lossless).toBe(true);
      expect(
        comparePieces(baseOf(s.source).rendition.pieces, after.pieces, { hearing }).furthestMs,
      ).toBeLessThanOrEqual(1.000001);
    },
  );

  it('what is left as is stays', () => {
    const [s] = sources;
    const { rendition } = runPlan({ ...s!, base: baseOf(s!.source) });
    const key = 'start-rest/rest-owed/*';
    const result = mendMany({
      rendition,
      target: s!.target,
      base: baseOf(s!.source),
      reach: 'lossless',
      leftAsIs: [{ key }],
    });
    expect(result.applied.map((a) => a.finding)).not.toContain(key);
  });

  it('same source, plan and target give the same bytes', () => {
    for (const s of sources) {
      const write = () =>
        Buffer.from(
          writeSmf(fileOf(runPlan({ ...s, base: baseOf(s.source) }).rendition.pieces[0]!)),
        ).toString('hex');
      expect(write()).toBe(write());
    }
  });
});

describe('comparison', () => {
  const track = fc.array(
    fc.tuple(fc.nat(2000), fc.integer({ min: 1, max: 400 }), fc.integer({ min: 30, max: 90 })),
    { minLength: 1, maxLength: 30 },
  );
  it('a common shift is found, and nothing else', () => {
    fc.assert(
      fc.property(track, fc.integer({ min: 1, max: 5 }), (notes, bars) => {
        const t = new Track('A');
        let at = 0;
        for (const [gap, length, key] of notes) t.note(1, (at += gap), length, key, 80);
        const source = song([conductor(100), t]);
        const run = runPlan({
          base: baseOf(source),
          target: rail,
          plan: { steps: [step('rest-at-start', { bars })] },
        });
        const compared = compareById(source, run.rendition.pieces[0]!);
        expect(compared.lossless).toBe(true);
        expect(compared.commonShiftMs).toBeCloseTo(bars * 2400, 6);
      }),
      { numRuns: 60 },
    );
  });
  it('one changed velocity in a million notes is found', () => {
    const a = sourceFromBytes(benchSong({ notes: 1_000_000, tracks: 16 })).score;
    const part = a.parts[0]!;
    const velocity = Uint8Array.from(part.notes.velocity);
    velocity[12_345] = velocity[12_345]! ^ 1;
    const notes = { ...part.notes, velocity };
    const b = { ...a, parts: [{ ...part, notes }, ...a.parts.slice(1)] };
    expect(compareById({ score: a }, { score: b })).toMatchObject({
      velocityChanged: 1,
      moved: 0,
      lossless: false,
    });
  });
  it('a program, a level or a bend that is gone is a change of sound', () => {
    const source = song([
      conductor(),
      new Track('A')
        .program(0, 1, 14)
        .note(1, 0, 480, 60, 90)
        .event(240, 0xe0, 1, 0, 80)
        .note(1, 960, 480, 60, 90)
        .control(1500, 1, 7, 20)
        .note(1, 1920, 480, 60, 90),
    ]);
    const without = (kinds: string[]) =>
      compareById(
        source,
        runPlan({ base: baseOf(source), target: rail, plan: { steps: [step('strip', { kinds })] } })
          .rendition.pieces[0]!,
      ).soundChanged;
    expect(without(['programs'])).toBe(3);
    // The bend is never taken back, so that all behind it sound otherwise too.
    expect(without(['bends'])).toBe(3);
    expect(without(['controllers'])).toBe(1);
  });
  it('bytes that were changed on the way are seen', () => {
    const source = song([conductor(), new Track('A').note(1, 0, 480, 60, 90)]);
    const piece = baseRendition(baseOf(source), rail).pieces[0]!;
    const bytes = smf(1, 480, [conductor(), new Track('A').note(1, 0, 480, 60, 91)]);
    expect(readBack(piece, bytes)).toMatchObject({
      same: false,
      differences: [expect.stringMatching(/1 notes differ/)],
    });
    expect(readBack(piece, new Uint8Array(4))).toMatchObject({ same: false });
  });
});
