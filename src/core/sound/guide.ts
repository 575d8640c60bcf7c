import { SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Schedule } from './schedule';
import type { Samples } from './samples';
import { sounderFor } from './sounder';
import { Transport } from './transport';

const BLOCK = 128;
const CHECK_EVERY = 64;

/**
 * The score as a bank sounds it, stereo, exactly as long as is said: played by the same transport
 * as on the screen, block by block. The same schedule and bank give the same samples.
 */
export async function renderGuide(
  schedule: Schedule,
  bank: ArrayBuffer,
  { rate, lengthMs, checkpoint }: { rate: number; lengthMs: number; checkpoint?: Checkpoint },
): Promise<Samples> {
  const synth = new SpessaSynthProcessor(rate, { effectsEnabled: false, eventsEnabled: false });
  synth.soundBankManager.addSoundBank(SoundBankLoader.fromArrayBuffer(bank), 'main');
  await synth.processorInitialized;
  const transport = new Transport(sounderFor(synth));
  transport.load(schedule, 0);
  transport.play(0);
  const frames = Math.round((lengthMs * rate) / 1000);
  const channels = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames; at += BLOCK) {
    if ((at / BLOCK) % CHECK_EVERY === 0) checkpoint?.(at, frames);
    const length = Math.min(BLOCK, frames - at);
    transport.advance((length / rate) * 1000);
    const [left, right] = channels.map((c) => c.subarray(at, at + length));
    synth.process(left!, right!, 0, length);
  }
  return { rate, channels };
}
