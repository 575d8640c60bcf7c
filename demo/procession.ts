import { degree, DORIAN, smf, Track, wander } from './song';

/**
 * The night procession, exported by three programs: drums that rule tempo and meter, bells whose
 * four bars of rest were swallowed and which name no tempo, cues at another PPQ with the markers.
 */
const BARS = 24;

export function processionDrums(): Uint8Array {
  const ppq = 96;
  const conductor = new Track('Night procession').tempo(0, 104).meter(0, 4, 4);
  const drums = new Track('Walk drum').program(0, 10, 0);
  for (let beat = 0; beat < BARS * 4; beat++) {
    drums.note(10, beat * ppq, 24, beat % 4 === 0 ? 36 : 41, beat % 4 === 0 ? 112 : 84);
    if (beat % 8 === 7) drums.note(10, beat * ppq + 48, 24, 43, 70);
    if (beat >= 16 && beat % 2 === 1) drums.note(10, beat * ppq, 24, 56, 64);
  }
  return smf(1, ppq, [conductor, drums], BARS * 4 * ppq);
}

export function processionBells(): Uint8Array {
  const ppq = 480;
  const treble = new Track('Treble bells').program(0, 1, 14);
  const tenor = new Track('Tenor bells').program(0, 2, 14);
  // The melody belongs at bar 5; this export begins with its first note.
  wander(512, (BARS - 4) * 4, 9, 8).forEach((step, beat) => {
    if (step === null) return;
    treble.note(1, beat * ppq, 420, degree(DORIAN, 67, step), 78 + (beat % 4 === 0 ? 14 : 0));
    if (beat % 4 === 0) tenor.note(2, beat * ppq, 900, degree(DORIAN, 48, step % 5), 72);
  });
  return smf(1, ppq, [new Track('Bells of the procession'), treble, tenor], (BARS - 4) * 4 * ppq);
}

export function processionCues(): Uint8Array {
  const ppq = 960;
  const bar = 4 * ppq;
  const conductor = new Track('Lights of the procession')
    .tempo(0, 104)
    .meter(0, 4, 4)
    .marker(0, 'Gather')
    .marker(4 * bar, 'Bells')
    .marker(16 * bar, 'Over the causeway');
  const lamps = new Track('Lamp cues');
  for (let n = 4; n < BARS; n++) {
    lamps.note(16, n * bar, 2 * ppq, 24 + ((n * 5) % 36), 100);
    if (n % 4 === 3) lamps.note(16, n * bar + 2 * ppq, ppq, 24 + ((n * 7) % 36), 100);
  }
  return smf(1, ppq, [conductor, lamps], BARS * bar);
}
