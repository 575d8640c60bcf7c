import { degree, DORIAN, PENTATONIC, seeded, smf, Track, wander } from './song';

/**
 * Songs to try mending on: twelve shapes that come to a desk, five of each. Nothing of them is made
 * for a target; a person would want each for some, and could not use it for others.
 */
export interface MendingSong {
  readonly shape: string;
  readonly name: string;
  readonly bytes: Uint8Array;
}

type Roll = (below: number) => number;
interface Make {
  readonly roll: Roll;
  readonly seed: number;
  readonly bars: number;
  readonly bpm: number;
  readonly root: number;
}
const PPQ = 480;
const BAR = 4 * PPQ;

const conductorOf = ({ bpm }: Make, name: string): Track =>
  new Track(name).tempo(0, bpm).meter(0, 4, 4);

/** A melody with eighths, dotted notes and rests, in phrases that return. */
function melody(to: Track, m: Make, channel: number, root: number, seed: number, velocity = 88) {
  wander(seed, m.bars * 8, 11, 16).forEach((step, i) => {
    if (step === null || (i % 8 === 7 && m.roll(3) === 0)) return;
    const length = i % 4 === 0 && m.roll(2) === 0 ? 420 : 200;
    to.note(channel, i * 240, length, degree(DORIAN, root, step), velocity + m.roll(20) - 8);
  });
  return to;
}

const CHORDS = [0, 3, 4, 0, 5, 3, 4, 4] as const;

function chords(to: Track, m: Make, channel: number, root: number, notes = 3) {
  for (let bar = 0; bar < m.bars; bar++)
    for (let half = 0; half < 2; half++)
      for (let n = 0; n < notes; n++)
        to.note(
          channel,
          bar * BAR + half * 960,
          900,
          degree(DORIAN, root, CHORDS[bar % 8]! + n * 2),
          64 + m.roll(12),
        );
  return to;
}

function bass(to: Track, m: Make, channel: number, root: number) {
  for (let bar = 0; bar < m.bars; bar++)
    for (let q = 0; q < 4; q++)
      if (q % 2 === 0 || m.roll(2) === 0)
        to.note(channel, bar * BAR + q * PPQ, 400, degree(DORIAN, root, CHORDS[bar % 8]!), 92);
  return to;
}

function drums(to: Track, m: Make) {
  for (let bar = 0; bar < m.bars; bar++) {
    const at = bar * BAR;
    for (let e = 0; e < 8; e++) to.note(10, at + e * 240, 60, 42, 70 + m.roll(20));
    for (const q of [0, 2]) to.note(10, at + q * PPQ, 60, 36, 110);
    for (const q of [1, 3]) to.note(10, at + q * PPQ, 60, 38, 104);
    if (bar % 8 === 7)
      for (let s = 0; s < 8; s++) to.note(10, at + 960 + s * 120, 60, 50 - (s >> 1), 96);
    if (bar % 8 === 0) to.note(10, at, 60, 49, 100);
  }
  return to;
}

const end = (m: Make) => m.bars * BAR;

const SHAPES: Readonly<Record<string, (m: Make) => Uint8Array>> = {
  'full band': (m) =>
    smf(
      1,
      PPQ,
      [
        conductorOf(m, 'Quay band'),
        melody(new Track('Lead whistle').program(0, 1, 73), m, 1, m.root + 24, m.seed),
        chords(new Track('Squeezebox').program(0, 2, 21), m, 2, m.root + 12),
        chords(new Track('Guitar').program(0, 3, 24).control(0, 3, 7, 90), m, 3, m.root + 12, 4),
        bass(new Track('Bass').program(0, 4, 33), m, 4, m.root - 12),
        drums(new Track('Drums'), m),
      ],
      end(m),
    ),
  'piano on one track': (m) => {
    const piano = new Track('Piano').program(0, 1, 0);
    melody(piano, m, 1, m.root + 24, m.seed);
    chords(piano, m, 1, m.root);
    return smf(1, PPQ, [conductorOf(m, 'Evening piece'), piano], end(m));
  },
  'piano on two tracks': (m) => {
    const right = melody(new Track('Piano right').program(0, 1, 0), m, 1, m.root + 24, m.seed);
    const left = bass(
      chords(new Track('Piano left').program(0, 1, 0), m, 1, m.root),
      m,
      1,
      m.root - 12,
    );
    return smf(1, PPQ, [conductorOf(m, 'Evening piece'), right, left], end(m));
  },
  'drums alone': (m) =>
    smf(0, PPQ, [drums(new Track('Kit').tempo(0, m.bpm).meter(0, 4, 4), m)], end(m)),
  'cue list': (m) => {
    const cues = new Track('Lights');
    const songs = conductorOf(m, 'Cues of the night');
    for (let k = 0; k < m.bars * 2; k++) {
      if (m.roll(4) === 0) continue;
      cues.note(1, k * 960, 240 + m.roll(3) * 240, 36 + m.roll(24), 100);
    }
    for (let k = 0; k < m.bars; k += 8) songs.marker(k * BAR, `Scene ${k / 8 + 1}`);
    return smf(1, PPQ, [songs, cues], end(m));
  },
  'orchestra of 30 parts': (m) => {
    const names = [
      'Piccolo',
      'Flute',
      'Oboe',
      'Reed',
      'Low reed',
      'Horn',
      'Trumpet',
      'Trombone',
      'Tuba',
      'Bells',
    ];
    const tracks = names.flatMap((name, k) =>
      [1, 2, 3].map((n) => {
        const track = new Track(`${name} ${n}`);
        const channel = ((k * 3 + n) % 15) + 1 === 10 ? 16 : ((k * 3 + n) % 15) + 1;
        const root = m.root + 24 - (k % 5) * 12;
        track.program(0, channel, 56 + ((k * 3 + n) % 24));
        if (n === 1) melody(track, m, channel, root, m.seed + k);
        else
          for (let b = 0; b < m.bars; b++)
            track.note(channel, b * BAR, 1800, degree(DORIAN, root, CHORDS[b % 8]! + n), 70);
        return track;
      }),
    );
    return smf(1, PPQ, [conductorOf(m, 'Procession'), ...tracks], end(m));
  },
  'everything on channel 1': (m) => {
    const one = new Track('Song').tempo(0, m.bpm).meter(0, 4, 4);
    melody(one, m, 1, m.root + 24, m.seed);
    chords(one, m, 1, m.root + 12);
    bass(one, m, 1, m.root - 12);
    return smf(0, PPQ, [one], end(m));
  },
  'chiptune of 4 voices': (m) => {
    const quick = new Track('Pulse 2');
    for (let i = 0; i < m.bars * 16; i++)
      quick.note(
        2,
        i * 120,
        110,
        degree(PENTATONIC, m.root + 12, [0, 2, 4, 7][i % 4]! + CHORDS[(i >> 4) % 8]!),
        80,
      );
    const noise = new Track('Noise');
    for (let i = 0; i < m.bars * 8; i++) noise.note(10, i * 240, 40, i % 4 === 2 ? 38 : 42, 90);
    return smf(
      1,
      96 * 5,
      [
        conductorOf(m, 'Little machine'),
        melody(new Track('Pulse 1'), m, 1, m.root + 24, m.seed),
        quick,
        bass(new Track('Triangle'), m, 3, m.root - 12),
        noise,
      ],
      end(m),
    );
  },
  'long free tempo': (m) => {
    const conductor = new Track('As it was played').meter(0, 4, 4);
    const bars = 200;
    for (let q = 0; q < bars * 4; q += 2) conductor.tempo(q * PPQ, m.bpm - 6 + m.roll(13));
    const long = { ...m, bars };
    return smf(
      1,
      PPQ,
      [
        conductor,
        melody(new Track('Fiddle').program(0, 1, 40), long, 1, m.root + 24, m.seed),
        chords(new Track('Harmonium').program(0, 2, 20), long, 2, m.root),
      ],
      bars * BAR,
    );
  },
  loops: (m) => {
    const four = { ...m, bars: 4 };
    const loop = new Track('Loop');
    const conductor = conductorOf(m, 'Loops');
    for (let r = 0; r < 6; r++) {
      conductor.marker(r * 4 * BAR, r % 3 === 2 ? 'B' : 'A');
      wander(m.seed + (r % 3 === 2 ? 7 : 0), 32, 9, 8).forEach((step, i) => {
        if (step !== null) loop.note(6, (r * 32 + i) * 240, 200, degree(DORIAN, 60, step), 90);
      });
    }
    return smf(
      1,
      PPQ,
      [conductor, loop, drums(new Track('Beat'), { ...four, bars: 24 })],
      24 * BAR,
    );
  },
  choir: (m) => {
    const parts = [
      ['Soprano', 24],
      ['Alto', 17],
      ['Tenor', 10],
      ['Bass', 0],
    ] as const;
    const conductor = conductorOf(m, 'Evening hymn');
    const tracks = parts.map(([name, up], k) => {
      const track = new Track(name).program(0, k + 1, 52);
      for (let q = 0; q < m.bars * 4; q++) {
        if (q % 16 === 15) continue;
        track.note(
          k + 1,
          q * PPQ,
          470,
          degree(DORIAN, m.root + up, CHORDS[(q >> 2) % 8]! + ((q * (k + 3)) % 3)),
          76,
        );
        if (k === 0 && q % 2 === 0) track.text(q * PPQ, 5, ['tide ', 'light ', 'home '][q % 3]!);
      }
      return track;
    });
    return smf(1, PPQ, [conductor, ...tracks], end(m));
  },
  'nameless tracks': (m) =>
    smf(
      1,
      192,
      [new Track().tempo(0, m.bpm), melodyAt(192, m), chordsAt(192, m), bassAt(192, m)],
      m.bars * 768,
    ),
};

function melodyAt(ppq: number, m: Make) {
  const track = new Track();
  wander(m.seed, m.bars * 4, 9, 8).forEach((step, i) => {
    if (step !== null) track.note(5, i * ppq, ppq - 8, degree(DORIAN, m.root + 24, step), 90);
  });
  return track;
}
function chordsAt(ppq: number, m: Make) {
  const track = new Track();
  for (let b = 0; b < m.bars; b++)
    for (let n = 0; n < 3; n++)
      track.note(
        6,
        b * 4 * ppq,
        4 * ppq - 10,
        degree(DORIAN, m.root + 12, CHORDS[b % 8]! + n * 2),
        70,
      );
  return track;
}
function bassAt(ppq: number, m: Make) {
  const track = new Track();
  for (let b = 0; b < m.bars * 2; b++)
    track.note(7, b * 2 * ppq, ppq, degree(DORIAN, m.root - 12, CHORDS[(b >> 1) % 8]!), 90);
  return track;
}

/** Sixty songs, the same on every machine. */
export function mendingSongs(): MendingSong[] {
  return Object.entries(SHAPES).flatMap(([shape, make], s) =>
    Array.from({ length: 5 }, (_, n) => {
      const seed = 101 + s * 31 + n * 7;
      const roll = seeded(seed);
      const bars = 24 + 8 * roll(5);
      const bytes = make({ roll, seed, bars, bpm: 80 + roll(60), root: 46 + roll(7) });
      return { shape, name: `${shape.replace(/[^a-z0-9]+/gi, '-')}-${n + 1}.mid`, bytes };
    }),
  );
}
