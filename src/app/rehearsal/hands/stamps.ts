import type { Board } from './board';
import type { Doing, Hands, Pressed } from './hands';

/** From end to end while a key is held. */
const WHOLE_WAY_US = 800_000;
/** The dial is at rest so long: what follows is another stroke. */
const AT_REST_US = 1_000_000;
/** A hand that waits within a stroke holds its value until it goes on. */
const WAITS_US = 60_000;
/** Keys of the row under the fingers, from the middle outwards. */
const CODES = ['KeyD', 'KeyF', 'KeyJ', 'KeyK', 'KeyS', 'KeyL', 'KeyA', 'Semicolon'];
/** White keys of an octave on a MIDI input. */
const WHITE = [48, 50, 52, 53, 55, 57, 59, 60];

export interface Turned {
  readonly us: number;
  readonly value: number;
}
/** One go of the hand at one controller; its points stand in order of time. */
export interface Stroke {
  readonly number: number;
  readonly points: Turned[];
}

/**
 * An effects pedal under the foot, along with the music: each stamp and each turn is kept, at its time,
 * until it goes into the plan. Who goes back and plays over it again has the later one. A stamp while a
 * preset loads is missed, as the device misses it.
 */
export class StampHands implements Hands {
  readonly clock = 'pulse';
  readonly doings: readonly Doing[];
  /** In the order in which they were played. */
  strokes: Stroke[] = [];
  private moving = 0;
  private movedUs = 0;
  private nowUs = 0;
  private said = '';

  constructor(readonly board: Board) {
    const dial: readonly Doing[] = board.dial
      ? [
          { id: 'up', says: `${board.dial.name} up`, codes: ['ArrowUp', 'Pad12'] },
          { id: 'down', says: `${board.dial.name} down`, codes: ['ArrowDown', 'Pad13'] },
        ]
      : [];
    this.doings = [
      ...board.switches.map((number, i) => ({
        id: String(number),
        says: board.nameOf(number),
        codes: [CODES[i] ?? `Digit${i + 1}`, `Pad${i}`, `Note${WHITE[i] ?? 60 + i}`],
      })),
      ...dial,
    ];
  }

  get stamps(): number {
    return this.countOf((n) => this.board.switches.includes(n));
  }
  get turns(): number {
    return this.countOf((n) => n === this.board.dial?.number);
  }
  private countOf(which: (number: number) => boolean): number {
    return this.strokes.reduce((sum, s) => sum + (which(s.number) ? s.points.length : 0), 0);
  }

  /** The last value of the hand that is in force at a time: the later of two goes over one place. */
  private mine(number: number, us: number): Turned | null {
    let best: Turned | null = null;
    for (const stroke of this.strokes) {
      if (stroke.number !== number || stroke.points[0]!.us > us) continue;
      const last = stroke.points.findLast((p) => p.us <= us)!;
      // Within a stroke it is the hand that holds, up to its end.
      const holds = Math.min(us, stroke.points.at(-1)!.us);
      if (!best || holds >= best.us) best = { us: holds, value: last.value };
    }
    return best;
  }

  isOn(number: number, us: number): boolean {
    const stands = this.board.standing(number, us);
    const mine = this.mine(number, us);
    const preset = this.board.presets.last(us)?.atUs ?? 0;
    return mine && mine.us >= stands.atUs && mine.us >= preset ? mine.value >= 64 : stands.on;
  }

  /** Null where nothing has turned it yet. */
  level(us: number): number | null {
    const { dial } = this.board;
    if (!dial) return null;
    const [played, mine] = [this.board.turned(us), this.mine(dial.number, us)];
    if (mine && mine.us >= (played?.atUs ?? 0)) return mine.value;
    return played?.value ?? null;
  }

  press(doing: string, atUs: number): Pressed {
    const us = Math.max(0, atUs);
    const pressed = { doing, atUs: us, errorUs: null };
    this.nowUs = us;
    this.said = '';
    if (doing === 'up' || doing === 'down') {
      this.moving = doing === 'up' ? 1 : -1;
      this.movedUs = us;
      return pressed;
    }
    const number = Number(doing);
    if (this.board.deaf(us)) {
      this.said = `${this.board.nameOf(number)} was missed: a preset is loading.`;
      return pressed;
    }
    const value = this.isOn(number, us) ? 0 : 127;
    this.strokes.push({ number, points: [{ us, value }] });
    return pressed;
  }

  release(doing: string) {
    if (doing === (this.moving > 0 ? 'up' : 'down')) this.moving = 0;
  }

  /** The dial at a share of its way, by hand. */
  turn(share: number, atUs: number) {
    const { dial } = this.board;
    if (!dial) return;
    const us = Math.max(0, atUs);
    const way = dial.highest - dial.lowest;
    const value = Math.round(dial.lowest + Math.max(0, Math.min(1, share)) * way);
    const before = this.level(us);
    if (value === before) return;
    this.said = '';
    const stroke = this.strokes.at(-1);
    const last = stroke?.points.at(-1);
    if (!stroke || stroke.number !== dial.number || us < last!.us || us - last!.us > AT_REST_US) {
      this.strokes.push({ number: dial.number, points: [{ us, value }] });
      return;
    }
    if (us === last!.us) stroke.points.pop();
    else if (us - last!.us > WAITS_US) stroke.points.push({ us: us - 1, value: last!.value });
    stroke.points.push({ us, value });
  }

  pass(toUs: number) {
    this.nowUs = Math.max(0, toUs);
    const { dial } = this.board;
    if (dial && this.moving !== 0) {
      const way = dial.highest - dial.lowest;
      // Where the music rests the hand moves all the same, by one picture of the screen.
      const byUs = toUs > this.movedUs ? Math.min(toUs - this.movedUs, 100_000) : 16_000;
      const at = ((this.level(toUs) ?? dial.lowest) - dial.lowest) / way;
      const step = Math.max(1 / way, byUs / WHOLE_WAY_US);
      this.turn(at + this.moving * step, toUs);
      this.movedUs = toUs;
    }
    return [];
  }

  says(): string {
    if (this.said !== '') return this.said;
    const { board, nowUs } = this;
    const on = board.switches.filter((n) => this.isOn(n, nowUs));
    const level = this.level(nowUs);
    return [
      on.length > 0 ? `On: ${on.join(', ')}.` : 'Nothing is switched on.',
      board.dial && level !== null ? `${board.dial.name} at ${level}.` : '',
    ]
      .filter(Boolean)
      .join(' ');
  }
}
