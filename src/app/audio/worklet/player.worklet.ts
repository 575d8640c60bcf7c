import { SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
import type { FromWorklet, ToWorklet } from '../messages';
import { sounderFor } from '../../../core/sound/sounder';
import { RecordingVoice } from '../../../core/sound/voice';
import { Striker } from './striker';
import { Transport } from '../../../core/sound/transport';

declare const sampleRate: number;
declare const currentTime: number;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: unknown): void;

/** How often the place is told, in blocks of 128 samples: about every 23 ms. */
const BLOCKS_A_REPORT = 8;

class PlayerProcessor extends AudioWorkletProcessor {
  private readonly synth = new SpessaSynthProcessor(sampleRate, {
    effectsEnabled: false,
    eventsEnabled: false,
  });
  private readonly transport: Transport;
  private readonly striker: Striker;
  private readonly voice = new RecordingVoice();
  private scoreLevel = 1;
  private blocks = 0;

  constructor() {
    super();
    const sounder = sounderFor(this.synth);
    // A score that is silent begins no note: what is struck by hand is heard all the same.
    this.transport = new Transport({
      ...sounder,
      noteOn: (channel, key, velocity) => {
        if (this.scoreLevel > 0) sounder.noteOn(channel, key, velocity);
      },
    });
    this.striker = new Striker(sounder);
    this.port.onmessage = ({ data }: MessageEvent<ToWorklet>) => this.receive(data);
  }

  private tell(message: FromWorklet) {
    this.port.postMessage(message);
  }

  private receive(message: ToWorklet) {
    const { transport } = this;
    switch (message.is) {
      case 'bank':
        this.takeBank(message.bytes);
        break;
      case 'schedule':
        transport.load(message, message.atMs);
        break;
      case 'play':
        transport.play(message.atMs);
        this.blocks = 0;
        break;
      case 'stop':
        transport.stop();
        this.report();
        break;
      case 'speed':
        transport.speed(message.ratio);
        break;
      case 'loop':
        transport.setLoops(message.loops);
        break;
      case 'no-loop':
        transport.clearLoop();
        break;
      case 'mutes':
        transport.mute(message.muted);
        break;
      case 'recording':
        this.voice.load(message.samples, message.layout);
        transport.lastMs = this.voice.lengthMs;
        break;
      case 'levels':
        this.scoreLevel = message.score;
        this.voice.gain = message.recording;
        break;
      case 'strike':
        if (message.fromSeconds === undefined) this.striker.strike(message.list);
        else this.striker.add(message.list, (message.fromSeconds - currentTime) * 1000);
        break;
    }
  }

  /** In the place of the bank that was there, once it is read whole. */
  private takeBank(bytes: ArrayBuffer) {
    const { synth } = this;
    try {
      const bank = SoundBankLoader.fromArrayBuffer(bytes);
      if (bank.presets.length === 0) throw new Error('it has no sounds');
      synth.stopAllChannels(true);
      synth.soundBankManager.addSoundBank(bank, 'main');
      void synth.processorInitialized.then(() => this.tell({ is: 'ready' }));
    } catch (error) {
      this.tell({ is: 'refused', why: (error as Error).message });
    }
  }

  private report() {
    const { positionMs, playing } = this.transport;
    this.tell({ is: 'at', ms: positionMs, contextTime: currentTime, playing });
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0]!;
    if (!left) return true;
    if (this.transport.playing && this.blocks++ % BLOCKS_A_REPORT === 0) this.report();
    const { playing, positionMs, rate } = this.transport;
    if (!this.transport.advance((left.length / sampleRate) * 1000)) this.tell({ is: 'end' });
    this.striker.advance((left.length / sampleRate) * 1000);
    this.synth.process(left, right ?? left, 0, left.length);
    if (this.scoreLevel !== 1 && this.scoreLevel !== 0)
      for (const channel of outputs[0]!)
        for (let i = 0; i < channel.length; i++) channel[i]! *= this.scoreLevel;
    if (playing) this.voice.add(outputs[0]!, positionMs, (1000 / sampleRate) * rate);
    return true;
  }
}

registerProcessor('wary-quill-player', PlayerProcessor);
