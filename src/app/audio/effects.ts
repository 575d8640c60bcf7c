import type { EffectsState } from './preset-effects';

/** Seconds in which a change is faded in: no click of ours is heard beside those of the music. */
const FADE = 0.012;
const LONGEST_DELAY = 2;

/** A few plain nodes between the synthesiser and the volume; nothing of them where all is off. */
export class Effects {
  readonly input: GainNode;
  readonly output: GainNode;
  private readonly clean: GainNode;
  private readonly driven: GainNode;
  private readonly tone: BiquadFilterNode;
  private readonly swing: GainNode;
  private readonly depth: GainNode;
  private readonly echo: DelayNode;
  private readonly wet: GainNode;
  private readonly level: GainNode;

  constructor(private readonly context: BaseAudioContext) {
    const gain = (value: number) => new GainNode(context, { gain: value });
    this.input = gain(1);
    this.output = gain(1);
    this.level = gain(1);
    this.clean = gain(1);
    this.driven = gain(0);
    const shaper = new WaveShaperNode(context, {
      curve: Float32Array.from({ length: 257 }, (_, i) => Math.tanh(((i - 128) / 128) * 6) * 0.5),
      oversample: '2x',
    });
    this.tone = new BiquadFilterNode(context, { type: 'lowpass', frequency: 20_000, Q: 0.9 });
    this.swing = gain(1);
    this.depth = gain(0);
    const wave = new OscillatorNode(context, { frequency: 5.5 });
    this.echo = new DelayNode(context, { maxDelayTime: LONGEST_DELAY, delayTime: 0.4 });
    const again = gain(0.38);
    this.wet = gain(0);
    this.input.connect(this.level);
    this.level.connect(this.clean).connect(this.tone);
    this.level.connect(shaper).connect(this.driven).connect(this.tone);
    this.tone.connect(this.swing);
    wave.connect(this.depth).connect(this.swing.gain);
    wave.start();
    this.swing.connect(this.output);
    this.swing.connect(this.wet).connect(this.echo).connect(this.output);
    this.echo.connect(again).connect(this.echo);
  }

  set({ drive, tremolo, delay, filter, level, delayMs }: EffectsState) {
    const to = (param: AudioParam, value: number) =>
      param.setTargetAtTime(value, this.context.currentTime, FADE);
    to(this.level.gain, level);
    to(this.clean.gain, drive ? 0 : 1);
    to(this.driven.gain, drive ? 1 : 0);
    to(this.tone.frequency, filter ? 900 : 20_000);
    to(this.swing.gain, tremolo ? 0.7 : 1);
    to(this.depth.gain, tremolo ? 0.3 : 0);
    to(this.wet.gain, delay ? 0.5 : 0);
    // A tape that is stretched is heard: the time jumps where nothing echoes.
    to(this.echo.delayTime, Math.min(LONGEST_DELAY, Math.max(0.02, delayMs / 1000)));
  }
}
export const NO_EFFECTS: EffectsState = {
  drive: false,
  tremolo: false,
  delay: false,
  filter: false,
  level: 1,
  delayMs: 400,
};
