import type { Schedule } from '../../core/wire/view';
import type { SoundLayout } from '../../core/sound/edits';
import type { Samples } from '../../core/sound/samples';
import { Effects, NO_EFFECTS } from './effects';
import type { FromWorklet, ToWorklet } from './messages';
import type { EffectsState } from './preset-effects';
import type { Strike } from './worklet/striker';
import { AHEAD_HIDDEN_MS, PortSender, type PortOut } from '../../core/sound/port-sender';
import workletUrl from './worklet/player.worklet.ts?worker&url';

export interface PlayerEvents {
  onEnd(): void;
  /** The user’s own sound bank; null where the one that ships is wanted. */
  ownBank(): Promise<ArrayBuffer | null>;
  /** It could not be read; the one that ships sounds in its place. */
  onBankRefused(why: string): void;
}

/** What rings on is heard out before the sound rests. */
const REST_MS = 4000;

/**
 * The audio context with one worklet that holds the synthesiser and the transport. The place is
 * told by the worklet with the context's time and carried on from there between two reports.
 */
export class Player {
  private context: AudioContext | null = null;
  private node: AudioWorkletNode | null = null;
  private gain: GainNode | null = null;
  /** Between the synthesiser and the volume; made when they are first asked for. */
  private effects: Effects | null = null;
  private ready: Promise<void> | null = null;
  private at = { ms: 0, contextTime: 0 };
  private ratio = 1;
  private volume = 0.7;
  /** Told again where the worklet is built after they were said. */
  private recording: ToWorklet = { is: 'recording', samples: null, layout: [] };
  private levels: Extract<ToWorklet, { is: 'levels' }> = { is: 'levels', score: 1, recording: 1 };
  /** A MIDI port that the score goes to, with or without the synthesiser beside it. */
  private port: PortSender | null = null;
  private builtInToo = false;
  private waking: ReturnType<typeof setInterval> | undefined;
  private schedule: Schedule | null = null;
  private muted = new Uint8Array(0);
  private loops: readonly { from: number; to: number }[] = [];
  private loaded: (why: string | null) => void = () => {};
  playing = false;

  constructor(private readonly events: PlayerEvents) {}

  /** Builds everything ahead of the first key, so that sound starts at once; may be called often. */
  prepare(): Promise<void> {
    // What failed once may work the next time: a bank that is there again, a device that woke.
    return (this.ready ??= this.build().catch((error: unknown) => {
      this.ready = null;
      throw error;
    }));
  }

  private async build() {
    const context = new AudioContext({ latencyHint: 'interactive' });
    await context.audioWorklet.addModule(workletUrl);
    const node = new AudioWorkletNode(context, 'wary-quill-player', {
      numberOfInputs: 0,
      outputChannelCount: [2],
    });
    const gain = new GainNode(context, { gain: this.volume });
    node.connect(gain).connect(context.destination);
    this.context = context;
    this.node = node;
    this.gain = gain;
    node.port.onmessage = ({ data }: MessageEvent<FromWorklet>) => this.receive(data);
    this.send(this.recording);
    this.sendLevels();
    const own = await this.events.ownBank();
    if (own) {
      const why = await this.load(own);
      if (why === null) return this.rest();
      this.events.onBankRefused(why);
    }
    const reply = await fetch('/sounds.sf2');
    if (!reply.ok) throw new Error(`the sounds are not there (${reply.status})`);
    const why = await this.load(await reply.arrayBuffer());
    if (why !== null) throw new Error(`the sounds could not be read: ${why}`);
    this.rest();
  }

  private resting: ReturnType<typeof setTimeout> | undefined;
  /** Notes are played by hand: the sound stays awake. */
  private held = false;

  /** A sound thread that has nothing to say costs as much as one that has: it is put to rest. */
  private rest(afterMs = REST_MS) {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      if (!this.playing && !this.held) void this.context?.suspend();
    }, afterMs);
  }

  /** Keeps the sound awake between notes, as long as a device is in hand. */
  hold(on: boolean) {
    this.held = on;
    if (!on) this.rest();
  }

  /** Hands a bank to the synthesiser; what is wrong with it in words, null where it sounds now. */
  private load(bytes: ArrayBuffer): Promise<string | null> {
    return new Promise((resolve) => {
      this.loaded = resolve;
      this.node!.onprocessorerror = () => resolve('the synthesiser could not load it');
      this.send({ is: 'bank', bytes }, [bytes]);
    });
  }

  /** Another bank from here on, also while the music plays; null where that went well. */
  async useBank(bytes: ArrayBuffer): Promise<string | null> {
    await this.prepare();
    return this.load(bytes);
  }

  /** What is heard of a pedal; null for nothing. */
  setEffects(state: EffectsState | null) {
    const { context, node, gain } = this;
    if (!context || !node || !gain || (!state && !this.effects)) return;
    if (!this.effects) {
      this.effects = new Effects(context);
      node.disconnect();
      node.connect(this.effects.input);
      this.effects.output.connect(gain);
    }
    this.effects.set(state ?? NO_EFFECTS);
  }

  private receive(message: FromWorklet) {
    if (message.is === 'ready') this.loaded(null);
    else if (message.is === 'refused') this.loaded(message.why);
    else if (message.is === 'at') {
      this.at = message;
      // A report that was under way when stop was pressed does not start it again.
      this.playing &&= message.playing;
    } else if (message.is === 'end') {
      this.playing = false;
      clearInterval(this.waking);
      this.port?.stop(performance.now());
      this.rest();
      this.events.onEnd();
    }
  }

  private send(message: ToWorklet, transfer: Transferable[] = []) {
    this.node?.port.postMessage(message, transfer);
  }

  setSchedule(s: Schedule, atMs: number) {
    const { count, ms, status, data1, data2, part, endMs } = s;
    this.schedule = s;
    this.port?.load(s, atMs, performance.now());
    this.send({ is: 'schedule', count, ms, status, data1, data2, part, endMs, atMs });
  }

  async play(atMs: number) {
    await this.prepare();
    await this.context!.resume();
    this.at = { ms: atMs, contextTime: this.context!.currentTime };
    this.playing = true;
    this.send({ is: 'play', atMs });
    this.port?.play(atMs, performance.now());
    this.wake();
  }

  /** The port is filled ahead, and held to where the sound is. */
  private wake() {
    clearInterval(this.waking);
    if (!this.port || !this.playing) return;
    const tick = () => {
      const now = performance.now();
      this.port?.sync(this.positionMs(), now);
      this.port?.tick(now, document.hidden ? AHEAD_HIDDEN_MS : undefined);
    };
    tick();
    this.waking = setInterval(tick, 25);
  }

  /** Sends the score to a MIDI port from now on; null for none. */
  usePort(
    out: PortOut | null,
    options: { delayMs: number; builtInToo: boolean; exclusives: boolean },
  ) {
    this.port?.stop(performance.now());
    this.port = out ? new PortSender(out) : null;
    this.builtInToo = options.builtInToo;
    this.sendLevels();
    const { port, schedule } = this;
    if (port) {
      port.delayMs = options.delayMs;
      port.exclusives = options.exclusives;
      port.speed(this.ratio);
      port.setLoops(this.loops);
      port.mute(this.muted);
      if (schedule) port.load(schedule, this.positionMs(), performance.now());
      if (this.playing) port.play(this.positionMs(), performance.now());
    }
    this.wake();
  }

  setPort(options: { delayMs: number; builtInToo: boolean; exclusives: boolean }) {
    this.builtInToo = options.builtInToo;
    this.sendLevels();
    if (!this.port) return;
    this.port.delayMs = options.delayMs;
    this.port.exclusives = options.exclusives;
  }

  testPort(channel: number) {
    this.port?.test(performance.now(), channel);
  }
  panicPort() {
    this.port?.panic(performance.now());
  }

  /** Strikes notes alone, beside what plays. */
  async strike(list: readonly Strike[]) {
    await this.prepare();
    await this.context!.resume();
    this.send({ is: 'strike', list });
    this.rest(
      list.reduce((m, { afterMs, lengthMs }) => Math.max(m, afterMs + lengthMs), 0) + REST_MS,
    );
  }

  private alone: AudioBufferSourceNode | null = null;

  /** A short sound by itself, beside what plays; the one before it ends. */
  async hear({ rate, channels }: Samples) {
    await this.prepare();
    const context = this.context!;
    await context.resume();
    this.alone?.stop();
    const buffer = context.createBuffer(channels.length, channels[0]!.length, rate);
    channels.forEach((c, i) => buffer.copyToChannel(c as Float32Array<ArrayBuffer>, i));
    const node = new AudioBufferSourceNode(context, { buffer });
    node.connect(this.gain!);
    node.start();
    this.alone = node;
    this.rest((channels[0]!.length / rate) * 1000 + REST_MS);
  }

  /** Seconds of the sound’s own clock, for what is played by hand; null before it runs. */
  get seconds(): number | null {
    return this.context?.currentTime ?? null;
  }

  /** Adds notes to those that wait; `afterMs` is counted from a moment of the sound’s clock. */
  strikeFrom(seconds: number, list: readonly Strike[]) {
    this.send({ is: 'strike', list, fromSeconds: seconds });
  }

  stop() {
    this.playing = false;
    this.send({ is: 'stop' });
    clearInterval(this.waking);
    this.port?.stop(performance.now());
    this.rest();
  }

  setSpeed(ratio: number) {
    this.at = { ms: this.positionMs(), contextTime: this.context?.currentTime ?? 0 };
    this.ratio = ratio;
    this.port?.speed(ratio);
    this.send({ is: 'speed', ratio });
  }

  setLoop(loops: readonly { from: number; to: number }[]) {
    this.loops = loops;
    this.port?.setLoops(loops);
    this.send({ is: 'loop', loops });
  }

  clearLoop() {
    this.loops = [];
    this.port?.setLoops([]);
    this.send({ is: 'no-loop' });
  }

  setMutes(muted: Uint8Array) {
    this.muted = Uint8Array.from(muted);
    this.port?.mute(this.muted);
    this.send({ is: 'mutes', muted });
  }

  /** What sounds beside the score, at every speed in time with it. */
  setRecording(samples: Samples | null, layout: SoundLayout) {
    this.recording = { is: 'recording', samples, layout };
    this.send(this.recording);
  }

  setLevels(score: number, recording: number) {
    this.levels = { is: 'levels', score, recording };
    this.sendLevels();
  }

  private sendLevels() {
    const { levels } = this;
    this.send(this.port && !this.builtInToo ? { ...levels, score: 0 } : levels);
  }

  setVolume(part: number) {
    this.volume = part;
    if (this.gain) this.gain.gain.value = part;
  }

  /** Where the sound is that is being scheduled now; the device's own latency is not known here. */
  positionMs(): number {
    if (!this.playing || !this.context) return this.at.ms;
    return this.at.ms + (this.context.currentTime - this.at.contextTime) * 1000 * this.ratio;
  }
}
