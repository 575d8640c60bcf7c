import { describe, expect, it } from 'vitest';
import type { Sample } from '../module';
import { hear, roleByName, type SampleUse } from './role';
import { soundingPitch } from './pitch';

const SHAPES: Readonly<Record<string, (turn: number) => number>> = {
  sine: (t) => Math.sin(2 * Math.PI * t),
  saw: (t) => 2 * (t - Math.floor(t)) - 1,
  square: (t) => (t - Math.floor(t) < 0.5 ? 0.9 : -0.9),
  pulse: (t) => (t - Math.floor(t) < 0.2 ? 0.9 : -0.3),
  triangle: (t) => 4 * Math.abs(t - Math.floor(t) - 0.5) - 1,
  bright: (t) =>
    0.4 * Math.sin(2 * Math.PI * t) +
    0.5 * Math.sin(4 * Math.PI * t) +
    0.4 * Math.sin(6 * Math.PI * t) +
    0.2 * Math.sin(10 * Math.PI * t),
};
const random = (seed: number) => () =>
  (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;

const sampleOf = (frames: Float32Array, more: Partial<Sample> = {}): Sample => ({
  name: '',
  frames,
  right: null,
  rate: 8363,
  volume: 64,
  gain: 1,
  pan: null,
  loop: null,
  sustain: null,
  vibrato: null,
  ...more,
});
const use = (more: Partial<SampleUse> = {}): SampleUse => ({
  instrument: '',
  strikes: 20,
  keys: [60],
  middleKey: 60,
  held: 0.4,
  ...more,
});

describe('the pitch that sounds', () => {
  it('within fifty cents for nine of ten, an octave off for one of twenty at most', () => {
    const roll = random(5);
    let [near, octave, all] = [0, 0, 0];
    for (const shape of Object.values(SHAPES))
      for (let i = 0; i < 20; i++) {
        const rate = [8363, 11025, 16726, 22050, 44100][Math.floor(roll() * 5)]!;
        const hz = 55 * 2 ** (roll() * 4.2);
        const seconds = 0.15 + roll();
        const wavers = roll() < 0.4 ? 0.25 : 0;
        let phase = 0;
        const frames = Float32Array.from({ length: Math.round(rate * seconds) }, (_, n) => {
          const t = n / rate;
          phase += (hz * 2 ** ((wavers * Math.sin(2 * Math.PI * 5.5 * t)) / 12)) / rate;
          return 0.7 * shape(phase) * Math.exp(-t) + 0.07 * (2 * roll() - 1);
        });
        const found = soundingPitch(sampleOf(frames, { rate }));
        const off = found ? 12 * Math.log2(found.hz / hz) : 99;
        all++;
        if (Math.abs(off) <= 0.5) near++;
        else if (Math.abs(Math.abs(off) - 12) < 0.6) octave++;
      }
    expect(near / all).toBeGreaterThanOrEqual(0.9);
    expect(octave / all).toBeLessThanOrEqual(0.05);
  });
  it('of a loop of a single turn', () => {
    const frames = Float32Array.from({ length: 32 }, (_, i) => SHAPES.saw!(i / 32));
    const pitch = soundingPitch(sampleOf(frames, { loop: { from: 0, to: 32, pingPong: false } }))!;
    // 8363 / 32 is the middle C.
    expect(pitch.semitones).toBe(0);
    expect(Math.abs(pitch.cents)).toBeLessThan(5);
  });
  it('noise has none to speak of', () => {
    const roll = random(9);
    const frames = Float32Array.from({ length: 4000 }, () => 2 * roll() - 1);
    expect(soundingPitch(sampleOf(frames))?.strength ?? 0).toBeLessThan(0.5);
  });
});

describe('what a sample is', () => {
  const rate = 22_050;
  const roll = random(3);
  const made = (seconds: number, of: (t: number) => number, more: Partial<Sample> = {}) =>
    sampleOf(
      Float32Array.from({ length: Math.round(rate * seconds) }, (_, n) => of(n / rate)),
      { rate, ...more },
    );
  const noise = () => 2 * roll() - 1;
  let held = 0;
  const highNoise = () => {
    const now = noise();
    const out = now - held;
    held = now;
    return out / 2;
  };
  const kick = (t: number) =>
    0.9 * Math.sin(2 * Math.PI * (50 * t + 6 * (1 - Math.exp(-t * 30)))) * Math.exp(-t * 9);
  const snare = (t: number) =>
    (0.5 * noise() + 0.3 * Math.sin(2 * Math.PI * 190 * t)) * Math.exp(-t * 16);
  const hat = (t: number) => 0.6 * highNoise() * Math.exp(-t * 45);
  it.each([
    ['bass drum', made(0.4, kick), {}],
    ['snare', made(0.3, snare), {}],
    ['hat', made(0.15, hat), {}],
    ['cymbal', made(1.5, (t) => 0.6 * highNoise() * Math.exp(-t * 2.5)), {}],
    ['tom', made(0.5, (t) => Math.sin(2 * Math.PI * (160 * t + 3 * (1 - Math.exp(-t * 12)))) * Math.exp(-t * 8)), { keys: [55, 60, 64] }],
    ['bass', made(0.8, (t) => 0.7 * SHAPES.saw!(65 * t) * Math.exp(-t)), { keys: [60, 63, 65, 67] }],
    ['lead', made(0.8, (t) => 0.7 * SHAPES.square!(330 * t) * Math.exp(-t)), { keys: [60, 62, 64, 65, 67] }],
    ['chord', made(0.8, (t) => 0.25 * (SHAPES.sine!(262 * t) + SHAPES.sine!(311.1 * t) + SHAPES.sine!(392 * t)) * Math.exp(-t)), {}],
    ['silence', made(0.2, () => 0), {}],
  ] as const)('%s', (role, sample, how) => {
    expect(hear(sample, use(how)).role).toBe(role);
  }); // prettier-ignore
  it('“bass” is a drum where it falls at once, without a pitch, on one key', () => {
    expect(hear(made(0.3, kick, { name: 'bass:*' }), use()).role).toBe('bass drum');
    expect(hear(made(0.3, kick), use({ instrument: 'Bass' })).role).toBe('bass drum');
    const low = made(0.8, (t) => 0.7 * SHAPES.saw!(65 * t) * Math.exp(-t), { name: 'bass' });
    expect(hear(low, use()).role).toBe('bass');
    const many = use({ keys: [48, 50, 53, 55] });
    expect(hear(made(0.3, kick, { name: 'bass' }), many).role).toBe('bass');
  });
  it('the name of its instrument tells where its own says nothing', () => {
    const thud = made(0.3, (t) => Math.sin(2 * Math.PI * 330 * t) * Math.exp(-t * 20), {
      name: 'NoName',
    });
    expect(hear(thud, use({ instrument: 'snare' })).role).toBe('snare');
    expect(hear({ ...thud, name: 'floor tom' }, use({ instrument: 'snare' })).role).toBe('tom');
  });
  it('what goes round above 4 kHz on one key is a cymbal', () => {
    const crash = made(1.2, () => 0.6 * highNoise(), {
      loop: { from: 4000, to: 8000, pingPong: false },
    });
    expect(hear(crash, use()).role).toBe('cymbal');
  });
  it('a beat inside a sample, with its tempo and its hits on their drums', () => {
    const beat = made(2, (t) => {
      const step = Math.floor(t / 0.125);
      const in16 = t - step * 0.125;
      let v = step % 2 === 0 ? 0.3 * hat(in16) : 0;
      if (step % 8 === 0) v += kick(in16) * Math.exp(-in16 * 20);
      if (step % 8 === 4) v += snare(in16);
      return v;
    });
    const heard = hear(beat, use());
    expect(heard.role).toBe('beat');
    expect(heard.beat!.bpm).toBeCloseTo(120, 0);
    expect(heard.beat!.beats).toBe(4);
    const at = (key: number) =>
      heard.beat!.hits.filter((h) => h.key === key).map((h) => Math.round(h.at / 0.125));
    expect(at(36)).toEqual([0, 8]);
    expect(at(38)).toEqual([4, 12]);
  });
  it('names speak in whole words, letters to friends do not', () => {
    expect(roleByName('BD 01')).toBe('bass drum');
    expect(roleByName('hihat_open')).toBe('hat');
    expect(roleByName('slap-bass')).toBe('bass');
    expect(roleByName('greetings to all at the bass club tonight')).toBeNull();
    expect(roleByName('embassy')).toBeNull();
    expect(roleByName('embass')).toBeNull();
  });
  it('names speak inside of words too, and a loop of strings is no beat', () => {
    const roles = {
      'bass drum': ['kickhard', 'Kickdrum2', 'bassdr.909'],
      snare: ['rocksnare', 'SNARE_ROLL'],
      hat: ['open hi-hat', 'ClosedHat1', 'hihats'],
      cymbal: ['crash1', 'cymbals'],
      'other drum': ['lowconga', 'logdrum'],
      bass: ['acidbass', 'synbass 2', 'bassguitar', 'bass loop'],
      chord: ['chords', 'housechord'],
      pad: ['stringens', 'string loop', 'choirs'],
      speech: ['vocals', 'vocalbit'],
      lead: ['leadsaw', 'synthlead', 'piano2', 'eguitar', 'flute loop'],
      beat: ['drumloop', 'amenloop', 'drum loop 1', 'breakbeat', 'loop'],
    } as const;
    for (const [role, names] of Object.entries(roles))
      for (const name of names) expect(roleByName(name), name).toBe(role);
    for (const name of ['what was that', 'chatter', 'embass'])
      expect(roleByName(name), name).toBeNull();
    for (const name of ['harpsichord', 'Clavichord 2']) expect(roleByName(name), name).toBe('lead');
    for (const name of ['reed', 'untitled', 'a.b', 'plastic', 'hatch', 'toms friend'])
      expect(['tom', null], name).toContain(roleByName(name));
  });
});
