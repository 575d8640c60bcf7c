import { encodeUtf8 } from '../src/core/smf/text';
import type { Piece } from '../src/core/score/piece';
import type { Target } from '../src/core/target/schema';
import { conductor, renditionOf, song, Track } from './score-builder';

// Files as somebody else's program might write them: a few lines each, which share nothing with ours.

interface N {
  readonly tick: number;
  readonly end: number;
  readonly key: number;
  readonly velocity: number;
  readonly seat: number;
}
export const KEYS = [36, 41, 43, 60, 62, 64];
export const SEATS = ['Ebb', 'Flood', 'Slack'];
const seatOf = (key: number) => (key < 50 ? 2 : key % 4 === 0 ? 0 : 1);

interface Kind {
  readonly seed: number;
  readonly name: string;
  readonly ppq: number;
  /** Bars at which a tempo begins, with its BPM. */
  readonly tempos: readonly (readonly [bar: number, bpm: number])[];
  readonly meter: readonly [number, number];
}

/** A song of its own hand, at its own PPQ, tempos and meter; the seed plays other notes. */
export function songOf({ seed, name, ppq, tempos, meter }: Kind, target: Target) {
  let state = seed;
  const next = (below: number) => {
    state = (state * 48_271) % 2_147_483_647;
    return state % below;
  };
  const bar = (ppq * 4 * meter[0]) / meter[1];
  const bars = 9;
  const steps = 3 * meter[0];
  const notes: N[] = [];
  const add = (tick: number, length: number, key: number, velocity: number) =>
    notes.push({ tick, end: tick + length, key, velocity, seat: seatOf(key) });
  for (let b = 0; b < bars; b++)
    for (let i = 0; i < steps; i++) {
      if (next(3) === 0) continue;
      const start = b * bar + Math.round((i * bar) / steps);
      const used = new Set<number>();
      for (let k = 0; k <= next(3); k++) {
        const key = KEYS[next(KEYS.length)]!;
        if (used.has(key)) continue;
        used.add(key);
        const length = Math.round((bar / steps) * [0.25, 0.5, 0.75][next(3)]!);
        add(start, Math.max(4, length), key, 10 + next(118));
      }
    }
  KEYS.forEach((key, i) => add(bars * bar + i * ppq, ppq / 2, key, 20 + 15 * i));
  notes.sort((a, b) => a.tick - b.tick || a.key - b.key);
  const endTick = Math.ceil((bars * bar + KEYS.length * ppq) / bar) * bar;
  const tracks = SEATS.map((s) => new Track(s));
  for (const n of notes)
    tracks[n.seat]!.note(n.seat + 1, n.tick, n.end - n.tick, n.key, n.velocity);
  const head = conductor(tempos[0]![1], meter[0], meter[1]);
  for (const [b, bpm] of tempos.slice(1)) head.tempo(b * bar, bpm);
  const markers: [tick: number, text: string][] = [
    [0, 'Quay'],
    [4 * bar, `Turn ${seed}`],
    [7 * bar, 'Mud'],
  ];
  for (const [tick, text] of markers) head.marker(tick, text);
  const source = song([head, ...tracks], { endTick, ppq, name: `${name}.mid` });
  const map = tempos.map(([b, bpm]) => [b * bar, Math.round(60_000_000 / bpm)] as const);
  const ms = (tick: number) =>
    map.reduce((sum, [from, us], i) => {
      const to = Math.min(tick, map[i + 1]?.[0] ?? Infinity);
      return to > from ? sum + ((to - from) * us) / ppq / 1000 : sum;
    }, 0);
  const bpmAt = (tick: number) => 60e6 / map.findLast(([from]) => from <= tick)![1];
  const piece = renditionOf(source, target).pieces[0] as Piece;
  return { piece, notes, ms, bpmAt, name, ppq, bar, endTick, map, meter, markers };
}
export type Foreign = ReturnType<typeof songOf>;

const near = (x: number) => Math.floor(x + 0.5 + 1e-9);
const fixed = (x: number, decimals: number) => {
  const digits = String(near(x * 10 ** decimals)).padStart(decimals + 1, '0');
  return `${digits.slice(0, -decimals)}.${digits.slice(-decimals)}`;
};
const le = (n: number, size: number) =>
  Array.from({ length: size }, (_, i) => Math.floor(n / 256 ** i) % 256);
const be = (n: number, size: number) => le(n, size).reverse();
const lines = (all: readonly string[]) => encodeUtf8(all.join('\n') + '\n');
const json = (data: unknown) => encodeUtf8(JSON.stringify(data));
const bytes = (...parts: (number | string | number[])[]) =>
  Uint8Array.from(
    parts.flatMap((p) => (typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : p)),
  );
const float = (x: number) => [...new Uint8Array(new Float32Array([x]).buffer)];
const lane = (n: N) => KEYS.indexOf(n.key);
const bySeat = (t: Foreign) =>
  SEATS.map((name, i) => [name, t.notes.filter((n) => n.seat === i)] as const);
const byBar = (t: Foreign) =>
  Array.from({ length: t.endTick / t.bar }, (_, b) =>
    t.notes.filter((n) => Math.floor(n.tick / t.bar) === b),
  );
const strikes = (t: Foreign) => {
  const by = new Map<number, N[]>();
  for (const n of t.notes) by.set(n.tick, [...(by.get(n.tick) ?? []), n]);
  return [...by];
};
/** Where notes begin and end; what ends goes first. */
const events = (t: Foreign) =>
  t.notes
    .flatMap((n) => [
      { tick: n.tick, on: true, n },
      { tick: n.end, on: false, n },
    ])
    .sort((a, b) => a.tick - b.tick || Number(a.on) - Number(b.on));
const byTrack = (t: Foreign) =>
  [...t.notes].sort((a, b) => a.tick - b.tick || a.seat - b.seat || a.key - b.key);
const at = (t: Foreign, tick: number) => near(t.ms(tick));
const ticks = (t: Foreign, tick: number, ppq: number) => near((tick * ppq) / t.ppq);
/** Cells of a sixteenth in which a key is struck. */
const cells = (t: Foreign, key: number, yes: string, no: string) =>
  Array.from({ length: Math.ceil((t.endTick / t.ppq) * 4) }, (_, cell) =>
    t.notes.some((n) => n.key === key && near((n.tick * 4) / t.ppq) === cell) ? yes : no,
  );

/** How a file tells where notes are: by the clock, in quarters, or by bars whose meter it does not tell. */
export type Tells = 'clock' | 'quarters' | 'bars';

export const FOREIGN: readonly {
  readonly what: string;
  readonly file: string;
  readonly write: (t: Foreign) => Uint8Array;
  /** By the clock where nothing is said. */
  readonly tells?: Tells;
  /** A name may hold what stands behind it: that is told, and it is read all the same. */
  readonly doubtful?: boolean;
}[] = [
  {
    what: 'a table with a column for each key, its velocity in it',
    file: 'wide.csv',
    write: (t) =>
      lines([
        `ms,${KEYS.map((k) => `k${k}`).join(',')}`,
        ...strikes(t).map(([tick, own]) =>
          [at(t, tick), ...KEYS.map((k) => own.find((n) => n.key === k)?.velocity ?? 0)].join(','),
        ),
      ]),
  },
  {
    what: 'a column for each lane with a sign where it is struck',
    file: 'signs.csv',
    write: (t) =>
      lines(
        strikes(t).map(([tick, own]) =>
          [at(t, tick), ...KEYS.map((k) => (own.some((n) => n.key === k) ? 'x' : '-'))].join(';'),
        ),
      ),
  },
  {
    what: 'a bit for each lane',
    file: 'mask.csv',
    write: (t) =>
      lines(
        strikes(t).map(
          ([tick, own]) => `${at(t, tick)},${own.reduce((mask, n) => mask | (1 << lane(n)), 0)}`,
        ),
      ),
  },
  {
    what: 'a list for each lane',
    file: 'lanes.json',
    write: (t) =>
      json({
        lanes: KEYS.map((k) => t.notes.filter((n) => n.key === k).map((n) => at(t, n.tick))),
      }),
  },
  {
    what: 'bars with their notes, in ticks of a 96th',
    file: 'bars.json',
    tells: 'bars',
    write: (t) =>
      json({
        bars: byBar(t).map((own, b) => ({
          bar: b + 1,
          notes: own.map((n) => ({ at: ticks(t, n.tick - b * t.bar, 96), key: n.key })),
        })),
      }),
  },
  {
    what: 'a head for each bar',
    file: 'bars.txt',
    tells: 'bars',
    write: (t) =>
      lines(
        byBar(t).flatMap((own, b) => [
          `== ${b + 1}`,
          ...own.map((n) => `${ticks(t, n.tick - b * t.bar, 48)} ${n.key}`),
        ]),
      ),
  },
  {
    what: 'elements with text in them, and a head of its own',
    file: 'notes.xml',
    write: (t) =>
      lines([
        '<?xml version="1.0"?>',
        '<song>',
        ...t.notes.flatMap((n) => [
          '  <note>',
          `    <time>${fixed(t.ms(n.tick) / 1000, 3)}</time>`,
          `    <key>${n.key}</key>`,
          '  </note>',
        ]),
        '</song>',
      ]),
  },
  {
    what: 'elements within the element of their seat',
    file: 'sides.xml',
    write: (t) =>
      lines([
        "<?xml version='1.0' encoding='utf-8'?>",
        `<show bpm="${fixed(t.bpmAt(0), 2)}">`,
        ...bySeat(t).flatMap(([name, own]) => [
          `    <side name="${name}">`,
          ...own.map((n) => `        <n at="${at(t, n.tick)}" k="${n.key}" />`),
          '    </side>',
        ]),
        '</show>',
      ]),
  },
  {
    what: 'a numbered section for each note',
    file: 'hits.ini',
    write: (t) =>
      lines(
        t.notes.flatMap((n, i) => [`[hit${i + 1}]`, `time=${at(t, n.tick)}`, `key=${n.key}`, '']),
      ),
  },
  {
    what: 'sections whose names could be those of notes',
    file: 'cues.ini',
    write: (t) => lines(t.notes.flatMap((n, i) => [`[C${i}]`, `t=${at(t, n.tick)}`, `k=${n.key}`])),
  },
  {
    what: 'lines of tempos before the notes',
    file: 'song.txt',
    tells: 'quarters',
    write: (t) =>
      lines([
        `title ${t.name}`,
        ...t.map.map(([tick, us]) => `tempo ${ticks(t, tick, 96)} ${us}`),
        ...t.notes.map((n) => `n ${ticks(t, n.tick, 96)} ${n.key} ${ticks(t, n.end - n.tick, 96)}`),
        'end',
      ]),
  },
  {
    what: 'several lines for each tempo and for each note',
    file: 'song.yml',
    tells: 'quarters',
    write: (t) =>
      lines([
        `title: ${t.name}`,
        'tempos:',
        ...t.map.flatMap(([tick, us]) => [`  - beat: ${fixed(tick / t.ppq, 2)}`, `    us: ${us}`]),
        'notes:',
        ...t.notes.flatMap((n) => [
          `  - at: ${fixed(n.tick / t.ppq, 3)}`,
          `    key: ${n.key}`,
          `    part: ${SEATS[n.seat]}`,
        ]),
      ]),
  },
  {
    what: 'markers in a section of their own, as free text',
    file: 'places.txt',
    write: (t) =>
      lines([
        '[Places]',
        ...t.markers.map(([tick, text]) => `${at(t, tick)} = ${text}`),
        '[Notes]',
        ...t.notes.map((n) => `${at(t, n.tick)} = ${n.key} ${n.velocity}`),
      ]),
  },
  {
    what: 'a head with a count for each seat',
    file: 'counts.txt',
    doubtful: true,
    write: (t) =>
      lines(
        bySeat(t).flatMap(([name, own]) => [
          `${name} ${own.length}`,
          ...own.map((n) => `  ${at(t, n.tick)} ${n.key}`),
        ]),
      ),
  },
  {
    what: 'a line for each seat with a list in it',
    file: 'lists.txt',
    write: (t) =>
      lines(
        bySeat(t).map(
          ([name, own]) => `${name}=${own.map((n) => `${at(t, n.tick)}/${n.key}`).join(',')}`,
        ),
      ),
  },
  {
    what: 'all in one line',
    file: 'one.txt',
    write: (t) => lines([t.notes.map((n) => `${at(t, n.tick)}:${n.key}`).join(',')]),
  },
  {
    what: 'digits from 0 to f',
    file: 'hex.txt',
    write: (t) =>
      lines(
        t.notes.map((n) =>
          [at(t, n.tick).toString(16).padStart(6, '0'), n.key.toString(16), n.velocity.toString(16)]
            .join(' ')
            .toUpperCase(),
        ),
      ),
  },
  {
    what: 'a program’s own list',
    file: 'cues.h',
    write: (t) =>
      lines([
        `#define COUNT ${t.notes.length}`,
        'static const cue cues[] = {',
        ...t.notes.map((n) => `  { ${at(t, n.tick)}, 0x${n.key.toString(16)}, ${n.velocity} },`),
        '};',
      ]),
  },
  {
    what: 'fixed widths, numbers at the right',
    file: 'right.txt',
    write: (t) =>
      lines(
        t.notes.map((n) =>
          [at(t, n.tick), n.key, n.velocity].map((x, i) => String(x).padStart(i ? 4 : 8)).join(''),
        ),
      ),
  },
  {
    what: 'fixed widths, names at the left',
    file: 'left.txt',
    write: (t) =>
      lines(
        t.notes.map(
          (n) =>
            String(at(t, n.tick)).padEnd(8) + SEATS[n.seat]!.padEnd(7) + String(n.key).padStart(3),
        ),
      ),
  },
  {
    what: 'the tempo in force beside each note',
    file: 'tempo.csv',
    write: (t) =>
      lines(t.notes.map((n) => `${at(t, n.tick)};${n.key};${fixed(t.bpmAt(n.tick), 2)}`)),
  },
  {
    what: 'samples of sound, from and to',
    file: 'samples.csv',
    write: (t) =>
      lines(
        t.notes.map((n) => `${near(t.ms(n.tick) * 44.1)},${near(t.ms(n.end) * 44.1)},${n.key}`),
      ),
  },
  {
    what: 'quotes, and a row of sums behind',
    file: 'sums.csv',
    write: (t) =>
      lines([
        '"n","ms","key"',
        ...t.notes.map((n, i) => `"${i + 1}","${at(t, n.tick)}","${n.key}"`),
        `"total","${t.notes.length}","${t.name}"`,
      ]),
  },
  {
    what: 'its PPQ and ticks of that',
    file: 'ppq.json',
    tells: 'quarters',
    write: (t) =>
      json({
        ppq: t.ppq,
        notes: t.notes.map((n) => ({ tick: n.tick, key: n.key, len: n.end - n.tick })),
      }),
  },
  {
    what: 'a line for each sixteenth, a sign for each key',
    file: 'grid.txt',
    tells: 'quarters',
    write: (t) => {
      const all = KEYS.map((k) => cells(t, k, 'x', '.'));
      return lines(all[0]!.map((_, cell) => all.map((own) => own[cell]!).join('')));
    },
  },
  {
    what: 'a line for each key, parted by bars',
    file: 'drums.txt',
    tells: 'quarters',
    write: (t) => {
      const size = Math.round((t.bar / t.ppq) * 4);
      const bars = (key: number) =>
        cells(t, key, 'o', '.')
          .join('')
          .match(new RegExp(`.{${size}}`, 'g'))!
          .join('|');
      return lines([`# ${t.name}`, ...KEYS.map((k) => `${k}: ${bars(k)}`)]);
    },
  },
  {
    what: 'blocks for each seat, each with its count',
    file: 'blocks.bin',
    write: (t) =>
      bytes(
        'BLK',
        [SEATS.length],
        ...bySeat(t).map(([, own], i) => [
          i + 1,
          ...be(own.length, 2),
          ...own.flatMap((n) => [...be(at(t, n.tick), 4), n.key]),
        ]),
      ),
  },
  {
    what: 'seconds as fractions of 32 bits, and a title filled up',
    file: 'floats.bin',
    write: (t) =>
      bytes(
        'SALT',
        t.name.padEnd(12, '\0'),
        le(t.notes.length, 4),
        ...t.notes.map((n) => [...float(t.ms(n.tick) / 1000), n.key, n.velocity, 0, 0]),
      ),
  },
  {
    what: 'two small fields side by side',
    file: 'fields.bin',
    tells: 'quarters',
    write: (t) =>
      bytes(
        be(t.notes.length, 2),
        [24],
        ...t.notes.map((n) => [...be(ticks(t, n.tick, 24), 2), lane(n), n.seat]),
      ),
  },
  {
    what: 'events of two kinds, a force only where they begin',
    file: 'events.json',
    write: (t) =>
      json({
        events: events(t).map(({ tick, on, n }) => ({
          t: at(t, tick),
          type: on ? 'on' : 'off',
          key: n.key,
          ...(on ? { vel: n.velocity } : {}),
        })),
      }),
  },
  {
    what: 'switches as 1 and 0, keys by numbers of their own',
    file: 'switches.json',
    write: (t) =>
      json(
        events(t).map(({ tick, on, n }) => ({
          t: at(t, tick),
          on: on ? 1 : 0,
          id: [905, 12, 77, 300, 41, 8][lane(n)],
        })),
      ),
  },
  {
    what: 'a line where it begins, another where it ends',
    file: 'events.txt',
    write: (t) =>
      lines(
        events(t).map(({ tick, on, n }) =>
          on ? `${at(t, tick)} on ${n.key} ${n.velocity}` : `${at(t, tick)} off ${n.key}`,
        ),
      ),
  },
  {
    what: 'a force only where it is hard',
    file: 'hard.json',
    write: (t) =>
      json({
        notes: t.notes.map((n) => ({
          t: at(t, n.tick),
          key: n.key,
          ...(n.velocity >= 64 ? { hard: n.velocity } : {}),
        })),
      }),
  },
  {
    what: 'an attribute only where it is hard',
    file: 'hard.xml',
    write: (t) =>
      lines([
        '<chart>',
        ...t.notes.map((n) => {
          const hard = n.velocity >= 64 ? ` hard="${n.velocity}"` : '';
          return `  <n t="${at(t, n.tick)}" key="${n.key}"${hard}/>`;
        }),
        '</chart>',
      ]),
  },
  {
    what: 'a head with tempos and a meter, keys of a strike in a list',
    file: 'head.json',
    write: (t) =>
      json({
        header: {
          name: t.name,
          tempos: t.map.map(([tick, us]) => ({
            ms: at(t, tick),
            bpm: Number(fixed(60e6 / us, 3)),
          })),
          meter: { top: t.meter[0], bottom: t.meter[1] },
        },
        rows: strikes(t).map(([tick, own]) => ({ ms: at(t, tick), keys: own.map((n) => n.key) })),
      }),
  },
  {
    what: 'bars and parts of them',
    file: 'parts.csv',
    tells: 'bars',
    write: (t) =>
      lines([
        'bar,part,key',
        ...t.notes.map((n) =>
          [Math.floor(n.tick / t.bar) + 1, fixed((n.tick % t.bar) / t.bar, 4), n.key].join(','),
        ),
      ]),
  },
  {
    what: 'a line for each key, from and to',
    file: 'spans.txt',
    write: (t) =>
      lines(
        KEYS.map((key) =>
          [
            `k${key}`,
            ...t.notes.filter((n) => n.key === key).map((n) => `${at(t, n.tick)}-${at(t, n.end)}`),
          ].join(' '),
        ),
      ),
  },
  {
    what: 'decimal commas and tabs under lines of words',
    file: 'cues.tsv',
    write: (t) => {
      const comma = (ms: number) => fixed(ms / 1000, 3).replace('.', ',');
      return lines([
        `# ${t.name}`,
        `# ${t.notes.length} cues`,
        'time\tkey\tlength',
        ...t.notes.map((n) =>
          [comma(t.ms(n.tick)), n.key, comma(t.ms(n.end) - t.ms(n.tick))].join('\t'),
        ),
      ]);
    },
  },
  {
    what: 'numbered cues with a clock from and to',
    file: 'cues.srv',
    write: (t) => {
      const clock = (tick: number) => {
        const all = at(t, tick);
        const two = (n: number) => String(n).padStart(2, '0');
        const rest = String(all % 1000).padStart(3, '0');
        const [minutes, seconds] = [Math.floor(all / 60_000), Math.floor(all / 1000) % 60];
        return `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}:${two(seconds)}.${rest}`;
      };
      return lines(
        t.notes.flatMap((n, i) => [
          `${i + 1}`,
          `${clock(n.tick)} to ${clock(n.end)}`,
          `stone ${n.key}`,
          '',
        ]),
      );
    },
  },
  {
    what: 'calls of functions',
    file: 'show.js',
    write: (t) =>
      lines([
        `start("${t.name}");`,
        ...t.notes.map(
          (n) => `cue(${fixed(t.ms(n.tick) / 1000, 3)}, "${SEATS[n.seat]}", ${n.key});`,
        ),
        'finish();',
      ]),
  },
  {
    what: 'moments as names, each with the keys that are struck',
    file: 'moments.json',
    write: (t) =>
      json(
        Object.fromEntries(
          strikes(t).map(([tick, own]) => [`t${at(t, tick)}`, own.map((n) => n.key)]),
        ),
      ),
  },
  {
    what: 'switches as bytes, each so long after the last',
    file: 'switches.bin',
    write: (t) => {
      let before = 0;
      const all = events(t);
      return bytes(
        'SW',
        le(all.length, 2),
        ...all.map(({ tick, on, n }) => {
          const gap = at(t, tick) - before;
          before = at(t, tick);
          return [...le(gap, 2), on ? 3 : 2, n.key, on ? n.velocity : 0];
        }),
      );
    },
  },
  {
    what: 'notes as they stand in the tracks, at one place the upper tracks first',
    file: 'tracks.csv',
    write: (t) =>
      lines([
        'ms,channel,key,velocity',
        ...byTrack(t).map((n) => [at(t, n.tick), n.seat + 1, n.key, n.velocity].join(',')),
      ]),
  },
  {
    what: 'switches in the order in which their notes begun',
    file: 'switches.log',
    write: (t) =>
      lines(
        byTrack(t)
          .flatMap((n) => [
            { tick: n.tick, on: true, n },
            { tick: n.end, on: false, n },
          ])
          .sort((a, b) => a.tick - b.tick || Number(a.on) - Number(b.on))
          .map(
            ({ tick, on, n }) => `${at(t, tick)} ${on ? 'open' : 'shut'} ${n.seat + 1}/${n.key}`,
          ),
      ),
  },
  {
    what: 'a section for each note, in which nothing is waited as well',
    file: 'gaps.ini',
    write: (t) => {
      let before = 0;
      return lines(
        t.notes.flatMap((n) => {
          const gap = at(t, n.tick) - before;
          before = at(t, n.tick);
          return ['[note]', `gap=${gap}`, `key=${n.key}`];
        }),
      );
    },
  },
  {
    what: 'waits, none of nothing, and then what is struck',
    file: 'script.txt',
    write: (t) => {
      let before = 0;
      return lines(
        strikes(t).flatMap(([tick, own]) => {
          const wait = at(t, tick) - before;
          before = at(t, tick);
          return [...(wait > 0 ? [`wait ${wait}`] : []), ...own.map((n) => `hit ${n.key}`)];
        }),
      );
    },
  },
];
