import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import {
  builtIn,
  conductor,
  song,
  weekSource,
  targetWith,
  Track,
} from '../../../testing/score-builder';
import { ownTargets } from '../../../demo/own-targets';
import { builtInTargets } from '../target/index';
import { findWriter, writers } from '../outputs/index';
import { proof } from '../rules/proof';
import { withKey, type SourceScore } from '../sources/source';
import type { SourceUse } from '../sources/use';
import type { Target } from '../target/schema';
import { baseOf } from '../plan/base';
import { handOver } from './hand-over';
import { KINDS_OF_MIDI } from '../outputs/counts/kinds';
import type { PlanStep } from '../plan/plan';
import { runPlan } from '../plan/run';

const targets = [...builtInTargets, ...ownTargets];
const sha256 = (bytes: Uint8Array) =>
  Promise.resolve(createHash('sha256').update(bytes).digest('hex'));

async function handed(
  sources: readonly SourceScore[],
  target: Target,
  steps: readonly PlanStep[] = [],
  uses?: readonly SourceUse[],
) {
  const base = baseOf(sources, uses);
  const plan = { steps };
  const run = runPlan({ base, target, plan });
  const findings = proof({ rendition: run.rendition, target, base });
  return handOver({
    job: 'Test',
    handover: 1,
    base,
    target,
    plan,
    run,
    findings,
    leftAsIs: [],
    sha256,
  });
}

const rich = () =>
  song([
    conductor().marker(0, 'Ebb').key(0, 2),
    new Track('Gulls')
      .program(0, 1, 12)
      .control(0, 1, 7, 90)
      .control(0, 1, 64, 127)
      .control(0, 1, 0, 1)
      .event(10, 0xe0, 1, 0, 70)
      .event(11, 0xd0, 1, 70)
      .text(0, 0x05, 'salt')
      .text(0, 0x01, 'hello')
      .sysex(0, [0x7e, 0xf7])
      .note(1, 480, 240, 60, 90)
      .note(1, 960, 240, 62, 91),
  ]);

describe('the ledger of what is carried', () => {
  it('a frame table holds no marker, lyric, program, pedal or bend, and the receipt says so', async () => {
    const { receipt } = await handed([rich()], builtIn('frame-deck'));
    const of = (kind: string) => receipt.ledger.find((r) => r.kind === kind);
    for (const kind of [
      'markers',
      'lyrics',
      'programs',
      'pedal changes',
      'bends',
      'bank changes',
      'controller 7 changes',
      'pressures',
      'texts',
      'system exclusive messages',
    ])
      expect(of(kind), kind).toMatchObject({ had: 1, carried: 0, dropped: 1 });
    expect(of('notes')).toMatchObject({ had: 2, carried: 2, dropped: 0 });
    expect(receipt.carried.markers).toBe(0);
    for (const f of receipt.files) expect(f.holds['markers']).toBeUndefined();
  });

  it('a part of one note is listed as such, carried or left out', async () => {
    const once = song([
      conductor(),
      new Track('Line').note(1, 0, 240, 60, 90).note(1, 480, 240, 62, 90),
      new Track('Knock').note(1, 0, 240, 64, 90),
      new Track('Gong').note(1, 480, 240, 65, 90),
    ]);
    const parts = [{ source: 'main', track: 'Gong', channel: 1, occurrence: 0 }];
    const out = { key: 'a', step: 'leave-out', params: {}, scope: { parts }, on: true };
    const { receipt } = await handed([once], targetWith({ seats: [] }), [out]);
    expect(receipt.carried.parts.map((p) => [p.name, p.notes])).toEqual([
      ['Line', 2],
      ['Knock', 1],
    ]);
    expect(receipt.leftOut.parts).toEqual([{ name: 'Gong', notes: 1 }]);
    expect(receipt.carried.notes).toBe(3);
  });

  it('an SMF holds all of it', async () => {
    const { receipt } = await handed([rich()], targetWith({ seats: [] }));
    expect(receipt.ledger.filter((r) => r.dropped > 0)).toEqual([]);
    const controllers = KINDS_OF_MIDI.indexOf('pedal changes') + 1;
    expect(receipt.ledger.map((r) => r.kind)).toEqual(
      [...KINDS_OF_MIDI].toSpliced(controllers, 0, 'controller 7 changes' as never),
    );
  });

  it('each file is told how far it stands from its own source', async () => {
    const tune = (key: string) =>
      withKey(song([conductor(), new Track('A').note(1, 480, 240, 60, 90)]), key, `${key}.mid`);
    const steps = [
      {
        key: '1',
        step: 'rest-at-start',
        params: { bars: 1 },
        scope: { file: 'b.mid' },
        on: true,
      },
    ];
    const { receipt, files } = await handed(
      [tune('a'), tune('b')],
      targetWith({ seats: [] }),
      steps,
      [{ source: 'b', as: 'file' }],
    );
    expect(receipt.plan[0]!.refused).toBeNull();
    expect(receipt.files.map((f) => [f.path, f.shiftMs])).toEqual([
      ['a.mid', 0],
      ['b.mid', 2000],
    ]);
    const page = new TextDecoder().decode(files.find((f) => f.path === 'receipt.html')!.bytes);
    expect(page).toContain('b.mid stands 2,000 ms later');
    expect(page).not.toContain('Nothing was shifted');
  });

  it('what a source that does not rule leaves behind is a loss', async () => {
    const tune = (key: string, bpm: number) =>
      withKey(song([conductor(bpm), new Track('A').note(1, 480, 240, 60, 90)]), key, `${key}.mid`);
    const { receipt } = await handed(
      [tune('a', 120), tune('b', 90)],
      targetWith({ seats: [] }),
      [],
      [{ source: 'a', as: 'together', rules: true }],
    );
    expect(receipt.leftOut.losses).toContainEqual({ what: 'tempos of b.mid', count: 1 });
    expect(receipt.ledger.find((r) => r.kind === 'tempos')).toMatchObject({
      had: 2,
      carried: 1,
      dropped: 1,
    });
  });
});

describe('over all jobs of the demo and all targets', () => {
  const met = new Set<string>();
  for (const job of week)
    for (const target of targets)
      it(`${job.id}, ${target.id}: had + added = carried + dropped; a writer holds what it declares`, async () => {
        const source = weekSource(job);
        const { receipt, files } = await handed([source], target);
        expect(receipt.ledger.length).toBeGreaterThan(0);
        for (const { kind, had, added, carried, dropped } of receipt.ledger) {
          expect(had + added, kind).toBe(carried + dropped);
          expect(Math.min(added, dropped), kind).toBe(0);
        }
        for (const file of files) {
          if (!file.writer) continue;
          met.add(file.writer);
          const { carries } = findWriter(file.writer)!;
          const { holds } = receipt.files.find((f) => f.path === file.path)!;
          for (const kind of Object.keys(holds)) {
            const wide = kind.startsWith('controller ') ? 'controllers' : kind;
            expect(carries, `${file.writer} holds ${kind}`).toContain(wide);
          }
        }
        expect(receipt.rehearsed.unexplained).toEqual([]);
        const notes = receipt.ledger.find((r) => r.kind === 'notes');
        const { notes: meant } = receipt.carried;
        // Rows and lanes have no place for some notes; nothing holds more than was meant.
        if (notes && target.outputs.every((o) => o.writer === 'smf'))
          expect(notes.carried).toBe(meant);
      });
  it('all writers were met', () => {
    const silent = new Set(['sound']); // No job of these brings a recording.
    expect(writers.map((w) => w.id).filter((id) => !met.has(id) && !silent.has(id))).toEqual([]);
  });
});
