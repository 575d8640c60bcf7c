import type { Voice } from './voice';

/** Parameters that an effect remembers where it has none. */
export class Memory {
  readonly #last = new Map<string, number>();

  /** The parameter, or the last one that was not 0. */
  take(name: string, param: number): number {
    if (param !== 0) this.#last.set(name, param);
    return this.#last.get(name) ?? 0;
  }

  /** By halves: each of the two is remembered for itself. */
  takeHalves(name: string, param: number): number {
    const before = this.#last.get(name) ?? 0;
    const now = (param & 0xf0 || before & 0xf0) | (param & 0x0f || before & 0x0f);
    this.#last.set(name, now);
    return now;
  }
}

/** A channel between rows: what sounds on it and what its effects go on with. */
export class Channel {
  voice: Voice | null = null;
  instrument = 0;
  sample = 0;
  key = -1;
  pitch = 0;
  target = 0;
  /** 0 to 64. */
  volume = 0;
  pan: number;
  gain: number;
  readonly memory = new Memory();
  vibratoAt = 0;
  vibratoWave = 0;
  tremoloAt = 0;
  tremoloWave = 0;
  panbrelloAt = 0;
  glissando = false;
  tuning: number | null = null;
  retriggerCount = 0;
  tremorCount = 0;
  loopRow = 0;
  loopCount = 0;
  /** IT’s S7x for the note that sounds now. */
  newNote: number | null = null;
  highOffset = 0;

  /** Of this tick alone. */
  bend = 0;
  arpeggio = 0;
  tremolo = 0;
  silent = false;
  panShift = 0;

  /** The cell of this row, resolved. */
  note = 0;
  effect = 0;
  param = 0;
  volumeKind = 0;
  volumeValue = 0;
  cellInstrument = 0;
  delay = 0;

  constructor(
    readonly index: number,
    pan: number,
    gain: number,
    readonly muted: boolean,
  ) {
    this.pan = pan;
    this.gain = gain;
  }
}

/** −1 to 1 at a 64th of a turn: sine, falling ramp, square, chance (the same each time). */
export function waveAt(wave: number, place: number): number {
  const at = ((place % 64) + 64) % 64;
  switch (wave & 3) {
    case 1:
      return 1 - at / 32;
    case 2:
      return at < 32 ? 1 : -1;
    case 3:
      return (((at * 2654435761 + 12345) >>> 8) % 2001) / 1000 - 1;
    default:
      return Math.sin((at * Math.PI) / 32);
  }
}
