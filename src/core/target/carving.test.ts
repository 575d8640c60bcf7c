import { expect, it } from 'vitest';
import { week } from '../../../demo/week';
import { builtIn, renditionOf, sourceFromBytes } from '../../../testing/score-builder';
import { comparePieces } from '../compare/by-id';
import { proof } from '../rules/proof';
import { makeMeterMap } from '../time/meter-map';
import { carveAtMarkers } from './carving';
import { mendMany } from '../plan/mend';
import { runStep } from '../plan/run-step';
import { baseOf } from '../plan/base';

const crate = builtIn('stomp-crate');
const BAR = 1920;
const bars = makeMeterMap(480, [{ tick: 0, numerator: 4, denominator: 4 }]);
const at = (...barNumbers: number[]) => barNumbers.map((n) => ({ tick: (n - 1) * BAR }));

it('each stretch between markers takes the next bed', () => {
  expect(carveAtMarkers(at(1, 9), bars, 12 * BAR, crate.seats)).toEqual([
    { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 8 },
    { place: 'b2', fileName: 'b2.mid', fromBar: 9, bars: 4 },
  ]);
});
it('a stretch is no longer than its place, and markers past the end count for nothing', () => {
  expect(
    carveAtMarkers(at(20), bars, 40 * BAR, crate.seats).map((c) => [c.fromBar, c.bars]),
  ).toEqual([
    [1, 16],
    [20, 16],
  ]);
  expect(carveAtMarkers(at(90), bars, 4 * BAR, crate.seats).length).toBe(1);
});
it('a stretch in which nothing begins takes no place', () => {
  const sounds = (fromBar: number, count: number) => fromBar + count > 2;
  expect(carveAtMarkers(at(1, 2, 9), bars, 12 * BAR, crate.seats, sounds)).toEqual([
    { place: 'b1', fileName: 'b1.mid', fromBar: 2, bars: 7 },
    { place: 'b2', fileName: 'b2.mid', fromBar: 9, bars: 4 },
  ]);
});
it('a drum song is carved and mended file by file', () => {
  const job = week.find((j) => j.id === 'demo-quay-stomp')!;
  const source = sourceFromBytes(job.bytes(), job.file);
  const done = mendMany({
    rendition: renditionOf(source, crate),
    target: crate,
    base: baseOf(source),
    reach: 'drop',
    accept: true,
  });
  expect(done.rendition.pieces.map((p) => p.delivery.fileName)).toEqual([
    'b1.mid',
    'b2.mid',
    'b3.mid',
  ]);
  expect(done.findings.filter((f) => f.severity === 'stop')).toEqual([]);
  const notes = done.rendition.pieces.flatMap((p) => p.score.parts.map((part) => part.notes.count));
  expect(notes.reduce((a, b) => a + b)).toBe(source.score.parts[0]!.notes.count);
});
it('a mend of one file leaves the others alone', () => {
  const job = week.find((j) => j.id === 'demo-quay-stomp')!;
  const source = sourceFromBytes(job.bytes(), job.file);
  const places = [
    { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 1 },
    { place: 'k1', fileName: 'k1.mid', fromBar: 2, bars: 2 },
  ];
  const carve = { step: 'carve', params: { places }, scope: {} };
  const { rendition } = runStep(renditionOf(source, crate), carve, baseOf(source));
  const found = proof({ rendition, target: crate, base: baseOf(source) }).find(
    (f) => f.code === 'place-length',
  )!;
  expect(found).toMatchObject({ piece: 1, key: 'k1.mid:place-length/place-length/*' });
  const after = runStep(rendition, found.mends[0]!.steps[0]!, baseOf(source)).rendition;
  expect(after.pieces[0]).toBe(rendition.pieces[0]);
  expect(after.pieces[1]!.score.tracks[0]!.endTick).toBe(BAR);
});

it('carved pieces are compared with a shift of their own each', () => {
  const job = week.find((j) => j.id === 'demo-quay-stomp')!;
  const source = sourceFromBytes(job.bytes(), job.file);
  const places = [
    { place: 'b1', fileName: 'b1.mid', fromBar: 1, bars: 8 },
    { place: 'b2', fileName: 'b2.mid', fromBar: 17, bars: 8 },
  ];
  const carve = { step: 'carve', params: { places }, scope: {} };
  const { rendition } = runStep(renditionOf(source, crate), carve, baseOf(source));
  const compared = comparePieces([source], rendition.pieces);
  expect(compared).toMatchObject({ added: 0, changed: 0, dropped: 100, lossless: false });
});
