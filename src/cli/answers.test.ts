import { execFileSync, spawnSync } from 'node:child_process';
import {
  chmodSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { week } from '../../demo/week';
import { call } from '../../testing/command-line';
import { deliver } from '../../testing/rehearsing';
import { builtIn, conductor, smf, weekSource, Track } from '../../testing/score-builder';
import { nameIn } from '../core/rules/facts/metadata';

const lantern = 'demo/lantern-week';
const tide = join(lantern, 'turn-of-the-tide.mid');
let folder = '';
beforeAll(() => {
  if (!existsSync('dist/cli/main.mjs'))
    execFileSync(process.execPath, ['scripts/build-node.mjs'], { stdio: 'inherit' });
  folder = mkdtempSync(join(tmpdir(), 'quill-answers-'));
});
const file = (name: string, bytes: Uint8Array | string) => {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
};
const into = (name: string) => join(folder, name);

/** Eight bars of drums and a copyright notice. */
const drums = (notice?: string) => {
  const track = new Track('Drums');
  if (notice !== undefined) track.text(0, 0x02, notice);
  for (let i = 0; i < 64; i++) track.note(10, i * 240, 120, i % 2 ? 36 : 42, 90);
  return smf(1, 480, [conductor(), track], 8 * 1920);
};

describe('what the target asks to be told', () => {
  it('is given on the command line', async () => {
    const song = join(lantern, week.find((j) => j.targets[0]!.id === 'marsh-duel')!.file);
    const out = into('told');
    await call(
      'mend',
      song,
      '--target',
      'marsh-duel',
      '--accept',
      '--set',
      'maker=A. Fenn',
      '--set',
      'title=Rope & salt',
      '--out',
      out,
    );
    const chart = readdirSync(join(out, readdirSync(out)[0]!)).find((f) =>
      f.endsWith('.chart.json'),
    )!;
    const made = JSON.parse(readFileSync(join(out, readdirSync(out)[0]!, chart), 'utf8')) as object;
    expect(made).toMatchObject({ maker: 'A. Fenn', title: 'Rope & salt' });
  });
  it('by keys that there are', async () => {
    await expect(
      call('mend', tide, '--target', 'marsh-duel', '--set', 'makr=A', '--out', into('no')),
    ).resolves.toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/nearest is maker/) as string,
    });
  });
  it.each([
    ['Copyright (c) 2019 Ada Fenn', 'Ada Fenn'],
    ['© 1998-2004 Marsh Crew. All rights reserved.', 'Marsh Crew.'],
    ['Composer: Ole Brine', 'Ole Brine'],
    ['Composer :', null],
    ['Copyright (c) xxxx Copyright Holder', null],
    ['-', null],
    ['', null],
    ['(C) 2020', null],
    ['Untitled', null],
  ])('a name out of “%s”', (notice, name) => {
    expect(nameIn(notice)).toBe(name);
  });
  it('a carved song is called by its own name, and so is its folder', async () => {
    const out = into('crates');
    const a = file('salt-and-rope.mid', drums());
    const b = file('low-water.mid', drums());
    await call('mend', a, b, '--target', 'stomp-crate', '--accept', '--out', out);
    const folders = readdirSync(out).map((song) =>
      readdirSync(join(out, song), { withFileTypes: true })
        .filter((e) => e.isDirectory())
        .map((e) => e.name),
    );
    expect(folders.flat().sort()).toEqual(['low water', 'salt and rope']);
    const crate = JSON.parse(
      readFileSync(join(out, 'low-water', 'low water', 'crate.json'), 'utf8'),
    ) as { name: string; kit: string };
    expect(crate.name).toBe('low water');
    expect(crate.kit).not.toBeNull();
  });
});

describe('how much may be dropped', () => {
  const two = () => {
    const [a, b] = [new Track('Tune'), new Track('Other')];
    for (let i = 0; i < 100; i++) a.note(1, 1920 + i * 480, 240, 60 + (i % 12), 90);
    for (let i = 0; i < 200; i++) b.note(2, 1920 + i * 240, 120, 64 + (i % 12), 90);
    return smf(1, 480, [conductor(), a, b]);
  };
  it('bounds who is left out as well', async () => {
    const song = file('two.mid', two());
    for (const target of ['lantern-rail', 'two-hand-scroll', 'bell-loft']) {
      const out = into(`drop-${target}`);
      const said = await call(
        'mend',
        song,
        '--target',
        target,
        '--accept',
        '--may-drop',
        '5%',
        '--out',
        out,
      );
      const receipt = JSON.parse(readFileSync(join(out, 'two', 'receipt.json'), 'utf8')) as {
        ledger: { kind: string; had: number; dropped: number }[];
      };
      const { had, dropped } = receipt.ledger.find((r) => r.kind === 'notes')!;
      if (dropped > had * 0.05) expect(said.status, target).toBe(1);
    }
  });
  it('--accept never advises itself', async () => {
    for (const target of ['lantern-rail', 'marsh-duel', 'fog-pier', 'tide-voices']) {
      const song = file('two.mid', two());
      const said = await call(
        'mend',
        song,
        '--target',
        target,
        '--accept',
        '--out',
        into(`acc-${target}`),
      );
      expect(said.stdout).not.toMatch(/or --accept/);
    }
  });
  it('--choose says what it needs', async () => {
    const said = await call(
      'mend',
      tide,
      '--target',
      'lantern-rail',
      '--choose',
      'foo',
      '--out',
      into('c'),
    );
    expect(said.status).toBe(2);
    expect(said.stderr).toMatch(/say a seat and a part/);
  });
});

describe('what is written', () => {
  it('leaves nothing of the delivery before, and nothing of others', async () => {
    const out = into('again');
    const song = file('rail.mid', readFileSync(tide));
    await call('mend', song, '--target', 'lantern-rail', '--accept', '--out', out);
    writeFileSync(join(out, 'rail', 'notes.txt'), 'mine');
    const before = readdirSync(join(out, 'rail'));
    await call('mend', song, '--target', 'bell-loft', '--accept', '--force', '--out', out);
    const receipt = JSON.parse(readFileSync(join(out, 'rail', 'receipt.json'), 'utf8')) as {
      files: { path: string }[];
    };
    const there = readdirSync(join(out, 'rail')).sort();
    expect(there).toEqual(
      [...receipt.files.map((f) => f.path), 'notes.txt', 'receipt.html', 'receipt.json'].sort(),
    );
    expect(before.some((f) => !there.includes(f))).toBe(true);
  });
  it('a receipt that names files elsewhere removes none of them', async () => {
    const out = into('trap');
    mkdirSync(join(out, 'rail'), { recursive: true });
    const outside = file('keep.txt', 'keep');
    writeFileSync(
      join(out, 'rail', 'receipt.json'),
      JSON.stringify({ files: [{ path: '../../keep.txt' }, { path: outside }] }),
    );
    await call(
      'mend',
      file('rail.mid', readFileSync(tide)),
      '--target',
      'lantern-rail',
      '--accept',
      '--force',
      '--out',
      out,
    );
    expect(readFileSync(outside, 'utf8')).toBe('keep');
  });
  it('has whole milliseconds, or thousandths', async () => {
    const out = into('numbers');
    await call('mend', tide, '--target', 'lantern-rail', '--accept', '--out', out, '--json');
    const text = readFileSync(join(out, 'turn-of-the-tide', 'receipt.json'), 'utf8');
    expect(text).not.toMatch(/\d\.\d{4,}|\de-\d/);
  });
  it('a folder that cannot be made is said at once', async () => {
    const said = await call('mend', tide, '--target', 'lantern-rail', '--out', '/proc/quill/x');
    expect(said.status).toBe(2);
    expect(said.stderr).toMatch(/cannot be written to \(E/);
  }, 5000);
  it('standard output that is full ends with a sentence', () => {
    if (!existsSync('/dev/full')) return;
    const { status, stderr } = spawnSync(
      'sh',
      ['-c', `"${process.execPath}" bin/wary-quill.mjs inventory ${tide} > /dev/full`],
      { encoding: 'utf8' },
    );
    expect(status).toBe(2);
    expect(stderr).toBe('Standard output cannot be written to (ENOSPC).\n');
  });
  it('standard input has a name, and a name of a device is none', async () => {
    const out = into('stdin');
    const { status } = spawnSync(
      process.execPath,
      ['bin/wary-quill.mjs', 'mend', '-', '--target', 'lantern-rail', '--accept', '--out', out],
      { input: readFileSync(tide) },
    );
    expect(status).not.toBe(2);
    expect(readdirSync(out)).toEqual(['stdin']);
    copyFileSync(tide, into('CON.mid'));
    await call('mend', into('CON.mid'), '--target', 'parlour-keyboard', '--out', into('con'));
    expect(readdirSync(into('con'))).toEqual(['_CON']);
    expect(readdirSync(into('con/_CON'))).toContain('_CON.mid');
  });
  it('a file that cannot be replaced is as it was', async () => {
    if (process.getuid?.() === 0) return; // To root every folder is open.
    const out = into('closed');
    mkdirSync(out);
    const target = join(out, 'a.mid');
    writeFileSync(target, 'old');
    chmodSync(out, 0o500);
    const said = await call('rebuild', tide, '--out', target, '--force');
    chmodSync(out, 0o700);
    expect(said.status).toBe(2);
    expect(readFileSync(target, 'utf8')).toBe('old');
  });
});

describe('a folder of deliveries', () => {
  it('is rehearsed delivery by delivery, each held against its receipt', async () => {
    const out = into('many');
    const [a, b] = [file('one.mid', readFileSync(tide)), file('other.mid', readFileSync(tide))];
    await call('mend', a, b, '--target', 'lantern-rail', '--accept', '--out', out);
    const heard = await call('rehearse', out, '--target', 'lantern-rail', '--json');
    const lines = heard.json() as { delivery: string; refused: { file: string; says: string }[] }[];
    expect(lines.map((l) => l.delivery.split('/').filter(Boolean).at(-1)).sort()).toEqual([
      'one',
      'other',
    ]);
    expect(lines.flatMap((l) => l.refused)).toEqual([]);
    const listed = readdirSync(join(out, 'one')).filter((f) => f.endsWith('.mid'))[0]!;
    rmSync(join(out, 'one', listed));
    writeFileSync(join(out, 'other', 'stray.mid'), readFileSync(tide));
    const again = await call('rehearse', out, '--target', 'lantern-rail', '--json');
    const said = (again.json() as { refused: { file: string; says: string }[] }[])
      .flatMap((l) => l.refused)
      .map((r) => `${r.file}: ${r.says}`);
    expect(said).toContain(`${listed}: The receipt lists it, and it is not there.`);
    expect(said).toContain('stray.mid: The receipt does not list it.');
    expect(again.status).toBe(1);
  });
});

describe('check holds what a schema cannot', () => {
  const made = (id: string, ending: string) => {
    const job = week.find((j) => j.targets.some((t) => t.id === id))!;
    const { steps } = job.targets.find((t) => t.id === id)!;
    const { files } = deliver(weekSource(job), builtIn(id), {
      steps,
      mended: true,
    });
    return new TextDecoder().decode(files.find((f) => f.path.endsWith(ending))!.bytes);
  };
  const swap = (text: string) => {
    const lines = text.split('\r\n');
    [lines[2], lines[3]] = [lines[3]!, lines[2]!];
    return lines.join('\r\n');
  };
  const without = (text: string) => {
    const lines = text.split('\r\n');
    lines.splice(3, 1);
    return lines.join('\r\n');
  };
  const later = (text: string) =>
    text.replace(/"atUs": (\d{4,})/, (_, n) => `"atUs": ${Number(n) + 5000}`);
  it.each([
    ['time-list', 'lantern-rail', '-times.csv', swap],
    ['time-list', 'lantern-rail', '-times.csv', without],
    ['frame-list', 'frame-deck', '-frames.csv', without],
    ['hole-list', 'strip-organ', '-holes.csv', swap],
    ['tempo-map', 'tempo-carrier', '-tempo-map.csv', swap],
    ['chart', 'marsh-duel', '.chart.json', later],
    ['chart', 'marsh-duel', '.chart.json', (t: string) => t.replace(/"endUs": \d+/, '"endUs": 1')],
    ['strands', 'cue-ledger', '.strands.json', later],
    [
      'crate',
      'stomp-crate',
      'crate.json',
      (t: string) => t.replace(/"lengthUs": \d+/, '"lengthUs": 1'),
    ],
    [
      'frames',
      'frame-deck',
      '.frames.json',
      (t: string) => t.replace(/\{ "event": "off"[^}]*\},\n\s*/, ''),
    ],
    [
      'chain',
      'tide-voices',
      '.chain.json',
      (t: string) => t.replace(/("pattern": ")A(", "repeats")/, '$1Z$2'),
    ],
  ] as const)('%s of %s: whole, and with a fault', async (format, target, ending, spoil) => {
    const text = made(target, ending);
    const name = `checked${ending.startsWith('.') || ending.startsWith('-') ? ending : `-${ending}`}`;
    const whole = await call('check', file(name, text), '--format', format);
    expect([whole.status, whole.stderr]).toEqual([0, '']);
    const spoilt = spoil(text);
    expect(spoilt).not.toBe(text);
    const said = await call('check', file(name, spoilt), '--format', format);
    expect(said.status, said.stdout).toBe(2);
  });
});
