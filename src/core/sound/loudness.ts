import { SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
import type { Checkpoint } from '../diagnostic/checkpoint';
import type { Schedule } from './schedule';
import { SILENT_DB } from './levels';
import { sounderFor } from './sounder';
import { Transport } from './transport';

const RATE = 22_050;
const BLOCK = 128;
const CHECK_EVERY = 256;
/** What of a stretch is listened to at the most. */
const MOST_MS = 6000;

/** A synthesiser that measures how loud single parts are; built once for a bank. */
export class LoudnessMeter {
  private readonly synth = new SpessaSynthProcessor(RATE, {
    effectsEnabled: false,
    eventsEnabled: false,
  });
  private readonly transport = new Transport(sounderFor(this.synth));

  static async of(bank: ArrayBuffer): Promise<LoudnessMeter> {
    const meter = new LoudnessMeter();
    const { synth } = meter;
    synth.soundBankManager.addSoundBank(SoundBankLoader.fromArrayBuffer(bank), 'main');
    await synth.processorInitialized;
    return meter;
  }

  /**
   * Mean loudness of one part over a stretch, in decibels of full scale; `SILENT_DB` where nothing
   * is heard of it.
   */
  of(
    schedule: Schedule,
    part: number,
    { fromMs, toMs }: { readonly fromMs: number; readonly toMs: number },
    checkpoint?: Checkpoint,
  ): number {
    const { transport, synth } = this;
    let parts = 0;
    for (let i = 0; i < schedule.count; i++) parts = Math.max(parts, schedule.part[i]! + 1);
    transport.load(schedule, fromMs);
    transport.mute(Uint8Array.from({ length: parts }, (_, p) => (p === part ? 0 : 1)));
    synth.stopAllChannels(true);
    transport.play(fromMs);
    const frames = Math.round((Math.min(MOST_MS, Math.max(0, toMs - fromMs)) * RATE) / 1000);
    const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
    let sum = 0;
    for (let at = 0; at < frames; at += BLOCK) {
      if ((at / BLOCK) % CHECK_EVERY === 0) checkpoint?.(at, frames);
      transport.advance((BLOCK / RATE) * 1000);
      left.fill(0);
      right.fill(0);
      synth.process(left, right, 0, BLOCK);
      for (let i = 0; i < BLOCK; i++) sum += left[i]! ** 2 + right[i]! ** 2;
    }
    transport.stop();
    synth.stopAllChannels(true);
    const mean = sum / Math.max(1, 2 * frames);
    return mean > 0 ? Math.max(SILENT_DB, 10 * Math.log10(mean)) : SILENT_DB;
  }
}
