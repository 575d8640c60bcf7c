import { recordingOf } from '../../demo/recordings';
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { call, spawned } from '../../testing/command-line';
import { conductor, smf, Track } from '../../testing/score-builder';
import { packFiles } from '../core/outputs/pack';
import { waveBytes } from '../core/sound/wave';
import { builtInTargets } from '../core/target/index';
import { CheckLine, lines, RehearseLine } from './schema';

const bin = 'bin/wary-quill.mjs';
const week = 'demo/lantern-week';
const tide = join(week, 'turn-of-the-tide.mid');

let folder = '';
beforeAll(() => {
  if (!existsSync('dist/cli/main.mjs'))
    execFileSync(process.execPath, ['scripts/build-node.mjs'], { stdio: 'inherit' });
  folder = mkdtempSync(join(tmpdir(), 'quill-'));
});

describe('what --json prints is what its schema says', () => {
  it.each([
    ['inventory', ['inventory', tide]],
    ['proof', ['proof', tide, '--target', 'lantern-rail']],
    ['proof', ['proof', join(week, 'torn-page.mid'), '--target', 'bell-loft']],
    ['proof', ['proof', join(week, 'ninety-lanterns.mid'), '--target', 'tempo-carrier']],
    ['compare', ['compare', tide, join(week, 'the-long-causeway.mid')]],
  ] as const)('%s', async (kind, args) => {
    for (const line of (await call(...args, '--json')).json())
      expect(lines[kind].safeParse(line).error?.issues ?? []).toEqual([]);
  });
  it('mend, and a file that cannot be used', async () => {
    const [mended] = (
      await call('mend', tide, '--target', 'bell-loft', '--out', join(folder, 'json'), '--json')
    ).json();
    expect(lines.mend.safeParse(mended).error?.issues ?? []).toEqual([]);
    const text = join(folder, 'no.mid');
    writeFileSync(text, 'no');
    expect(
      lines.unusable.safeParse((await call('inventory', text, '--json')).json()[0]).success,
    ).toBe(true);
  });
});

describe('many files', () => {
  it('hundreds in one call: every line, in order, on all cores', () => {
    const names = ['turn-of-the-tide.mid', 'torn-page.mid', 'harbour-office-tempo.mid'];
    const files = Array.from({ length: 300 }, (_, i) => join(week, names[i % 3]!));
    const { status, stdout } = spawned('proof', ...files, '--target', 'tempo-carrier', '--json');
    const printed = stdout
      .trim()
      .split('\n')
      .map((l) => (JSON.parse(l) as { file: string }).file);
    expect(printed).toEqual(files);
    expect(status).toBe(1);
  });
});

describe('compare', () => {
  it('says what a person would say', async () => {
    const a = join(folder, 'a.mid');
    const b = join(folder, 'b.mid');
    const cues = (late: number) => {
      const track = new Track('C');
      for (let i = 0; i < 30; i++) track.note(16, late + i * 480, 240, 40 + (i % 7), 90);
      return track;
    };
    writeFileSync(a, smf(1, 480, [conductor(120).marker(0, 'Go'), cues(1920)]));
    writeFileSync(b, smf(1, 480, [conductor(120), cues(0)]));
    expect((await call('compare', a, b)).stdout).toMatch(/all 2 s earlier, 1 marker gone\./);
    expect((await call('compare', a, b)).status).toBe(1);
    expect(await call('compare', a, a)).toMatchObject({ status: 0 });
    expect((await call('compare', a, 'none.mid')).status).toBe(2);
  });
});

describe('calls that go wrong, or another way', () => {
  it('a misspelt option is answered with the nearest one, whatever else is missing', async () => {
    const { status, stderr } = spawned('proof', tide, '--tagret', 'bell-loft');
    expect(status).toBe(2);
    expect(stderr).toMatch(/--tagret/);
    expect(stderr).toMatch(/--target/);
    expect(await call('proof', tide)).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/A target is needed/) as string,
    });
  });
  it('a closed pipe ends quietly', () => {
    const shell = `${process.execPath} ${bin} dump ${join(week, 'the-long-causeway.mid')} | head -1; echo "\${PIPESTATUS[0]}"`;
    const { stdout, stderr } = spawnSync('bash', ['-c', shell], { encoding: 'utf8' });
    expect(stdout.trim().split('\n').at(-1)).toBe('0');
    expect(stderr).toBe('');
  });
  it('version, a built-in target, a file that is not there', async () => {
    expect(spawned('--version').stdout).toMatch(/^\d+\.\d+\.\d+$/m);
    expect(await call('check-target', 'bell-loft')).toMatchObject({ status: 0 });
    const [line] = (await call('proof', 'none.mid', '--target', 'bell-loft', '--json')).json();
    expect(lines.problem.safeParse(line).success).toBe(true);
  });
  it('an --out that is a file answers at once, and nothing is written', async () => {
    const file = join(folder, 'a-file');
    writeFileSync(file, '');
    const { status, stderr } = await call('mend', tide, '--target', 'bell-loft', '--out', file);
    expect(status).toBe(2);
    expect(stderr).toMatch(/cannot be written to/);
  });
  it('two files of one name have folders of their own', async () => {
    const other = join(folder, 'turn-of-the-tide.mid');
    writeFileSync(other, readFileSync(tide));
    const out = join(folder, 'both');
    await call('mend', tide, other, '--target', 'bell-loft', '--out', out);
    for (const name of ['turn-of-the-tide', 'turn-of-the-tide-2'])
      expect(existsSync(join(out, name, 'receipt.json')), name).toBe(true);
  });
  it('every target that is named is written and rehearsed; a stop left open is no success', async () => {
    const song = join(week, 'quay-stomp.mid');
    const out = join(folder, 'q');
    const less = ['--lossless-only', '--out', out];
    expect((await call('mend', song, '--target', 'stomp-crate', ...less)).status).toBe(1);
    const all = ['--accept', '--may-drop', '90%', '--force'];
    const mended = await call('mend', song, '--target', 'stomp-crate', '--out', out, ...all);
    expect(mended.stderr).toBe('');
    expect(mended.status).toBe(0);
    expect(mended.stdout).toMatch(/crate\.json/);
    expect(mended.stdout).toMatch(/rehearsed: Drum pedal: loaded, and plays as meant/);
  });
  it('the build script of the docs ships what is clean, and fails on a stop', () => {
    const songs = join(folder, 'songs');
    const out = join(folder, 'shipped');
    mkdirSync(songs);
    writeFileSync(join(songs, 'paper-march.mid'), readFileSync(join(week, 'paper-march.mid')));
    const script = (target: string) =>
      spawnSync('sh', ['docs/examples/check-songs.sh', songs, target, out], {
        encoding: 'utf8',
        env: { ...process.env, WARY_QUILL: `${process.execPath} bin/wary-quill.mjs` },
      });
    const good = script('parlour-keyboard');
    expect(good.stderr).toBe('');
    expect(good.status).toBe(0);
    expect(readFileSync(join(out, 'paper-march.rehearsed.txt'), 'utf8')).toMatch(
      /242 played, 0 dropped or altered, 0 refused/,
    );
    // Nobody said who made it.
    const bad = script('marsh-duel');
    expect(bad.status).toBe(1);
    expect(bad.stderr).toMatch(/paper-march: a stop is left/);
  });
  it('rehearse: in order of time, what is dropped and refused with exit 1, and as JSON', async () => {
    const out = join(folder, 'rehearsed');
    const song = join(week, 'paper-march.mid');
    await call('mend', song, '--target', 'strip-organ', '--lossless-only', '--out', out);
    const delivery = join(out, 'paper-march');
    const told = await call('rehearse', delivery, '--target', 'strip-organ');
    expect(told.status).toBe(1);
    expect(told.stdout).toMatch(/^ {2}0:00\.000 hole /m);
    expect(told.stdout).toMatch(/dropped .*there is no such pipe/);
    const json = await call('rehearse', delivery, '--target', 'strip-organ', '--json');
    const line = RehearseLine.parse(JSON.parse(json.stdout));
    expect(line.standIn).toBe('organ');
    expect(line.dropped.some((d) => d.because === 'there is no such pipe')).toBe(true);
    writeFileSync(join(delivery, 'paper-march-holes.csv'), 'row;seconds\r\n');
    const torn = await call('rehearse', delivery, '--target', 'strip-organ');
    expect(torn.status).toBe(1);
    expect(torn.stdout).toMatch(/refused .*paper-march-holes\.csv, line 1: .*semicolons/);
    expect((await call('rehearse', 'nowhere', '--target', 'strip-organ')).status).toBe(2);
  });
  it('rehearse: a stretch, some seats, and again when a file changes', async () => {
    const delivery = join(folder, 'horns');
    mkdirSync(delivery);
    const file = join(delivery, 'horns.mid');
    const horns = (key: number) =>
      smf(1, 480, [
        conductor(120),
        new Track('Horn 1').note(1, 480, 240, key, 90).note(1, 1920, 240, key, 90),
        new Track('Horn 2').note(2, 960, 240, 48, 90),
      ]);
    writeFileSync(file, horns(50));
    const of = async (...more: string[]) =>
      RehearseLine.parse(
        JSON.parse(
          (await call('rehearse', delivery, '--target', 'fog-pier', '--json', ...more)).stdout,
        ),
      ).events.map((e) => [e.seat, e.atMs]);
    const all = await of();
    expect(all.map(([, at]) => at)).toEqual([500, 1000, 2000]);
    expect(await of('--from', '0.9', '--to', '0:01.5')).toEqual([all[1]]);
    // What began before and sounds on is told too.
    expect(await of('--from', '0.6', '--to', '0.8')).toEqual([all[0]]);
    expect((await of('--seat', 'Horn 1')).length).toBe(2);
    const none = await call('rehearse', delivery, '--target', 'fog-pier', '--seat', 'horn-9');
    expect([none.status, none.stderr]).toEqual([2, expect.stringMatching(/nearest is horn-/)]);
    expect(
      (await call('rehearse', delivery, '--target', 'fog-pier', '--from', 'soon')).status,
    ).toBe(2);
    const watching = spawn(process.execPath, [
      ...[bin, 'rehearse', delivery],
      ...['--target', 'fog-pier', '--watch', '--json'],
    ]);
    const lines_: string[] = [];
    const line = () =>
      new Promise<string>((resolve) =>
        watching.stdout.once('data', (d: Buffer) => {
          lines_.push(String(d));
          resolve(String(d));
        }),
      );
    const keyOf = (text: string) => RehearseLine.parse(JSON.parse(text)).events[0]!.key;
    expect(keyOf(await line())).toBe(50);
    const second = line();
    writeFileSync(file, horns(52));
    expect(keyOf(await second)).toBe(52);
    const ended = new Promise((resolve) => watching.once('exit', resolve));
    watching.kill('SIGINT');
    await ended;
    expect(lines_.length).toBe(2);
  });
  it('check: each fault with its place; outputs tells of a format', async () => {
    const out = join(folder, 'checked');
    await call(
      'mend',
      join(week, 'tide-table.mid'),
      '--target',
      'tide-voices',
      '--accept',
      '--out',
      out,
    );
    const chain = join(out, 'tide-table', 'tide-table.chain.json');
    expect((await call('check', chain, '--format', 'chain')).status).toBe(0);
    writeFileSync(chain, readFileSync(chain, 'utf8').replace('"repeats": 1', '"repeats": 0'));
    const bad = await call('check', chain, '--format', 'chain', '--json');
    expect(bad.status).toBe(2);
    expect(CheckLine.parse(JSON.parse(bad.stdout)).problems).toMatchObject([
      { path: 'links[0].repeats', says: 'The least is 1.' },
    ]);
    expect((await call('check', chain, '--format', 'chian')).stderr).toMatch(/nearest is chain/);
    expect((await call('outputs', 'chart')).stdout).toMatch(/const chart = JSON\.parse/);
    expect(JSON.parse((await call('outputs', 'chart', '--json')).stdout)).toMatchObject({
      type: 'object',
    });
    expect((await call('outputs', 'chrat')).stderr).toMatch(/nearest is chart/);
  });
  it('of a file of format 2 a sequence is chosen, and the others are said', async () => {
    const file = join(folder, 'songs.mid');
    const verse = (notes: number) => {
      const track = new Track(`Verse of ${notes}`).tempo(0, 120).meter(0, 4, 4);
      for (let i = 0; i < notes; i++) track.note(1, i * 480, 240, 62, 90);
      return track;
    };
    writeFileSync(file, smf(2, 480, [verse(0), verse(3), verse(5)]));
    const said = await call('proof', file, '--target', 'bell-loft');
    expect(said.stdout).toMatch(/sequence 2 is taken \(“Verse of 3”\)\. The others hold 5 notes/);
    const third = await call('proof', file, '--target', 'bell-loft', '--sequence', '3');
    expect(third.stdout).toMatch(/sequence 3 is taken/);
  });
  it('several sources are one job', async () => {
    const a = join(folder, 'together-a.mid');
    const b = join(folder, 'together-b.mid');
    writeFileSync(a, smf(1, 480, [conductor(96), new Track('A').note(1, 0, 480, 62, 90)]));
    writeFileSync(b, smf(1, 96, [new Track('B').note(1, 96, 48, 64, 90)]));
    const one = (await call('proof', a, b, '--together', '--target', 'bell-loft', '--json')).json();
    const other = (
      await call('proof', b, a, '--together', '--target', 'bell-loft', '--json')
    ).json();
    expect(one).toHaveLength(1);
    expect(lines.proof.safeParse(one[0]).error?.issues ?? []).toEqual([]);
    const codes = (list: never[]) =>
      (list[0] as { findings: { code: string }[] }).findings.map((f) => f.code);
    expect(codes(one)).toEqual(codes(other));
  });
  it('a job brings its companion sound along', async () => {
    const bytes = smf(1, 480, [conductor(96), new Track('Calls').note(1, 0, 480, 62, 90)]);
    const sound = waveBytes(new Int16Array(48_000), 48_000);
    const hash = (b: Uint8Array) => createHash('sha256').update(b).digest('hex');
    const target = builtInTargets.find((t) => t.id === 'fog-pier')!;
    const now = { steps: [], leftAsIs: [], did: '' };
    const [targetId, version] = [target.id, target.version];
    const job = {
      id: 'a',
      schemaVersion: 2,
      title: 'Fog',
      changedAt: 0,
      sources: [{ key: 'main', kind: 'smf', role: 'score', sha256: hash(bytes), name: 'fog.mid' }],
      sound: { sha256: hash(sound), name: 'fog.wav', ms: 1000 },
      activeTarget: targetId,
      plans: [{ targetId, version, target, past: [], now, future: [], handovers: 0 }],
      tally: null,
    };
    const pack = (withSound: Uint8Array) =>
      packFiles([
        { path: 'job.json', bytes: Buffer.from(JSON.stringify(job)) },
        { path: `sources/${hash(bytes)}.mid`, bytes },
        { path: `sources/${hash(sound)}.wav`, bytes: withSound },
      ]);
    const file = join(folder, 'fog.quilljob');
    writeFileSync(file, pack(sound));
    const made = await call('mend', '--job', file, '--out', join(folder, 'fog'), '--accept');
    expect(made.stdout + made.stderr).toContain('fog.wav');
    expect(readFileSync(join(folder, 'fog', 'fog', 'fog.wav')).equals(sound)).toBe(true);
    // What it would hand over now is rehearsed as it stands, without being written.
    const rehearsed = await call('rehearse', '--job', file, '--json');
    const line = RehearseLine.parse(JSON.parse(rehearsed.stdout));
    expect([line.target, line.delivery]).toEqual([targetId, file]);
    expect(line.events.length + line.refused.length + line.dropped.length).toBeGreaterThan(0);
    expect((await call('rehearse', '--job', file, folder)).stderr).toContain('not both');
    expect((await call('rehearse', folder)).stderr).toContain('A target is needed');
    expect((await call('rehearse')).stderr).toContain('or a job with --job');
    writeFileSync(file, pack(sound.slice(0, -2)));
    const spoilt = await call('proof', '--job', file);
    expect(spoilt.status).toBe(2);
    expect(spoilt.stderr).toContain('the sound fog.wav is not the one');
  });
  it.each(['targets', 'rules', 'steps', 'outputs'] as const)(
    '%s: every line is what its schema says',
    async (kind) => {
      for (const line of (await call(kind, '--json')).json())
        expect(lines[kind].safeParse(line).error?.issues ?? []).toEqual([]);
    },
  );
});

describe('the command line', () => {
  it('inventory: text and JSON', async () => {
    const { stdout } = await call('inventory', tide);
    expect(stdout).toMatch(/SMF 1, 480 PPQ, 6 tracks, 344 notes/);
    expect(stdout).toMatch(/Treble bells, 90 notes.*; the tune \(/);
    expect(stdout).toMatch(/Lamp cues, 40 notes.*; cues \(its name says so\)/);
    const [one] = (await call('inventory', tide, '--json')).json() as {
      inventory: Record<string, unknown>;
    }[];
    expect(one!.inventory).toMatchObject({
      format: 1,
      division: { ppq: 480 },
      notes: 344,
      endMs: 53_196.42,
    });
  });

  it('dump: every event with its tick and bytes', async () => {
    const lines = (await call('dump', tide)).stdout.split('\n');
    expect(lines[0]).toBe('format\t1\tdivision\t480\ttracks\t6');
    expect(lines[1]).toBe('0\t0\tff03105475726e206f66207468652074696465');
    expect(lines.at(-2)).toMatch(/^5\t46080\tff2f00$/);
  });

  it('proof: JSON with findings, mends and tally; status 1 while a stop is open', async () => {
    const { status, json } = await call('proof', tide, '--target', 'lantern-rail', '--json');
    expect(status).toBe(1);
    const [one] = json() as {
      findings: { code: string; place: string; mends: { lossless: boolean; shiftMs: number }[] }[];
      tally: { stops: number };
    }[];
    const rest = one!.findings.find((f) => f.code === 'rest-owed')!;
    expect(rest).toMatchObject({
      severity: 'stop',
      place: '1|1|000',
      fromTick: 0,
      toTick: 4320,
      fromMs: 0,
      toMs: 5625,
      measured: { value: 0, unit: 'bars' },
      allowed: { leadInBars: 3 },
    });
    expect(rest.mends[0]).toMatchObject({ lossless: true, shiftMs: 5625 });
    expect(one!.tally.stops).toBeGreaterThan(3);
  });

  it('mend: writes, reads back, and does not overwrite without being told', async () => {
    const out = join(folder, 'mended');
    // Of five parts one plays the rail: nine tenths of the notes stay behind.
    const all = ['--may-drop', '90%', '--accept'];
    const first = await call('mend', tide, '--target', 'lantern-rail', '--out', out, ...all);
    expect(first.stdout).toMatch(
      /wrote .*turn-of-the-tide\.mid \(read back: same; plays 38 cues\)/,
    );
    expect(first.status).toBe(0);
    // A folder for each piece of work, whatever their count.
    const into = join(out, 'turn-of-the-tide');
    expect(JSON.parse(readFileSync(join(into, 'receipt.json'), 'utf8'))).toMatchObject({
      findingsAfter: { stops: 0 },
    });
    const second = await call('mend', tide, '--target', 'lantern-rail', '--out', out, ...all);
    expect(second.status).toBe(2);
    expect(second.stderr).toMatch(/is there already; nothing was written\. --force/);
    expect(
      (await call('proof', join(into, 'turn-of-the-tide.mid'), '--target', 'lantern-rail')).status,
    ).toBe(0);
  });

  it('who plays is chosen by the call, by accepting, or not at all', async () => {
    const song = join(folder, 'three.mid');
    const line = (name: string, channel: number, key: number) => {
      const track = new Track(name);
      for (let i = 0; i < 24; i++) track.note(channel, i * 960, 400, key + (i % 5), 90);
      return track;
    };
    const tracks = [
      new Track().tempo(0, 90).meter(0, 4, 4),
      line('Oak', 4, 62),
      line('Ash', 5, 64),
    ];
    writeFileSync(song, smf(1, 480, tracks));
    const mend = (to: string, ...more: string[]) =>
      call('mend', song, '--target', 'bell-loft', '--out', join(folder, to), '--json', ...more);
    const open = await mend('open');
    expect(open.status).toBe(1);
    expect(JSON.parse(open.stdout).findings).toContainEqual(
      expect.objectContaining({ code: 'unseated', choice: 'Somebody has to choose who plays.' }),
    );
    // Each way tells what of the music it keeps, and what went out does.
    const unseated = JSON.parse(open.stdout).findings.find(
      (f: { code: string }) => f.code === 'unseated',
    );
    for (const mend of unseated.mends)
      expect(mend.music).toMatchObject({ tune: expect.any(Number), beat: null });
    expect(JSON.parse(open.stdout).music).toHaveProperty('chords');
    const said = await mend('said', '--choose', 'bells=Ash');
    expect(said.status).toBe(0);
    expect(JSON.parse(said.stdout).findings).toContainEqual(
      expect.objectContaining({
        code: 'left-out',
        says: expect.stringContaining('“Oak” is left out'),
      }),
    );
    expect((await mend('likeliest', '--accept')).status).toBe(0);
    expect((await mend('x', '--choose', 'organ=Ash')).stderr).toMatch(
      /has no seat “organ”. Its seats: bells/,
    );
    expect((await mend('y', '--choose', 'bells=Elm')).stderr).toMatch(
      /no part “Elm”. Parts: Oak, Ash/,
    );
    expect((await mend('z', '--may-drop', 'some')).stderr).toMatch(
      /give a share of the notes, such as 5%/,
    );
  });

  it('a recipe seats, and what it leaves as is does not stop', async () => {
    const recipe = join(folder, 'r.json');
    const steps = [{ key: 'a', step: 'rest-at-start', params: { bars: 3 }, scope: {}, on: true }];
    const leftAsIs = [{ key: 'tempo-constant/tempo-changes/*', reason: 'by hand' }];
    writeFileSync(
      recipe,
      JSON.stringify({
        recipeVersion: 1,
        name: 'r',
        target: { id: 'lantern-rail', version: '1.0.0' },
        plan: { steps },
        leftAsIs,
      }),
    );
    const song = join(folder, 'two.mid');
    writeFileSync(
      song,
      smf(1, 480, [conductor(96).tempo(960, 120), new Track('C').note(16, 0, 240, 40, 90)]),
    );
    expect((await call('proof', song, '--target', 'lantern-rail')).status).toBe(1);
    expect((await call('proof', song, '--target', 'lantern-rail', '--recipe', recipe)).status).toBe(
      0,
    );
  });

  it('rebuild returns a well-formed file byte for byte', async () => {
    const out = join(folder, 'same.mid');
    expect((await call('rebuild', tide, '--out', out)).status).toBe(0);
    expect(readFileSync(out).equals(readFileSync(tide))).toBe(true);
  });

  it('standard input', () => {
    const result = spawnSync(process.execPath, [bin, 'inventory', '-', '--json'], {
      input: readFileSync(tide),
      encoding: 'utf8',
    });
    expect(JSON.parse(result.stdout)).toMatchObject({ file: '-', inventory: { notes: 344 } });
  });

  it('lists', async () => {
    expect((await call('targets')).stdout).toMatch(/bell-loft/);
    expect(JSON.parse((await call('targets', 'bell-loft', '--json')).stdout)).toMatchObject({
      id: 'bell-loft',
    });
    expect((await call('rules')).stdout).toMatch(/start-rest/);
    expect((await call('steps', '--json')).json()[0]).toHaveProperty('params');
    expect((await call('outputs')).stdout).toMatch(/time-list/);
  });

  it('check-target names the path and the nearest key', async () => {
    const file = join(folder, 't.json');
    const data = JSON.parse((await call('targets', 'bell-loft', '--json')).stdout) as Record<
      string,
      unknown
    >;
    writeFileSync(file, JSON.stringify({ ...data, tempo: { lowestBmp: 30 } }));
    const { status, stderr } = await call('check-target', file);
    expect(status).toBe(2);
    expect(stderr).toMatch(/tempo\.lowestBmp: .*nearest known key is "lowestBpm"/);
    writeFileSync(file, JSON.stringify({ ...data, id: 'my-loft' }));
    expect((await call('check-target', file)).status).toBe(0);
    expect((await call('proof', tide, '--target', file)).status).toBe(1);
  });

  it('bad input: one line each, the others are still done', async () => {
    const text = join(folder, 'text.mid');
    writeFileSync(text, 'not music');
    const empty = join(folder, 'empty.mid');
    writeFileSync(empty, '');
    const zero = join(folder, 'zero.mid');
    const whole = readFileSync(tide);
    writeFileSync(
      zero,
      Buffer.concat([whole.subarray(0, 12), Buffer.of(0, 0), whole.subarray(14)]),
    );
    const { status, stderr, stdout } = await call(
      'proof',
      text,
      empty,
      zero,
      join(folder, 'none.mid'),
      tide,
      '--target',
      'bell-loft',
    );
    expect(status).toBe(2);
    const lines = stderr.trim().split('\n');
    expect(lines).toHaveLength(4);
    expect(lines[0]).toMatch(/text\.mid: This is not a MIDI file/);
    expect(lines[1]).toMatch(/empty\.mid: The file is empty/);
    expect(lines[2]).toMatch(/zero\.mid: The header says 0 ticks/);
    expect(lines[3]).toMatch(/none\.mid: cannot be read/);
    expect(stdout).toMatch(/Bell loft striker/);
    expect((await call('proof', tide, '--target', 'bell-lift')).stderr).toMatch(
      /nearest target is bell-loft/,
    );
    expect((await call('fly')).status).toBe(2);
  });

  it('recordings: their facts, where they lie beside a score, what the plan does to them', async () => {
    const recording = join(folder, 'tide.wav');
    writeFileSync(recording, recordingOf(new Uint8Array(readFileSync(tide)), { rest: 5625 }));
    const [facts] = (await call('inventory', 'testing/sounds/quay.flac', '--json')).json();
    expect(facts).toMatchObject({ sound: { kind: 'flac', lengthMs: 1500, rate: 22_050 } });
    const aligned = await call('align', tide, recording, '--json', '--onsets', '--beats');
    expect(aligned.status).toBe(1);
    const { found } = aligned.json()[0] as { found: { offsetMs: number; tempoRatio: number } };
    expect(lines.align.safeParse(aligned.json()[0]).error).toBeUndefined();
    const several = await call('align', tide, recording, tide, recording);
    expect(several.stdout.split('\n').slice(0, 3)).toEqual([
      expect.stringMatching(/^score +recording +begins +tempo +found +sure/),
      expect.stringMatching(/5\.62\d s later +as the score +\d+ % +yes/),
      expect.stringMatching(/5\.62\d s later/),
    ]);
    expect(Math.abs(found.offsetMs - 5625)).toBeLessThan(5);
    expect(found.tempoRatio).toBeCloseTo(1, 4);
    expect((await call('align', tide, recording)).stdout).toMatch(/5\.62\d s later \(3 bars\)/);
    // Whatever decodes can be named; what does not is said, and nothing else happens.
    const beside = ['--target', 'fog-pier', '--sound', 'testing/sounds/quay.mp3'];
    expect((await call('proof', tide, ...beside, '--json')).json()[0]).toMatchObject({
      findings: expect.arrayContaining([expect.objectContaining({ code: 'sound-length' })]),
    });
    expect((await call('align', tide, tide)).stderr).toMatch(/no recording that can be read/);
  }, 60_000);
});
