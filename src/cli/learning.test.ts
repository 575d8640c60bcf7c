import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { ownPacks } from '../../demo/own-packs';
import { call } from '../../testing/command-line';
import { unpackFiles } from '../core/formats/unpack';
import { writeTargetPack } from '../core/handover/target-pack';

const folder = mkdtempSync(join(tmpdir(), 'quill-learning-'));
const at = (name: string) => join(folder, name);
const put = (name: string, bytes: Uint8Array | string) => {
  const file = at(name.replaceAll('/', '-'));
  writeFileSync(file, bytes);
  return file;
};
const heron = ownPacks['heron-steps.quilltarget']!();
const pack = put('heron.quilltarget', writeTargetPack(heron));
const own = (name: string) => put(name, heron.files.get(name)!);
const example = own('pairs/low-water-walk.steps.json');
const walk = put('low-water-walk.mid', heron.files.get('taken/low-water-walk.mid')!);

it('what was played wrongly is told beside what was refused, and goes in as a caution', async () => {
  const out = at('wrongly.json');
  const taken = [walk, put('quay-hop.mid', heron.files.get('taken/quay-hop.mid')!)];
  const { status, stdout } = await call(
    'learn',
    ...taken,
    '--wrong',
    own('refused/five-on-one-stone.mid'),
    '--heard',
    'The fifth stone is silent',
    '--take',
    '1',
    '--out',
    out,
  );
  expect(status).toBe(0);
  expect(stdout).toMatch(/1\. 1 of 1 played wrongly has /);
  expect(stdout).toMatch(/seen in both files; nearest “/);
  const target = JSON.parse(readFileSync(out, 'utf8')) as {
    checklist: string[];
    limits?: object[];
  };
  expect(target.checklist).toEqual(['The fifth stone is silent']);
  expect(target.limits).toMatchObject([{ severity: 'caution', why: 'The fifth stone is silent' }]);
});

describe('a target with its own proof', () => {
  it('check-target holds it against its examples, and ends with 1 where one is broken', async () => {
    const good = await call('check-target', pack);
    expect(good.status).toBe(0);
    expect(good.stdout).toContain('5 examples, 0 broken');
    expect(good.stdout).toContain('ok pair pairs/low-water-walk.steps.json: written identical');
    const strict = { ...heron, target: { ...heron.target, start: { leadInMs: 9000 } } };
    const bad = await call('check-target', put('bad.quilltarget', writeTargetPack(strict)));
    expect(bad.status).toBe(1);
    expect(bad.stderr).toContain('BROKEN taken taken/quay-hop.mid: First note');
    const none = await call('check-target', put('none.quilltarget', 'PK\u0003\u0004'));
    expect(none.status).toBe(2);
  });
  it('is a target wherever one is named', async () => {
    const { status, stdout } = await call(
      'proof',
      own('refused/too-early.mid'),
      '--target',
      pack,
      '--json',
    );
    expect(status).toBe(1);
    expect(stdout).toContain('first-note');
    const out = at('out');
    const mended = await call(
      'mend',
      walk,
      '--target',
      pack,
      '--out',
      out,
      '--set',
      'title=low-water-walk',
    );
    expect(mended.status).toBe(0);
    const file = readFileSync(join(out, 'low-water-walk', 'low-water-walk.steps.json'));
    expect(file.equals(readFileSync(example))).toBe(true);
    const odd = await call(
      'mend',
      walk,
      '--target',
      pack,
      '--out',
      out,
      '--set',
      'tide=low',
      '--force',
    );
    expect(odd.stderr).toContain('there is no “tide”');
    expect(unpackFiles(readFileSync(pack)).files?.size).toBe(7);
  });
});

describe('a file of its own as a source', () => {
  it('is read with the target that describes it, and goes out as it came', async () => {
    const out = at('again');
    const { status } = await call(
      'mend',
      example,
      '--target',
      pack,
      '--out',
      out,
      '--set',
      'title=low-water-walk',
    );
    expect(status).toBe(0);
    const [folder] = readdirSync(out);
    const file = readdirSync(join(out, folder!)).find(
      (f) => f.endsWith('.json') && f !== 'receipt.json',
    );
    expect(readFileSync(join(out, folder!, file!), 'utf8')).toBe(readFileSync(example, 'utf8'));
    const odd = await call('proof', example, '--target', 'bell-loft');
    expect(odd.status).toBe(2);
  });
});

describe('described by an example', () => {
  it('format explains it and writes the description; read gives its rows', async () => {
    const description = at('steps.json');
    const { status, stdout } = await call(
      'format',
      example,
      '--score',
      walk,
      '--target',
      pack,
      '--out',
      description,
    );
    expect(status).toBe(0);
    expect(stdout).toContain('written again: identical');
    expect(stdout).toContain('start in ms; 15 of 15');
    const read = await call('read', example, '--format', description);
    const [found] = read.json() as unknown as [{ notes: { startUs: number }[]; rows: object }];
    expect(found.notes).toHaveLength(15);
    expect(found.notes[1]!.startUs).toBe(2_500_000);
    const byTarget = await call('read', example, '--format', pack);
    expect((byTarget.json() as unknown as [{ notes: { key: number }[] }])[0].notes[1]!.key).toBe(
      62,
    );
  });
  it('a file that is not of the format is refused with its place', async () => {
    const text = readFileSync(example, 'utf8').replace('"count": 15', '"count": "15"');
    const { status, stderr } = await call('read', put('odd.json', text), '--format', pack);
    expect(status).toBe(2);
    expect(stderr).toMatch(/odd\.json, line 4: /);
    const unlike = await call('format', put('random.txt', 'mud\n'), '--score', walk);
    expect(unlike.status).not.toBe(0);
  });
});

describe('learnt from what was taken and refused', () => {
  const files = (which: string) =>
    [...heron.files.keys()].filter((f) => f.startsWith(`${which}/`)).map(own);
  it('the reasons come in order, and a target takes them up', async () => {
    const out = at('learnt.json');
    const { stdout } = await call(
      'learn',
      ...files('taken'),
      '--refused',
      ...files('refused'),
      '--take',
      '1',
      '--out',
      out,
      '--json',
    );
    const found = JSON.parse(stdout) as {
      proposals: { feature: string; twins: object | null }[];
      unexplained: string[];
    };
    expect(found.proposals.slice(0, 3).map((p) => p.feature)).toContain('first-ms');
    expect(found.proposals.map((p) => p.feature)).toContain('run');
    expect(found.unexplained).toEqual([]);
    expect((await call('check-target', out)).status).toBe(0);
    expect(JSON.parse(readFileSync(out, 'utf8'))).toMatchObject({ start: { leadInMs: 1000 } });
  });
  it('probes go on by the answers, until all is known', async () => {
    const first = await call('probe', '--out', at('probe.mid'));
    expect(first.stdout).toContain('Probe 1: a plain tune');
    expect((await call('inventory', at('probe.mid'))).stdout).toContain('SMF 0');
    const nothing = await call('probe', '--answers', Array(16).fill('no').join());
    expect(nothing.status).toBe(2);
    expect(nothing.stderr).toContain('None of 16 probes was taken');
    await call('probe', '--from', walk, '--out', at('like.mid'));
    const like = (await call('inventory', at('like.mid'), '--json')).json() as unknown;
    const own = (await call('inventory', walk, '--json')).json() as unknown;
    const ppqOf = (all: unknown) =>
      (all as [{ inventory: { division: object } }])[0].inventory.division;
    expect(ppqOf(like)).toEqual(ppqOf(own));
    const yes: string[] = [];
    let said = '';
    for (; yes.length <= 16 && !said.startsWith('{'); yes.push('yes'))
      said = (await call('probe', '--answers', yes.join())).stdout;
    expect(JSON.parse(said)).toMatchObject({ lowest: 0, highest: 127, together: 16, startMs: 0 });
    yes.push('no');
    expect((await call('probe', '--answers', yes.join())).stderr).toContain('were enough');
    expect((await call('probe', '--answers', 'perhaps')).stderr).toContain('neither yes nor no');
  });
});
