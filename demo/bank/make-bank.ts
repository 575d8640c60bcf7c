import {
  BasicInstrument,
  BasicPreset,
  BasicSample,
  BasicSoundBank,
  GeneratorTypes,
} from 'spessasynth_core';
import { programName } from '../../src/core/seating/programs';
import { DRUMS, renderDrum } from './drums';
import { RATE, renderVoice } from './render-voice';
import { VOICES, type Voice } from './voices';

/** SoundFont 2.04, 8.1.3: times are timecents, 1200 × log2(seconds). */
const timecents = (seconds: number) => Math.round(1200 * Math.log2(seconds));
/** SoundFont 2.04, 8.1.3, generator 37: how far it falls, in tenths of a decibel. */
const SILENT = 1000;
/** What SoundFont's frequency of the vibrato is counted from, hertz. */
const LFO_ZERO = 8.176;
const VIBRATO_HZ = 5.4;

/** What its zone does to the sample of a voice. */
function shape(zone: ReturnType<BasicInstrument['createZone']>, voice: Voice) {
  zone.setGenerator(GeneratorTypes.sampleModes, 1);
  zone.setGenerator(GeneratorTypes.releaseVolEnv, timecents(voice.release));
  if (voice.rise > 0.25) zone.setGenerator(GeneratorTypes.attackVolEnv, timecents(voice.rise));
  if (voice.fall > 0) {
    // A decay is counted over 100 dB: what is said is the time in which it falls by 40.
    zone.setGenerator(GeneratorTypes.decayVolEnv, timecents(voice.fall * 2.5));
    zone.setGenerator(GeneratorTypes.sustainVolEnv, SILENT);
  }
  if (voice.vibrato > 0) {
    zone.setGenerator(GeneratorTypes.vibLfoToPitch, voice.vibrato);
    zone.setGenerator(GeneratorTypes.freqVibLFO, timecents(VIBRATO_HZ / LFO_ZERO));
    zone.setGenerator(GeneratorTypes.delayVibLFO, timecents(0.12));
  }
}

/**
 * The built-in sounds: the 128 of General MIDI Level 1 and a kit, synthesised here from numbers, each
 * with a sample of its own, so that they tell apart at once.
 */
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
  VOICES.forEach((voice, program) => {
    // SoundFont names have twenty letters.
    const name = programName(program).slice(0, 20);
    const { audio, loopStart, loopEnd } = renderVoice(voice, program + 1);
    const sample = new BasicSample(name, RATE, voice.key, 0, 1, loopStart, loopEnd);
    sample.setAudioData(audio, RATE);
    const instrument = new BasicInstrument();
    instrument.name = name;
    shape(instrument.createZone(sample), voice);
    bank.addSamples(sample);
    bank.addInstruments(instrument);
    preset(name, program, instrument);
  });
  const kit = new BasicInstrument();
  kit.name = 'Quay drums';
  for (const drum of DRUMS) {
    const audio = renderDrum(drum);
    const sample = new BasicSample(`Drum ${drum.key}`, RATE, 60, 0, 1, 0, audio.length - 1);
    sample.setAudioData(audio, RATE);
    bank.addSamples(sample);
    const zone = kit.createZone(sample);
    // Keys beyond the ends have the sound of the last one.
    const { key } = drum;
    zone.keyRange = {
      min: key === DRUMS[0]!.key ? 0 : key,
      max: key === DRUMS.at(-1)!.key ? 127 : key,
    };
    zone.setGenerator(GeneratorTypes.scaleTuning, 0);
    zone.setGenerator(GeneratorTypes.releaseVolEnv, timecents(0.5));
  }
  bank.addInstruments(kit);
  preset('Quay drums', 0, kit, true);
  bank.flush();
  return bank.writeSF2();
}
