import {
  BasicInstrument,
  BasicPreset,
  BasicSample,
  BasicSoundBank,
  GeneratorTypes,
} from 'spessasynth_core';

/**
 * The built-in sounds: plain waves and noises, synthesised here, told apart at once. Nine timbres
 * stand for the families of General MIDI, and one kit for the drums.
 */
const RATE = 22_050;

type Wave = (t: number, phase: number) => number;

const TAU = 2 * Math.PI;
const sine = (phase: number) => Math.sin(TAU * phase);

interface Timbre {
  name: string;
  /** First program of the families that it stands for, from 0. */
  programs: readonly [number, number][];
  key: number;
  seconds: number;
  /** Whether it sounds on while the key is held. */
  held: boolean;
  releaseSeconds: number;
  wave: Wave;
}

const partials = (amounts: readonly number[], ratios?: readonly number[]) => (phase: number) =>
  amounts.reduce((sum, a, i) => sum + a * sine(phase * (ratios?.[i] ?? i + 1)), 0);

const struck = (decay: number) => (t: number) => Math.exp(-t * decay) * Math.min(1, t * 400);
const held = (rise: number) => (t: number) => Math.min(1, t / rise);

const timbres: readonly Timbre[] = [
  {
    name: 'Struck strings',
    programs: [[0, 7]],
    key: 60,
    seconds: 2,
    held: false,
    releaseSeconds: 0.2,
    wave: (t, p) => struck(2.2)(t) * partials([0.6, 0.3, 0.16, 0.09, 0.05])(p),
  },
  {
    name: 'Bells',
    programs: [
      [8, 15],
      [112, 119],
    ],
    key: 72,
    seconds: 2.4,
    held: false,
    releaseSeconds: 1.2,
    wave: (t, p) => struck(1.6)(t) * partials([0.5, 0.28, 0.2, 0.14], [1, 2.76, 5.4, 8.93])(p),
  },
  {
    name: 'Reed organ',
    programs: [[16, 23]],
    key: 60,
    seconds: 1,
    held: true,
    releaseSeconds: 0.08,
    wave: (t, p) => held(0.03)(t) * 0.5 * partials([0.6, 0.1, 0.35, 0.05, 0.2, 0.03, 0.1])(p),
  },
  {
    name: 'Plucked',
    programs: [
      [24, 31],
      [104, 111],
    ],
    key: 60,
    seconds: 1.4,
    held: false,
    releaseSeconds: 0.12,
    wave: (t, p) => struck(4)(t) * partials([0.5, 0.36, 0.26, 0.18, 0.1, 0.06])(p),
  },
  {
    name: 'Low strings',
    programs: [[32, 39]],
    key: 40,
    seconds: 1.4,
    held: false,
    releaseSeconds: 0.1,
    wave: (t, p) => struck(2.4)(t) * partials([0.8, 0.34, 0.1])(p),
  },
  {
    name: 'Bowed',
    programs: [[40, 55]],
    key: 60,
    seconds: 1,
    held: true,
    releaseSeconds: 0.25,
    wave: (t, p) => held(0.09)(t) * 0.42 * partials([0.6, 0.36, 0.26, 0.2, 0.14, 0.1])(p),
  },
  {
    name: 'Brass',
    programs: [[56, 63]],
    key: 60,
    seconds: 1,
    held: true,
    releaseSeconds: 0.1,
    wave: (t, p) => held(0.05)(t) * 0.4 * partials([0.5, 0.5, 0.42, 0.3, 0.2, 0.14, 0.1])(p),
  },
  {
    name: 'Pipes',
    programs: [[64, 79]],
    key: 67,
    seconds: 1,
    held: true,
    releaseSeconds: 0.1,
    wave: (t, p) => held(0.06)(t) * partials([0.6, 0.06, 0.12])(p),
  },
  {
    name: 'Fog',
    programs: [
      [80, 103],
      [120, 127],
    ],
    key: 60,
    seconds: 1,
    held: true,
    releaseSeconds: 0.5,
    wave: (t, p) => held(0.2)(t) * 0.5 * partials([0.5, 0.3, 0, 0.2, 0, 0, 0.1])(p),
  },
];

/** White noise that is the same each time: a linear congruential generator, 32 bits. */
function noise() {
  let state = 1;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 31 - 1;
  };
}

const hz = (key: number) => 440 * 2 ** ((key - 69) / 12);

/** A held wave loops over whole periods near the end of its sample. */
function renderTimbre(timbre: Timbre): BasicSample {
  const frequency = hz(timbre.key);
  const length = Math.round(timbre.seconds * RATE);
  const audio = new Float32Array(length);
  for (let i = 0; i < length; i++) {
    const t = i / RATE;
    audio[i] = 0.7 * timbre.wave(t, t * frequency);
  }
  const periods = Math.floor(0.4 * frequency);
  const loopEnd = length - 8;
  const exact = (periods * RATE) / frequency;
  const loopStart = loopEnd - Math.round(exact);
  const sample = new BasicSample(timbre.name, RATE, timbre.key, 0, 1, loopStart, loopEnd);
  sample.setAudioData(audio, RATE);
  return sample;
}

interface Drum {
  name: string;
  keys: readonly [number, number];
  seconds: number;
  wave: (t: number, random: () => number) => number;
}

const drums: readonly Drum[] = [
  {
    name: 'Deep skin',
    keys: [0, 36],
    seconds: 0.35,
    wave: (t) => Math.exp(-t * 9) * sine(45 * t + (90 * (1 - Math.exp(-t * 30))) / 30),
  },
  {
    name: 'Side stick',
    keys: [37, 37],
    seconds: 0.1,
    wave: (t, r) => Math.exp(-t * 70) * (0.6 * sine(1700 * t) + 0.4 * r()),
  },
  {
    name: 'Rattle skin',
    keys: [38, 40],
    seconds: 0.28,
    wave: (t, r) => Math.exp(-t * 16) * (0.5 * r() + 0.5 * sine(190 * t)),
  },
  {
    name: 'Middle skin',
    keys: [41, 41],
    seconds: 0.4,
    wave: (t) => Math.exp(-t * 8) * sine(110 * t),
  },
  {
    name: 'Closed plate',
    keys: [42, 44],
    seconds: 0.09,
    wave: (t, r) => Math.exp(-t * 60) * 0.6 * r(),
  },
  {
    name: 'High skin',
    keys: [45, 45],
    seconds: 0.35,
    wave: (t) => Math.exp(-t * 9) * sine(160 * t),
  },
  {
    name: 'Open plate',
    keys: [46, 46],
    seconds: 0.5,
    wave: (t, r) => Math.exp(-t * 7) * 0.5 * r(),
  },
  {
    name: 'Top skin',
    keys: [47, 48],
    seconds: 0.3,
    wave: (t) => Math.exp(-t * 10) * sine(210 * t),
  },
  {
    name: 'Crash plate',
    keys: [49, 59],
    seconds: 1,
    wave: (t, r) => Math.exp(-t * 3.4) * (0.4 * r() + 0.12 * sine(3100 * t)),
  },
  {
    name: 'Wood',
    keys: [60, 127],
    seconds: 0.14,
    wave: (t) => Math.exp(-t * 34) * (0.7 * sine(820 * t) + 0.3 * sine(1260 * t)),
  },
];

function renderDrum(drum: Drum): BasicSample {
  const length = Math.round(drum.seconds * RATE);
  const random = noise();
  const audio = new Float32Array(length);
  for (let i = 0; i < length; i++) audio[i] = 0.8 * drum.wave(i / RATE, random);
  const sample = new BasicSample(drum.name, RATE, 60, 0, 1, 0, length - 1);
  sample.setAudioData(audio, RATE);
  return sample;
}

/** SoundFont 2.04, 8.1.3: times are timecents, 1200 × log2(seconds). */
const timecents = (seconds: number) => Math.round(1200 * Math.log2(seconds));

export async function makeBank(): Promise<ArrayBuffer> {
  const bank = new BasicSoundBank();
  bank.soundBankInfo.name = 'Wary Quill sounds';
  bank.soundBankInfo.creationDate = new Date(Date.UTC(2026, 0, 1));
  const preset = (name: string, program: number, instrument: BasicInstrument, drum = false) => {
    const made = new BasicPreset(bank);
    made.name = name;
    made.program = program;
    made.isGMGSDrum = drum;
    made.createZone(instrument);
    bank.addPresets(made);
  };
  for (const timbre of timbres) {
    const sample = renderTimbre(timbre);
    const instrument = new BasicInstrument();
    instrument.name = timbre.name;
    const zone = instrument.createZone(sample);
    zone.setGenerator(GeneratorTypes.sampleModes, timbre.held ? 1 : 0);
    zone.setGenerator(GeneratorTypes.releaseVolEnv, timecents(timbre.releaseSeconds));
    bank.addSamples(sample);
    bank.addInstruments(instrument);
    for (const [from, to] of timbre.programs)
      for (let program = from; program <= to; program++) preset(timbre.name, program, instrument);
  }
  const kit = new BasicInstrument();
  kit.name = 'Quay drums';
  for (const drum of drums) {
    const sample = renderDrum(drum);
    bank.addSamples(sample);
    const zone = kit.createZone(sample);
    zone.keyRange = { min: drum.keys[0], max: drum.keys[1] };
    zone.setGenerator(GeneratorTypes.scaleTuning, 0);
    zone.setGenerator(GeneratorTypes.releaseVolEnv, timecents(0.5));
  }
  bank.addInstruments(kit);
  preset('Quay drums', 0, kit, true);
  bank.flush();
  return bank.writeSF2();
}
