import type { Strike } from '../src/app/audio/worklet/striker';

interface PlayerEvents {
  onEnd(): void;
  ownBank(): Promise<ArrayBuffer | null>;
  onBankRefused(why: string): void;
}
interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** The player without a sound device: where it is is said by the test, what it was told is kept. */
export class StubPlayer {
  static last: StubPlayer;
  prepared = 0;
  playing = false;
  at = 0;
  seconds = 0;
  speed = 1;
  volume = 1;
  levels: readonly [number, number] = [1, 1];
  loop: readonly Stretch[] = [];
  mutes: readonly number[] = [];
  schedules: { notes: number; atMs: number }[] = [];
  struck: Strike[] = [];
  held = false;
  bank: ArrayBuffer | null = null;
  recording: { samples: unknown; layout: unknown } | null = null;
  port: { port: unknown; options: unknown } | null = null;
  options: unknown = null;
  panics = 0;
  /** Set by a test: what making the sound ready, or reading a bank, comes to. */
  static refusal: string | null = null;

  constructor(readonly events: PlayerEvents) {
    StubPlayer.last = this;
  }
  async prepare() {
    if (StubPlayer.refusal) throw new Error(StubPlayer.refusal);
    if (this.prepared++ === 0) this.bank = await this.events.ownBank();
  }
  setSchedule(schedule: { ms?: ArrayLike<number>; events?: ArrayLike<number> }, atMs: number) {
    this.schedules.push({ notes: (schedule.ms ?? schedule.events ?? []).length, atMs });
  }
  effects: unknown = null;
  setEffects(state: unknown) {
    this.effects = state;
  }
  setMutes(mutes: Uint8Array) {
    this.mutes = [...mutes];
  }
  setVolume(volume: number) {
    this.volume = volume;
  }
  setSpeed(speed: number) {
    this.speed = speed;
  }
  setLevels(score: number, sound: number) {
    this.levels = [score, sound];
  }
  setRecording(samples: unknown, layout: unknown) {
    this.recording = { samples, layout };
  }
  async play(ms: number) {
    this.at = ms;
    this.playing = true;
  }
  stop() {
    this.playing = false;
  }
  positionMs() {
    return this.at;
  }
  setLoop(loop: readonly Stretch[]) {
    this.loop = loop;
  }
  clearLoop() {
    this.loop = [];
  }
  async useBank(bytes: ArrayBuffer) {
    if (StubPlayer.refusal) return StubPlayer.refusal;
    this.bank = bytes;
    return null;
  }
  usePort(port: unknown, options: unknown) {
    this.port = { port, options };
  }
  setPort(options: unknown) {
    this.options = options;
  }
  testPort() {}
  panicPort() {
    this.panics++;
  }
  async strike(list: readonly Strike[]) {
    if (StubPlayer.refusal) throw new Error(StubPlayer.refusal);
    this.struck.push(...list);
  }
  strikeFrom(_seconds: number, list: readonly Strike[]) {
    this.struck.push(...list);
  }
  hold(held: boolean) {
    this.held = held;
  }
}
export { StubPlayer as Player };
