/** Hands on what a microphone hears, a block at a time. */
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: unknown): void;

const BLOCKS = 32;

class CaptureProcessor extends AudioWorkletProcessor {
  private kept = new Float32Array(0);
  private used = 0;

  process(inputs: Float32Array[][]): boolean {
    const block = inputs[0]?.[0];
    if (!block) return true;
    if (this.kept.length !== block.length * BLOCKS)
      this.kept = new Float32Array(block.length * BLOCKS);
    this.kept.set(block, this.used);
    this.used += block.length;
    if (this.used === this.kept.length) {
      this.port.postMessage(this.kept.slice());
      this.used = 0;
    }
    return true;
  }
}

registerProcessor('wary-quill-capture', CaptureProcessor);
