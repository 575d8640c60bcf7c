import {
  degree,
  DORIAN,
  META_COPYRIGHT,
  META_LYRIC,
  META_TEXT,
  PENTATONIC,
  seeded,
  smf,
  Track,
  wander,
} from './song';

const PPQ = 480;

/**
 * Lamp and shutter cues with the bells that they go with. Faults on purpose: the three bars of rest
 * were swallowed by the export, the tempo follows the song, two cues strike together in bar 7, cues
 * come too close in bars 14 and 24, labels are long and accented, set-up is sent twice.
 */
export function turnOfTheTide(): Uint8Array {
  const bar = 3 * PPQ;
  const at = (n: number, beat = 1, tick = 0) => (n - 1) * bar + (beat - 1) * PPQ + tick;
  const end = at(33);
  const conductor = new Track('Turn of the tide')
    .text(0, META_COPYRIGHT, 'Saltmarsh Lantern Week')
    .tempo(0, 96)
    .tempo(at(12), 112)
    .tempo(at(22), 120)
    .meter(0, 3, 4)
    .key(0, -1, true)
    .marker(at(1, 2), 'Arrival')
    .marker(at(10), 'Procession')
    .marker(at(17), 'Turn of the tide, again')
    .marker(at(25), 'Éveil du phare')
    .marker(at(29), 'Lamps out');

  const lamps = new Track('Lamp cues');
  const roll = seeded(1966);
  const lampBeats = [
    [1, 1], [1, 3], [2, 2], [3, 1], [3, 3], [4, 1], [4, 3], [5, 1], [6, 2], [7, 1], [8, 1],
    [9, 2], [10, 1], [11, 1], [12, 1], [12, 3], [13, 1], [13, 3], [14, 1], [14, 2], [15, 1],
    [15, 3], [16, 2], [17, 2], [18, 1], [19, 1], [20, 1], [20, 3], [21, 2], [22, 1], [22, 3],
    [23, 1], [24, 1], [25, 1], [26, 2], [28, 1], [30, 1], [32, 1],
  ] as const; // prettier-ignore
  for (const [n, beat] of lampBeats)
    lamps.note(16, at(n, beat), 300 + roll(3) * 60, 26 + roll(20), 90 + roll(20));
  lamps.note(16, at(14, 1, 180), 120, 41, 96); // 234 ms after the cue before
  lamps.note(16, at(24, 1, 200), 60, 30, 96); // 208 ms after, at 120 BPM

  const shutters = new Track('Shutter cues');
  for (let n = 2; n < 32; n += 3) {
    shutters.note(3, at(n, 2, 240), 260, 50 + roll(8), 80);
    shutters.note(3, at(n + 1, 3, 240), 200, 52 + roll(7), 84);
  }
  shutters.note(3, at(7), 420, 57, 84); // together with the lamp cue
  shutters.note(3, at(29, 2), 12, 55, 84); // 12.5 ms: nobody sees it

  const treble = new Track('Treble bells')
    .program(0, 1, 14)
    .control(0, 1, 7, 100)
    .control(0, 1, 7, 100)
    .control(0, 1, 10, 64)
    .control(2, 1, 10, 64);
  wander(41, 96, 11, 6).forEach((step, beat) => {
    if (step === null) return;
    const key = degree(DORIAN, 67, step);
    treble.note(1, beat * PPQ, 400, key, 74 + (beat % 3 === 0 ? 18 : 0));
    if (beat % 8 === 5) treble.note(1, beat * PPQ + 240, 200, key, 70);
    if (beat % 24 === 11) {
      // Hammered: 60 ticks are 78 ms at 96 BPM.
      for (let k = 1; k < 4; k++) treble.note(1, beat * PPQ + k * 60, 50, key, 66);
    }
  });
  const tenor = new Track('Tenor bells').program(0, 2, 14);
  wander(97, 96, 8, 12).forEach((step, beat) => {
    if (step === null || beat % 2 === 1) return;
    tenor.note(2, beat * PPQ, 900, degree(DORIAN, 50, step), 68);
    if (beat % 6 === 0) tenor.note(2, beat * PPQ, 900, degree(DORIAN, 50, step + 4), 60);
  });
  const drum = new Track('Clapper drum');
  for (let beat = 0; beat < 96; beat++) {
    drum.note(10, beat * PPQ, 60, beat % 3 === 0 ? 36 : 42, beat % 3 === 0 ? 104 : 70);
    if (beat % 3 === 2) drum.note(10, beat * PPQ + 240, 60, 38, 82);
  }
  return smf(1, PPQ, [conductor, lamps, shutters, treble, tenor, drum], end);
}

/** A round for bells: out-of-range bells, hammered repeats, junk text, doubled set-up, odd PPQ. */
export function saltBellRound(): Uint8Array {
  const ppq = 250;
  const track = new Track('Salt bell round')
    .text(0, META_TEXT, 'exported by the harbour office, do not edit')
    .text(0, META_COPYRIGHT, 'Saltmarsh Lantern Week')
    .tempo(0, 132)
    .meter(0, 4, 4)
    .program(0, 1, 14)
    .control(0, 1, 7, 100)
    .control(0, 1, 7, 100)
    .control(0, 1, 10, 64)
    .control(0, 1, 10, 64)
    .sysex(0, [0x7d, 0x01, 0x22, 0xf7])
    .marker(0, 'Ring in')
    .marker(16 * ppq, 'Second ring')
    .marker(48 * ppq, 'Ring out');
  const roll = seeded(310);
  const line = wander(12, 64, 13, 8);
  const words = ['salt', 'bell', 'ring', 'low', 'tide', 'come', 'home', 'slow'];
  line.forEach((step, beat) => {
    if (step === null) return;
    track.note(1, beat * ppq, 180, degree(PENTATONIC, 60, step), 80 + roll(30));
    if (beat % 4 === 0) track.text(beat * ppq, META_LYRIC, words[(beat / 4) % words.length]!);
    // The round: the same line four beats later, a fifth lower.
    const follow = line[beat - 4];
    if (beat >= 4 && follow != null)
      track.note(1, beat * ppq, 200, degree(PENTATONIC, 53, follow), 70);
    if (beat % 16 === 7)
      for (let k = 1; k < 6; k++)
        track.note(1, beat * ppq + k * 40, 30, degree(PENTATONIC, 60, step), 62);
    if (beat % 16 === 12)
      for (const up of [1, 2, 3])
        track.note(1, beat * ppq, 220, degree(PENTATONIC, 60, step + up), 76);
  });
  track.event(20 * ppq, 0xe0, 1, 0, 72).event(21 * ppq, 0xe0, 1, 0, 64);
  track.hang(1, 63 * ppq, 72, 90);
  return smf(1, ppq, [track], 64 * ppq);
}

/** Ninety lanterns on sixty tracks: what a large session looks like when it is exported whole. */
export function ninetyLanterns(): Uint8Array {
  const bar = 4 * PPQ;
  const bars = 48;
  const conductor = new Track('Ninety lanterns').tempo(0, 108).meter(0, 4, 4);
  ['Gather', 'First row', 'Second row', 'Bridge of boats', 'All lit', 'Dusk'].forEach((name, i) =>
    conductor.marker(i * 8 * bar, name),
  );
  const tracks = [conductor];
  const rows = ['Quay', 'Sluice', 'Bank', 'Creek', 'Ferry', 'Tower'];
  for (let n = 0; n < 60; n++) {
    const roll = seeded(700 + n);
    const track = new Track(`${rows[n % 6]} lantern ${Math.floor(n / 6) + 1}`);
    const channel = n === 0 ? 16 : (n % 15) + 1;
    if (channel !== 10 && n > 0) track.program(0, channel, (n * 7) % 96);
    const root = 36 + (n % 5) * 7;
    wander(900 + n, bars * 2, 7, 8).forEach((step, half) => {
      if (step === null || roll(5) === 0) return;
      const tick = half * 2 * PPQ + (roll(4) === 0 ? PPQ / 2 : 0);
      track.note(channel, tick, 200 + roll(4) * 120, degree(DORIAN, root, step), 60 + roll(50));
    });
    tracks.push(track);
  }
  return smf(1, PPQ, tracks, bars * bar);
}

/** Four hundred bars with changing meters and a tempo that breathes. */
export function longCauseway(): Uint8Array {
  const conductor = new Track('The long causeway');
  const melody = new Track('Upper bells').program(0, 1, 14);
  const answer = new Track('Lower bells').program(0, 2, 14);
  const roll = seeded(4000);
  const line = wander(77, 2000, 12, 16);
  let tick = 0;
  let beat = 0;
  let last = '';
  for (let n = 0; n < 400; n++) {
    const [numerator, denominator] =
      n % 40 >= 36 ? ([6, 8] as const) : n % 80 >= 60 ? ([3, 4] as const) : ([4, 4] as const);
    const meter = `${numerator}/${denominator}`;
    if (meter !== last) conductor.meter(tick, numerator, denominator);
    last = meter;
    if (n % 4 === 0) conductor.tempo(tick, 88 + ((n * 3) % 24));
    if (n % 50 === 0) conductor.marker(tick, `Milestone ${n / 50 + 1}`);
    const unit = (4 * PPQ) / denominator;
    for (let b = 0; b < numerator; b++, beat++) {
      const step = line[beat % line.length];
      if (step == null) continue;
      melody.note(1, tick + b * unit, unit - 40, degree(DORIAN, 62, step), 70 + roll(40));
      if (b === 0) answer.note(2, tick, unit * 2, degree(DORIAN, 60, step % 5), 64);
      if (roll(9) === 0)
        melody.note(1, tick + b * unit + unit / 2, unit / 2 - 20, degree(DORIAN, 62, step + 2), 66);
    }
    tick += numerator * unit;
  }
  return smf(1, PPQ, [conductor, melody, answer], tick);
}

/** The tempo map of a whole evening, with a pick-up and a meter that changes inside a bar. */
export function harbourOfficeTempo(): Uint8Array {
  const conductor = new Track('Harbour office, evening').meter(0, 1, 4).key(0, 2);
  let tick = PPQ;
  const plan = [
    [4, 4, 8, 72, 'Doors'], [4, 4, 12, 84, 'First boats'], [3, 4, 16, 96, 'Round the buoy'],
    [6, 8, 10, 66, 'Lull'], [7, 8, 14, 104, 'Against the wind'], [4, 4, 24, 126, 'Home stretch'],
  ] as const; // prettier-ignore
  for (const [numerator, denominator, bars, bpm, name] of plan) {
    const bar = (numerator * 4 * PPQ) / denominator;
    conductor.meter(tick, numerator, denominator).marker(tick, name);
    for (let n = 0; n < bars; n += 4) conductor.tempo(tick + n * bar, bpm + n / 8);
    tick += bars * bar;
  }
  // Inside the last bar: the ending was cut in by hand.
  conductor.meter(tick - PPQ, 2, 4).marker(tick - PPQ, 'Lights');
  const sketch = new Track('Sketch piano').program(0, 4, 0);
  wander(55, 120, 9, 8).forEach((step, beat) => {
    if (step !== null) sketch.note(4, PPQ + beat * PPQ, 420, degree(DORIAN, 55, step), 72);
  });
  return smf(1, PPQ, [conductor, sketch], tick);
}

/** A copy that was cut off: its last track ends mid-event, and bytes inside were hit. */
export function tornPage(): Uint8Array {
  const conductor = new Track('Torn page').tempo(0, 100).meter(0, 4, 4).marker(0, 'Cover');
  const cues = new Track('Gate cues');
  const spare = new Track('Spare cues');
  const roll = seeded(8);
  for (let beat = 0; beat < 64; beat++) {
    cues.note(16, beat * PPQ, 240, 30 + roll(24), 90);
    if (beat % 4 === 3) spare.note(2, beat * PPQ + 240, 200, 40 + roll(10), 80);
  }
  const bytes = smf(1, PPQ, [conductor, cues, spare], 64 * PPQ);
  const cut = bytes.slice(0, bytes.length - 61);
  // A velocity of 200 in the cues: bit 7 was flipped on the way.
  const hit = cut.findIndex((b, i) => b === 90 && cut[i - 2] === 0x9f && i > 400);
  cut[hit] = 200;
  return cut;
}
