import {
  chmodSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { lines } from '../schema';
import { call, spawned } from '../../../testing/command-line';
import { CardProblem } from '../../core/sets/card-folder';
import { NodeCard } from './node-card';

const week = 'demo/lantern-week';
const bells = ['turn-of-the-tide.mid', 'the-long-causeway.mid'].map((n) => join(week, n));
let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'quill-sets-'));
});
const at = (...names: string[]) => join(folder, ...names);
const filesIn = (path: string): string[] =>
  readdirSync(path, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile())
    .map((e) => join(e.parentPath, e.name).slice(path.length + 1))
    .sort();

describe('a set on the command line', () => {
  it.each(['quay.quillset', 'quay'])(
    '%s: made, mended, handed over, changed, told',
    async (name) => {
      const set = at(name);
      const made = await call(
        'set',
        'new',
        set,
        ...bells,
        '--target',
        'bell-loft',
        '--title',
        'Quay',
      );
      expect(made.status).toBe(0);
      expect((await call('set', set, 'mend', '--accept')).stdout).toMatch(/0 stops left/);
      const card = at('card');
      const handed = await call(
        'set',
        set,
        'hand-over',
        '--out',
        card,
        '--card',
        'Friday',
        '--json',
      );
      expect(handed.status).toBe(0);
      expect(handed.json()[0]).toMatchObject({ written: ['TURNOFTH.mid', 'THELONGC.mid'] });
      const again = await call('set', set, 'hand-over', '--out', card, '--json');
      const told = {
        'set proof': await call('set', set, 'proof', '--json'),
        'set hand-over': again,
        'set status': await call('set', set, 'status', card, '--json'),
      };
      for (const [line, said] of Object.entries(told))
        expect(lines[line as keyof typeof told].safeParse(said.json()[0]).error).toBeUndefined();
      expect(again.json()[0]).toMatchObject({ written: [], bytes: 0 });
      const rehearsed = await call('rehearse', card, '--target', 'bell-loft', '--json');
      expect(rehearsed.json()).toMatchObject([{ refused: [] }, { refused: [] }]);
      // Somebody renames one on the card, and brings a file of their own.
      renameSync(join(card, 'TURNOFTH.mid'), join(card, 'TIDE.mid'));
      writeFileSync(join(card, 'holiday.txt'), 'sun');
      const status = await call('set', set, 'status', card);
      expect(status.stdout).toMatch(/“Friday”, written \d{4}-\d\d-\d\d from the set “Quay”/);
      expect(status.stdout).toMatch(/turn of the tide: TIDE.mid is called TIDE.mid now/);
      expect(status.stdout).toMatch(/not ours 1 file: holiday.txt/);
      const kept = await call('set', set, 'hand-over', '--out', card);
      expect(kept.status).toBe(1);
      expect(existsSync(join(card, 'TIDE.mid'))).toBe(true);
      await call('set', set, 'hand-over', '--out', card, '--over-theirs');
      expect(filesIn(card)).toEqual(
        ['THELONGC.mid', 'TURNOFTH.mid', 'holiday.txt', 'quill-manifest.json'].sort(),
      );
    },
  );

  it('a folder of text says the same however often it is written, and a difference is a line', async () => {
    const set = at('text');
    await call('set', 'new', set, ...bells, '--target', 'bell-loft');
    const song = () => readFileSync(join(set, 'the-long-causeway.job.json'), 'utf8');
    const bare = song();
    await call('set', set, 'mend');
    const lines = song().split('\n');
    const steps = lines.filter((l) => /^ {8}\{"key":"mend-/.test(l));
    expect(steps.length).toBeGreaterThan(3);
    expect(song()).not.toMatch(/\d{4}-\d\d-\d\dT/);
    expect(lines.length).toBe(bare.split('\n').length + steps.length + 1);
  });

  it.each(['alike.quillset', 'alike'])(
    '%s: sources of one name stay two songs; names of any length and letters are taken',
    async (name) => {
      const names = ['CON', 'ré'.normalize('NFC'), 'RÉ'.normalize('NFD'), 'x'.repeat(200)];
      mkdirSync(at('one'));
      mkdirSync(at('two'));
      for (const n of names) cpSync(bells[0]!, at('one', `${n}.mid`));
      cpSync(bells[1]!, at('two', 'con.mid'));
      const set = at(name);
      await call('set', 'new', set, at('one'), at('two'), '--target', 'bell-loft');
      const { stdout } = spawned('set', set, 'proof', '--json');
      const notes = lines['set proof'].parse(JSON.parse(stdout)).songs.map((s) => s.notes);
      expect(notes.slice(0, 4)).toEqual(Array(4).fill(notes[0]));
      expect(notes).toHaveLength(5);
      expect(notes[4]).not.toBe(notes[0]);
    },
  );

  it('a folder of text writes over nothing that it does not know', async () => {
    const set = at('text');
    mkdirSync(set);
    writeFileSync(join(set, 'the-long-causeway.mid'), 'of somebody');
    const args = ['set', 'new', set, ...bells, '--target', 'bell-loft'];
    const told = await call(...args);
    expect(told.status).toBe(2);
    expect(told.stderr).toMatch(/the-long-causeway\.mid: is there already, with another content/);
    expect(filesIn(set)).toEqual(['the-long-causeway.mid']);
    expect((await call(...args, '--force')).status).toBe(0);
    await call('set', set, 'mend');
    const kept = readFileSync(join(set, 'the-long-causeway.job.json'));
    expect((await call(...args)).stderr).toMatch(/set\.json: is there already/);
    expect(readFileSync(join(set, 'the-long-causeway.job.json')).equals(kept)).toBe(true);
  });

  it('newer exports find their songs, are told how sure, and strangers are left', async () => {
    const set = at('newer.quillset');
    await call('set', 'new', set, ...bells, '--target', 'bell-loft');
    const exports = at('exports');
    mkdirSync(exports);
    cpSync(bells[1]!, join(exports, 'take 7.mid'));
    cpSync(join(week, 'lantern-song.mid'), join(exports, 'wholly other.mid'));
    const { stdout, stderr, status } = await call('set', set, 'newer', exports);
    expect(stdout).toMatch(/the long causeway: .*take 7.mid is what it has/);
    expect(stderr).toMatch(/wholly other.mid: is no newer export/);
    expect(status).toBe(1);
  });

  it('two songs that would overwrite each other are a stop, and nothing is written', async () => {
    const other = at('other', 'turn-of-the-tide.mid');
    mkdirSync(at('other'));
    cpSync(bells[1]!, other);
    const set = at('two.quillset');
    await call('set', 'new', set, bells[0]!, other, '--target', 'bell-loft');
    const card = at('card');
    const told = await call('set', set, 'hand-over', '--out', card);
    expect(told.status).toBe(2);
    expect(told.stderr).toMatch(/both write .*Nothing was written/);
    expect(existsSync(card)).toBe(false);
    // What is wrong beside each other is mended here too, by its name or the first of each stop.
    const none = await call('set', set, 'mend', '--take', 'Give each song a bell');
    expect(none).toMatchObject({ status: 2 });
    expect(none.stderr).toMatch(/no mend of the set is called “Give each song a bell”/);
    const before = readFileSync(set);
    const named = await call('set', set, 'mend', '--take', 'Put “turn of the tide” aside');
    expect(named.stdout).toMatch(/two: Put “turn of the tide” aside/);
    writeFileSync(set, before);
    const mended = await call('set', set, 'mend', '--accept');
    expect(mended.stdout).toMatch(/two: Rename “turn of the tide” by title/);
    expect((await call('set', set, 'hand-over', '--out', card)).status).toBe(0);
    expect(filesIn(card)).toEqual(['TURNOFT2.mid', 'TURNOFTH.mid', 'quill-manifest.json']);
  });

  it('the card of another set is told by its name before anything is written', async () => {
    for (const [n, song] of bells.entries())
      await call(
        'set',
        'new',
        at(`${n}.quillset`),
        song,
        '--target',
        'bell-loft',
        '--title',
        `Set ${n}`,
      );
    await call('set', at('0.quillset'), 'hand-over', '--out', at('card'), '--card', 'Boathouse');
    const before = filesIn(at('card'));
    const told = await call('set', at('1.quillset'), 'hand-over', '--out', at('card'));
    expect(told.stderr).toMatch(/this is “Boathouse”, written .* from the set “Set 0”/);
    expect(filesIn(at('card'))).toEqual(before);
  });

  it('a folder of songs becomes charts, and the charts MIDI again: the notes are those', async () => {
    const songs = at('duel');
    mkdirSync(songs);
    for (const n of [1, 2]) cpSync(join(week, 'ebb-and-flood.mid'), join(songs, `side ${n}.mid`));
    await call('mend', songs, '--target', 'marsh-duel', '--out', at('charts'), '--accept');
    const back = await call('read', at('charts'), '--format', 'chart', '--out', at('back'));
    expect(back.status).toBe(0);
    expect(filesIn(at('back'))).toEqual(['side 1/side 1.mid', 'side 2/side 2.mid']);
    const counts = await call('inventory', at('back', 'side 1', 'side 1.mid'), '--json');
    const [chart] = filesIn(at('charts')).filter((p) => p.endsWith('.chart.json'));
    const told = await call('inventory', at('charts', chart!), '--json');
    const notes = (said: typeof counts) =>
      (said.json()[0] as { inventory: { notes: number } }).inventory.notes;
    expect(notes(counts)).toBe(notes(told));
    expect(notes(counts)).toBeGreaterThan(10);
  });

  it('forty songs are made on all cores: the same files as one by one', async () => {
    const songs = at('songs');
    mkdirSync(songs);
    for (let i = 0; i < 40; i++)
      cpSync(bells[i % 2]!, join(songs, `song ${String(i).padStart(2, '0')}.mid`));
    const out = at('many');
    const { status } = spawned('mend', songs, '--target', 'lantern-rail', '--out', out, '--accept');
    expect(status).not.toBe(2);
    await call(
      'mend',
      join(songs, 'song 07.mid'),
      '--target',
      'lantern-rail',
      '--out',
      at('one'),
      '--accept',
    );
    const one = filesIn(at('one'));
    expect(filesIn(out).filter((p) => p.startsWith('song 07/'))).toEqual(one);
    for (const path of one)
      expect(readFileSync(join(out, path)).equals(readFileSync(at('one', path)))).toBe(true);
  });
});

describe('a folder of this machine as a card', () => {
  const bytes = Uint8Array.of(1, 2, 3);
  it('links are never followed, paths never leave', async () => {
    mkdirSync(at('out'));
    mkdirSync(at('card'));
    symlinkSync(at('out'), at('card', 'way'));
    const card = new NodeCard(at('card'));
    await expect(card.stage('way/x.mid', bytes, 0)).rejects.toThrow(/is a link/);
    await expect(card.stage('../x.mid', bytes, 0)).rejects.toThrow(CardProblem);
    expect(await card.list()).toEqual([{ path: 'way', bytes: -1 }]);
    expect(readdirSync(at('out'))).toEqual([]);
  });
  it('a name that is too long, a folder without permission: a sentence, and nothing is left', async () => {
    const card = new NodeCard(at('card'));
    await expect(card.stage(`${'x'.repeat(300)}.mid`, bytes, 0)).rejects.toThrow(
      /too long for this card/,
    );
    mkdirSync(at('card', 'a.mid'), { recursive: true });
    await expect(card.stage('a.mid', bytes, 0)).rejects.toThrow(/a folder of that name/);
    const staged = [await card.stage('deep/er/b.mid', bytes, 1)];
    staged.push(await card.stage('deep/c.mid', bytes, 2));
    for (const s of staged.reverse()) await s.drop();
    expect(readdirSync(at('card'))).toEqual(['a.mid']);
    rmSync(at('card'), { recursive: true });
    if (process.getuid?.() === 0) return;
    mkdirSync(at('card'));
    chmodSync(at('card'), 0o500);
    await expect(card.stage('a.mid', bytes, 0)).rejects.toThrow(/may not be written to/);
  });
});
