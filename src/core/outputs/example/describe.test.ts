import { describe, expect, it } from 'vitest';
import { conductor, renditionOf, song, targetWith, Track } from '../../../../testing/score-builder';
import { readFormat } from '../../formats/own/read';
import type { Piece } from '../../score/piece';
import { FormatSchema } from '../../formats/own/schema';
import { encodeUtf8 } from '../../smf/text';
import { checksumOf } from '../../formats/own/checksums';
import { writeFormat } from '../own/write';
import { describeExample } from './describe';

const target = targetWith({
  seats: [
    { kind: 'channel', id: 'ebb', name: 'Ebb', channel: 1 },
    { kind: 'channel', id: 'flood', name: 'Flood', channel: 2 },
  ],
});

interface N {
  tick: number;
  end: number;
  key: number;
  velocity: number;
  seat: number;
}

/** A tune of its own hand: another seed plays other notes at other tempos. */
function tune(seed: number, name: string) {
  let state = seed;
  const next = (below: number) => {
    state = (state * 1103515245 + 12345) % 2 ** 31;
    return Math.floor((state / 2 ** 31) * below);
  };
  const ppq = 480;
  const notes: N[] = [];
  const keys = [48, 50, 52, 53, 55, 57, 59, 60];
  for (let beat = 0; beat < 24; beat++) {
    const start = beat * 480 + (next(4) === 0 ? 240 : next(5) === 0 ? 77 : 0);
    const used = new Set<number>();
    for (let k = 0; k < 1 + next(3); k++) {
      const key = keys[next(keys.length)]!;
      if (used.has(key)) continue;
      used.add(key);
      notes.push({
        tick: start,
        end: start + 60 + next(3) * 60,
        key,
        velocity: 1 + next(127),
        seat: next(2),
      });
    }
  }
  // A first and a last that every table of keys meets.
  keys.forEach((key, i) =>
    notes.push({
      tick: 24 * 480 + i * 120,
      end: 24 * 480 + i * 120 + 90,
      key,
      velocity: 20 + i,
      seat: i % 2,
    }),
  );
  notes.sort((a, b) => a.tick - b.tick || a.key - b.key);
  const bpm = 83 + (seed % 50);
  const tracks = [new Track('Ebb'), new Track('Flood')];
  for (const n of notes)
    tracks[n.seat]!.note(n.seat + 1, n.tick, n.end - n.tick, n.key, n.velocity);
  const source = song(
    [conductor(bpm).marker(0, 'Low water').marker(5760, `Turn ${seed}`), ...tracks],
    {
      endTick: 27 * 480,
      name: `${name}.mid`,
    },
  );
  const us = Math.round(60_000_000 / bpm);
  const ms = (tick: number) => (tick * us) / ppq / 1000;
  const [piece] = renditionOf(source, target).pieces;
  return { piece: piece as Piece, notes, ms, bpm: 60_000_000 / us, name };
}
type Tune = ReturnType<typeof tune>;

const near = (x: number) => Math.floor(x + 0.5 + 1e-9);
const fixed = (x: number, d: number) => {
  const n = near(x * 10 ** d);
  const s = String(Math.abs(n)).padStart(d + 1, '0');
  return `${s.slice(0, -d)}.${s.slice(-d)}`;
};
const PITCH = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
const name = (k: number) => `${PITCH[k % 12]}${Math.floor(k / 12) - 1}`;
const strikes = (t: Tune) => {
  const by = new Map<number, N[]>();
  for (const n of t.notes) by.set(n.tick, [...(by.get(n.tick) ?? []), n]);
  return [...by];
};
const bytes = (...parts: (number | string | number[])[]) =>
  Uint8Array.from(
    parts.flatMap((p) => (typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : p)),
  );
const le = (n: number, size: number) =>
  Array.from({ length: size }, (_, i) => Math.floor(n / 256 ** i) % 256);
const be = (n: number, size: number) => le(n, size).reverse();
const vlq = (n: number) => {
  const out = [n % 128];
  for (let rest = Math.floor(n / 128); rest > 0; rest = Math.floor(rest / 128))
    out.unshift((rest % 128) | 128);
  return out;
};

/** Formats that somebody might have made, each written by a few lines that share nothing with ours. */
const two = (n: number, size = 2) => String(n).padStart(size, '0');
/** As people write a clock: minutes, seconds, thousandths of the whole that was rounded once. */
const clock = (ms: number) => {
  const all = near(ms);
  return `${Math.floor(all / 60_000)}:${two(Math.floor(all / 1000) % 60)}.${two(all % 1000, 3)}`;
};
const place = (tick: number) =>
  `${Math.floor(tick / 1920) + 1}:${(Math.floor(tick / 480) % 4) + 1}:${two(tick % 480, 3)}`;

const FORMATS: readonly [what: string, file: string, write: (t: Tune) => Uint8Array][] = [
  [
    'a CSV of ms, lane and force',
    'cues.csv',
    (t) =>
      encodeUtf8(
        [
          'start ms,stone,force',
          ...t.notes.map(
            (n) => `${near(t.ms(n.tick))},${n.key - 47},${near((n.velocity * 100) / 127)}`,
          ),
        ].join('\n') + '\n',
      ),
  ],
  [
    'semicolons, decimal commas and lengths',
    'cues.txt',
    (t) =>
      encodeUtf8(
        t.notes
          .map(
            (n) =>
              `${fixed(t.ms(n.tick) / 1000, 3).replace('.', ',')};${name(n.key)};${fixed((t.ms(n.end) - t.ms(n.tick)) / 1000, 3).replace('.', ',')}`,
          )
          .join('\r\n') + '\r\n',
      ),
  ],
  [
    'JSON of objects with the BPM at its head',
    'song.json',
    (t) =>
      encodeUtf8(
        `${JSON.stringify({ song: t.name, bpm: Math.round(t.bpm * 1000) / 1000, ppq: 480, notes: t.notes.map((n) => ({ at: n.tick, key: n.key, len: n.end - n.tick, vel: n.velocity })) }, null, 2)}\n`,
      ),
  ],
  [
    'JSON of short lists, gaps between them',
    'gaps.json',
    (t) => {
      let before = 0;
      const rows = t.notes.map((n) => {
        const now = near(t.ms(n.tick));
        const gap = now - before;
        before = now;
        return [gap, n.key - 48];
      });
      return encodeUtf8(JSON.stringify(rows));
    },
  ],
  [
    'taps and holds, a length where it is held',
    'lanes.csv',
    (t) =>
      encodeUtf8(
        [
          'ms,stone,kind,held',
          ...t.notes.map((n) => {
            const held = n.end - n.tick >= 180;
            const ms = held ? near(t.ms(n.end) - t.ms(n.tick)) : 0;
            return `${near(t.ms(n.tick))},${n.key - 47},${held ? 'hold' : 'tap'},${ms}`;
          }),
        ].join('\n') + '\n',
      ),
  ],
  [
    'lengths from a rounded start to a rounded end',
    'spans.csv',
    (t) =>
      encodeUtf8(
        t.notes
          .map((n) => {
            const [from, to] = [n.tick, n.end].map((tick) => near(t.ms(tick) / 10));
            return `${from};${to! - from!};${n.key}`;
          })
          .join('\n') + '\n',
      ),
  ],
  [
    'JSON of three kinds by force, ticks where it is no short one',
    'kinds.json',
    (t) =>
      encodeUtf8(
        `${JSON.stringify({
          hits: t.notes.map((n) => ({
            t: near(t.ms(n.tick)),
            stone: n.key,
            kind: n.velocity >= 100 ? 2 : n.velocity >= 20 ? 1 : 0,
            ticks: n.end - n.tick > 60 ? n.end - n.tick : -1,
          })),
        })}\n`,
      ),
  ],
  [
    'beginnings and ends, no force where it ends',
    'switches.txt',
    (t) =>
      encodeUtf8(
        t.notes
          .flatMap((n) => [
            { at: n.tick, on: 1, n },
            { at: n.end, on: 0, n },
          ])
          .sort((a, b) => a.at - b.at || a.on - b.on)
          .map(({ at, on, n }) => `${near(t.ms(at))}|${n.key}|${on ? n.velocity : ''}`)
          .join('\n') + '\n',
      ),
  ],
  [
    'XML with attributes',
    'show.xml',
    (t) =>
      encodeUtf8(
        `<?xml version="1.0" encoding="UTF-8"?>\n<show title="${t.name}" count="${t.notes.length}">\n${t.notes.map((n) => `  <cue t="${Math.floor(t.ms(n.tick) + 1e-9)}" key="${n.key}" side="${n.seat + 1}"/>`).join('\n')}\n</show>\n`,
      ),
  ],
  [
    'lines of words with frames',
    'lamps.txt',
    (t) =>
      encodeUtf8(
        [
          `lamps of ${t.name}`,
          ...t.notes.map(
            (n) =>
              `${String(near(t.ms(n.tick) / 40)).padStart(6, '0')} lamp ${n.key - 47} at ${near((n.velocity * 255) / 127)}`,
          ),
          'dark',
        ].join('\n') + '\n',
      ),
  ],
  [
    'sections for the seats',
    'sides.txt',
    (t) =>
      encodeUtf8(
        ['Ebb', 'Flood']
          .map((side, s) =>
            [
              `[${side}]`,
              ...t.notes.filter((n) => n.seat === s).map((n) => `${n.tick}=${n.key}`),
            ].join('\n'),
          )
          .join('\n') + '\n',
      ),
  ],
  [
    'strikes with their notes in a list',
    'steps.txt',
    (t) =>
      encodeUtf8(
        strikes(t)
          .map(([tick, own]) => `${near(t.ms(tick))}: ${own.map((n) => n.key).join('+')}`)
          .join('\n') + '\n',
      ),
  ],
  [
    'switches of each seat, one seat behind the other',
    'seats.txt',
    (t) =>
      encodeUtf8(
        [0, 1]
          .flatMap((seat) =>
            t.notes
              .filter((n) => n.seat === seat)
              .flatMap((n) => [
                { at: n.tick, on: 1, n },
                { at: n.end, on: 0, n },
              ])
              .sort((a, b) => a.at - b.at || a.on - b.on),
          )
          .map(({ at, on, n }) => `${n.seat + 1} ${at} ${on ? 'open' : 'shut'} ${n.key}`)
          .join('\n') + '\n',
      ),
  ],
  [
    'records with a kind, and a length where it is held',
    'kinds.bin',
    (t) =>
      bytes(
        'REED',
        le(t.notes.length, 4),
        ...t.notes.map((n) => {
          const held = n.end - n.tick >= 180;
          const length = held ? near(t.ms(n.end) - t.ms(n.tick)) : 0;
          return [
            ...le(near(t.ms(n.tick)), 4),
            held ? 9 : 3,
            n.key,
            ...le(length, 2),
            n.velocity >= 100 ? 1 : 0,
          ];
        }),
      ),
  ],
  [
    'records of bytes with a count',
    'song.bin',
    (t) =>
      bytes(
        'MRSH',
        le(t.notes.length, 2),
        ...t.notes.map((n) => [
          ...le(near(t.ms(n.tick)), 4),
          n.key,
          n.velocity,
          ...le(n.end - n.tick, 2),
        ]),
      ),
  ],
  [
    'records, high byte first, a checksum behind',
    'song.dat',
    (t) => {
      const body = t.notes.flatMap((n) => [...be(n.tick, 3), n.key - 48, n.seat]);
      return bytes(
        'TD',
        [2],
        be(t.notes.length, 4),
        body,
        be(checksumOf('crc32', Uint8Array.from(body)), 4),
      );
    },
  ],
  [
    'deltas in seven bits a byte',
    'song.run',
    (t) => {
      let before = 0;
      return bytes(
        'RUN1',
        ...t.notes.map((n) => {
          const gap = n.tick - before;
          before = n.tick;
          return [...vlq(gap), n.key, n.velocity];
        }),
      );
    },
  ],
  [
    'a place and a clock as people write them',
    'steps.csv',
    (t) =>
      encodeUtf8(
        [
          'place;clock;key',
          ...t.notes.map((n) => `${place(n.tick)};${clock(t.ms(n.tick))};${n.key}`),
        ].join('\n') + '\n',
      ),
  ],
  [
    'JSON with its clock as a text',
    'clock.json',
    (t) =>
      encodeUtf8(
        JSON.stringify({
          cues: t.notes.map((n) => ({ at: clock(t.ms(n.tick)), key: name(n.key) })),
        }) + '\n',
      ),
  ],
  [
    'quarters with every digit that a number has',
    'raw.json',
    (t) =>
      encodeUtf8(
        JSON.stringify({
          cues: t.notes.map((n) => ({ t: n.tick / 480, d: (n.end - n.tick) / 480, k: n.key })),
        }),
      ),
  ],
  [
    'on and off apart, a word for each key',
    'events.tsv',
    (t) => {
      const WORDS = ['reed', 'mud', 'rope', 'tar', 'gull', 'eel', 'oar', 'bell'];
      const keys = [48, 50, 52, 53, 55, 57, 59, 60];
      const all = t.notes.flatMap((n) => [
        { at: n.tick, on: 1, n },
        { at: n.end, on: 0, n },
      ]);
      all.sort((a, b) => a.at - b.at || a.on - b.on);
      return encodeUtf8(
        all
          .map(
            (e) =>
              `${fixed(e.at / 480, 3)}\t${e.on ? 'down' : 'up'}\t${WORDS[keys.indexOf(e.n.key)]}`,
          )
          .join('\n') + '\n',
      );
    },
  ],
  [
    'a clock with hours and frames, from and to',
    'subtitles.txt',
    (t) => {
      const at = (tick: number) => {
        const all = near((t.ms(tick) * 25) / 1000);
        const seconds = Math.floor(all / 25);
        const hms = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60];
        return [...hms, all % 25].map((n) => two(n)).join(':');
      };
      return encodeUtf8(
        t.notes.map((n) => `${at(n.tick)} > ${at(n.end)} ${name(n.key)}`).join('\n') + '\n',
      );
    },
  ],
  [
    'chords in one cell',
    'chords.csv',
    (t) =>
      encodeUtf8(
        [
          'ms,keys,names',
          ...strikes(t).map(([tick, own]) =>
            [
              near(t.ms(tick)),
              own.map((n) => n.key).join('+'),
              own.map((n) => name(n.key)).join(' '),
            ].join(),
          ),
        ].join('\n') + '\n',
      ),
  ],
  [
    'places with points, and lengths as a clock',
    'places.csv',
    (t) =>
      encodeUtf8(
        t.notes
          .map((n) => {
            const at = `${Math.floor(n.tick / 1920) + 1}.${(Math.floor(n.tick / 480) % 4) + 1}.${two(n.tick % 480, 3)}`;
            return `${at};${clock(t.ms(n.end) - t.ms(n.tick))};${n.key}`;
          })
          .join('\n') + '\n',
      ),
  ],
  [
    'XML with the lanes of a chord in one attribute',
    'chart.xml',
    (t) =>
      encodeUtf8(
        `<?xml version="1.0" encoding="UTF-8"?>\n<chart>\n${strikes(t)
          .map(
            ([tick, own]) =>
              `  <hit at="${fixed(t.ms(tick) / 1000, 3)}" lanes="${own.map((n) => n.key - 47).join(',')}"/>`,
          )
          .join('\n')}\n</chart>\n`,
      ),
  ],
  [
    'a chord a line, with the force behind each key',
    'chords.txt',
    (t) =>
      encodeUtf8(
        strikes(t)
          .map(([tick, own]) => `@${tick} ${own.map((n) => `${n.key}/${n.velocity}`).join(' ')}`)
          .join('\n') + '\n',
      ),
  ],
  [
    'JSON in one line, with spaces',
    'cues.json',
    (t) =>
      encodeUtf8(
        `{"ppq": 480, "cues": [${t.notes.map((n) => `{"at": ${n.tick}, "key": ${n.key}}`).join(', ')}]}\n`,
      ),
  ],
  [
    'JSON with a cue a line',
    'cues.json',
    (t) =>
      encodeUtf8(
        `{\n  "ppq": 480,\n  "cues": [\n${strikes(t)
          .map(
            ([tick, own]) => `    { "at": ${tick}, "keys": [${own.map((n) => n.key).join(', ')}] }`,
          )
          .join(',\n')}\n  ]\n}\n`,
      ),
  ],
];

describe('described by example', () => {
  const one = tune(7, 'ferry');
  const two = tune(23, 'heron');
  for (const [what, file, write] of FORMATS)
    it(`${what}: explained, and a score that was not seen is written the same`, () => {
      const found = describeExample(write(one), file, one.piece, target);
      if ('problem' in found) throw new Error(found.problem);
      const told = found.findings.map((f) => `${f.is} ${f.where}: ${f.says}`).join('\n');
      expect(FormatSchema.safeParse(found.format).success, told).toBe(true);
      expect(found.identical, `${told}\ndiffers at ${found.differsAt}`).toBe(true);
      const [unseen] = writeFormat(found.format, [two.piece], target).files;
      expect(Array.from(unseen!.bytes), told).toEqual(Array.from(write(two)));
      const read = readFormat(found.format.files[0]!, unseen!.bytes);
      expect(read.problem, told).toBeUndefined();
    });
  it('a map of tempos, meters and markers, with empty cells where nothing changes', () => {
    const march = (seed: number) => {
      const part = new Track('Ebb').note(1, 0, 300, 60, 90).note(1, 9600, 300, 62, 90);
      const head = conductor(90 + seed, 4, 4)
        .marker(0, `Quay ${seed}`)
        .meter(1920 * 2, 3, 4)
        .tempo(1920 * 2, 70 + seed)
        .marker(1920 * 3, 'Rope')
        .tempo(1920 * 4, 133);
      const source = song([head, part], { endTick: 12_000, name: 'march.mid' });
      const [piece] = renditionOf(source, target).pieces;
      const bpm = (n: number) => String(Math.round((60e6 / Math.round(60e6 / n)) * 1e4) / 1e4);
      const rows = [
        ['1', bpm(90 + seed), '4/4', `Quay ${seed}`],
        ['3', bpm(70 + seed), '3/4', ''],
        ['4', '', '', 'Rope'],
        ['5', bpm(133), '', ''],
      ];
      // Bars of three quarters from the third on: 1920 ticks are one and a third of them.
      const bars = [
        '1',
        '3',
        String(3 + Math.floor(1920 / 1440)),
        String(3 + Math.floor(3840 / 1440)),
      ];
      const lines = rows.map((r, i) => [bars[i], ...r.slice(1)].join(';'));
      return { piece: piece as Piece, bytes: encodeUtf8(lines.join('\n') + '\n') };
    };
    const [a, b] = [march(3), march(11)];
    const found = describeExample(a.bytes, 'map.csv', a.piece, target);
    if ('problem' in found) throw new Error(found.problem);
    const told = found.findings.map((f) => `${f.is} ${f.where}: ${f.says}`).join('\n');
    expect(found.identical, told).toBe(true);
    const [unseen] = writeFormat(found.format, [b.piece], target).files;
    expect(new TextDecoder().decode(unseen!.bytes)).toBe(new TextDecoder().decode(b.bytes));
    expect(readFormat(found.format.files[0]!, unseen!.bytes).problem).toBeUndefined();
  });
  it('eight thousand chords: what stands in a row is not looked for in all of them', () => {
    const part = new Track('Ebb');
    const lines = ['ms,keys'];
    for (let i = 0; i < 8000; i++) {
      for (const key of [60 + (i % 7), 67 + (i % 5)]) part.note(1, i * 120, 50, key, 90);
      lines.push(`${i * 125},${60 + (i % 7)}+${67 + (i % 5)}`);
    }
    const source = song([conductor(120), part], { endTick: 960_100, name: 'long.mid' });
    const [piece] = renditionOf(source, target).pieces;
    const found = describeExample(
      encodeUtf8(lines.join('\n') + '\n'),
      'long.csv',
      piece as Piece,
      target,
    );
    expect('problem' in found || found.identical).toBe(true);
  });
  it.each([
    [
      'utf-16le',
      (text: string) => text.split('').flatMap((c) => le(c.charCodeAt(0), 2)),
      [255, 254],
    ],
    [
      'utf-16be',
      (text: string) => text.split('').flatMap((c) => be(c.charCodeAt(0), 2)),
      [254, 255],
    ],
    ['utf-8-mark', (text: string) => [...encodeUtf8(text)], [239, 187, 191]],
  ] as const)('letters in %s are told by their mark', (encoding, lettersOf, mark) => {
    const text = `ms;tone\n${one.notes.map((n) => `${near(one.ms(n.tick))};${name(n.key)}`).join('\n')}\n`;
    const example = Uint8Array.from([...mark, ...lettersOf(text)]);
    const found = describeExample(example, 'tones.txt', one.piece, target);
    if ('problem' in found) throw new Error(found.problem);
    expect(found.format.files[0]!.encoding).toBe(encoding);
    expect(found.identical).toBe(true);
  });
  it('what nothing explains is said, and nothing is made up', () => {
    const csv = encodeUtf8(
      ['a,b', ...one.notes.map((n, i) => `${near(one.ms(n.tick))},${(i * 7919) % 1000}`)].join(
        '\n',
      ) + '\n',
    );
    const found = describeExample(csv, 'odd.csv', one.piece, target);
    if ('problem' in found) throw new Error(found.problem);
    expect(found.identical).toBe(false);
    expect(found.findings.filter((f) => f.is === 'unexplained').map((f) => f.where)).toEqual([
      'notes, b',
    ]);
    expect(found.findings.find((f) => f.where === 'notes, a')?.says).toContain('start in ms');
  });
});
