import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { META_LYRIC } from '../../../demo/song';
import { week } from '../../../demo/week';
import {
  builtIn,
  conductor,
  renditionOf,
  rows,
  song,
  sourceFromBytes,
  smf,
  targetWith,
  Track,
  tryMend,
} from '../../../testing/score-builder';
import { channelState, HEARS_ALL, States } from '../compare/channel-state';
import { compareById, comparePieces } from '../compare/by-id';
import { readBack } from '../compare/read-back';
import { compareMusic } from '../compare/by-music';
import { proof } from '../rules/proof';
import { fileOf } from '../score/to-file';
import { mapsOf } from '../score/inventory';
import { textOf } from '../score/score';
import { writeSmf } from '../smf/write';
import { callStep } from '../steps/define-step';
import { findStep, steps as allSteps } from '../steps/index';
import { REACHES, type Scope } from '../steps/call';
import { scaled, compose, mapTick, shifted, unmapTick, cutAt, opened } from '../time/time-map';
import { baseOf } from './base';
import { PlanMemory } from './memory';
import { mendMany } from './mend';
import { runPlan } from './run';
import type { PlanStep } from './plan';

const anything = targetWith({ seats: [] });
const step = (id: string, params: unknown, scope: Scope = {}): PlanStep => ({
  key: `${id}-${JSON.stringify(params)}`,
  step: id,
  params,
  scope,
  on: true,
});
const run = (source: ReturnType<typeof song>, ...steps: PlanStep[]) =>
  runPlan({ base: baseOf(source), target: anything, plan: { steps } });
const ref = (track: string, channel: number) => ({ source: 'main', track, channel, occurrence: 0 });

describe('lossless', () => {
  it('states are exact: every level with every expression is another one', () => {
    const states = new States();
    const seen = new Set<number>();
    for (let level = 0; level < 128; level++)
      for (let expression = 0; expression < 128; expression++) {
        const track = new Track('A').control(0, 1, 7, level).control(0, 1, 11, expression);
        const { score } = song([track.note(1, 480, 480, 60, 90)]);
        const part = score.parts[0]!;
        seen.add(channelState([part], states, HEARS_ALL)?.of(part, 0, 960) ?? 0);
      }
    expect(seen.size).toBe(128 * 128);
  });

  it('carving the same bars twice is not all of the music', () => {
    const line = new Track('A');
    for (let bar = 0; bar < 8; bar++) line.note(1, bar * 1920, 480, 60 + bar, 90);
    const source = song([conductor(), line], { endTick: 8 * 1920 });
    const twice = ['a', 'b'].map((place) => ({
      place,
      fileName: `${place}.mid`,
      fromBar: 1,
      bars: 4,
    }));
    const { rendition, outcomes } = run(source, step('carve', { places: twice }));
    const compared = comparePieces([source], rendition.pieces);
    expect(compared).toMatchObject({ dropped: 4, added: 4, lossless: false });
    expect(outcomes[0]!.losses).toEqual([{ what: 'notes outside the stretches', count: 4 }]);
  });

  it('four changes of PPQ that each keep within a millisecond are held against the source', () => {
    const line = new Track('A');
    for (let i = 0; i < 200; i++) line.note(1, i * 331 + (i % 7), 200, 60, 90);
    const source = song([conductor(50), line], { ppq: 960 });
    let rendition = renditionOf(source, anything);
    const claims: boolean[] = [];
    for (const ticksPerQuarter of [701, 997, 613, 887, 509]) {
      const mend = { title: 'PPQ', steps: [callStep(findStep('set-ppq')!, { ticksPerQuarter })] };
      const trial = tryMend(rendition, mend, source, anything);
      claims.push(trial.lossless);
      if (!trial.lossless) break;
      rendition = trial.rendition;
      const { furthestMs } = comparePieces([source], rendition.pieces);
      // What is called lossless stands within a millisecond of what came in.
      expect(furthestMs).toBeLessThanOrEqual(1.000001);
    }
    expect(claims).toContain(false);
  });

  it('a program change behind a note-on of its tick stays behind it, on any layout', () => {
    // Two programs at one tick, around a note: the note sounds with the first.
    const bytes = smf(1, 480, [
      conductor(),
      new Track('A')
        .program(0, 1, 5)
        .event(480, 0x90, 1, 60, 90)
        .program(480, 1, 40)
        .off(1, 960, 60),
      new Track('B').note(2, 480, 240, 50, 80),
    ]);
    const source = sourceFromBytes(bytes);
    const single = step('set-format', { format: 0, layout: 'single' });
    const { rendition } = run(source, single);
    const written = sourceFromBytes(writeSmf(fileOf(rendition.pieces[0]!)));
    const part = written.score.parts.find((p) => p.channel === 1)!;
    expect(part.events.order[1]!).toBeGreaterThan(part.notes.onOrder[0]!);
    expect(compareById(source, rendition.pieces[0]!).lossless).toBe(true);
    // Moved by hand the note loses its place: then it sounds otherwise, and that is said.
    const moved = run(source, step('move-notes', { ticks: 0, semitones: 1 }), single);
    expect(moved.rendition.pieces).toHaveLength(1);
  });

  it('parts that share a channel after a merge hear each other: it is said', () => {
    const source = song([
      conductor(),
      new Track('A').program(0, 1, 5).note(1, 0, 1920, 60, 90),
      new Track('B').program(0, 2, 40).note(2, 480, 480, 60, 90),
    ]);
    const onOne = step('set-channel', { channel: 1 }, { parts: [ref('B', 2)] });
    const single = step('set-format', { format: 0, layout: 'single' });
    const piece = run(source, onOne, single).rendition.pieces[0]!;
    const compared = compareById(source, piece);
    expect(compared.soundChanged).toBeGreaterThan(0);
    // The off of B ends A, which began first; what is read back says the same.
    expect(compared.lengthChanged).toBe(2);
    const written = sourceFromBytes(writeSmf(fileOf(piece)));
    expect(readBack(piece, writeSmf(fileOf(piece))).differences).toEqual([]);
    expect(compareMusic(source.score, written.score).says[0]).not.toBe('the same music');
  });

  it('a typed list of captions is not replaced by markers, and a retiming takes it along', () => {
    const board = builtIn('song-board');
    const cues = new Track('Cues');
    for (let i = 0; i < 3; i++) cues.note(12, 1920 + i * 1920, 240, 48, 90);
    const source = song([conductor().marker(0, 'A'), cues]);
    const lines = ['x '.repeat(40).trim(), 'low tide', 'high tide'];
    const { rendition } = run(source, step('captions', { from: 'list', lines }));
    const large = proof({ rendition, target: board, base: baseOf(source) }).find(
      (f) => f.code === 'caption-large',
    )!;
    const trial = tryMend(rendition, large.mends[0]!, source, board);
    expect(trial.lossless).toBe(true);
    const text = (p: typeof rendition) =>
      p.pieces[0]!.captions!.map((c) => c.text.replace(/\n/g, ' '));
    expect(text(trial.rendition)).toEqual(lines);
    const later = run(
      source,
      step('captions', { from: 'list', lines }),
      step('rest-at-start', { bars: 2 }),
      step('set-ppq', { ticksPerQuarter: 960 }),
    );
    expect(later.rendition.pieces[0]!.captions!.map((c) => c.tick)).toEqual(
      [1920, 3840, 5760].map((t) => (t + 3840) * 2),
    );
  });
});

describe('results', () => {
  it('each sequence of a file of format 2 has a memory of its own', () => {
    const verse = (key: number) => new Track('V').note(1, 0, 480, key, 90);
    const bytes = smf(2, 480, [verse(60), verse(72)]);
    const memory = new PlanMemory();
    const keys = [0, 1].map((sequence) => {
      const source = { ...sourceFromBytes(bytes, 'two.mid', sequence), sequence };
      const plan = { steps: [step('transpose', { semitones: 1 })] };
      const { rendition } = runPlan({ base: baseOf(source), target: anything, plan, memory });
      return rendition.pieces[0]!.score.parts[0]!.notes.noteNumber[0];
    });
    expect(keys).toEqual([61, 73]);
  });

  it('a shift in milliseconds runs at the tempo of the start, whatever stood there', () => {
    const source = song([
      conductor(120).tempo(480, 60),
      new Track('A').note(1, 0, 240, 60, 90).note(1, 960, 240, 62, 90),
    ]);
    const { rendition } = run(source, step('shift', { ms: 1500 }));
    expect(comparePieces([source], rendition.pieces)).toMatchObject({
      commonShiftMs: 1500,
      lossless: true,
    });
  });

  it('a repeated stretch begins each time as it began, and what rings over is counted', () => {
    const source = song(
      [
        conductor(120).tempo(1920, 90).meter(1920, 3, 4).tempo(3360, 60),
        new Track('A')
          .program(0, 1, 5)
          .control(0, 1, 7, 80)
          .program(2400, 1, 9)
          .note(1, 1920, 2000, 60, 90)
          .note(1, 2400, 240, 62, 90),
      ],
      { endTick: 4800 },
    );
    const { rendition, outcomes } = run(source, step('repeat', { fromBar: 2, bars: 1, times: 1 }));
    const { score } = rendition.pieces[0]!;
    const [part] = score.parts;
    const state = channelState(score.parts, new States(), HEARS_ALL)!;
    const at = (tick: number) => Array.from(part!.notes.start).indexOf(tick);
    // The first note of both passes sounds with program 6 at level 80, at 90 BPM.
    expect(state.of(part!, at(1920), 1921)).toBe(state.of(part!, at(3360), 3361));
    expect(mapsOf(score).clock.tempoAt(3360)).toBe(mapsOf(score).clock.tempoAt(1920));
    expect(outcomes[0]!.effect).toMatchObject({ notesAdded: 2, notesChanged: 1 });
    expect(rows(part!.notes).map((r) => r.slice(0, 3))).toEqual([
      [1920, 3360, 60],
      [2400, 2640, 62],
      [3360, 5360, 60],
      [3840, 4080, 62],
    ]);
  });

  it('what is in force at a cut is written there: bank before program, parameters in order', () => {
    const track = new Track('A');
    for (const [controller, value] of [
      [0, 3],
      [32, 1],
    ] as const)
      track.control(0, 1, controller, value);
    track.program(0, 1, 7);
    for (const [controller, value] of [
      [101, 0],
      [100, 0],
      [6, 12],
      [101, 127],
      [100, 127],
    ] as const)
      track.control(10, 1, controller, value);
    const source = song([conductor(), track.note(1, 1920, 480, 60, 90)], { endTick: 3840 });
    const places = [{ place: 'a', fileName: 'a.mid', fromBar: 2, bars: 1 }];
    const { events } = run(source, step('carve', { places })).rendition.pieces[0]!.score.parts[0]!;
    const said = Array.from(events.kind, (kind, i) => [kind, events.data1[i], events.data2[i]]);
    expect(said).toEqual([
      [0xb0, 0, 3],
      [0xb0, 32, 1],
      [0xc0, 7, 0],
      [0xb0, 101, 0],
      [0xb0, 100, 0],
      [0xb0, 6, 12],
      [0xb0, 101, 127],
      [0xb0, 100, 127],
    ]);
  });

  it('one file that refuses a step does not keep it from the others', () => {
    const source = song(
      [conductor(), new Track('A').note(1, 0, 480, 60, 90).note(1, 1920, 480, 120, 90)],
      { endTick: 3840 },
    );
    const places = ['a', 'b'].map((place, i) => ({
      place,
      fileName: `${place}.mid`,
      fromBar: i + 1,
      bars: 1,
    }));
    const { rendition, outcomes } = run(
      source,
      step('carve', { places }),
      step('transpose', { semitones: 12 }),
    );
    const key = (i: number) => rendition.pieces[i]!.score.parts[0]!.notes.noteNumber[0];
    expect([key(0), key(1)]).toEqual([72, 120]);
    expect(outcomes[1]).toMatchObject({ refused: null, passedOver: [{ file: 'b.mid' }] });
  });

  it('a deleted id is never given again', () => {
    const source = song([
      conductor(),
      new Track('A').note(1, 0, 480, 60, 90).note(1, 480, 9, 61, 9),
    ]);
    const last = source.score.lastId;
    const { rendition } = run(
      source,
      step('delete-notes', {}, { fromTick: 480 }),
      step('add-note', { tick: 960, lengthTicks: 100, noteNumber: 64, velocity: 90 }),
    );
    expect(Math.max(...rendition.pieces[0]!.score.parts[0]!.notes.id)).toBe(last + 1);
  });

  it('lyrics are read once, as they were read when they came in', () => {
    const sung = Uint8Array.of(0x8a, 0x43); // 海 in Shift-JIS
    const bytes = smf(1, 480, [conductor().meta(0, META_LYRIC, sung)]);
    const source = sourceFromBytes(bytes, 'sea.mid', undefined, () => '海');
    const { events } = source.score.tracks[0]!;
    expect(textOf(events.find((e) => e.type === META_LYRIC)!)).toBe('海');
    const { rendition } = run(source, step('captions', { from: 'lyrics' }));
    expect(rendition.pieces[0]!.captions).toEqual([{ tick: 0, text: '海' }]);
  });

  it('a stuck note of a shorter track, merged, is read back as it was meant', () => {
    const source = song([
      conductor(),
      new Track('A').hang(1, 0, 60, 90),
      new Track('B').note(2, 0, 9600, 50, 80),
    ]);
    const piece = run(source, step('set-format', { format: 0, layout: 'single' })).rendition
      .pieces[0]!;
    expect(readBack(piece, writeSmf(fileOf(piece))).differences).toEqual([]);
  });
});

describe('reach', () => {
  const source = song([
    conductor(),
    new Track('A').program(0, 1, 3).note(1, 0, 400, 60, 90).note(1, 480, 400, 62, 80),
    new Track('B').control(0, 2, 7, 50).note(2, 0, 300, 40, 70).note(2, 700, 200, 44, 60),
  ]);
  const note = { part: ref('A', 1), startTick: 480, noteNumber: 62, occurrence: 0 };
  /** Parameters with which each step that can be held to notes does something. */
  const PARAMS: Readonly<Record<string, unknown>> = {
    'leave-out': {},
    split: { by: 'stretch' },
    transpose: { semitones: 1 },
    'fold-octaves': { lowest: 70, highest: 90 },
    'bring-into-reach': { lowest: 70, highest: 90 },
    'map-keys': { keys: [{ from: 62, to: 63 }] },
    'replace-by-pattern': {
      noteNumber: 62,
      pattern: [{ beat: 0, lengthBeats: 0.25, noteNumber: 50, velocity: 9 }],
    },
    lanes: { lanes: [70, 71], by: 'contour' },
    velocity: { offset: 5 },
    'move-notes': { ticks: 10 },
    'delete-notes': {},
    quantise: { dividePer: 1 },
    'add-trigger-keys': {
      key: 20,
      chordLowest: 0,
      chordHighest: 127,
      triggerLowest: 20,
      triggerHighest: 20,
      leastNotes: 1,
      withinMs: 5,
    },
    'close-gaps': { longestMs: 5000 },
    'keep-voices': { voices: 1, keep: 'highest', over: 'all' },
    'fit-voices': { voices: 1, over: 'all' },
    thin: { apartMs: 5000, per: 'seat', keep: 'first' },
    shorten: { until: 'longest', longestMs: 10 },
    lengthen: { shortestMs: 5000 },
    'limit-open': { mostOpenMs: 20, inMs: 5000 },
    'keep-reach': { semitones: 1, keep: 'lowest' },
    'drop-shared': {},
    'pair-stuck': { until: 'median' },
    'reduce-chords': { most: 1, drop: 'top' },
    'hold-rules': { holdMs: 10, strikeMs: 50 },
    flags: { flag: 'feather' },
    'drop-duplicates': { notes: true, events: true },
    captions: { from: 'list', lines: ['x'] },
    'turn-in-time': { noteNumber: 62, leadLeastMs: 100 },
  };
  const all = (scope: Scope, id: string) => {
    const { rendition, outcomes } = run(source, step(id, PARAMS[id], scope));
    const { parts } = rendition.pieces[0]!.score;
    const byId = new Map<number, string>();
    for (const { notes } of parts) rows(notes).forEach((r, i) => byId.set(notes.id[i]!, r.join()));
    return { byId, outcome: outcomes[0]! };
  };
  const before = all({}, 'flags').byId;
  const only = [...before].find(([, r]) => r.startsWith('480,'))![0];

  for (const { id, reach } of allSteps) {
    if (reach === 'notes')
      it(`${id}: chosen notes alone, and nothing else`, () => {
        expect(PARAMS[id], 'parameters for the test').toBeDefined();
        const { byId } = all({ notes: [note] }, id);
        for (const [note2, row] of before) if (note2 !== only) expect(byId.get(note2)).toBe(row);
      });
    else
      it(`${id}: a finer scope than ${reach} is refused in words`, () => {
        const finer = REACHES[REACHES.indexOf(reach) + 1]!;
        const scopes = {
          piece: {},
          parts: { parts: [ref('A', 1)] },
          stretch: { fromTick: 480 },
          notes: { notes: [note] },
        };
        const { outcomes, rendition } = run(source, step(id, { nothing: 1 }, scopes[finer]));
        expect(outcomes[0]!.refused).not.toBeNull();
        expect(rendition.pieces[0]!.score.parts[0]!.notes).toBe(source.score.parts[0]!.notes);
      });
  }
});

describe('time maps', () => {
  const map = fc
    .array(
      fc.oneof(
        fc.nat(5000).map(shifted),
        fc
          .tuple(fc.integer({ min: 24, max: 960 }), fc.integer({ min: 24, max: 960 }))
          .map(([a, b]) => scaled(a, b)),
        fc.nat(3000).map(cutAt),
        fc.tuple(fc.nat(4000), fc.nat(4000)).map(([a, b]) => opened(a, b)),
      ),
      { maxLength: 4 },
    )
    .map((list) => list.reduce(compose, { stages: [] }));
  it('never fall, and composed are one after the other', () => {
    fc.assert(
      fc.property(map, map, fc.array(fc.nat(20_000), { minLength: 2 }), (a, b, ticks) => {
        const rising = [...ticks].sort((x, y) => x - y);
        const to = rising.map((t) => mapTick(a, t));
        expect([...to].sort((x, y) => x - y)).toEqual(to);
        for (const t of ticks) expect(mapTick(compose(a, b), t)).toBe(mapTick(b, mapTick(a, t)));
      }),
    );
  });
  it('back and forth a place is never passed', () => {
    fc.assert(
      fc.property(map, fc.nat(20_000), (a, tick) => {
        const to = mapTick(a, tick);
        expect(mapTick(a, unmapTick(a, to))).toBeLessThanOrEqual(to);
      }),
    );
  });
  it('a time step and its map agree on notes, captions, markers and later scopes', () => {
    const line = new Track('A');
    for (let i = 0; i < 40; i++) line.note(1, 1920 + i * 331, 100, 60 + (i % 12), 90);
    const source = song([conductor(97).tempo(5000, 143).marker(3840, 'Mark'), line]);
    const steps = [
      step('rest-at-start', { bars: 2 }),
      step('shift', { ms: 700 }),
      step('set-ppq', { ticksPerQuarter: 193 }),
      step('one-tempo-holding-clock', { microsecondsPerQuarter: 500_000 }),
      step('repeat', { fromBar: 1, bars: 1, times: 2 }),
      step('trim-start', { bars: 1 }),
    ];
    const captions = step('captions', { from: 'markers' });
    for (let n = 0; n <= steps.length; n++) {
      const { rendition } = run(source, captions, ...steps.slice(0, n));
      const piece = rendition.pieces[0]!;
      const [part] = piece.score.parts;
      const own = source.score.parts[0]!.notes;
      for (let i = 0; i < own.count; i++) {
        const at = Array.from(part!.notes.id).indexOf(own.id[i]!);
        expect(part!.notes.start[at]).toBe(mapTick(piece.fromBase, own.start[i]!));
      }
      const marker = piece.score.conductor.markers[0]!.tick;
      expect(piece.captions![0]!.tick).toBe(marker);
      // A stretch that was meant before any of them is the same music behind all of them.
      const last = { fromTick: own.start[20]!, toTick: own.start[25]! };
      const up = run(
        source,
        captions,
        ...steps.slice(0, n),
        step('transpose', { semitones: 1 }, last),
      );
      const moved = rows(up.rendition.pieces[0]!.score.parts[0]!.notes).filter(
        (r, i) => r[2] !== part!.notes.noteNumber[i],
      );
      expect(moved).toHaveLength(5);
    }
  });
});

describe('mending many', () => {
  it('ends, and no two mends take turns, on every song and target of the week', () => {
    for (const job of week.filter(
      (j) => j.id === 'demo-long-causeway' || j.id === 'demo-paper-march',
    ))
      for (const id of ['strip-organ', 'pattern-pads', 'lantern-rail']) {
        const source = sourceFromBytes(job.bytes(), job.file);
        const target = builtIn(id);
        const done = mendMany({
          rendition: renditionOf(source, target),
          target,
          base: baseOf(source),
          reach: 'drop',
          accept: true,
        });
        const times = new Map<string, number>();
        for (const a of done.applied) {
          const pair = `${a.finding} ${a.title}`;
          times.set(pair, (times.get(pair) ?? 0) + 1);
        }
        expect(Math.max(0, ...times.values()), `${job.title} on ${id}`).toBeLessThanOrEqual(2);
      }
  }, 60_000);
});
