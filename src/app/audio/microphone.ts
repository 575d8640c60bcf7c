import workletUrl from './worklet/capture.worklet.ts?worker&url';

/** Longer is more than any link lasts. */
export const LONGEST_SECONDS = 600;

/** What a microphone hears, kept until it is stopped; nothing leaves this page. */
export class Microphone {
  private readonly parts: Float32Array[] = [];
  private count = 0;
  private constructor(
    private readonly context: AudioContext,
    private readonly stream: MediaStream,
  ) {}

  /** Asks the user; rejects where that is refused or there is none. */
  static async open(heard: () => void): Promise<Microphone> {
    // The link is tones and no speech: nothing is to be cleaned away.
    const audio = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };
    const stream = await navigator.mediaDevices.getUserMedia({ audio });
    const context = new AudioContext();
    const mine = new Microphone(context, stream);
    try {
      await context.audioWorklet.addModule(workletUrl);
      const node = new AudioWorkletNode(context, 'wary-quill-capture', { numberOfOutputs: 0 });
      node.port.onmessage = ({ data }: MessageEvent<Float32Array>) => {
        if (mine.seconds >= LONGEST_SECONDS) return;
        mine.parts.push(data);
        mine.count += data.length;
        heard();
      };
      new MediaStreamAudioSourceNode(context, { mediaStream: stream }).connect(node);
      await context.resume();
    } catch (error) {
      mine.close();
      throw error;
    }
    return mine;
  }

  get rate(): number {
    return this.context.sampleRate;
  }
  get seconds(): number {
    return this.count / this.rate;
  }
  /** Loudest of the last moment, 0–1. */
  get level(): number {
    let most = 0;
    for (const v of this.parts.at(-1) ?? []) most = Math.max(most, Math.abs(v));
    return most;
  }
  /** All that was heard so far. */
  get samples(): Float32Array {
    const all = new Float32Array(this.count);
    let at = 0;
    for (const part of this.parts) {
      all.set(part, at);
      at += part.length;
    }
    return all;
  }

  close() {
    for (const track of this.stream.getTracks()) track.stop();
    void this.context.close();
  }
}
