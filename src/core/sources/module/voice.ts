import { NNA, type Envelope, type Instrument, type Loop, type Sample } from './module';

/** A place in an envelope. */
export class EnvelopeRun {
  tick = 0;
  ended = false;

  constructor(readonly envelope: Envelope) {}

  value(): number {
    const { points } = this.envelope;
    const after = points.findIndex((p) => p.tick > this.tick);
    if (after < 0) return points.at(-1)!.value;
    if (after === 0) return points[0]!.value;
    const [a, b] = [points[after - 1]!, points[after]!];
    return a.value + ((b.value - a.value) * (this.tick - a.tick)) / (b.tick - a.tick);
  }

  /** One tick on. */
  go(released: boolean): void {
    const { points, loop, sustain, carries } = this.envelope;
    const at = (p: number) => points[p]!.tick;
    if (!carries) {
      if (sustain && !released && this.tick === at(sustain[0])) return;
      this.tick++;
      if (loop && this.tick === at(loop[1])) this.tick = at(loop[0]);
    } else {
      this.tick++;
      const held = sustain && !released ? sustain : loop;
      if (held && this.tick > at(held[1])) this.tick = at(held[0]);
    }
    if (this.tick >= points.at(-1)!.tick) {
      this.tick = points.at(-1)!.tick;
      this.ended = !(carries && (loop || (sustain && !released)));
    }
  }
}

/** What sounds: one strike of a sample, until it has ended. */
export class Voice {
  position = 0;
  backwards = false;
  /** Hz at which the sample runs now, 0 to 1, and 0 left to 1 right. */
  frequency = 0;
  level = 0;
  pan = 0.5;
  released = false;
  fading = false;
  fadeLevel = 1;
  ended = false;
  /** Ticks since it was struck. */
  age = 0;
  /** 0 to 64, as its channel left it when it went into the background. */
  volume = 64;
  channelGain = 1;
  pitch = 0;
  /** MOD: what plays on where this comes to its end, or its loop goes round. */
  after: { readonly number: number; readonly sample: Sample } | null = null;
  readonly volumeRun: EnvelopeRun | null;
  readonly panRun: EnvelopeRun | null;
  readonly pitchRun: EnvelopeRun | null;

  constructor(
    readonly id: number,
    readonly channel: number,
    public sampleNumber: number,
    public sample: Sample,
    readonly instrumentNumber: number,
    readonly instrument: Instrument | null,
    /** As written, and as the instrument’s map has it sound. */
    readonly key: number,
    readonly soundingKey: number,
  ) {
    const run = (e: Envelope | null | undefined) => (e ? new EnvelopeRun(e) : null);
    this.volumeRun = run(instrument?.volume);
    this.panRun = run(instrument?.pan);
    this.pitchRun = run(instrument?.pitch);
  }

  /** The loop that it goes round in now. */
  get loop(): Loop | null {
    return this.sample.sustain && !this.released ? this.sample.sustain : this.sample.loop;
  }

  /** Envelopes from their beginning, and nothing let go. */
  holdAnew(): void {
    for (const run of [this.volumeRun, this.panRun]) if (run) run.tick = 0;
    this.released = false;
    this.fading = false;
    this.fadeLevel = 1;
  }

  /** Its envelopes and its fading stand where those of the voice before it stood. */
  goOnAs(before: Voice): void {
    for (const [run, from] of [
      [this.volumeRun, before.volumeRun],
      [this.panRun, before.panRun],
    ] as const)
      if (run && from) {
        run.tick = from.tick;
        run.go(before.released);
      }
    this.released = before.released;
    this.fading = before.fading;
    this.fadeLevel = before.fadeLevel;
  }

  act(action: number): void {
    if (action === NNA.cut) this.ended = true;
    else if (action === NNA.off) this.releaseAsNote('it');
    else if (action === NNA.fade) this.fading = true;
  }

  /** Note off: the machine of XM silences what has no envelope, that of IT lets it fade. */
  releaseAsNote(format: 'xm' | 'it'): void {
    this.released = true;
    if (format === 'xm') this.fading = true;
    else if (!this.volumeRun || this.volumeRun.envelope.loop) this.fading = true;
  }

  /** Envelopes and fade, once a tick. */
  goEnvelopes(format: 'mod' | 's3m' | 'xm' | 'it'): void {
    if (this.age > 0) {
      this.volumeRun?.go(this.released);
      this.panRun?.go(this.released);
      this.pitchRun?.go(this.released);
    }
    this.age++;
    if (format === 'it' && this.volumeRun?.ended) {
      if (this.volumeRun.value() === 0) this.ended = true;
      else this.fading = true;
    }
    if (this.fading) {
      this.fadeLevel = Math.max(0, this.fadeLevel - (this.instrument?.fade ?? 0));
      if (this.fadeLevel === 0) this.ended = true;
    }
  }

  /** Its place after so many seconds; the seconds that were left when it came to its end. */
  advance(seconds: number): number {
    let go = this.frequency * seconds;
    const { length } = this.sample.frames;
    if (length === 0 || this.frequency <= 0) return 0;
    const loop = this.loop;
    const over = this.position + go - (loop?.to ?? length);
    if (this.after && over >= 0) {
      this.turn(over);
      return this.ended ? over / this.frequency : 0;
    }
    if (!loop) {
      this.position += go;
      if (over < 0) return 0;
      this.ended = true;
      return over / this.frequency;
    }
    const span = loop.to - loop.from;
    if (!this.backwards) {
      if (this.position + go < loop.to) {
        this.position += go;
        return 0;
      }
      go -= Math.max(0, loop.to - this.position);
      if (!loop.pingPong) {
        this.position = loop.from + (go % span);
        return 0;
      }
      this.#pingPong(loop, go, span);
      return 0;
    }
    if (this.position - go >= loop.from) {
      this.position -= go;
      return 0;
    }
    go -= this.position - loop.from;
    const rest = go % (2 * span);
    if (rest < span) {
      this.backwards = false;
      this.position = loop.from + rest;
    } else this.position = loop.to - (rest - span);
    return 0;
  }

  /** The sample behind it plays on, in its loop; what has none is not heard. */
  turn(over: number): void {
    if (!this.after) return;
    ({ number: this.sampleNumber, sample: this.sample } = this.after);
    this.after = null;
    const { loop } = this.sample;
    if (loop) this.position = loop.from + (over % (loop.to - loop.from));
    else this.ended = true;
  }

  #pingPong(loop: Loop, go: number, span: number): void {
    const rest = go % (2 * span);
    if (rest < span) {
      this.backwards = true;
      this.position = loop.to - rest;
    } else {
      this.backwards = false;
      this.position = loop.from + (rest - span);
    }
  }
}
