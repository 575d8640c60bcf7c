import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../../testing/score-builder';
import {
  csvFile,
  hear,
  markerAt,
  meterAt,
  midiFile,
  noteAt,
  tempoAt,
  type Reel,
} from '../../../../testing/device-files';
import { TIME_COLUMNS } from '../../formats/lists';

const rail = builtIn('lantern-rail');
type Row = Partial<Record<(typeof TIME_COLUMNS)[number], string | number>>;
const list = (rows: readonly Row[], path = 'rail-times.csv') =>
  csvFile(path, [TIME_COLUMNS, ...rows.map((r) => TIME_COLUMNS.map((c) => r[c] ?? ''))]);
const cue = (tick: number, key: number, length = 240) => noteAt(16, tick, length, key);
const conductor = (numerator = 4) => [...tempoAt(0, 500_000), ...meterAt(0, numerator, 4)];
const reel = (cues: ReturnType<typeof cue>, first = conductor()): Reel => ({
  tracks: [first, cues],
});
const rows: Row[] = [
  {
    number: 1,
    cue: 1,
    note: 24,
    name: 'C1',
    place: '4.1+0',
    clock: '0:06.000',
    ms: 6000,
    'length ms': 250,
    marker: '',
    part: 'Lamps',
  },
  {
    number: 2,
    cue: 36,
    note: 59,
    name: 'B3',
    place: '4.3+120',
    clock: '0:07.125',
    ms: 7125,
    'length ms': 250,
    marker: 'Arrival',
    part: 'Lamps',
  },
];
const twoCues = reel(
  [...cue(5760, 24), ...cue(6840, 59)],
  [...conductor(), ...markerAt(6000, 'Arrival')],
);
const play = (r: Reel, times: readonly Row[] | null = null) =>
  hear(rail, [{ path: 'rail.mid', bytes: midiFile(r) }, ...(times ? [list(times)] : [])]);

describe('the lantern rail', () => {
  it('lights its lamps after three bars, and its list agrees', () => {
    const { played, lost, says } = play(twoCues, rows);
    expect([says, lost]).toEqual([[], []]);
    expect(played.events.map((e) => [e.atUs, e.lengthUs, e.kind, e.key])).toEqual([
      [6_000_000, 250_000, 'cue', 24],
      [7_125_000, 250_000, 'cue', 59],
    ]);
  });

  it('counts its rest first: a file that begins at once is early by three bars of its own', () => {
    const { notes, lost } = play(reel(cue(0, 24), conductor(3)));
    // Three bars of 3/4 at 120 BPM are 4.5 s.
    expect(notes).toEqual(['-4500 cue-line 24']);
    expect(lost).toEqual(['-4500 cue-line 24: its rest is missing: it comes early']);
    const two = play(reel(cue(3840, 24)));
    expect(two.notes).toEqual(['2000 cue-line 24']);
    expect(play(reel(cue(5760, 24))).lost).toEqual([]);
    // A bar that is not whole does not count.
    expect(play(reel(cue(5759, 24))).lost).toHaveLength(1);
  });

  it('runs at the first tempo: after a change its cues drift', () => {
    const { lost } = play(
      reel([...cue(5760, 24), ...cue(7680, 25)], [...conductor(), ...tempoAt(5760, 1_000_000)]),
    );
    expect(lost).toEqual(['8000 cue-line 25: it runs at another tempo']);
  });

  it('passes over what follows too soon, what is too short, and what another holds back', () => {
    // 239 ticks are 249 ms.
    expect(play(reel([...cue(5760, 24, 200), ...cue(5999, 25)])).lost).toEqual([
      '6249 cue-line 25: it follows less than 250 ms behind another',
    ]);
    expect(play(reel(cue(5760, 24, 47))).lost).toEqual([
      '6000 cue-line 24: it is too short to be noticed',
    ]);
    expect(play(reel([...cue(5760, 24, 480), ...cue(6000, 25)])).lost).toEqual([
      '6250 cue-line 25: it plays 1 at once',
    ]);
  });

  it('reads one track of cues, behind a conductor', () => {
    const { lost } = hear(rail, [
      {
        path: 'rail.mid',
        bytes: midiFile({ tracks: [conductor(), cue(5760, 24), cue(6720, 25)] }),
      },
    ]);
    expect(lost).toEqual(['7000 cue-line 25: it reads 1 track with notes']);
  });
});

describe('the operator’s list', () => {
  it('has to be there', () => {
    expect(play(twoCues).says).toEqual(['rail-times.csv folder: The list of times is missing.']);
  });

  it.each(
    TIME_COLUMNS.filter((c) => c !== 'part' && c !== 'caption').map((column) => ({ column })),
  )('a wrong $column is told with its line', ({ column }) => {
    const wrong: Row = {
      number: 3,
      cue: 35,
      note: 58,
      name: 'B♭3',
      place: '4.3+121',
      clock: '0:07.126',
      ms: 7126,
      'length ms': 251,
      marker: 'Arrived',
    };
    const { says, notes } = play(twoCues, [rows[0]!, { ...rows[1]!, [column]: wrong[column] }]);
    expect(says).toEqual(['rail-times.csv line 3: It does not agree with the MIDI file.']);
    expect(notes).toHaveLength(2);
  });

  it.each([
    ['a row short', [rows[0]!], 'last line: It lists 1 note; the file has 2.'],
    [
      'a number that is none',
      [rows[0]!, { ...rows[1]!, ms: 'soon' }],
      'line 3, ms: milliseconds are needed',
    ],
    [
      'a place that is none',
      [rows[0]!, { ...rows[1]!, place: '4.3' }],
      'line 3, place: bar.beat+ticks is needed',
    ],
  ])('%s', (_, times, says) => {
    expect(play(twoCues, times as Row[]).says.join()).toContain(says);
  });

  it('other columns, another mark between them, no end of the last line, bytes that are no text', () => {
    const midi = { path: 'rail.mid', bytes: midiFile(twoCues) };
    const of = (bytes: Uint8Array) => hear(rail, [midi, { path: 'rail-times.csv', bytes }]).says;
    const text = (t: string) => of(new TextEncoder().encode(t));
    expect(text('number,cue\r\n')[0]).toMatch(/line 1: The columns have to be number, cue, note/);
    expect(text(`${TIME_COLUMNS.join(';')}\r\n`)[0]).toMatch(/parted by semicolons/);
    expect(text(`${TIME_COLUMNS.join('\t')}\r\n`)[0]).toMatch(/parted by tabs/);
    expect(text(TIME_COLUMNS.join(','))[0]).toMatch(/The last line has no end/);
    expect(of(Uint8Array.of(0xc3, 0x28, 13, 10))[0]).toMatch(/not UTF-8/);
    expect(text(`${TIME_COLUMNS.join(',')}\r\n1,2\r\n`)[0]).toMatch(
      /11 cells are needed; there are 2/,
    );
  });

  it('two notes of one moment and key may stand in either order', () => {
    // Two voices of one key: the longer one listed first.
    const same = reel([...cue(5760, 24, 480), ...cue(5760, 24, 240)]);
    const row = (n: number, length: number) => ({ ...rows[0]!, number: n, 'length ms': length });
    const both = (a: number, b: number) =>
      play(same, [row(1, a), row(2, b)]).says.filter((s) => s.startsWith('rail-times'));
    expect(both(500, 250)).toEqual([]);
    expect(both(250, 500)).toEqual([]);
    expect(both(250, 260)).toHaveLength(1);
  });

  it('places are counted through meters that change, also inside a bar', () => {
    // 3/4 from bar 2, then 6/8 in the middle of bar 4: a new, counted bar.
    const first = [...conductor(), ...meterAt(1920, 3, 4), ...meterAt(4800 + 480, 6, 8)];
    const at = (tick: number, place: string, ms: number, clock: string) =>
      play(reel(cue(tick, 24), first), [{ ...rows[0]!, place, ms, clock }]).says;
    expect(at(1920, '2.1+0', 2000, '0:02.000')).toEqual([]);
    expect(at(3360, '3.1+0', 3500, '0:03.500')).toEqual([]);
    expect(at(4920, '4.1+120', 5125, '0:05.125')).toEqual([]);
    expect(at(5280, '5.1+0', 5500, '0:05.500')).toEqual([]);
    expect(at(5280 + 250, '5.2+10', 5760.417, '0:05.760')).toEqual([]);
    expect(at(5280 + 1440, '6.1+0', 7000, '0:07.000')).toEqual([]);
    expect(at(5280 + 1440, '6.2+0', 7000, '0:07.000')).toHaveLength(1);
  });

  it('a marker that a spreadsheet would calculate is read without its apostrophe', () => {
    const r = reel(cue(5760, 24), [...conductor(), ...markerAt(0, '=1+1')]);
    expect(play(r, [{ ...rows[0]!, marker: "'=1+1" }]).says).toEqual([]);
    expect(play(r, [{ ...rows[0]!, marker: "'Arrival" }]).says).toHaveLength(1);
  });
});
