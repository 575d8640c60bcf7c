import { Track, degree, smf } from '../song';

/**
 * Songs of bands, played as people play them: other hands, PPQs, channels and registers than the
 * lantern week's, and it is known who has the tune. For measuring how songs are arranged.
 */
export interface BandSong {
  readonly shape: string;
  readonly name: string;
  readonly bytes: Uint8Array;
  /** Names of tracks, those that have the tune first by how much of it they have. */
  readonly lead: readonly string[];
  readonly bass: readonly string[];
  readonly drums: readonly string[];
}

export type Roll = (below: number) => number;

type Mode = readonly number[];

const MAJOR: Mode = [0, 2, 4, 5, 7, 9, 11];

const MINOR: Mode = [0, 2, 3, 5, 7, 8, 10];

const MIXED: Mode = [0, 2, 4, 5, 7, 9, 10];

/** Chords by degree, one a bar; verses and refrains differ. */
const ROUNDS = [
  [0, 5, 3, 4],
  [0, 3, 4, 3],
  [5, 3, 0, 4],
  [0, 4, 5, 3, 0, 3, 4, 4],
  [1, 4, 0, 0, 1, 4, 0, 5],
  [0, 0, 3, 0, 4, 3, 0, 4],
] as const;

/** Rhythms of a bar of a tune, in eighths: where it begins and how long. */
export const FIGURES = [
  [0, 2, 2, 1, 3, 1, 4, 4],
  [0, 3, 3, 1, 4, 2, 6, 2],
  [1, 1, 2, 2, 4, 1, 5, 3],
  [0, 1, 1, 1, 2, 2, 4, 3, 7, 1],
  [0, 6, 6, 2],
  [2, 2, 4, 2, 6, 2],
] as const;

export class Band {
  readonly ppq: number;
  readonly beats: number;
  readonly bpm: number;
  readonly root: number;
  readonly mode: Mode;
  readonly bars: number;
  readonly chords: readonly (readonly number[])[];
  readonly loose: number;
  readonly swing: number;
  private readonly tracks: Track[] = [];
  private readonly free: number[];
  readonly lead: string[] = [];
  readonly bass: string[] = [];
  readonly drums: string[] = [];

  constructor(
    readonly roll: Roll,
    { beats = 4, swing = 0, bars = 0 }: { beats?: number; swing?: number; bars?: number } = {},
  ) {
    this.ppq = [96, 120, 192, 240, 384, 480, 960][roll(7)]!;
    this.beats = beats;
    this.swing = swing;
    this.bpm = 72 + roll(90);
    this.root = 55 + roll(10);
    this.mode = [MAJOR, MINOR, MIXED][roll(3)]!;
    this.bars = bars || 32 + 8 * roll(6);
    this.chords = [ROUNDS[roll(ROUNDS.length)]!, ROUNDS[roll(ROUNDS.length)]!];
    this.loose = [0, 0.01, 0.03][roll(3)]!;
    // Who stands on which channel tells nothing.
    this.free = [1, 2, 3, 4, 5, 6, 7, 8, 9, 11, 12, 13, 14, 15, 16];
    if (roll(2) === 0)
      for (let i = this.free.length - 1; i > 0; i--) {
        const k = roll(i + 1);
        [this.free[i], this.free[k]] = [this.free[k]!, this.free[i]!];
      }
  }

  get bar() {
    return this.ppq * this.beats;
  }
  /** Verse 0, refrain 1, bridge 2; eight bars each, the first four are an opening. */
  section(bar: number): number {
    return bar < 4 ? 0 : [0, 0, 1, 0, 1, 2, 1, 1][Math.floor((bar - 4) / 8) % 8]!;
  }
  chord(bar: number): number {
    const round = this.chords[this.section(bar) === 1 ? 1 : 0]!;
    return round[bar % round.length]!;
  }
  player(name: string, program: number, as?: 'lead' | 'bass' | 'drums'): Player {
    const channel = as === 'drums' ? 10 : this.free.shift()!;
    const track = new Track(name);
    if (as !== 'drums') track.program(0, channel, program);
    track.control(0, channel, 7, 80 + this.roll(40)).control(0, channel, 10, 34 + this.roll(60));
    this.tracks.push(track);
    if (as) this[as].push(name);
    return new Player(this, track, channel);
  }
  song(shape: string, name: string): BandSong {
    const conductor = new Track(name).tempo(0, this.bpm).meter(0, this.beats, 4);
    // Tracks stand in any order.
    if (this.roll(2) === 0) this.tracks.reverse();
    const bytes = smf(1, this.ppq, [conductor, ...this.tracks], (this.bars + 1) * this.bar);
    return { shape, name, bytes, lead: this.lead, bass: this.bass, drums: this.drums };
  }
}

/** Somebody with an instrument: plays by bars and quarters, a little beside them. */
export class Player {
  constructor(
    private readonly band: Band,
    readonly track: Track,
    readonly channel: number,
  ) {}
  /** @param at quarters from the beginning of the bar; `long` quarters */
  hit(bar: number, at: number, long: number, key: number, velocity: number) {
    const { band } = this;
    const { ppq, roll } = band;
    const off = at % 1 === 0.5 ? band.swing / 6 : 0;
    const loose = band.loose === 0 ? 0 : (roll(201) / 100 - 1) * band.loose;
    const tick = Math.round(bar * band.bar + (at + off + loose) * ppq);
    const end = Math.round(bar * band.bar + (at + long) * ppq);
    const struck = Math.max(20, Math.min(126, velocity + roll(13) - 6));
    if (key < 12 || key > 115 || bar >= band.bars) return;
    this.track.note(
      this.channel,
      Math.max(0, tick),
      Math.max(2, end - Math.max(0, tick)),
      key,
      struck,
    );
  }
  chord(
    bar: number,
    at: number,
    long: number,
    keys: readonly number[],
    velocity: number,
    spread = 0,
  ) {
    keys.forEach((key, n) => this.hit(bar, at + n * spread, long - n * spread, key, velocity));
  }
  /** A strum: down by the lower strings first, some 25 ms from the first to the last. */
  strum(bar: number, at: number, long: number, keys: readonly number[], velocity: number) {
    const each = ((this.band.bpm / 60) * 0.028) / Math.max(1, keys.length - 1);
    const order = at % 1 === 0 ? keys : [...keys].reverse();
    this.chord(bar, at, long, order, velocity, each);
  }
}

export const triad = (b: Band, bar: number, low: number, notes = 3): number[] => {
  const keys = Array.from({ length: notes }, (_, n) =>
    degree(b.mode, b.root, b.chord(bar) + n * 2),
  );
  // Near where the hand lies.
  return keys.map((k) => low + ((((k - low) % 12) + 12) % 12)).sort((x, y) => x - y);
};
