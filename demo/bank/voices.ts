/**
 * The 128 sounds of General MIDI as numbers: sums of partials with what an ear tells them apart by.
 * A family has what its members share; each member says what is its own.
 */
export interface Voice {
  /** Partials, and by how much each octave of them is softer: 1 halves. */
  readonly partials: number;
  readonly tilt: number;
  /** 0 all partials, 1 the odd ones alone. */
  readonly odd: number;
  /** Seconds until it is there. */
  readonly rise: number;
  /** Seconds until it has died away; 0 sounds as long as the key is held. */
  readonly fall: number;
  /** How much brighter it is when it is struck. */
  readonly bite: number;
  /** Noise when it begins, and noise throughout. */
  readonly knock: number;
  readonly breath: number;
  /** Cents of vibrato, and of a second sound beside it. */
  readonly vibrato: number;
  readonly chorus: number;
  /** How far partials stand from whole multiples: strings a little, bells far. */
  readonly stretch: number;
  /** Hertz that it favours wherever it plays: a body, a mouth; 0 none. */
  readonly body: number;
  /** Which other interval sounds along, in semitones; 0 none. */
  readonly along: number;
  readonly release: number;
  /** Key of its sample. */
  readonly key: number;
}

const PLAIN: Voice = {
  ...{ partials: 8, tilt: 1, odd: 0, rise: 0.004, fall: 0, bite: 0, knock: 0, breath: 0 },
  ...{ vibrato: 0, chorus: 0, stretch: 0, body: 0, along: 0, release: 0.12, key: 60 },
};
type Own = Partial<Voice>;

/** Families of eight, in the order of General MIDI Level 1. */
const FAMILIES: readonly (readonly [Own, readonly Own[]])[] = [
  // Struck strings.
  [
    { fall: 2.6, bite: 0.8, knock: 0.15, stretch: 0.0004, partials: 12, release: 0.18 },
    [
      { tilt: 1.1 },
      { tilt: 0.75, bite: 1.2 },
      { tilt: 0.95, body: 900, chorus: 4 },
      { tilt: 0.9, chorus: 16 },
      { tilt: 1.7, fall: 3, knock: 0.05, along: 24 },
      { tilt: 1.5, body: 700, chorus: 8, odd: 0.4 },
      { tilt: 0.35, fall: 1.6, knock: 0.3, bite: 0.3 },
      { tilt: 0.4, odd: 0.7, fall: 1.1, knock: 0.3, body: 1400 },
    ],
  ],
  // Bars and bells.
  [
    { fall: 2, partials: 5, stretch: 0.5, release: 0.8, key: 72, tilt: 1.2 },
    [
      { stretch: 0.22, fall: 1.4 },
      { stretch: 0.62, fall: 2.2, tilt: 0.7, key: 84 },
      { stretch: 0.3, fall: 1.6, knock: 0.2, tilt: 1.6, key: 79 },
      { stretch: 0.5, fall: 3.4, tilt: 2.2, vibrato: 14, key: 65 },
      { stretch: 0.45, fall: 0.5, tilt: 2, knock: 0.25, key: 60 },
      { stretch: 0.4, fall: 0.3, tilt: 1, knock: 0.4 },
      { stretch: 0.36, fall: 4, tilt: 0.6, partials: 8, key: 60 },
      { stretch: 0.01, fall: 1.6, tilt: 0.7, partials: 9, chorus: 9, knock: 0.3, key: 65 },
    ],
  ],
  // Organs.
  [
    { partials: 9, tilt: 0.5, rise: 0.012, release: 0.06 },
    [
      { odd: 0.3, tilt: 0.6, along: 12 },
      { odd: 0.3, tilt: 0.9, knock: 0.5, along: 19 },
      { odd: 0.1, tilt: 0.3, chorus: 9, vibrato: 10 },
      { rise: 0.07, tilt: 0.35, partials: 14, chorus: 5, breath: 0.03, release: 0.35, along: 12 },
      { rise: 0.04, tilt: 0.7, odd: 0.6, body: 900, breath: 0.02 },
      { rise: 0.05, tilt: 0.45, chorus: 13, body: 1300 },
      { rise: 0.05, tilt: 0.3, body: 1900, vibrato: 8, breath: 0.05 },
      { rise: 0.05, tilt: 0.55, chorus: 20, odd: 0.4, body: 1100 },
    ],
  ],
  // Guitars.
  [
    { partials: 12, fall: 1.4, bite: 0.9, knock: 0.1, stretch: 0.0002, key: 55 },
    [
      { tilt: 1.2, body: 300 },
      { tilt: 0.7, body: 500, knock: 0.2 },
      { tilt: 1.7, body: 450, fall: 1.2 },
      { tilt: 0.9, chorus: 6, fall: 1.8 },
      { tilt: 1.1, fall: 0.22, knock: 0.3 },
      { tilt: 0.35, fall: 3, odd: 0.4, breath: 0.02, body: 1200 },
      { tilt: 0.15, fall: 4.5, odd: 0.5, breath: 0.05, body: 1800, along: 7 },
      { tilt: 2, fall: 2, along: 24, key: 67 },
    ],
  ],
  // Basses.
  [
    { partials: 9, fall: 1.5, tilt: 1.4, key: 38, bite: 0.7 },
    [
      { tilt: 1.7, knock: 0.2, body: 180 },
      { tilt: 1.4 },
      { tilt: 0.9, knock: 0.3 },
      { tilt: 1.9, rise: 0.06, vibrato: 18, fall: 3, body: 420, bite: -0.3 },
      { tilt: 0.55, knock: 0.6, bite: 1.5, fall: 1 },
      { tilt: 0.4, knock: 0.7, bite: 1.5, body: 1500, fall: 0.8 },
      { tilt: 0.6, odd: 0.9, fall: 1.1, partials: 12 },
      { tilt: 0.3, chorus: 14, fall: 2.4, partials: 14 },
    ],
  ],
  // Bowed, and what stands beside them in the orchestra.
  [
    { partials: 12, tilt: 0.7, rise: 0.08, vibrato: 14, breath: 0.02, release: 0.16 },
    [
      { body: 1700, key: 69 },
      { body: 1000, tilt: 0.8 },
      { body: 600, tilt: 0.9, key: 50 },
      { body: 250, tilt: 1.2, key: 40, rise: 0.12 },
      { body: 1300, breath: 0.12, chorus: 18, vibrato: 60 },
      { fall: 0.35, rise: 0.004, knock: 0.2, vibrato: 0, tilt: 1.1 },
      { fall: 2.2, rise: 0.004, vibrato: 0, tilt: 1.3, bite: 0.7, key: 64 },
      {
        fall: 1.3,
        rise: 0.004,
        vibrato: 0,
        stretch: 0.25,
        tilt: 1.8,
        partials: 5,
        knock: 0.3,
        key: 43,
      },
    ],
  ],
  // Many at once.
  [
    { partials: 10, tilt: 0.75, rise: 0.14, chorus: 14, release: 0.35 },
    [
      { body: 1300 },
      { body: 700, rise: 0.28, tilt: 0.95 },
      { tilt: 0.5, chorus: 22, rise: 0.1 },
      { tilt: 0.8, chorus: 9, odd: 0.4, rise: 0.3 },
      { tilt: 1, body: 750, breath: 0.04, vibrato: 12 },
      { tilt: 1.8, body: 380, breath: 0.05, vibrato: 10 },
      { tilt: 0.8, body: 1000, odd: 0.3, vibrato: 24 },
      { rise: 0.004, fall: 0.8, tilt: 0.25, partials: 14, knock: 0.7, along: 12, chorus: 20 },
    ],
  ],
  // Brass.
  [
    { partials: 12, tilt: 0.45, rise: 0.045, bite: -0.5, release: 0.1 },
    [
      { body: 1200, key: 67 },
      { body: 600, tilt: 0.6, key: 53 },
      { body: 300, tilt: 1, key: 41, rise: 0.07 },
      { body: 2400, tilt: 0.3, odd: 0.3, key: 67 },
      { body: 450, tilt: 0.95, rise: 0.08 },
      { chorus: 11, tilt: 0.35 },
      { chorus: 18, tilt: 0.25, rise: 0.02 },
      { chorus: 9, tilt: 0.7, rise: 0.1, odd: 0.2 },
    ],
  ],
  // Reeds.
  [
    { partials: 12, tilt: 0.6, rise: 0.04, vibrato: 9, breath: 0.03, release: 0.09 },
    [
      { body: 1500, key: 70 },
      { body: 1000, breath: 0.06 },
      { body: 700, breath: 0.07, key: 54 },
      { body: 420, breath: 0.06, key: 46, tilt: 0.5 },
      { body: 1400, tilt: 0.2, vibrato: 14, key: 67 },
      { body: 950, tilt: 0.35, vibrato: 12 },
      { body: 450, tilt: 0.4, odd: 0.2, key: 48, vibrato: 0 },
      { odd: 0.95, tilt: 0.7, breath: 0.02, vibrato: 0 },
    ],
  ],
  // Pipes.
  [
    { partials: 4, tilt: 1.8, rise: 0.06, breath: 0.06, vibrato: 10, key: 72 },
    [
      { key: 84, tilt: 1.4 },
      { tilt: 1.5 },
      { odd: 0.5, vibrato: 0, breath: 0.03 },
      { breath: 0.2, odd: 0.6, vibrato: 0 },
      { breath: 0.35, tilt: 3, vibrato: 0, key: 60 },
      { breath: 0.22, tilt: 1.1, vibrato: 40, rise: 0.12 },
      { tilt: 4, vibrato: 22, breath: 0.01, key: 79 },
      { tilt: 3, odd: 0.4, breath: 0.02, vibrato: 0 },
    ],
  ],
  // Leads.
  [
    { partials: 16, tilt: 0.5, rise: 0.006, release: 0.08 },
    [
      { odd: 1, tilt: 1 },
      { tilt: 1, partials: 20 },
      { tilt: 2.2, breath: 0.1, partials: 4 },
      { tilt: 1.3, knock: 0.8, odd: 0.6 },
      { tilt: 0.15, fall: 3, body: 1800, bite: 0.6 },
      { tilt: 1, body: 800, vibrato: 20, rise: 0.06 },
      { tilt: 0.9, along: 7 },
      { tilt: 0.7, along: -12, chorus: 9 },
    ],
  ],
  // Pads.
  [
    { partials: 9, tilt: 1, rise: 0.35, chorus: 12, release: 0.7 },
    [
      { rise: 0.02, stretch: 0.12, tilt: 1.3 },
      { tilt: 1.7, rise: 0.4 },
      { tilt: 0.6, rise: 0.06, chorus: 20 },
      { tilt: 1.2, body: 750, breath: 0.06 },
      { tilt: 0.5, odd: 0.6, rise: 0.5, breath: 0.05 },
      { stretch: 0.42, tilt: 0.6, rise: 0.2 },
      { tilt: 1, along: 19, rise: 0.5, body: 1100 },
      { tilt: 0.3, rise: 0.9, body: 600, vibrato: 20 },
    ],
  ],
  // Effects.
  [
    { partials: 8, tilt: 0.9, rise: 0.05, chorus: 10, release: 0.6 },
    [
      { stretch: 0.7, fall: 1.2, breath: 0.12, rise: 0.004, key: 72 },
      { along: 7, rise: 0.4, tilt: 1.4 },
      { stretch: 0.55, fall: 2.4, rise: 0.004, tilt: 0.4, key: 79 },
      { fall: 2.8, rise: 0.004, body: 500, breath: 0.04, knock: 0.3 },
      { tilt: 0.1, fall: 3, rise: 0.01, chorus: 24 },
      { stretch: 0.15, vibrato: 90, odd: 0.5, rise: 0.3 },
      { fall: 1, rise: 0.004, along: 12, tilt: 1.4, knock: 0.2 },
      { stretch: 0.3, vibrato: 140, tilt: 0.3, odd: 0.8 },
    ],
  ],
  // Plucked and blown elsewhere.
  [
    { partials: 12, fall: 1.3, tilt: 0.6, bite: 0.8, knock: 0.2 },
    [
      { tilt: 0.2, chorus: 12, body: 2000, fall: 2.2 },
      { fall: 0.5, body: 900, knock: 0.35 },
      { fall: 0.7, body: 1500, knock: 0.6, tilt: 0.4 },
      { fall: 1.8, body: 700, tilt: 0.9 },
      { fall: 0.6, stretch: 0.33, tilt: 2, partials: 4, key: 72 },
      { fall: 0, rise: 0.05, tilt: 0.15, body: 1100, along: -24, knock: 0 },
      { fall: 0, rise: 0.06, tilt: 0.5, body: 2100, vibrato: 20, breath: 0.06, knock: 0, key: 67 },
      { fall: 0, rise: 0.03, tilt: 0.1, body: 1600, vibrato: 26, knock: 0, key: 67 },
    ],
  ],
  // Struck things with a pitch.
  [
    { partials: 6, fall: 0.8, stretch: 0.4, knock: 0.3, tilt: 1 },
    [
      { key: 96, stretch: 0.6, fall: 1.6, knock: 0.1 },
      { key: 76, stretch: 0.51, fall: 0.5, tilt: 0.3 },
      { key: 62, stretch: 0.06, fall: 1, tilt: 0.8, vibrato: 16 },
      { key: 72, fall: 0.1, tilt: 2, knock: 0.8 },
      { key: 36, fall: 1.1, stretch: 0.2, tilt: 3, knock: 0.7 },
      { key: 48, fall: 0.7, stretch: 0.15, tilt: 2.4 },
      { key: 50, fall: 0.5, stretch: 0.02, odd: 0.8, knock: 0.9 },
      { key: 60, rise: 0.9, fall: 0, breath: 1.4, stretch: 0.7, release: 0.05 },
    ],
  ],
  // Noises.
  [
    { partials: 2, tilt: 3, breath: 1, rise: 0.02, release: 0.3 },
    [
      { fall: 0.2, body: 2400, rise: 0.002, key: 67 },
      { fall: 0.6, body: 1000, rise: 0.08 },
      { body: 420, rise: 0.8, vibrato: 0 },
      { breath: 0.02, partials: 3, vibrato: 220, fall: 0.5, key: 96 },
      { breath: 0, partials: 6, tilt: 0.4, odd: 0.5, vibrato: 150, key: 84 },
      { body: 160, breath: 1.5, vibrato: 300, key: 36 },
      { body: 1600, breath: 1.6, chorus: 30, rise: 0.2 },
      { body: 300, breath: 2, rise: 0.001, fall: 0.5, knock: 2, key: 43 },
    ],
  ],
];

export const VOICES: readonly Voice[] = FAMILIES.flatMap(([shared, members]) =>
  members.map((own) => ({ ...PLAIN, ...shared, ...own })),
);
