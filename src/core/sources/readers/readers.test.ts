import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { week } from '../../../../demo/week';
import { deliver } from '../../../../testing/rehearsing';
import { builtIn, weekSource } from '../../../../testing/score-builder';
import { sayDamage } from '../../diagnostic/damage';
import { writeOutputs } from '../../outputs/index';
import { baseOf } from '../../plan/base';
import { runPlan } from '../../plan/run';
import { mapsOf } from '../../score/inventory';
import { openSource } from '../source';

const text = (s: string) => new TextEncoder().encode(s);
const openText = (s: string | Uint8Array, name: string) =>
  openSource(typeof s === 'string' ? text(s) : s, { key: 'main', name, sha256: name });
const said = (s: string, name: string) => openText(s, name).damage.map(sayDamage);

const jobOf = (id: string) => {
  const job = week.find((j) => j.targets.some((t) => t.id === id))!;
  const { steps } = job.targets.find((t) => t.id === id)!;
  return { source: weekSource(job), steps, target: builtIn(id) };
};

describe('a chart that is brought in', () => {
  for (const id of ['marsh-duel', 'reed-ladder'])
    for (const mended of [false, true])
      it(`${id}${mended ? ', mended' : ''}: gives the same bytes again`, () => {
        const { source, steps, target } = jobOf(id);
        // A flag, so that it is seen to be kept.
        const flagged = {
          key: 'flag',
          step: 'flags',
          params: { flag: 'feather' },
          scope: { toTick: 4000 },
          on: true,
        };
        const { files } = deliver(source, target, { steps: [...steps, flagged], mended });
        const chart = files.find((f) => f.path.endsWith('.chart.json'))!;
        const opened = openText(chart.bytes, chart.path);
        expect(opened.damage).toEqual([]);
        expect(opened.source!.extras!.meantFor).toBe(id);
        const run = runPlan({ base: baseOf(opened.source!), target, plan: { steps: [] } });
        const again = writeOutputs(run.rendition, target).files[0]!;
        expect(again.path).toBe(chart.path);
        expect(Buffer.from(again.bytes).equals(Buffer.from(chart.bytes))).toBe(true);
      });

  it('a lane that is not there is said with its place', () => {
    const { source, steps, target } = jobOf('marsh-duel');
    const { files } = deliver(source, target, { steps });
    const good = new TextDecoder().decode(files[0]!.bytes);
    const bad = good.replace(/"lanes": \[\d+\]/, '"lanes": [9]');
    expect(bad).not.toBe(good);
    const [line] = said(bad, 'a.chart.json');
    expect(line).toMatch(/There is no lane 9: .* has 6\. \(lines\[\d+\]\.strikes\[\d+\]\.lanes\)/);
  });
});

describe('lists that are brought in', () => {
  it('a hole list has the same rows again', () => {
    const { source, steps, target } = jobOf('strip-organ');
    const { files } = deliver(source, target, { steps, mended: true });
    const list = files.find((f) => f.path.endsWith('-holes.csv'))!;
    const opened = openText(list.bytes, list.path);
    const run = runPlan({ base: baseOf(opened.source!), target, plan: { steps: [] } });
    const again = writeOutputs(run.rendition, target).files.find((f) => f.path === list.path)!;
    expect(new TextDecoder().decode(again.bytes)).toBe(new TextDecoder().decode(list.bytes));
  });

  it('a time list has its notes at the same times again', () => {
    const { source, steps, target } = jobOf('lantern-rail');
    const { files } = deliver(source, target, { steps, mended: true });
    const list = files.find((f) => f.path.endsWith('-times.csv'))!;
    const opened = openText(list.bytes, list.path);
    const clock = (file: Uint8Array) =>
      new TextDecoder()
        .decode(file)
        .trim()
        .split('\r\n')
        .slice(1)
        .map((l) => ({ key: Number(l.split(',')[2]), ms: Number(l.split(',')[6]) }));
    const run = runPlan({ base: baseOf(opened.source!), target, plan: { steps: [] } });
    const seated = {
      pieces: run.rendition.pieces.map((p) => ({
        ...p,
        score: { ...p.score, parts: p.score.parts.map((q) => ({ ...q, leftOut: false })) },
      })),
    };
    const again = writeOutputs(seated, target).files.find((f) => f.path === list.path)!;
    const [meant, got] = [clock(list.bytes), clock(again.bytes)];
    expect(got.map((r) => r.key)).toEqual(meant.map((r) => r.key));
    // A tick of such a source is 20 µs.
    got.forEach((r, i) => expect(Math.abs(r.ms - meant[i]!.ms)).toBeLessThanOrEqual(0.011));
  });

  it('captions have their words and times again', () => {
    const vtt =
      'WEBVTT\n\n1\n00:00:01.000 --> 00:00:02.500\nSalt &amp; rope\n\n00:03.000 --> 00:04.000 line:0\n<b>Low</b> water\nagain\n';
    const opened = openText(vtt, 'night.vtt');
    expect(opened.damage).toEqual([]);
    expect(opened.source!.extras!.captions).toEqual([
      { tick: 1000, text: 'Salt & rope' },
      { tick: 3000, text: 'Low water\nagain' },
    ]);
    const target = builtIn('song-board');
    const { played, files } = deliver(opened.source!, target);
    expect(played.refused).toEqual([]);
    expect(files.map((f) => f.path)).toContain('night.vtt');
    expect(played.events.filter((e) => e.kind === 'caption').map((e) => e.text)).toEqual([
      'Salt & rope',
      'Low water\nagain',
    ]);
  });
});

describe('bad input: one sentence, with its place', () => {
  it.each([
    ['{ "format": "chrat" }', 'a.json', /"format" is not "chart"/],
    ['{ "format"', 'a.json', /not JSON/],
    ['row;seconds;front;rear\r\n0;0.000000;C4 60;\r\n', 'a-holes.csv', /semicolons.*\(line 1\)/],
    ['row,seconds,front,rear\n0,0.000000,C4 60\n', 'a.csv', /4 cells are needed.*\(line 2\)/],
    ['row,seconds,front,rear\n0,zero,C4 60,\n', 'a.csv', /seconds.*\(line 2, seconds\)/],
    ['number,cue,place\n1,2,3\n', 'a.csv', /none of the formats/],
    ['WEBVTT\n\n1\n00:00:01 -> 2\nSalt\n', 'a.vtt', /no caption/],
    ['WEBVTT\n\n1\n1 --> 2\nSalt\n', 'a.vtt', /no time line.*\(line 4\)/],
    ['hello', 'a.csv', /none of the formats/],
  ])('%s', (content, name, expected) => {
    const { source, damage } = openText(content, name);
    expect(source).toBeUndefined();
    expect(damage).toHaveLength(1);
    expect(sayDamage(damage[0]!)).toMatch(expected);
  });

  it('overlapping captions are said, and none is lost', () => {
    const vtt =
      'WEBVTT\n\n00:00:01.000 --> 00:00:03.000\nSalt\n\n00:00:02.000 --> 00:00:04.000\nRope\n';
    const { source, damage } = openText(vtt, 'a.vtt');
    expect(source!.extras!.captions).toHaveLength(2);
    expect(damage.map(sayDamage)).toEqual([
      expect.stringMatching(/begins while the last one is shown\. \(line 6\)/),
    ]);
  });

  it('any text under any name: a source or a sentence, never an exception', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('a.json', 'a.chart.json', 'a.csv', 'a.vtt'),
        fc.constantFrom('', 'WEBVTT\n\n', 'row,seconds,front,rear\n', '{"format":"chart",'),
        fc.string({ maxLength: 200, unit: 'binary' }),
        (name, head, rest) => {
          const { source, damage } = openText(head + rest, name);
          if (!source) expect(damage.length).toBeGreaterThan(0);
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('numbers that no column holds are refused with their place', () => {
  const times = (...rows: string[]) =>
    ['number,cue,note,name,place,clock,ms,length ms,marker,part,caption', ...rows]
      .map((r) => `${r}\n`)
      .join('');
  const row = (ms: number, part = 'Bells') => `1,1,60,C4,1.1+0,0:00,${ms},100,,${part},`;
  const chart = (over: Record<string, unknown>) => {
    const { source, steps, target } = jobOf('marsh-duel');
    const { files } = deliver(source, target, { steps });
    const made = JSON.parse(new TextDecoder().decode(files[0]!.bytes)) as {
      lines: { strikes: Record<string, unknown>[] }[];
    };
    Object.assign(made.lines[0]!.strikes[0]!, over);
    return JSON.stringify(made);
  };
  it.each([
    ['a hole before the start', 'row,seconds,front,rear\n-3,0.000000,C4 60,\n', 'a.csv', /line 2/],
    [
      'a row past the end of time',
      'row,seconds,front,rear\n30000000,3750000.000000,C4 60,\n',
      'a.csv',
      /latest that is kept.*\(line 2\)/,
    ],
    [
      'rows that contradict',
      'row,seconds,front,rear\n8,1.000000,C4 60,\n9,1.000000,C4 60,\n16,2.000000,C4 60,\n',
      'a.csv',
      /contradict.*\(line 3\)/,
    ],
    [
      'captions past 596 h',
      'WEBVTT\n\n700:00:00.000 --> 700:00:01.000\nSalt\n',
      'a.vtt',
      /\(line 3\)/,
    ],
    [
      'a strike without end',
      chart({ lengthTicks: 3e9 }),
      'a.chart.json',
      /lines\[0\]\.strikes\[0\]/,
    ],
    ['a time list that falls', times(row(500), row(20)), 'a.csv', /above it.*\(line 3\)/],
    ['a time past 24 days', times(row(2.2e9)), 'a.csv', /latest that is kept.*\(line 2\)/],
  ])('%s', (_, content, name, expected) => {
    const { source, damage } = openText(content, name);
    expect(source).toBeUndefined();
    expect(damage.map(sayDamage).join()).toMatch(expected);
  });

  it('a time list at 14:00 h stands there', () => {
    const at = 14 * 3_600_000;
    const { source, damage } = openText(times(row(at)), 'a.csv');
    expect(damage).toEqual([]);
    const { clock } = mapsOf(source!.score);
    expect(clock.msAt(source!.score.parts[0]!.notes.start[0]!)).toBe(at);
  });

  it('a part of a time list keeps its channel, wherever its rows stand', () => {
    const { source } = openText(
      times(row(0), row(100, 'Bass'), row(200), row(300, 'Bass')),
      'a.csv',
    );
    expect(source!.score.parts.map((p) => [p.name, p.channel, p.notes.count])).toEqual([
      ['Bells', 1, 2],
      ['Bass', 2, 2],
    ]);
  });
});
