import type { Happening } from '../../../core/standin/played';

/** What can be done at a device with the hands, or a foot. */
export interface Doing {
  readonly id: string;
  readonly says: string;
  /** What does it where nobody chose another: a key by its place, `Pad3`, or `Note60`. */
  readonly codes: readonly string[];
}

/** A note that is to sound, on the clock of the device. */
export interface Sounding extends Pick<Happening, 'seat' | 'key' | 'file'> {
  readonly atUs: number;
  readonly lengthUs: number;
  readonly velocity: number;
}

/** What a press did, in words and in time. */
export interface Pressed {
  readonly doing: string;
  readonly atUs: number;
  /** How far it was from where it should have been; null where there is no should. */
  readonly errorUs: number | null;
}

/**
 * A device under the hands. Times are microseconds of its clock: the pulse's, where it plays along
 * with the music, or one of its own, that begins when it is taken in hand.
 */
export interface Hands {
  readonly clock: 'pulse' | 'own';
  readonly doings: readonly Doing[];
  press(doing: string, atUs: number): Pressed | null;
  release(doing: string, atUs: number): void;
  /** Time passes to here; what begins to sound on the way. */
  pass(toUs: number): readonly Sounding[];
  /** One sentence: how it stands. */
  says(): string;
}

const NAMES: Readonly<Record<string, string>> = {
  Space: 'Space',
  Semicolon: ';',
  Comma: ',',
  Period: '.',
  Slash: '/',
  Quote: "'",
  ShiftLeft: 'left Shift',
  ShiftRight: 'right Shift',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
};

/** `KeyA` as A, `Digit1` as 1, `Pad3` as button 3, `Note60` as key 60 of the MIDI input. */
export function sayCode(code: string): string {
  if (/^Key[A-Z]$/.test(code)) return code.slice(3);
  if (/^Digit\d$/.test(code)) return code.slice(5);
  if (/^Pad\d+$/.test(code)) return `button ${code.slice(3)}`;
  if (/^Note\d+$/.test(code)) return `MIDI ${code.slice(4)}`;
  return NAMES[code] ?? code;
}
