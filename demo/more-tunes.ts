import {
  degree,
  DORIAN,
  META_COPYRIGHT,
  META_LYRIC,
  PENTATONIC,
  seeded,
  smf,
  Track,
  wander,
} from './song';

/** Songs of the week for the other devices, each with the faults that people bring to it. */
const PPQ = 480;
const BAR = 4 * PPQ;

/** Ebb and Flood on piano keys, not on lanes; the export began at once, chords are three wide. */
export function ebbAndFlood(): Uint8Array {
  const conductor = new Track('Ebb and flood')
    .text(0, META_COPYRIGHT, '2026 Saltmarsh crew')
    .tempo(0, 127.5)
    .meter(0, 4, 4);
  const roll = seeded(515);
  const ebb = new Track('Ebb');
  const flood = new Track('Flood');
  wander(515, 96, 9, 8).forEach((step, i) => {
    if (step === null) return;
    const side = i % 8 < 4 ? ebb : flood;
    const channel = i % 8 < 4 ? 5 : 9;
    const key = degree(PENTATONIC, i % 8 < 4 ? 48 : 72, step);
    side.note(channel, i * 240, roll(4) === 0 ? 700 : 100, key, 80 + roll(30));
    if (i % 16 === 6) for (const up of [4, 7]) side.note(channel, i * 240, 100, key + up, 80);
    if (i % 16 === 11) side.note(channel, i * 240 + 60, 40, key, 70);
  });
  return smf(1, PPQ, [conductor, ebb, flood], 14 * BAR);
}

/** Three parts for the ladder: rung 5 is dense, holds run into each other, the lead-in is short. */
export function chanterOverDrone(): Uint8Array {
  const conductor = new Track('Chanter over drone').tempo(0, 112).meter(0, 4, 4);
  // A rung is a channel of the part's track; its lanes lie on whole tones from C3 upward.
  const lanesOfRung = [2, 3, 5, 7, 7];
  const tracks = [conductor];
  ['Chanter', 'Drone', 'Bellows'].forEach((name, p) => {
    const track = new Track(name);
    const roll = seeded(60 + p);
    lanesOfRung.forEach((count, r) => {
      const lanes = Array.from({ length: count }, (_, i) => 48 + 2 * i);
      const each = [960, 720, 480, 240, 120][r]!;
      for (let tick = BAR; tick < 9 * BAR; tick += each) {
        if (roll(3) === 0) continue;
        const long = roll(7) === 0;
        track.note(11 + r, tick, long ? each + 200 : 80, lanes[roll(count)]!, 90);
        if (roll(8) === 0) track.note(11 + r, tick, 80, lanes[roll(count)]!, 90);
      }
    });
    tracks.push(track);
  });
  return smf(1, PPQ, tracks, 10 * BAR);
}

/** A drum song in one piece, with markers where its beds change, and drums from another kit. */
export function quayStomp(): Uint8Array {
  const track = new Track('Quay stomp')
    .tempo(0, 104)
    .meter(0, 4, 4)
    .control(0, 10, 7, 110)
    .marker(0, 'First bed')
    .marker(8 * BAR, 'Second bed')
    .marker(16 * BAR, 'Third bed');
  for (let bar = 0; bar < 24; bar++) {
    const at = bar * BAR;
    for (let eighth = 0; eighth < 8; eighth++)
      track.note(10, at + eighth * 240, 60, bar < 16 ? 42 : 57, eighth % 2 ? 60 : 84);
    track.note(10, at, 60, 36, 112).note(10, at + 2 * PPQ, 60, 36, 100);
    track.note(10, at + PPQ, 60, 38, 104).note(10, at + 3 * PPQ, 60, 38, 108);
    if (bar % 8 === 7)
      for (let k = 0; k < 4; k++) track.note(10, at + 1440 + k * 120, 60, 60 + k, 90);
  }
  return smf(1, PPQ, [track], 24 * BAR);
}

/** Four bars for a pad that came out a beat too long, with spread chords and a wheel left in. */
export function boatShedLoop(): Uint8Array {
  const track = new Track('Boat shed loop').tempo(0, 98).meter(0, 4, 4);
  for (let bar = 0; bar < 4; bar++) {
    const at = bar * BAR;
    const root = [50, 53, 48, 55][bar]!;
    [0, 4, 7].forEach((up, k) => track.note(6, at + k * 9, 1700, root + up, 88));
    if (bar !== 2) track.note(6, at, 200, 24 + bar, 100);
    track.note(6, at + 960, 300, root + 12, 88).note(6, at + 960, 200, 28, 100);
    track.control(at + 480, 6, 1, 30 + bar * 20);
  }
  track.event(700, 0xe0, 6, 0, 70).event(900, 0xe0, 6, 0, 64);
  return smf(1, PPQ, [track], 4 * BAR + PPQ);
}

/** A march for the organ, played in by hand: off the rows, six pipes wide, keys that it has not. */
export function paperMarch(): Uint8Array {
  const conductor = new Track('Paper march').tempo(0, 120).meter(0, 2, 4);
  const roll = seeded(26);
  const front = new Track('Front rank').program(0, 1, 74);
  const rear = new Track('Rear rank').program(0, 2, 20);
  wander(26, 128, 14, 8).forEach((step, i) => {
    if (step === null) return;
    front.note(1, i * 240 + roll(9), 200, degree(DORIAN, 60, step), 70 + roll(40));
    if (i % 4 === 0)
      for (const up of [0, 4, 7]) rear.note(2, i * 240, 400, degree(DORIAN, 48, up), 70);
    if (i % 16 === 8)
      for (const up of [0, 2, 4, 6]) front.note(1, i * 240, 200, degree(DORIAN, 60, up), 90);
  });
  return smf(1, PPQ, [conductor, front, rear], 32 * 2 * PPQ);
}

/** A waltz for the jukebox: PPQ 480, names and text, a marker in the wrong letters, level moves. */
export function lastFerryWaltz(): Uint8Array {
  const conductor = new Track('Last ferry waltz')
    .text(0, META_COPYRIGHT, '2026 Saltmarsh crew')
    .tempo(0, 143.7)
    .meter(0, 3, 4)
    .marker(0, 'Begin')
    .marker(8 * 3 * PPQ, 'Round');
  const brass = new Track('Brass').program(0, 1, 62).control(0, 1, 7, 100);
  const keys = new Track('Keys').program(0, 6, 3).control(0, 6, 7, 90).control(0, 6, 10, 50);
  const bass = new Track('Bass').program(5, 7, 32).control(0, 7, 7, 100).control(0, 7, 93, 0);
  wander(143, 96, 10, 6).forEach((step, beat) => {
    if (step === null) return;
    brass.note(1, beat * PPQ, 400, degree(DORIAN, 58, step), 88);
    if (beat % 3 === 0) bass.note(7, beat * PPQ, 440, degree(DORIAN, 36, step % 5), 92);
    else for (const up of [0, 2, 4]) keys.note(6, beat * PPQ, 300, degree(DORIAN, 60, up), 70);
  });
  brass.control(60 * PPQ, 1, 7, 60);
  return smf(1, PPQ, [conductor, brass, keys, bass], 32 * 3 * PPQ + 10);
}

/** Six voices for the sequencer, some of them two notes deep, tracks that end apart. */
export function tideTable(): Uint8Array {
  const conductor = new Track('Tide table').tempo(0, 132).meter(0, 4, 4);
  const tracks = [conductor];
  for (let v = 1; v <= 6; v++) {
    const track = new Track(`Voice ${v}`);
    const roll = seeded(180 + v);
    wander(300 + v, 64, 8, 8).forEach((step, i) => {
      if (step === null || roll(3) === 0) return;
      track.note(v, i * 240, 300, degree(PENTATONIC, 30 + v * 7, step), 90);
    });
    tracks.push(track);
  }
  return smf(1, 250, tracks);
}

/** Three horns against a recording: blasts too long, notes under the horn, a hurried stretch. */
export function hornsAtDusk(): Uint8Array {
  const conductor = new Track('Horns at dusk').tempo(0, 76).meter(0, 4, 4).marker(0, 'Dusk');
  const tracks = [conductor];
  for (let h = 1; h <= 3; h++) {
    const track = new Track(`Horn ${h}`);
    for (let k = 0; k < 12; k++) {
      const tick = BAR + k * 1800 + h * 120;
      track.note(h, tick, k % 4 === 2 ? 720 : 420, 40 + h * 5 + (k % 3) * 3, 110);
      if (k === 6) for (let n = 1; n < 5; n++) track.note(h, tick + n * 440, 430, 45 + h, 110);
      if (k === 9 && h === 1) track.note(h, tick + 600, 300, 33, 100);
    }
    tracks.push(track);
  }
  return smf(1, PPQ, tracks, 14 * BAR);
}

/** Words for the board with an advance each, some of them late, two too close. */
export function lanternSong(): Uint8Array {
  const conductor = new Track('Lantern song').tempo(0, 92).meter(0, 3, 4);
  const advance = new Track('Advance');
  const lines = [
    'Light the first lantern low on the quay', 'carry it out to the marker and back',
    'light the second for them that are late', 'the water is rising, the water is slow',
    'hang up the third where the causeway begins and the grass',
    'count them, my dear, as you count to the gate', 'nine for the harbour and ten for the moon',
    'and one in the window for whoever comes home',
  ]; // prettier-ignore
  lines.forEach((line, i) => {
    const tick = (i * 4 + 2) * 3 * PPQ;
    line.split(' ').forEach((word, k) => {
      conductor.text(tick + k * 240, META_LYRIC, `${k === 0 ? '/' : ''}${word} `);
    });
    advance.note(12, i === 3 ? tick + 200 : tick - 480, 100, 48, 90);
  });
  advance.note(12, 30 * 3 * PPQ + 100, 60, 50, 90);
  return smf(1, PPQ, [conductor, advance], 36 * 3 * PPQ);
}

/** A study with both hands on one track: chords wider than a hand, one key for both. */
export function netMendersStudy(): Uint8Array {
  const conductor = new Track('Net menders’ study').tempo(0, 84).meter(0, 4, 4);
  const piano = new Track('Piano').program(0, 1, 0);
  wander(84, 64, 8, 8).forEach((step, i) => {
    if (step === null) return;
    piano.note(1, i * PPQ, 460, degree(DORIAN, 65, step), 80);
    if (i % 2 === 0) {
      piano.note(1, i * PPQ, 900, degree(DORIAN, 41, step % 6), 70);
      piano.note(1, i * PPQ, 900, degree(DORIAN, 48, step % 6), 64);
    }
    if (i % 16 === 4) piano.note(1, i * PPQ, 900, degree(DORIAN, 41, step % 6) + 22, 70);
  });
  return smf(1, PPQ, [conductor, piano], 16 * BAR);
}

/** Visuals by frame: a pass that is no whole number of frames, and a channel with nothing on it. */
export function shutterRun(): Uint8Array {
  const conductor = new Track('Shutter run').tempo(0, 107).meter(0, 4, 4);
  const wash = new Track('Wash');
  const flash = new Track('Flash');
  const spare = new Track('Spare').control(0, 3, 7, 100);
  for (let beat = 0; beat < 64; beat++) {
    if (beat % 4 === 0) wash.note(1, beat * PPQ, 1800, 36 + (beat % 12), 60 + (beat % 48));
    if (beat % 3 === 1) flash.note(2, beat * PPQ + 240, 30, 60 + (beat % 5), 120);
  }
  return smf(1, PPQ, [conductor, wash, flash, spare], 16 * BAR);
}

/** Cues for a game's engine: strands of one name, one far too dense. */
export function marshAmbience(): Uint8Array {
  const conductor = new Track('Marsh ambience')
    .tempo(0, 60)
    .meter(0, 4, 4)
    .marker(8 * BAR, 'Rain');
  const frogs = new Track('Frogs');
  const reeds = new Track('Reeds');
  const again = new Track('Reeds');
  const roll = seeded(9);
  for (let k = 0; k < 40; k++) frogs.note(1, k * 700 + roll(300), 60, 40 + roll(9), 50 + roll(60));
  for (let k = 0; k < 60; k++) frogs.note(1, 8 * BAR + k * 12, 8, 40 + (k % 9), 70);
  for (let k = 0; k < 20; k++) reeds.note(2, k * 1440, 1200, 55 + (k % 4), 60);
  for (let k = 0; k < 8; k++) again.note(3, k * 3000, 600, 62, 60);
  return smf(1, PPQ, [conductor, frogs, reeds, again], 16 * BAR);
}

/** An evening at the parlour: programs change on the way, drums reach below the kit. */
export function parlourEvening(): Uint8Array {
  const conductor = new Track('Parlour evening').tempo(0, 118).meter(0, 4, 4);
  const lead = new Track('Lead')
    .program(0, 1, 24)
    .program(8 * BAR, 1, 26)
    .control(0, 1, 0, 8);
  const chords = new Track('Chords').program(960, 2, 4);
  const drums = new Track('Drums');
  wander(118, 128, 11, 8).forEach((step, i) => {
    if (step === null) return;
    lead.note(1, i * 240, 220, degree(DORIAN, 62, step), 84);
    if (i % 8 === 0)
      for (const up of [0, 2, 4]) chords.note(2, i * 240, 1700, degree(DORIAN, 50, up), 62);
    drums.note(10, i * 240, 60, i % 4 === 0 ? 36 : i % 4 === 2 ? 38 : 42, 90);
    if (i % 32 === 31) drums.note(10, i * 240 + 120, 60, 27, 90);
  });
  return smf(1, PPQ, [conductor, lead, chords, drums], 16 * BAR);
}

/** A reed organ that holds two roles in one part: a quick line above, a slow drone under it. */
export function twoInOneBoat(): Uint8Array {
  const track = new Track('Reed organ').tempo(0, 116).meter(0, 4, 4).program(0, 1, 20);
  wander(71, 192, 9, 8).forEach((step, i) => {
    if (step !== null) track.note(1, i * 120 * 2, 200, degree(DORIAN, 74, step), 70 + (i % 5) * 8);
  });
  for (let half = 0; half < 48; half++)
    track.note(1, (half * BAR) / 2, 900, [41, 41, 43, 38, 41, 45, 36, 36][half % 8]!, 84);
  return smf(1, PPQ, [track], 24 * BAR);
}

/** A drum loop of somebody’s sampler, here one long key that says nothing, under a tune. */
export function ropeWalk(): Uint8Array {
  const conductor = new Track('Rope walk').tempo(0, 92).meter(0, 4, 4);
  const loop = new Track('Loom loop');
  for (let bar = 0; bar < 16; bar++) loop.note(5, bar * BAR, BAR, 60, 100);
  const reel = new Track('Reel').program(0, 1, 22);
  wander(37, 96, 8, 7).forEach((step, i) => {
    if (step !== null) reel.note(1, i * 320, 280, degree(DORIAN, 62, step), 82);
  });
  return smf(1, PPQ, [conductor, loop, reel], 16 * BAR);
}
