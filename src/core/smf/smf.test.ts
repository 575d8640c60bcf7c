import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import tonejs from '@tonejs/midi';
import { describe, expect, it } from 'vitest';
import { bytes, chars, damageCorpus, END, head, note, trk, u32 } from '../../../demo/damage';
import { smfWeek, week } from '../../../demo/week';
import { damageTable, sayDamage } from '../diagnostic/damage';
import { META, payload } from './file';
import { readSmf } from './read';
import { decodeText, encodeUtf8, toAscii } from './text';
import { writeSmf } from './write';
import { wellFormed } from '../../../testing/arbitrary-smf';

describe('laws', () => {
  it('write(read(bytes)) = bytes for any well-formed file', () => {
    fc.assert(
      fc.property(wellFormed, (file) => {
        const read = readSmf(file);
        expect(read.damage).toEqual([]);
        expect(Buffer.from(writeSmf(read.file!)).equals(Buffer.from(file))).toBe(true);
      }),
      { numRuns: 400 },
    );
  });

  it('any bytes at all end in a file or in damage', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), fc.boolean(), (noise, headed) => {
        const input = headed ? bytes(head(1, 3, 96), trk([...noise], 9999), [...noise]) : noise;
        const { file, damage } = readSmf(input);
        expect(file !== undefined || damage.length > 0).toBe(true);
        for (const d of damage) expect(sayDamage(d)).toMatch(/byte [\d,]+/);
        if (file) writeSmf(file);
      }),
      { numRuns: 1500 },
    );
  });

  it('what was written is read the same again, whatever was broken', () => {
    fc.assert(
      fc.property(
        wellFormed,
        fc.array(fc.tuple(fc.nat(5000), fc.nat(255)), { maxLength: 6 }),
        (file, hits) => {
          const hurt = Uint8Array.from(file);
          for (const [at, value] of hits) hurt[at % hurt.length] = value;
          const first = readSmf(hurt).file;
          if (!first) return;
          const second = readSmf(writeSmf(first)).file!;
          const flat = (f: typeof first) =>
            f.tracks.map((t) => [[...t.tick], [...t.status], [...t.data1], [...t.data2]]);
          expect(flat(second)).toEqual(flat(first));
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('against two general libraries', () => {
  it('reads the same events as midi-file on generated files', () => {
    fc.assert(
      fc.property(wellFormed, (file) => {
        const ours = readSmf(file).file!;
        const theirs = parseMidi(file);
        expect(ours.tracks.length).toBe(theirs.tracks.length);
        ours.tracks.forEach((track, t) => {
          let tick = 0;
          const ticks = theirs.tracks[t]!.map((e) => (tick += e.deltaTime));
          expect([...track.tick]).toEqual(ticks);
          theirs.tracks[t]!.forEach((e, i) => {
            if (e.type === 'noteOn' || e.type === 'noteOff') {
              expect(track.data1[i]).toBe(e.noteNumber);
              expect(track.status[i]! & 15).toBe(e.channel);
            } else if (e.type === 'setTempo') {
              const [a, b, c] = payload(track, i);
              expect(a! * 65536 + b! * 256 + c!).toBe(e.microsecondsPerBeat);
            } else if (e.type === 'controller') {
              expect([track.data1[i], track.data2[i]]).toEqual([e.controllerType, e.value]);
            } else if (e.type === 'sysEx') {
              expect([...payload(track, i)]).toEqual(Array.from(e.data));
            }
          });
        });
      }),
      { numRuns: 150 },
    );
  });

  it('finds the same notes as @tonejs/midi in the lantern week', () => {
    for (const job of smfWeek.filter((j) => j.id !== 'demo-torn-page')) {
      const file = job.bytes();
      const ours = readSmf(file).file!;
      const starts = ours.tracks.flatMap((t) =>
        Array.from(t.tick, (tick, i) => [tick, t.status[i]!, t.data1[i]!, t.data2[i]!] as const)
          .filter(([, s, , v]) => (s & 0xf0) === 0x90 && v > 0)
          .map(([tick, , key]) => `${tick}:${key}`),
      );
      const theirs = new tonejs.Midi(file).tracks.flatMap((t) =>
        t.notes.map((n) => `${n.ticks}:${n.midi}`),
      );
      // The library drops a note-on that never ends, and one that sounds across a program change.
      const dropped: Record<string, number> = {
        'demo-salt-bell-round': 1,
        'demo-last-ferry-waltz': 1,
        'demo-parlour-evening': 3,
      };
      expect(starts.length - theirs.length).toBe(dropped[job.id] ?? 0);
      const found = new Set(starts);
      for (const note of theirs) expect(found.has(note)).toBe(true);
    }
  });
});

describe('damage', () => {
  it.each(damageCorpus)('%s is said with its place', (code, input) => {
    const { damage } = readSmf(input);
    const found = damage.find((d) => d.code === code);
    expect(found, damage.map((d) => d.code).join()).toBeDefined();
    expect(sayDamage(found!)).toMatch(/\.$/);
  });

  it('a file over the size is refused before it is read', () => {
    const { file, damage } = readSmf(new Uint8Array(64 * 1024 * 1024 + 1));
    expect(file).toBeUndefined();
    expect(damage[0]).toMatchObject({ code: 'file-too-large' });
  });

  it('more tracks than a header can name are refused', () => {
    const track = trk(END);
    const many = new Uint8Array(14 + track.length * 65_536);
    many.set(head(1, 65_535, 96));
    for (let i = 0; i < 65_536; i++) many.set(track, 14 + i * track.length);
    expect(readSmf(many).damage[0]).toMatchObject({ code: 'too-many-tracks', limit: 65_535 });
  });

  it('has a case for every code but the count of events', () => {
    const covered = new Set([
      ...damageCorpus.map(([code]) => code),
      'file-too-large',
      'too-many-events',
      'too-many-tracks',
      // Of texts; their readers have tests of their own.
      'text-unreadable',
      'text-doubtful',
      'module-doubtful',
    ]);
    expect(covered).toEqual(new Set(Object.keys(damageTable)));
  });

  it('reads on behind a wrong length and keeps the next track', () => {
    const input = bytes(head(1, 2, 96), trk([...note, ...END], 400), trk([...note, ...END]));
    const { file } = readSmf(input);
    expect(file!.tracks.map((t) => t.count)).toEqual([3, 3]);
  });

  it('a truncated file keeps what stood before the cut', () => {
    const whole = week[0]!.bytes();
    const { file, damage } = readSmf(whole.slice(0, 2000));
    expect(file!.tracks.length).toBeGreaterThan(2);
    expect(damage.map((d) => d.code)).toContain('truncated');
  });
});

describe('kinds of files', () => {
  it('keeps a RIFF wrapper and unknown chunks byte for byte', () => {
    const inner = bytes(
      head(0, 1, 96),
      trk([0, 0x90, 60, 64, ...END]),
      chars('XFIH'),
      u32(3),
      [1, 2, 3],
    );
    const le = (n: number) => u32(n).reverse();
    const wrapped = bytes(
      chars('RIFF'),
      le(inner.length + 12),
      chars('RMID'),
      chars('data'),
      le(inner.length),
      [...inner],
    );
    const { file, damage } = readSmf(wrapped);
    expect(damage).toEqual([]);
    expect(file!.chunks.map((c) => c.kind)).toEqual(['track', 'other']);
    expect(writeSmf(file!)).toEqual(wrapped);
  });

  it('keeps text that is longer than 127 bytes, and split sysex packets', () => {
    const long = Array<number>(300).fill(65);
    const body = [0, 0xff, 1, 0x82, 0x2c, ...long, 0, 0xf0, 2, 1, 2, 5, 0xf7, 2, 3, 0xf7, ...END];
    const input = bytes(head(1, 1, 96), trk(body));
    const { file, damage } = readSmf(input);
    expect(damage).toEqual([]);
    const track = file!.tracks[0]!;
    expect([...track.status]).toEqual([META, 0xf0, 0xf7, META]);
    expect(payload(track, 0).length).toBe(300);
    expect([...payload(track, 2)]).toEqual([3, 0xf7]);
    expect(writeSmf(file!)).toEqual(input);
  });
});

describe('text', () => {
  it('is read as UTF-8 where it is, else as Latin-1', () => {
    expect(decodeText(encodeUtf8('Éveil ♩'))).toEqual({ text: 'Éveil ♩', encoding: 'utf-8' });
    expect(decodeText(Uint8Array.of(0xc9, 0x76))).toEqual({ text: 'Év', encoding: 'latin-1' });
    expect(decodeText(Uint8Array.of(0x41))).toEqual({ text: 'A', encoding: 'ascii' });
  });
  it('is read as Shift-JIS where it has its shape and the platform can', () => {
    const decoder = new TextDecoder('shift_jis');
    const sjis = (b: Uint8Array) => decoder.decode(b);
    const lantern = Uint8Array.of(0x92, 0xf1, 0x93, 0x94, 0x82, 0xcc, 0x96, 0xe9);
    expect(decodeText(lantern, sjis)).toEqual({ text: '提灯の夜', encoding: 'shift-jis' });
    expect(decodeText(lantern).encoding).toBe('latin-1');
    const drum = Uint8Array.of(0x83, 0x68, 0x83, 0x89, 0x83, 0x80, 0x20, 0x41);
    expect(decodeText(drum, sjis)).toEqual({ text: 'ドラム A', encoding: 'shift-jis' });
    // A second byte that is a letter of ASCII begins no word.
    for (const [bytes, text] of [
      ['8179835483438367817a', '【サイト】'],
      ['8365834383678b79', 'テイト及'],
    ] as const)
      expect(decodeText(Buffer.from(bytes, 'hex'), sjis)).toEqual({ text, encoding: 'shift-jis' });
    // An accented letter and the letter behind it have the shape of a pair.
    const latin = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));
    const words = ['Präludium', 'Étude à deux', 'Läuten', 'Señal', 'Fête', 'Don\x92t', 'Größe ä'];
    for (const text of words)
      expect(decodeText(latin(text), sjis)).toEqual({ text, encoding: 'latin-1' });
    // Latin-1 letters look like half-width kana and stay what they are.
    expect(decodeText(Uint8Array.of(0xc9, 0x76, 0x65, 0x69, 0x6c, 0xe9), sjis)).toEqual({
      text: 'Éveilé',
      encoding: 'latin-1',
    });
  });
  it('UTF-8 comes back as it was', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        expect(decodeText(encodeUtf8(text)).text).toBe(text);
        expect(Buffer.from(encodeUtf8(text)).equals(Buffer.from(text, 'utf8'))).toBe(true);
      }),
    );
  });
  it('is spelled in plain letters', () => {
    expect(toAscii('Éveil du phare — Straße')).toBe('Eveil du phare - Strasse');
  });
});
