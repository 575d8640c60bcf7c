import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { eelMarket } from '../../demo/modules/eel-market';
import type { Tune } from '../../demo/modules/tune';
import { writeXm } from '../../demo/modules/write-xm';
import { call as commandLine } from '../../testing/command-line';
import { readWave } from '../core/sound/wave';
import { InventoryLine } from './schema';

const folder = mkdtempSync(join(tmpdir(), 'modules-'));
const file = join(folder, 'eel-market.xm');
writeFileSync(file, writeXm(eelMarket()));

interface Lies {
  readonly found: { readonly offsetMs: number; readonly sure: boolean };
}

/** The market in the morning, and another song of its sounds behind it: its answers, the tune once. */
const twoSongs = (): Tune => {
  const market = eelMarket();
  const [, tune, answer] = market.patterns;
  const back = (pattern: Tune['patterns'][number], to: number) =>
    pattern.map((row, r) =>
      r + 1 < pattern.length ? row : [{ ...row[0], fx: ['B', to] as const }, ...row.slice(1)],
    );
  const patterns = [...market.patterns, tune!, back(tune!, 0), back(answer!, 6)];
  return { ...market, patterns, orders: [0, 1, 2, 1, 2, 5, 2, 2, 4, 6] };
};

describe('modules on the command line', () => {
  it('inventory: every sample, in text and as JSON by its schema', async () => {
    const text = await commandLine('inventory', file);
    expect(text.stdout).toContain('module (XM)');
    expect(text.stdout).toMatch(/sample {2}1 {2}Bollard bass in G: bass \(.*17 semitones lower/);
    const json = await commandLine('inventory', file, '--json');
    const line = InventoryLine.parse(JSON.parse(json.stdout));
    expect(line.module!.samples.map((s) => s.role)).toEqual([
      'bass', 'chord', 'beat', 'lead', 'tom', 'bass drum', 'hat',
    ]); // prettier-ignore
  });
  it('mend writes it for a target, and its receipt says what no note carries', async () => {
    const out = join(folder, 'out');
    const made = await commandLine('mend', file, '--target', 'parlour-keyboard', '--accept', '--out', out, '--reading', '1.transpose=-17', 'pitch=notes');
    expect(made.status, made.stderr + made.stdout).toBe(0);
    const receipt = JSON.parse(readFileSync(join(out, 'eel-market', 'receipt.json'), 'utf8')) as {
      leftOut: { losses: { what: string; count: number }[] };
    };
    expect(JSON.stringify(receipt)).toContain('samples (their sound) of eel-market.xm');
  }); // prettier-ignore
  it('render: the module’s own sound, as long as it plays', async () => {
    const out = join(folder, 'eel-market.wav');
    const made = await commandLine('render', file, '--out', out, '--rate', '44100');
    expect(made.status, made.stderr).toBe(0);
    const facts = readWave(new Uint8Array(readFileSync(out)));
    if ('problem' in facts) throw new Error(facts.problem);
    expect(facts.rate).toBe(44_100);
    expect(facts.channels).toBe(2);
  });
  it('what is misspelt is said with its place', async () => {
    const wrong = await commandLine('inventory', file, '--reading', 'pitch=wobble');
    expect(wrong.status).toBe(2);
    expect(wrong.stderr).toContain('pitch');
    const none = await commandLine('render', join(folder, 'none.mod'), '--out', join(folder, 'x'));
    expect(none.status).toBe(2);
  });
  it('align finds it in place beside its own sound', async () => {
    const sound = join(folder, 'eel-market.wav');
    const found = await commandLine('align', file, sound, '--json');
    const { found: at } = JSON.parse(found.stdout) as Lies;
    expect(Math.abs(at.offsetMs)).toBeLessThan(12);
    expect(at.sure).toBe(true);
  });
  it('align takes the song that is asked for, and how its notes are read', async () => {
    const two = join(folder, 'two-songs.xm');
    writeFileSync(two, writeXm(twoSongs()));
    const sound = join(folder, 'second.wav');
    const made = await commandLine('render', two, '--sequence', '2', '--out', sound);
    expect(made.status, made.stderr).toBe(0);
    const of = async (...how: string[]) => {
      const said = await commandLine('align', two, sound, '--json', ...how);
      const { found } = JSON.parse(said.stdout) as Lies;
      return { ...found, status: said.status };
    };
    expect((await of()).sure).toBe(false);
    const second = await of('--sequence', '2', '--reading', '1.transpose=-17');
    expect(second).toMatchObject({ sure: true, status: 0 });
    expect(Math.abs(second.offsetMs)).toBeLessThan(12);
    const wrong = await commandLine('align', two, sound, '--reading', 'pitch=wobble');
    expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('pitch')]);
  });
});
