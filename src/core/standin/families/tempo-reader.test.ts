import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../../testing/score-builder';
import {
  csvFile,
  hear,
  markerAt,
  meterAt,
  midiFile,
  named,
  noteAt,
  tempoAt,
} from '../../../../testing/device-files';

const carrier = builtIn('tempo-carrier');
const COLUMNS = ['tick', 'bar', 'beat', 'seconds', 'bpm', 'meter', 'key', 'marker'];
const map = [
  ...tempoAt(0, 500_000),
  ...meterAt(0, 4, 4),
  ...tempoAt(1920, 600_000),
  ...markerAt(1920, 'Arrival'),
];
const rows = [
  [0, 1, 1, '0.000000', 120, '4/4', '', ''],
  [1920, 2, 1, '2.000000', 100, '', '', 'Arrival'],
];
const lone = (over: { velocity?: number; length?: number; key?: number; name?: string } = {}) => [
  ...named(over.name ?? 'Carrier'),
  ...noteAt(1, 0, over.length ?? 3840, over.key ?? 60, over.velocity ?? 1),
];
const play = (tracks: ReturnType<typeof noteAt>[], list: readonly (readonly unknown[])[] = rows) =>
  hear(carrier, [
    { path: 'map.mid', bytes: midiFile({ tracks, end: 3840 }) },
    csvFile('map-tempo-map.csv', [COLUMNS, ...list]),
  ]);

describe('what takes over a tempo map', () => {
  it('has its tempos and markers, at their times, beside the one note that carries it', () => {
    const { played, says, lost } = play([map, lone()]);
    expect([says, lost]).toEqual([[], []]);
    expect(played.events.map((e) => [e.atUs, e.kind, e.value ?? e.text])).toEqual([
      [0, 'note', 1],
      [0, 'tempo', 500_000],
      [2_000_000, 'tempo', 600_000],
      [2_000_000, 'marker', 'Arrival'],
    ]);
    expect(played.lengthUs).toBe(4_400_000);
  });

  it.each([
    ['louder', lone({ velocity: 2 }), '90 3c'],
    ['another key', lone({ key: 61 }), '90 3d'],
    ['too short', lone({ length: 3000 }), '90 3c'],
    ['on a track of another name', lone({ name: 'carrier' }), '90 3c'],
    ['not alone', [...lone(), ...noteAt(1, 480, 24, 62)], '90 3c'],
    // Where there is none: the first track.
    ['not there', named('Carrier'), '4d 54'],
  ])('the carrier note: %s', (_, track, at) => {
    expect(play([map, track]).bytes).toContain(
      `${at}: It needs the one carrier note through the whole length.`,
    );
  });

  it('the first track conducts', () => {
    expect(play([lone(), map]).bytes).toContain(
      '90 3c: The first track has to conduct, without notes.',
    );
  });

  it.each([
    ['seconds of another place', 3, '2.000002', 'line 3: Its tick is at another time.'],
    ['another tempo', 4, 101, 'bpm: It does not agree with the MIDI file.'],
    ['a meter too many', 5, '3/4', 'meter: It does not agree with the MIDI file.'],
    ['another marker', 7, 'Departure', 'marker: It does not agree with the MIDI file.'],
  ])('the list: %s', (_, column, value, says) => {
    const second = [...rows[1]!];
    second[column] = value;
    expect(play([map, lone()], [rows[0]!, second]).says).toEqual([`map-tempo-map.csv ${says}`]);
  });

  it('the list has to be there', () => {
    const { says } = hear(carrier, [
      { path: 'map.mid', bytes: midiFile({ tracks: [map, lone()], end: 3840 }) },
    ]);
    expect(says).toEqual(['map-tempo-map.csv folder: The list of tempos is missing.']);
  });
});
