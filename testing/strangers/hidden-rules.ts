import { barOf, endOf, later, msAt, notesOf, type Roll, type Tune } from './tune';

/**
 * What devices of strangers refuse, judged on plain numbers: nothing here knows the desk. Each keeps
 * its rule when asked to, as people do who found out.
 */
export interface HiddenRule {
  readonly says: string;
  readonly breaks: (t: Tune) => boolean;
  readonly keep: (t: Tune) => void;
  /** Where a target says it; any of these names it. */
  readonly paths: readonly RegExp[];
}
type Kind = (roll: Roll) => HiddenRule;

const each = (t: Tune, does: (n: Tune['lines'][0]['notes'][0]) => void) => {
  for (const l of t.lines) l.notes.forEach(does);
};
/** Notes of one channel at a time. */
const byChannel = (t: Tune) => {
  const all = notesOf(t);
  return [...new Set(all.map((n) => n.channel))].map((c) => all.filter((n) => n.channel === c));
};
/** Leaves out what `bad` says of a note and of those that were kept before it on its channel. */
const thin = (
  t: Tune,
  bad: (n: ReturnType<typeof notesOf>[0], kept: ReturnType<typeof notesOf>) => boolean,
) => {
  for (const channel of byChannel(t)) {
    const kept: ReturnType<typeof notesOf> = [];
    const gone = new Set<string>();
    for (const n of channel)
      if (bad(n, kept)) gone.add(`${n.start} ${n.key} ${n.length} ${n.velocity}`);
      else kept.push(n);
    for (const l of t.lines)
      if (l.channel === channel[0]!.channel)
        l.notes = l.notes.filter((n) => !gone.has(`${n.start} ${n.key} ${n.length} ${n.velocity}`));
  }
};
/** As many notes before one as can matter to it: what is further back has long ended. */
const NEAR = 120;
const near = <T>(list: readonly T[], i: number): T[] => list.slice(Math.max(0, i - NEAR), i);
const soundingAt = (list: readonly { start: number; end: number }[], i = list.length - 1) =>
  1 + near(list, i).filter((b) => b.end > list[i]!.start).length;
const first = (t: Tune) => Math.min(...notesOf(t).map((n) => n.start));
const scale = (t: Tune, to: number) => {
  const by = (tick: number) => Math.round((tick * to) / t.ppq);
  each(t, (n) => {
    const end = by(n.start + n.length);
    n.start = by(n.start);
    n.length = Math.max(1, end - n.start);
  });
  const lists = [
    t.tempos,
    t.meters,
    t.markers,
    t.lyrics,
    ...t.lines.flatMap((l) => [l.programs, l.controls, l.bends]),
  ];
  for (const list of lists) for (const x of list as [number, ...unknown[]][]) x[0] = by(x[0]);
  if (t.endTick !== null) t.endTick = by(t.endTick);
  t.ppq = to;
};
const cutAt = (t: Tune, tick: number) => {
  for (const l of t.lines) {
    l.notes = l.notes.filter((n) => n.start + n.length <= tick);
    l.programs = l.programs.filter((x) => x[0] <= tick);
    l.controls = l.controls.filter((x) => x[0] <= tick);
    l.bends = l.bends.filter((x) => x[0] <= tick);
  }
  t.tempos = t.tempos.filter((x) => x[0] <= tick);
  t.meters = t.meters.filter((x) => x[0] < tick || x[0] === 0);
  t.markers = t.markers.filter((x) => x[0] <= tick);
  t.lyrics = t.lyrics.filter((x) => x[0] <= tick);
};
const most = (list: readonly number[]) => list.reduce((a, b) => Math.max(a, b), 0);
const octaves = (t: Tune, low: number, high: number) =>
  each(t, (n) => {
    while (n.key < low) n.key += 12;
    while (n.key > high) n.key -= 12;
  });

/** Bar starts of a tune of one or two meters. */
const barStarts = (t: Tune, upTo: number): number[] => {
  const out: number[] = [];
  let at = 0;
  while (at <= upTo) {
    out.push(at);
    const m = [...t.meters].reverse().find((x) => x[0] <= at) ?? [0, 4, 4];
    at += (t.ppq * 4 * m[1]) / m[2];
  }
  return out;
};

export const KINDS: Readonly<Record<string, Kind>> = {
  format: () => ({
    says: 'format 0',
    breaks: (t) => t.format !== 0,
    keep: (t) => void (t.format = 0),
    paths: [/^file\.formats/],
  }),
  ppq: () => ({
    says: 'PPQ 480',
    breaks: (t) => t.ppq !== 480,
    keep: (t) => scale(t, 480),
    paths: [/^file\.ppq/],
  }),
  'ppq-multiple': ({ pick }) => {
    const by = pick([96, 48]);
    return {
      says: `PPQ of ${by}`,
      breaks: (t) => t.ppq % by !== 0,
      keep: (t) => t.ppq % by !== 0 && scale(t, pick([by, by * 2, by * 4, by * 10])),
      paths: [/^file\.ppq/],
    };
  },
  channels: ({ pick }) => {
    const only = pick([
      [1, 2, 3, 4],
      [1, 2, 3, 4, 5, 6, 7, 8, 10],
      [10, 1],
      [14, 1],
    ]);
    return {
      says: `channels ${only.join()}`,
      breaks: (t) => t.lines.some((l) => !only.includes(l.channel)),
      keep: (t) =>
        t.lines.forEach(
          (l, i) => (l.channel = only.includes(l.channel) ? l.channel : only[i % only.length]!),
        ),
      paths: [/^channels/, /^events\.silent/],
    };
  },
  'lead-in': ({ pick }) => {
    const ms = pick([500, 1000, 1500, 2000, 3000]);
    return {
      says: `first note at ${ms} ms`,
      breaks: (t) => msAt(t, first(t)) < ms,
      keep: (t) => {
        while (msAt(t, first(t)) < ms) later(t, barOf(t));
      },
      paths: [/^start\.leadIn/],
    };
  },
  'lead-bars': ({ pick }) => {
    const bars = pick([1, 2]);
    return {
      says: `${bars} bars of rest`,
      breaks: (t) => first(t) < bars * barOf(t),
      keep: (t) => {
        while (first(t) < bars * barOf(t)) later(t, barOf(t));
      },
      paths: [/^start\.leadIn/],
    };
  },
  'in-bar-1': () => ({
    says: 'begins in bar 1',
    breaks: (t) => first(t) >= barOf(t),
    keep: (t) => {
      const back = Math.floor(first(t) / barOf(t)) * barOf(t);
      if (back > 0 && Number.isFinite(back)) {
        for (const l of t.lines)
          for (const x of [l.programs, l.controls, l.bends])
            for (const e of x) e[0] = Math.max(e[0], back);
        for (const x of [t.tempos, t.meters, t.markers, t.lyrics] as [number, ...unknown[]][][])
          for (const e of x) if (e[0] > 0) e[0] = Math.max(e[0], back);
        later(t, -back);
      }
    },
    paths: [/^start\.inBar1/],
  }),
  lowest: ({ pick }) => {
    const key = pick([36, 41, 48, 53]);
    return {
      says: `lowest ${key}`,
      breaks: (t) => notesOf(t).some((n) => n.key < key),
      keep: (t) => octaves(t, key, 127),
      paths: [/^notes\.(lowest|only)/],
    };
  },
  highest: ({ pick }) => {
    const key = pick([72, 76, 84]);
    return {
      says: `highest ${key}`,
      breaks: (t) => notesOf(t).some((n) => n.key > key),
      keep: (t) => octaves(t, 0, key),
      paths: [/^notes\.(highest|only)/],
    };
  },
  'keys-only': () => {
    const only = [0, 2, 4, 5, 7, 9, 11];
    return {
      says: 'white keys',
      breaks: (t) => notesOf(t).some((n) => !only.includes(n.key % 12)),
      keep: (t) => each(t, (n) => void (only.includes(n.key % 12) || n.key--)),
      paths: [/^notes\.(only|without)/],
    };
  },
  slowest: ({ pick }) => {
    const bpm = pick([80, 90, 100]);
    return {
      says: `${bpm} BPM or faster`,
      breaks: (t) => t.tempos.some((x) => 60e6 / x[1] < bpm - 0.01),
      keep: (t) =>
        t.tempos.forEach((x) => (x[1] = Math.min(x[1], Math.round(60e6 / (bpm + (x[1] % 40)))))),
      paths: [/^tempo\.(lowest|only)/],
    };
  },
  fastest: ({ pick }) => {
    const bpm = pick([120, 140, 160]);
    return {
      says: `${bpm} BPM or slower`,
      breaks: (t) => t.tempos.some((x) => 60e6 / x[1] > bpm + 0.01),
      keep: (t) =>
        t.tempos.forEach((x) => (x[1] = Math.max(x[1], Math.round(60e6 / (bpm - (x[1] % 40)))))),
      paths: [/^tempo\.(highest|only)/],
    };
  },
  'one-tempo': () => ({
    says: 'one tempo',
    breaks: (t) => t.tempos.length > 1,
    keep: (t) => void (t.tempos.length = 1),
    paths: [/^tempo\.(constant|mostEvents)/],
  }),
  'whole-bpm': () => ({
    says: 'whole BPM',
    breaks: (t) =>
      t.tempos.some(
        (x) =>
          Math.round(60e6 / Math.round(60e6 / x[1])) !== x[1] &&
          Math.floor(60e6 / Math.round(60e6 / x[1])) !== x[1],
      ),
    keep: (t) => t.tempos.forEach((x) => (x[1] = Math.round(60e6 / Math.round(60e6 / x[1])))),
    paths: [/^tempo\.wholeBpm/],
  }),
  'meter-4-4': () => ({
    says: '4/4 alone',
    breaks: (t) => t.meters.some((m) => m[1] !== 4 || m[2] !== 4),
    keep: (t) => void (t.meters = [[0, 4, 4]]),
    paths: [/^meter\.(only|constant)/],
  }),
  together: ({ pick }) => {
    const n = pick([1, 2, 3]);
    return {
      says: `${n} at once on a channel`,
      breaks: (t) => byChannel(t).some((c) => c.some((_, i) => soundingAt(c, i) > n)),
      keep: (t) => thin(t, (a, kept) => soundingAt([...kept.slice(-NEAR), a]) > n),
      paths: [/^polyphony/, /^limits\.together/],
    };
  },
  'together-all': ({ pick }) => {
    const n = pick([4, 6, 8]);
    const over = (t: Tune) => {
      const all = notesOf(t);
      return all.filter((_, i) => soundingAt(all, i) > n);
    };
    return {
      says: `${n} at once in all`,
      breaks: (t) => over(t).length > 0,
      keep: (t) => {
        while (over(t).length > 0 && t.lines.length > 1) t.lines.pop();
        thin(t, (a, kept) => soundingAt([...kept.slice(-NEAR), a]) > n);
      },
      paths: [/^polyphony/, /^limits\.together/],
    };
  },
  'same-key': ({ pick }) => {
    const ms = pick([120, 200]);
    return {
      says: `one key again after ${ms} ms`,
      breaks: (t) =>
        byChannel(t).some((c) =>
          c.some((a, i) =>
            near(c, i).some(
              (b) => b.key === a.key && msAt(t, a.start) - msAt(t, b.start) < ms - 0.01,
            ),
          ),
        ),
      keep: (t) =>
        thin(t, (a, kept) =>
          kept
            .slice(-NEAR)
            .some((b) => b.key === a.key && msAt(t, a.start) - msAt(t, b.start) < ms),
        ),
      paths: [/^spacing\.sameKey/],
    };
  },
  'strikes-second': ({ pick }) => {
    const n = pick([4, 6]);
    const over = (t: Tune, a: { start: number }, list: readonly { start: number }[]) =>
      new Set(
        list
          .filter((b) => b.start <= a.start && msAt(t, a.start) - msAt(t, b.start) < 1000 - 1e-6)
          .map((b) => b.start),
      ).size;
    return {
      says: `${n} strikes in a second`,
      breaks: (t) => byChannel(t).some((c) => c.some((a, i) => over(t, a, [...near(c, i), a]) > n)),
      keep: (t) => thin(t, (a, kept) => over(t, a, [...kept.slice(-NEAR), a]) > n),
      paths: [/^spacing\.(strikes|apart)/, /^limits\.(strikes|notes)/],
    };
  },
  shortest: ({ pick }) => {
    const ms = pick([60, 100, 150]);
    return {
      says: `${ms} ms or longer`,
      breaks: (t) => notesOf(t).some((n) => msAt(t, n.end) - msAt(t, n.start) < ms - 0.01),
      keep: (t) =>
        each(t, (n) => {
          while (msAt(t, n.start + n.length) - msAt(t, n.start) < ms)
            n.length += Math.ceil(t.ppq / 24);
        }),
      paths: [/^length\.shortest/],
    };
  },
  longest: ({ pick }) => {
    const ms = pick([400, 600]);
    return {
      says: `${ms} ms or shorter`,
      breaks: (t) => notesOf(t).some((n) => msAt(t, n.end) - msAt(t, n.start) > ms + 0.01),
      keep: (t) =>
        each(t, (n) => {
          while (n.length > 1 && msAt(t, n.start + n.length) - msAt(t, n.start) > ms)
            n.length = Math.floor(n.length * 0.8);
        }),
      paths: [/^length\.longest/],
    };
  },
  softest: ({ pick }) => {
    const v = pick([50, 64, 72]);
    return {
      says: `velocity ${v} or more`,
      breaks: (t) => notesOf(t).some((n) => n.velocity < v),
      keep: (t) => each(t, (n) => void (n.velocity = Math.max(v, n.velocity))),
      paths: [/^velocity\.lowest/],
    };
  },
  hardest: () => ({
    says: 'velocity 100 or less',
    breaks: (t) => notesOf(t).some((n) => n.velocity > 100),
    keep: (t) => each(t, (n) => void (n.velocity = Math.min(100, n.velocity))),
    paths: [/^velocity\.highest/],
  }),
  notes: ({ pick }) => {
    const n = pick([400, 600]);
    return {
      says: `${n} notes in all`,
      breaks: (t) => notesOf(t).length > n,
      keep: (t) => {
        if (notesOf(t).length > n) t.endTick = null;
        while (notesOf(t).length > n) cutAt(t, endOf(t) - barOf(t));
      },
      paths: [/^notes\.most/, /^limits\.notes/],
    };
  },
  bars: ({ pick }) => {
    const n = pick([10, 12]);
    const isOver = (t: Tune) => barStarts(t, endOf(t)).filter((b) => b < endOf(t)).length > n;
    return {
      says: `${n} bars`,
      breaks: isOver,
      keep: (t) => {
        const before = [...t.meters];
        if (!isOver(t)) return;
        t.endTick = null;
        cutAt(t, barStarts({ ...t, meters: before }, endOf(t))[n]!);
      },
      paths: [/^end\.(mostBars|onlyBars)/, /^limits\.bars/],
    };
  },
  'whole-bars': () => ({
    says: 'ends on a bar line',
    breaks: (t) => !barStarts(t, endOf(t)).includes(endOf(t)),
    keep: (t) => void (t.endTick = barStarts(t, endOf(t) + 20 * t.ppq).find((b) => b >= endOf(t))!),
    paths: [/^end\.wholeBars/],
  }),
  'clock-length': ({ pick }) => {
    const s = pick([20, 25]);
    return {
      says: `${s} s long at most`,
      breaks: (t) => msAt(t, endOf(t)) > s * 1000,
      keep: (t) => {
        while (msAt(t, endOf(t)) > s * 1000) {
          const to = Math.floor(endOf(t) * 0.9);
          t.endTick = null;
          cutAt(t, to);
        }
      },
      paths: [/^limits\.clock-ms/],
    };
  },
  controllers: () => ({
    says: 'no controllers',
    breaks: (t) => t.lines.some((l) => l.controls.length > 0),
    keep: (t) => t.lines.forEach((l) => (l.controls = [])),
    paths: [/^events\.controllers/],
  }),
  'some-controllers': () => ({
    says: 'controllers 7, 10, 64',
    breaks: (t) => t.lines.some((l) => l.controls.some((c) => ![7, 10, 64].includes(c[1]))),
    keep: (t) =>
      t.lines.forEach((l) => (l.controls = l.controls.filter((c) => [7, 10, 64].includes(c[1])))),
    paths: [/^events\.controllers/],
  }),
  programs: () => ({
    says: 'no programs',
    breaks: (t) => t.lines.some((l) => l.programs.length > 0),
    keep: (t) => t.lines.forEach((l) => (l.programs = [])),
    paths: [/^events\.programs/],
  }),
  'one-program': () => ({
    says: 'one program a channel, at its start',
    breaks: (t) => t.lines.some((l) => l.programs.some((p, i) => i > 0 || p[0] > 0)),
    keep: (t) =>
      t.lines.forEach((l) => (l.programs = l.programs.filter((p, i) => i === 0 && p[0] === 0))),
    paths: [/^events\.programs/, /^presets/],
  }),
  bends: () => ({
    says: 'no bends',
    breaks: (t) => t.lines.some((l) => l.bends.length > 0),
    keep: (t) => t.lines.forEach((l) => (l.bends = [])),
    paths: [/^events\.bends/, /^curves/],
  }),
  sysex: () => ({
    says: 'no sysex',
    breaks: (t) => t.sysex,
    keep: (t) => void (t.sysex = false),
    paths: [/^events\.sysex/],
  }),
  markers: () => ({
    says: 'no markers',
    breaks: (t) => t.markers.length > 0,
    keep: (t) => void (t.markers = []),
    paths: [/^text\.markers/],
  }),
  'marker-letters': () => ({
    says: 'markers in ASCII',
    breaks: (t) => t.markers.some((m) => /[^ -~]/.test(m[1])),
    keep: (t) => t.markers.forEach((m) => (m[1] = m[1].replace(/[^ -~]/g, '-'))),
    paths: [/^text\.markerLetters/],
  }),
  'marker-length': () => ({
    says: 'markers of 12 letters',
    breaks: (t) => t.markers.some((m) => [...m[1]].length > 12),
    keep: (t) => t.markers.forEach((m) => (m[1] = [...m[1]].slice(0, 12).join(''))),
    paths: [/^text\.longestMarker/],
  }),
  lyrics: () => ({
    says: 'no lyrics',
    breaks: (t) => t.lyrics.length > 0,
    keep: (t) => void (t.lyrics = []),
    paths: [/^text\.others/],
  }),
  tracks: ({ pick }) => {
    const n = pick([1, 2, 3]);
    return {
      says: `${n} tracks with notes`,
      breaks: (t) => (t.format === 0 ? 1 : t.lines.filter((l) => l.notes.length).length) > n,
      keep: (t) => void (t.format === 1 && (t.lines.length = Math.min(n, t.lines.length))),
      paths: [/^file\.mostNoteTracks/, /^limits\.tracks/],
    };
  },
  grid: ({ pick }) => {
    const parts = pick([2, 4, 8]);
    return {
      says: `on ${parts} places of a quarter`,
      breaks: (t) => notesOf(t).some((n) => (n.start * parts) % t.ppq !== 0),
      keep: (t) =>
        each(t, (n) => void (n.start = (Math.round((n.start * parts) / t.ppq) * t.ppq) / parts)),
      paths: [/^limits\.place-in-/],
    };
  },
  run: ({ pick }) => {
    const n = pick([2, 3]);
    const runs = (c: readonly { key: number }[]) => {
      let run = 0;
      return most(c.map((a, i) => (run = i > 0 && c[i - 1]!.key === a.key ? run + 1 : 1)));
    };
    return {
      says: `${n} of a key in a row`,
      breaks: (t) => byChannel(t).some((c) => runs(c) > n),
      keep: (t) =>
        thin(t, (a, kept) => kept.length >= n && kept.slice(-n).every((b) => b.key === a.key)),
      paths: [/^limits\.run/],
    };
  },
  chord: ({ pick }) => {
    const n = pick([1, 2]);
    return {
      says: `${n} struck together`,
      breaks: (t) =>
        byChannel(t).some((c) =>
          c.some((a, i) => near(c, i).filter((b) => b.start === a.start).length >= n),
        ),
      keep: (t) =>
        thin(t, (a, kept) => kept.slice(-NEAR).filter((b) => b.start === a.start).length >= n),
      paths: [/^polyphony/, /^limits\.together/],
    };
  },
  'in-bar': ({ pick }) => {
    const n = pick([8, 12]);
    const barAt = (t: Tune, tick: number) => barStarts(t, tick).length;
    return {
      says: `${n} notes of a channel in a bar`,
      breaks: (t) =>
        byChannel(t).some((c) => {
          const counts = new Map<number, number>();
          for (const a of c)
            counts.set(barAt(t, a.start), (counts.get(barAt(t, a.start)) ?? 0) + 1);
          return most([...counts.values()]) > n;
        }),
      keep: (t) =>
        thin(
          t,
          (a, kept) =>
            kept.slice(-n).filter((b) => barAt(t, b.start) === barAt(t, a.start)).length >= n,
        ),
      paths: [/^limits\.(notes|strikes)/],
    };
  },
  name: () => ({
    says: 'names of eight capitals and digits',
    breaks: (t) => !/^[A-Z0-9]{1,8}\.MID$/i.test(t.name) || /[a-z]/.test(t.name.split('.')[0]!),
    keep: (t) =>
      void (t.name = `${t.name
        .replace(/[^A-Za-z0-9]/g, '')
        .replace(/mid$/, '')
        .toUpperCase()
        .slice(0, 8)}.mid`),
    paths: [/^naming/],
  }),
  'loop-marker': () => ({
    says: 'a marker LOOP',
    breaks: (t) => t.markers.filter((m) => m[1] === 'LOOP').length !== 1,
    keep: (t) =>
      void (t.markers.some((m) => m[1] === 'LOOP') || t.markers.push([barOf(t) * 2, 'LOOP'])),
    paths: [/^end\.loopMarker/],
  }),
};
