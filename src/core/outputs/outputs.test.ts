import { createHash } from 'node:crypto';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { builtIn, conductor, song, weekSource, Track } from '../../../testing/score-builder';
import { runPlan } from '../plan/run';
import { proof } from '../rules/proof';
import { safeName } from './define-writer';
import { handOver } from '../handover/hand-over';
import { unpackFiles } from '../formats/unpack';
import { packFiles } from './pack';
import { writeOutputs, writers } from './index';
import { standIns } from '../standin/index';
import { STAND_INS, WRITER_OPTIONS } from '../target/writer-options';
import type * as z from 'zod';
import { baseOf } from '../plan/base';

const rail = builtIn('lantern-rail');
const sha256 = async (b: Uint8Array) => createHash('sha256').update(b).digest('hex');

async function hand(title = '<b>Tide</b>') {
  const job = week[0]!;
  const source = weekSource(job);
  const plan = { steps: job.targets[0]!.steps };
  const run = runPlan({ base: baseOf(source), target: rail, plan });
  const findings = proof({ rendition: run.rendition, target: rail, base: baseOf(source) });
  const leftAsIs = [{ key: findings[0]!.key, reason: 'The crew counts in' }];
  return handOver({
    job: title,
    handover: 3,
    base: baseOf(source),
    target: rail,
    plan,
    run,
    findings,
    leftAsIs,
    sha256,
  });
}

describe('handover', () => {
  it('writes what the target asks for, read back and the same', async () => {
    const { files, receipt } = await hand();
    expect(files.map((f) => f.path)).toEqual([
      'turn-of-the-tide.mid',
      'turn-of-the-tide-times.csv',
      'receipt.json',
      'receipt.html',
    ]);
    expect(receipt.files.map((f) => f.readBack)).toEqual(['same', 'not read']);
    for (const [i, f] of receipt.files.entries())
      expect(f.sha256).toBe(await sha256(files[i]!.bytes));
  });

  it('the file has a conductor and one cue track, as an independent reader sees it', async () => {
    const { files } = await hand();
    const midi = parseMidi(files[0]!.bytes);
    expect(midi.header.format).toBe(1);
    const withNotes = midi.tracks.filter((t) => t.some((e) => e.type === 'noteOn'));
    expect(withNotes).toHaveLength(1);
    expect(midi.tracks[0]!.some((e) => e.type === 'setTempo')).toBe(true);
    expect(withNotes[0]!.filter((e) => e.type === 'noteOn')).toHaveLength(62);
  });

  it('the receipt lists sources, plan, findings, what was left and why', async () => {
    const { receipt, files } = await hand();
    expect(receipt.leftOut.parts.map((p) => p.notes)).toEqual([90, 64, 128]);
    expect(receipt.leftAsIs[0]!.reason).toBe('The crew counts in');
    expect(receipt.findingsAfter.leftAsIs).toBe(1);
    expect(receipt.plan[0]!.says).toBe('Lamp cues, Shutter cues: seat at Cue line (channel 16)');
    const page = new TextDecoder().decode(files.find((f) => f.path === 'receipt.html')!.bytes);
    expect(page).toContain('&lt;b&gt;Tide');
    expect(page).not.toContain('<b>Tide');
    expect(page).toContain('handover 3');
    for (const f of receipt.openFindings) expect(f.says).not.toMatch(/undefined|NaN/);
  });

  it('the same work gives the same pack, byte for byte', async () => {
    const [a, b] = [packFiles((await hand()).files), packFiles((await hand()).files)];
    expect(Buffer.from(a).equals(Buffer.from(b))).toBe(true);
    expect([...unpackFiles(a).files!.keys()]).toHaveLength(4);
  });
});

describe('time list', () => {
  it('gives place, clock and cue number; text cannot become a formula', () => {
    const source = song([
      conductor(96, 3, 4).marker(0, '=1+1, "x"'),
      new Track('Cues').note(16, 1440, 240, 24, 90),
    ]);
    const { files } = writeOutputs(
      runPlan({ base: baseOf(source), target: rail, plan: { steps: [] } }).rendition,
      rail,
    );
    const lines = new TextDecoder().decode(files[1]!.bytes).split('\r\n');
    expect(lines[1]).toBe('1,1,24,C1,2.1+0,0:01.875,1875,312.5,"\'=1+1, ""x""",Cues,');
  });
});

describe('names and packs from anywhere', () => {
  it.each([
    ['../../etc/passwd', '_.._etc_passwd'],
    ['a/b\\c:d.mid', 'a_b_c_d.mid'],
    ['...', 'untitled.mid'],
    ['tab\tname', 'tab_name'],
  ])('%s', (name, safe) => expect(safeName(name)).toBe(safe));

  it('a path that leaves the pack is refused', () => {
    const bad = packFiles([{ path: '../x', bytes: Uint8Array.of(1) }]);
    expect(unpackFiles(bad).problem).toMatch(/leaves it/);
    expect(unpackFiles(Uint8Array.of(1, 2, 3)).problem).toMatch(/cannot be opened|can be opened/);
  });
  it('too many files are refused', () => {
    const many = packFiles(
      Array.from({ length: 2001 }, (_, i) => ({ path: `f${i}`, bytes: new Uint8Array(0) })),
    );
    expect(unpackFiles(many).problem).toMatch(/more than 2000/);
  });
});

it('what a target may name is what there is: writers, their options, stand-ins', () => {
  expect(Object.keys(WRITER_OPTIONS).sort()).toEqual(writers.map((w) => w.id).sort());
  for (const { id, options } of writers)
    expect(Object.keys((options as z.ZodObject).shape), id).toEqual(
      Object.keys((WRITER_OPTIONS[id] as z.ZodObject).shape),
    );
  expect([...STAND_INS].sort()).toEqual(standIns.map((s) => s.id).sort());
});
