import type { Happening, Turn } from '../../../core/standin/played';
import type { Doing, Hands, Pressed, Sounding } from './hands';
import { soundsOf, type TurnSounds } from './turn-sounds';

/** Plates that are pressed within this are pressed together. */
export const TOGETHER_US = 250_000;
/** A line that is nearer than this is past: the sound is on its way already. */
export const LATEST_US = 60_000;

export interface PedalKit {
  readonly name: string;
  readonly keys: ReadonlySet<number>;
}

type Kind = NonNullable<Turn['plays']>;
export interface Playing {
  readonly turn: Turn;
  readonly kind: Kind;
  readonly fromUs: number;
  /** When it gives way; a bed goes round until it is told to. */
  readonly untilUs: number;
}
export interface Queued {
  readonly what: 'break' | 'bed' | 'hit' | 'end';
  readonly turn: Turn | null;
  readonly atUs: number;
}

export const PLATES: readonly Doing[] = [
  { id: 'left', says: 'Left plate: next bed', codes: ['KeyF', 'Pad4', 'Note48'] },
  { id: 'right', says: 'Right plate: a break', codes: ['KeyJ', 'Pad5', 'Note50'] },
  { id: 'both', says: 'Both plates: the final hit', codes: ['Space', 'Pad0', 'Note52'] },
  { id: 'kit', says: 'Next kit', codes: ['KeyK', 'Pad3'] },
];

/**
 * A drum pedal under the foot, from what its song has. A press at rest begins: with the count-off
 * where there is one. The right plate lays a break over the next bar, a half-bar break over the
 * second half of this one, and takes the next of the pool each time. The left goes at the next bar
 * line to the next bed, through the crossing where there is one. Both: the hit at the next bar line,
 * and rest. Of two wishes the later holds.
 */
export class PedalHands implements Hands {
  readonly clock = 'own';
  readonly doings: readonly Doing[];
  private readonly sounds: TurnSounds;
  private readonly beds: readonly Turn[];
  private readonly breaks: readonly Turn[];
  private current: Playing | null = null;
  private wish: Queued | null = null;
  private passedUs = 0;
  private pool = 0;
  private bed = 0;
  private lastPress: { doing: string; atUs: number } | null = null;
  private said = '';
  kit = 0;

  constructor(
    private readonly turns: readonly Turn[],
    events: readonly Happening[],
    /** The first is the song’s; a drum that a kit has not is silent in it. */
    readonly kits: readonly PedalKit[] = [],
  ) {
    const of = (kind: Kind) => turns.filter((t) => t.plays === kind);
    this.beds = of('round');
    this.breaks = of('break');
    this.sounds = soundsOf(turns, events);
    this.doings = PLATES.filter((p) => p.id !== 'kit' || kits.length > 1);
  }

  private the = (kind: Kind) => this.turns.find((t) => t.plays === kind) ?? null;

  get now(): Playing | null {
    return this.current;
  }
  get next(): Queued | null {
    return this.wish;
  }

  press(doing: string, atUs: number): Pressed {
    const pressed = { doing, atUs, errorUs: null };
    const last = this.lastPress;
    this.lastPress = { doing, atUs };
    if (doing === 'kit') {
      if (this.kits.length === 0) return pressed;
      this.kit = (this.kit + 1) % this.kits.length;
      this.said = `Kit ${this.kits[this.kit]!.name}.`;
      return pressed;
    }
    const other = last && last.doing !== doing && last.doing !== 'kit' ? last : null;
    const together = other !== null && atUs - other.atUs <= TOGETHER_US;
    if (!this.current) this.begin(atUs);
    else if (doing === 'both' || together) this.want('hit', atUs);
    else this.want(doing === 'right' ? 'break' : 'bed', atUs);
    return pressed;
  }

  release() {}

  private begin(atUs: number) {
    const count = this.the('lead-in');
    const first = this.beds[0];
    this.bed = 0;
    this.pool = 0;
    this.wish = null;
    if (!count && !first) {
      this.said = 'The song has no bed: nothing begins.';
      return;
    }
    const fromUs = Math.max(atUs, this.passedUs);
    this.current = count
      ? { turn: count, kind: 'lead-in', fromUs, untilUs: fromUs + count.lengthUs }
      : { turn: first!, kind: 'round', fromUs, untilUs: Infinity };
    this.said = '';
  }

  private want(what: 'break' | 'bed' | 'hit', atUs: number) {
    const { current } = this;
    if (!current) return;
    if (current.kind === 'end') {
      this.said = 'It comes to its end.';
      return;
    }
    if (what === 'break' && this.breaks.length === 0) {
      this.said = 'The song has no breaks.';
      return;
    }
    if (what === 'bed' && this.beds.length < 2) {
      this.said = 'The song has one bed only.';
      return;
    }
    this.said = '';
    const soonest = Math.max(atUs + LATEST_US, this.passedUs);
    if (what === 'break') {
      const turn = this.breaks[this.pool % this.breaks.length]!;
      this.wish = { what, turn, atUs: this.lineFor(turn, soonest) };
    } else if (what === 'bed') {
      const to = (this.bed + 1) % this.beds.length;
      const turn = this.crossing(this.bed, to) ?? this.beds[to]!;
      this.wish = { what, turn, atUs: this.lineAfter(soonest) };
    } else {
      const turn = this.the('end');
      this.wish = { what: turn ? 'hit' : 'end', turn, atUs: this.lineAfter(soonest) };
    }
  }

  private crossing(from: number, to: number): Turn | null {
    const [here, there] = [this.beds[from]!.seat, this.beds[to]!.seat];
    return this.turns.find((t) => t.leadsFrom === here && t.leadsTo === there) ?? null;
  }

  /** The next bar line of a bed; what is no bed is played to its end. */
  private lineAfter(us: number): number {
    const { kind, fromUs, untilUs, turn } = this.current!;
    if (kind !== 'round') return untilUs;
    const bars = Math.ceil((us - fromUs) / turn.barUs - 1e-6);
    return fromUs + Math.max(0, bars) * turn.barUs;
  }

  /** A half-bar break fills the second half of a bar, so that the bed comes back on a bar line. */
  private lineFor(turn: Turn, us: number): number {
    const line = this.lineAfter(us);
    const half = Math.abs(turn.lengthUs * 2 - turn.barUs) < turn.barUs / 50;
    if (!half || this.current!.kind !== 'round') return line;
    const middle = line - this.current!.turn.barUs / 2;
    return middle >= us ? middle : line + this.current!.turn.barUs / 2;
  }

  pass(toUs: number): readonly Sounding[] {
    const out: Sounding[] = [];
    while (this.current) {
      const { current, wish } = this;
      const until = Math.min(wish?.atUs ?? Infinity, current.untilUs);
      const to = Math.min(toUs, until);
      const round = current.kind === 'round';
      for (const s of this.sounds(current.turn, current.fromUs, this.passedUs, to, round, until))
        if (this.kits[this.kit]?.keys.has(s.key) ?? true) out.push(s);
      this.passedUs = Math.max(this.passedUs, to);
      if (until > toUs) break;
      this.current = this.follow(until);
    }
    this.passedUs = Math.max(this.passedUs, toUs);
    return out;
  }

  /** What comes at a line. */
  private follow(atUs: number): Playing | null {
    const { wish, current } = this;
    const bed = (): Playing => ({
      turn: this.beds[this.bed]!,
      kind: 'round',
      fromUs: atUs,
      untilUs: Infinity,
    });
    if (wish && wish.atUs <= atUs + 1) {
      this.wish = null;
      if (wish.what === 'end' || !wish.turn) return null;
      const once = (kind: Kind): Playing => ({
        turn: wish.turn!,
        kind,
        fromUs: atUs,
        untilUs: atUs + wish.turn!.lengthUs,
      });
      if (wish.what === 'break') {
        this.pool++;
        return once('break');
      }
      if (wish.what === 'hit') return once('end');
      this.bed = (this.bed + 1) % this.beds.length;
      return wish.turn.plays === 'crossing' ? once('crossing') : bed();
    }
    return current?.kind === 'end' || this.beds.length === 0 ? null : bed();
  }

  says(): string {
    if (this.said !== '') return this.said;
    if (!this.current) return 'At rest: a plate begins the song.';
    const { wish } = this;
    const next = wish ? (wish.what === 'end' ? ', then the end' : `, then ${wish.turn!.seat}`) : '';
    return `Plays ${this.current.turn.seat}${next}.`;
  }
}
