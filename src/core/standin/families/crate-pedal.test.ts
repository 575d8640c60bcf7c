import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../../testing/score-builder';
import {
  hear,
  jsonFile,
  meterAt,
  midiFile,
  noteAt,
  tempoAt,
  type Reel,
} from '../../../../testing/device-files';

const pedal = builtIn('stomp-crate');
const BAR = 1920;

type Place = Record<string, unknown>;
const NAMES: Readonly<Record<string, string>> = Object.fromEntries(
  pedal.seats.flatMap((s) => (s.kind === 'file' ? [[s.id, s.name]] : [])),
);
const place = (id: string, bars: number, next: readonly string[], over: Place = {}): Place => ({
  file: `${id}.mid`,
  halfBars: bars * 2,
  lengthTicks: bars * BAR,
  lengthUs: bars * 2_000_000,
  name: NAMES[id],
  next,
  place: id,
  ...over,
});
const crate = (places: readonly Place[], over: Record<string, unknown> = {}) => ({
  format: 'crate',
  kit: 'quay',
  meter: { denominator: 4, numerator: 4 },
  microsecondsPerQuarter: 500_000,
  name: 'Quay stomp',
  places,
  ppq: 480,
  version: 1,
  ...over,
});
const hit = (tick: number, key = 36) => noteAt(10, tick, 120, key);
const bed = (bars: number, notes = hit(0), over: Partial<Reel> = {}) =>
  midiFile({
    format: 0,
    end: bars * BAR,
    tracks: [[...tempoAt(0, 500_000), ...meterAt(0, 4, 4), ...notes]],
    ...over,
  });
const folder = 'Quay stomp/';
const files = (places: readonly [string, Uint8Array][]) =>
  places.map(([id, bytes]) => ({ path: `${folder}${id}.mid`, bytes }));
const play = (json: unknown, places: readonly [string, Uint8Array][]) =>
  hear(pedal, [jsonFile(`${folder}crate.json`, json), ...files(places)]);

const song = () => {
  const order = ['count', 'b1', 'b2', 'k1', 'x12', 'hit'] as const;
  const next: Record<(typeof order)[number], string[]> = {
    count: ['b1'],
    b1: ['b2', 'k1', 'x12', 'hit'],
    b2: ['b1', 'k1', 'hit'],
    k1: ['b1', 'b2', 'hit'],
    x12: ['b2'],
    hit: [],
  };
  const bars = { count: 1, b1: 4, b2: 2, k1: 0.5, x12: 1, hit: 1 };
  return {
    json: crate(order.map((id) => place(id, bars[id], next[id]))),
    files: order.map((id): [string, Uint8Array] => [id, bed(bars[id])]),
  };
};

describe('the stomp crate', () => {
  it('knows its places, how long they are and what the foot may go to', () => {
    const { json, files: list } = song();
    const { played, says, lost } = play(json, list);
    expect([says, lost]).toEqual([[], []]);
    expect(played.display).toEqual({
      name: 'Quay stomp',
      microsecondsPerQuarter: 500_000,
      kit: 'quay',
    });
    expect(played.turns!.map((t) => [t.seat, t.lengthUs, t.next.join(' ')])).toEqual([
      ['count', 2_000_000, 'b1'],
      ['b1', 8_000_000, 'b2 k1 x12 hit'],
      ['b2', 4_000_000, 'b1 k1 hit'],
      ['k1', 1_000_000, 'b1 b2 hit'],
      ['x12', 2_000_000, 'b2'],
      ['hit', 2_000_000, ''],
    ]);
    expect(new Set(played.events.map((e) => e.seat)).size).toBe(6);
  });

  const one = (over: Record<string, unknown> = {}, own: Place = {}, bytes = bed(4)) =>
    play(crate([place('b1', 4, [], own)], over), [['b1', bytes]]);

  it('the display shows sixteen letters of its own, and the folder has the song’s name', () => {
    const named = (name: string) => one({ name }).says;
    expect(named('Quay stomp')).toEqual([]);
    expect(named('Seventeen letters')[0]).toContain('Its display has 16 letters.');
    expect(named('Quay – stomp')[0]).toContain('Its display cannot show this.');
    expect(named('Quay stamp')).toEqual([
      'Quay stomp/crate.json name: Its folder has another name.',
    ]);
  });

  it('a drum that the kit has not is silent; the other kit has it', () => {
    const notes = [...hit(0, 40), ...hit(480, 36)];
    const quay = one({}, {}, bed(4, notes));
    expect(quay.notes).toEqual(['500 b1 36']);
    expect(quay.lost).toEqual(['0 b1 40: the kit Quay has no such drum']);
    expect(one({ kit: 'loft' }, {}, bed(4, notes)).lost).toEqual([]);
    expect(one({ kit: 'pier' }).says.join()).toContain('It has no kit pier.');
  });

  it('without a choice it takes the kit that has the most of the notes', () => {
    const lofty = bed(4, [...hit(0, 40), ...hit(480, 54), ...hit(960, 35)]);
    expect(one({ kit: null }, {}, lofty).lost).toEqual([
      '1000 b1 35: the kit Loft has no such drum',
    ]);
  });

  it.each([
    ['a place that is not there', [place('b9', 4, [], { name: 'Bed 9' })], 'There is no place b9.'],
    ['a place twice', [place('b1', 4, []), place('b1', 4, [])], 'It is taken twice.'],
    ['another name', [place('b1', 4, [], { name: 'Bed one' })], 'The place b1 has another name.'],
    ['another file', [place('b1', 4, [], { file: 'b2.mid' })], 'The place b1 has another name.'],
    ['what is not there behind it', [place('b1', 4, ['k2'])], 'There is no place k2.'],
    ['what may not follow', [place('b1', 4, ['b1'])], 'It is not what may follow.'],
    [
      'half bars that it has not',
      [place('b1', 4, [], { halfBars: 6 })],
      'halfBars: The file is not as long.',
    ],
    [
      'ticks that it has not',
      [place('b1', 4, [], { lengthTicks: 1 })],
      'lengthTicks: The file is not as long.',
    ],
    [
      'time that it has not',
      [place('b1', 4, [], { lengthUs: 9 })],
      'lengthUs: The file is not as long.',
    ],
  ])('a crate with %s is refused', (_, places, says) => {
    expect(play(crate(places), [['b1', bed(4)]]).says.join('\n')).toContain(says);
  });

  it('bed 1 has to be there; its file, too', () => {
    expect(play(crate([place('hit', 1, [])]), [['hit', bed(1)]]).says).toEqual([
      'Quay stomp/crate.json places: It shows no song without Bed 1.',
    ]);
    expect(play(crate([place('b1', 4, [])]), []).says).toEqual([
      'Quay stomp/crate.json places[0].file: There is no b1.mid.',
    ]);
    expect(hear(pedal, files([['b1', bed(4)]])).says).toEqual([
      ' folder: There is no crate.',
      'Quay stomp/b1.mid name: No place of a crate takes it.',
    ]);
  });

  it.each([
    ['b1', 17],
    ['b1', 0.5],
    ['count', 2],
    ['k1', 2],
    ['k1', 1.5],
    ['x12', 3],
    ['hit', 2],
  ])('a place takes lengths of its own: %s not %d bars', (id, bars) => {
    const others: [string, Uint8Array][] = [['b1', bed(4)]];
    const list = id === 'b1' ? [place('b1', bars, [])] : [place('b1', 4, []), place(id, bars, [])];
    const bytes: [string, Uint8Array][] =
      id === 'b1' ? [['b1', bed(bars)]] : [...others, [id, bed(bars)]];
    expect(play(crate(list), bytes).says.join('\n')).toMatch(
      new RegExp(`${NAMES[id]} takes no ${bars.toFixed(2)} bars`),
    );
  });

  it('all places run at the tempo, meter and ticks of the crate', () => {
    const tempo = bed(4, [], {
      tracks: [[...tempoAt(0, 400_000), ...meterAt(0, 4, 4), ...hit(0)]],
    });
    expect(one({}, {}, tempo).says.join()).toContain('It runs at another tempo than the crate.');
    const meter = bed(4, [], {
      tracks: [[...tempoAt(0, 500_000), ...meterAt(0, 2, 4), ...hit(0)]],
    });
    expect(one({}, {}, meter).says.join()).toContain('It counts another meter than the crate.');
    const ticks = bed(4, hit(0), { ppq: 960 });
    expect(one({}, {}, ticks).says.join()).toMatch(/It does not count 960|other ticks/);
  });

  it('two songs each have their folder', () => {
    const { json, files: list } = song();
    const other = crate([place('b1', 4, [])], { name: 'Rope walk' });
    const { says, played } = hear(pedal, [
      jsonFile(`${folder}crate.json`, json),
      ...files(list),
      jsonFile('Rope walk/crate.json', other),
      { path: 'Rope walk/b1.mid', bytes: bed(4) },
    ]);
    expect(says).toEqual([]);
    expect(played.turns).toHaveLength(7);
    expect(played.display!.name).toBe('Quay stomp');
  });
});
