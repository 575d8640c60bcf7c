import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as z from 'zod';
import { describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { deliver } from '../../../testing/rehearsing';
import { builtIn, weekSource } from '../../../testing/score-builder';
import { writers } from '../outputs/index';
import { checkFile } from '../standin/check';
import { builtInTargets } from '../target/index';
import { findFormat, formats } from './index';

const deliveryOf = (id: string) => {
  const job = week.find((j) => j.targets.some((t) => t.id === id))!;
  const { steps } = job.targets.find((t) => t.id === id)!;
  return deliver(weekSource(job), builtIn(id), { steps, mended: true });
};
/** A target of the demo that delivers a format, and the ending of its files. */
const WHERE: Readonly<Record<string, readonly [string, RegExp]>> = {
  chart: ['marsh-duel', /\.chart\.json$/],
  captions: ['song-board', /\.vtt$/],
  crate: ['stomp-crate', /crate\.json$/],
  frames: ['frame-deck', /\.frames\.json$/],
  'frame-list': ['frame-deck', /-frames\.csv$/],
  strands: ['cue-ledger', /\.strands\.json$/],
  'hole-list': ['strip-organ', /-holes\.csv$/],
  'strip-sheet': ['strip-organ', /\.svg$/],
  chain: ['tide-voices', /\.chain\.json$/],
  'sound-link': ['tide-voices', /-link\.wav$/],
  'time-list': ['lantern-rail', /-times\.csv$/],
  'tempo-map': ['tempo-carrier', /-tempo-map\.csv$/],
  'patch-list': ['brine-box', /-patches\.csv$/],
  'level-table': ['lamp-gallery', /-levels\.csv$/],
};
const folder = mkdtempSync(join(tmpdir(), 'formats-'));

describe('every format', () => {
  it('is known to its writer, and every writer that a target names is there', () => {
    for (const w of writers) if (w.format) expect(findFormat(w.format), w.id).toBeDefined();
    const named = builtInTargets.flatMap((t) => t.outputs.map((o) => o.writer));
    for (const id of named) expect(writers.map((w) => w.id)).toContain(id);
    expect(Object.keys(WHERE).sort()).toEqual(formats.map((f) => f.id).sort());
  });

  for (const format of formats)
    describe(format.id, () => {
      const [target, ending] = WHERE[format.id]!;
      const delivery = deliveryOf(target);
      const file = delivery.files.find((f) => ending.test(f.path))!;

      it('is written by a job of the demo, checked, and the same each time', () => {
        expect(checkFile(format, file)).toEqual([]);
        const again = deliveryOf(target).files.find((f) => f.path === file.path)!;
        expect(Buffer.from(again.bytes).equals(Buffer.from(file.bytes))).toBe(true);
        expect([...file.bytes.subarray(0, 3)]).not.toEqual([0xef, 0xbb, 0xbf]);
      });

      it('its reader reads it', () => {
        expect(format.reader.split('\n').length).toBeLessThanOrEqual(11);
        const script = join(folder, `${format.id}.mjs`);
        const data = join(folder, `${format.id}.bin`);
        writeFileSync(data, file.bytes);
        writeFileSync(
          script,
          `import { readFileSync } from 'node:fs';
const bytes = readFileSync(process.argv[2]);
${format.reader}
console.log(JSON.stringify({ count: found.length, first: found[0] ?? null }));`,
        );
        const out = execFileSync(process.execPath, [script, data], { encoding: 'utf8' });
        const { count, first } = JSON.parse(out) as { count: number; first: object };
        expect(count).toBeGreaterThan(0);
        for (const value of Object.values(first)) expect(value).not.toBeNull();
      });

      if (format.kind === 'json')
        it('has sorted keys and whole numbers, a JSON Schema, and refuses what it does not know', () => {
          const text = new TextDecoder().decode(file.bytes);
          expect(text).not.toMatch(/\r/);
          expect(text.endsWith('}\n')).toBe(true);
          const sorted = (v: unknown): void => {
            if (typeof v === 'number' && !Number.isInteger(v))
              expect(text).toContain(`"bpm": ${v}`);
            if (typeof v !== 'object' || v === null) return;
            if (!Array.isArray(v)) expect(Object.keys(v)).toEqual(Object.keys(v).sort());
            Object.values(v).forEach(sorted);
          };
          sorted(JSON.parse(text));
          expect(z.toJSONSchema(format.schema!, { io: 'input' })).toMatchObject({ type: 'object' });
          const strange = text.replace('"version"', '"versoin"');
          const problems = checkFile(format, {
            path: file.path,
            bytes: new TextEncoder().encode(strange),
          });
          expect(problems.map((p) => p.says).join()).toMatch(/nearest known key is "version"/);
          const other = text.replace(/"version": 1/, '"version": 2');
          expect(
            checkFile(format, { path: file.path, bytes: new TextEncoder().encode(other) }),
          ).toMatchObject([{ path: 'version' }]);
        });

      if (format.kind === 'csv')
        it('says where another separator or a cell is wrong', () => {
          const text = new TextDecoder().decode(file.bytes);
          const check = (t: string) =>
            checkFile(format, { path: file.path, bytes: new TextEncoder().encode(t) });
          expect(check(text.replaceAll(',', ';'))[0]!.says).toMatch(/semicolons/);
          expect(check(text.replace(/\r\n[^,]*,/, '\r\nx,'))[0]!.path).toMatch(/^line 2/);
          expect(check(text.trimEnd())[0]!.path).toBe('last line');
        });
    });
});

describe('what a strict reader does not take', () => {
  const chain = deliveryOf('tide-voices').files.find((f) => f.path.endsWith('.chain.json'))!;
  const text = new TextDecoder().decode(chain.bytes);
  const says = (of: string, path = chain.path) =>
    checkFile(findFormat('chain')!, { path, bytes: new TextEncoder().encode(of) }).map(
      (p) => p.says,
    );
  it('a key that is given twice, however it is written', () => {
    expect(says(text)).toEqual([]);
    expect(says(text.replace('"format"', '"version": 9,\n  "format"')).join()).toMatch(
      /"version" is given twice/,
    );
    expect(says(text.replace('"format"', '"\\u0076ersion": 9,\n  "format"')).join()).toMatch(
      /"version" is given twice/,
    );
  });
  it('a list that is longer than it may be, however long', () => {
    const chainOf = (n: number) => {
      const data = JSON.parse(text) as { links: unknown[] };
      const links = Array.from({ length: n }, () => data.links[0]);
      return JSON.stringify({ ...data, links });
    };
    expect(keyed(chainOf(1000))).not.toMatch(/entries/);
    expect(keyed(chainOf(1001))).toMatch(/^links There are 1001 entries; 1000 is the most/);
    expect(keyed(chainOf(5000))).toMatch(/links/);
  });
  const keyed = (of: string) =>
    checkFile(findFormat('chain')!, { path: 'a.chain.json', bytes: new TextEncoder().encode(of) })
      .map((p) => `${p.path} ${p.says}`)
      .join('; ');
  it('a mark at the start of a CSV', () => {
    const list = deliveryOf('strip-organ').files.find((f) => f.path.endsWith('-holes.csv'))!;
    const marked = new Uint8Array([0xef, 0xbb, 0xbf, ...list.bytes]);
    const { problems } = {
      problems: checkFile(findFormat('hole-list')!, { ...list, bytes: marked }),
    };
    expect(problems.map((p) => `${p.path} ${p.says}`)).toEqual([
      expect.stringMatching(/line 1 A byte order mark/),
    ]);
  });
});
