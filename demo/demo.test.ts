import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { readSmf } from '../src/core/smf/read';
import { findStep } from '../src/core/steps/index';
import { proof } from '../src/core/rules/proof';
import { builtInTargets, findTarget } from '../src/core/target/index';
import { deliver, toldSteps } from '../testing/rehearsing';
import { rehearsalOf } from '../src/core/handover/rehearsal';
import { renditionOf, weekSource } from '../testing/score-builder';
import { smfWeek, week } from './week';
import { baseOf } from '../src/core/plan/base';

describe('the lantern week', () => {
  it('is what the generator writes', () => {
    const files = week.flatMap(({ file, bytes, further = [], furtherBytes = {} }) => [
      { file, bytes },
      ...further.map((f) => ({ file: f.file, bytes: furtherBytes[f.key]! })),
    ]);
    expect(files.length).toBeGreaterThan(week.length);
    for (const { file, bytes } of files)
      expect(readFileSync(join('demo/lantern-week', file)).equals(Buffer.from(bytes()))).toBe(true);
  });
  it('holds a song of 60 parts, one of 400 bars, one on two targets, one that is damaged', () => {
    expect(week.some((j) => j.targets.length === 2)).toBe(true);
    const tracks = smfWeek.map((j) => readSmf(j.bytes()).file!.tracks.length);
    expect(Math.max(...tracks)).toBe(61);
    const damaged = smfWeek.filter((j) => readSmf(j.bytes()).damage.length > 0);
    expect(damaged.map((j) => j.id)).toEqual(['demo-torn-page']);
  });
  it('names targets and steps that exist', () => {
    for (const { id, steps } of week.flatMap((j) => j.targets)) {
      expect(findTarget(id)).toBeDefined();
      for (const s of steps)
        expect(findStep(s.step)!.params.safeParse(s.params).success).toBe(true);
    }
  });
  it('has a job for every target, each with stops or cautions that are typical of it', () => {
    for (const target of builtInTargets) {
      const job = week.find((j) => j.targets.some((t) => t.id === target.id));
      expect(job, target.id).toBeDefined();
      const source = weekSource(job!);
      const findings = proof({
        rendition: renditionOf(source, target),
        target,
        base: baseOf(source),
      });
      expect(findings.filter((f) => f.severity !== 'remark').length, target.id).toBeGreaterThan(0);
    }
  });
});

it('every job goes out complete, and its files are played from where they lie', () => {
  const home = 'demo/lantern-week/handed-over';
  rmSync(home, { recursive: true, force: true });
  for (const job of week)
    for (const { id } of job.targets) {
      const target = findTarget(id)!;
      const { rendition, files } = deliver(weekSource(job), target, {
        steps: toldSteps(target),
        mended: true,
      });
      const folder = join(home, `${job.id}-${id}`);
      for (const { path, bytes } of files) {
        mkdirSync(dirname(join(folder, path)), { recursive: true });
        writeFileSync(join(folder, path), bytes);
      }
      const read = files.map(({ path, holds }) => ({
        path,
        bytes: new Uint8Array(readFileSync(join(folder, path))),
        ...(holds === undefined ? {} : { holds }),
      }));
      const rehearsed = rehearsalOf(read, rendition, target, []);
      // A torn page has nothing left of the parts that the damage took.
      expect(read.length, job.id).toBeGreaterThan(0);
      expect(
        rehearsed.files.flatMap((f) => f.complaints),
        `${job.id} on ${id}`,
      ).toEqual([]);
      expect(rehearsed.asMeant, `${job.id} on ${id}`).toBe(true);
    }
});
