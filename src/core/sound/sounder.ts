import type { SpessaSynthProcessor } from 'spessasynth_core';
import type { Sounder } from './transport';

/** The synthesiser as a transport drives it. */
export const sounderFor = (synth: SpessaSynthProcessor): Sounder => ({
  noteOn: (channel, key, velocity) => synth.noteOn(channel, key, velocity),
  noteOff: (channel, key) => synth.noteOff(channel, key),
  control: (channel, controller, value) =>
    synth.controllerChange(channel, controller as never, value),
  program: (channel, program) => synth.programChange(channel, program),
  bend: (channel, value) => synth.pitchWheel(channel, value),
  pressure: (channel, value) => synth.channelPressure(channel, value),
  keyPressure: (channel, key, value) => synth.polyPressure(channel, key, value),
  reset: () => {
    synth.stopAllChannels(true);
    synth.reset();
  },
  silence: () => synth.stopAllChannels(false),
});
