import type { Happening, Turn } from '../../../core/standin/played';
import type { Target } from '../../../core/target/schema';
import type { Doing, Hands, Pressed, Sounding } from './hands';
import { soundsOf, type TurnSounds } from './turn-sounds';

const ROW = ['KeyA', 'KeyW', 'KeyS', 'KeyE', 'KeyD', 'KeyF', 'KeyT', 'KeyG', 'KeyY', 'KeyH', 'KeyU', 'KeyJ', 'KeyK']; // prettier-ignore
const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B', 'C'];

/**
 * Loops on stones: a digit begins one of them, or ends it. While a chord is held, the pluck keys of
 * the pattern sound its notes, low to high and on in the next octave, in place of the pattern's own.
 */
export class StoneHands implements Hands {
  readonly clock = 'own';
  readonly doings: readonly Doing[];
  private readonly sounds: TurnSounds;
  private playing: { turn: Turn; fromUs: number } | null = null;
  private next: { turn: Turn | null; atUs: number } | null = null;
  private passedUs = 0;
  private readonly held = new Set<number>();
  private readonly pluck: { lowest: number; highest: number };
  private readonly chord: { lowest: number; highest: number };
  private readonly base: number;

  constructor(
    readonly turns: readonly Turn[],
    events: readonly Happening[],
    target: Target,
  ) {
    const { grid } = target;
    this.pluck = { lowest: grid?.triggerLowest ?? 1, highest: grid?.triggerHighest ?? 0 };
    this.chord = { lowest: grid?.chordLowest ?? 0, highest: grid?.chordHighest ?? 127 };
    // The C in the middle of the chord zone.
    this.base = Math.ceil((this.chord.lowest + this.chord.highest - 12) / 24) * 12;
    this.sounds = soundsOf(turns, events);
    this.doings = [
      ...turns.slice(0, 8).map((t, i) => ({
        id: `stone ${i}`,
        says: `Stone ${t.file.replace(/\.[^.]*$/, '')}`,
        // A name that begins with the number of its stone has that key.
        codes: [`Digit${/^([1-9])_/.exec(t.file)?.[1] ?? i + 1}`, `Pad${i}`],
      })),
      ...ROW.map((code, i) => ({
        id: `key ${this.base + i}`,
        says: `Chord: ${NAMES[i]}`,
        codes: [code, `Note${this.base + i}`],
      })),
    ];
  }

  get now(): { turn: Turn; fromUs: number } | null {
    return this.playing;
  }
  get chordHeld(): readonly number[] {
    return [...this.held].sort((a, b) => a - b);
  }

  /** What begins the stone of a file. */
  doingOf(file: string): Doing | null {
    const at = this.turns.findIndex((t) => t.file === file);
    return this.doings.find((d) => d.id === `stone ${at}`) ?? null;
  }

  press(doing: string, atUs: number): Pressed {
    const [what, number] = doing.split(' ');
    if (what === 'key') this.held.add(Number(number));
    else {
      const turn = this.turns[Number(number)] ?? null;
      const now = this.playing;
      const from = Math.max(atUs, this.passedUs);
      // Another stone waits for the bar line; the same one ends there.
      const line = now
        ? now.fromUs + Math.ceil((from - now.fromUs) / now.turn.barUs) * now.turn.barUs
        : from;
      this.next = { turn: now?.turn === turn ? null : turn, atUs: line };
    }
    return { doing, atUs, errorUs: null };
  }

  release(doing: string) {
    const [what, number] = doing.split(' ');
    if (what === 'key') this.held.delete(Number(number));
  }

  pass(toUs: number): readonly Sounding[] {
    const out: Sounding[] = [];
    for (;;) {
      const until = this.next?.atUs ?? Infinity;
      const to = Math.min(toUs, until);
      if (this.playing)
        for (const s of this.sounds(
          this.playing.turn,
          this.playing.fromUs,
          this.passedUs,
          to,
          true,
          until,
        ))
          out.push(...this.asHeld(s));
      this.passedUs = Math.max(this.passedUs, to);
      if (until > toUs) break;
      const turn = this.next!.turn;
      this.playing = turn ? { turn, fromUs: until } : null;
      this.next = null;
    }
    this.passedUs = Math.max(this.passedUs, toUs);
    return out;
  }

  /** A pluck key sounds its note of the chord; without one, the pattern is heard as it stands. */
  private asHeld(s: Sounding): Sounding[] {
    const chord = this.chordHeld;
    const { lowest, highest } = this.pluck;
    const plucks = s.key >= lowest && s.key <= highest;
    if (chord.length === 0) return plucks ? [] : [s];
    if (!plucks) return [];
    const nth = s.key - lowest;
    const key = chord[nth % chord.length]! + 12 * Math.floor(nth / chord.length);
    return key > 127 ? [] : [{ ...s, key }];
  }

  says(): string {
    if (!this.playing) return 'At rest: a digit begins a stone.';
    const name = this.playing.turn.file.replace(/\.[^.]*$/, '');
    return this.held.size === 0
      ? `${name} goes round; hold a chord to pluck it.`
      : `${name} goes round with ${this.held.size} of a chord held.`;
  }
}
