/** What a device does with the files that it was given: heard from the bytes alone. */
export interface Played {
  /** Microseconds from the start to the end of the longest file. */
  readonly lengthUs: number;
  /** Frames or rows a second, where the device has them. */
  readonly rate?: number;
  /** In order of time. */
  readonly events: readonly Happening[];
  /** The device would not load these, and plays none of them. */
  readonly refused: readonly Complaint[];
  /** Loaded, but not sounded, or sounded otherwise. */
  readonly dropped: readonly Dropped[];
  /** Everything else that was loaded, a line each: titles, set-up, tempos. */
  readonly shows: readonly string[];
  /** Files that are played each for itself, from their own start, as long as the device has them. */
  readonly turns?: readonly Turn[];
  /** Controllers and bends that it is not to be sent: what they would turn, and how far. */
  readonly stray?: readonly Stray[];
  /** What its display says of the song. */
  readonly display?: Display;
}

export interface Display {
  readonly name: string;
  readonly microsecondsPerQuarter: number;
  /** The kit by its id, where the song names one. */
  readonly kit: string | null;
}

export interface Stray {
  readonly atUs: number;
  readonly file: string;
  /** Controller; null for the bend. */
  readonly controller: number | null;
  /** 0–127; of a bend its upper seven bits. */
  readonly value: number;
}

/** One file of a device that goes from one to the next. */
export interface Turn {
  readonly file: string;
  /** The seat that is this file; empty where any file may be taken. */
  readonly seat: string;
  readonly lengthUs: number;
  readonly barUs: number;
  /** Seats that may follow it; none end the song. */
  readonly next: readonly string[];
  /** What the place is for in a song, and of a crossing from where to where. */
  readonly plays?: 'lead-in' | 'round' | 'break' | 'crossing' | 'end';
  readonly leadsFrom?: string;
  readonly leadsTo?: string;
}

export type HappeningKind =
  | 'note'
  | 'strike'
  | 'cue'
  | 'caption'
  | 'hole'
  | 'cue-value'
  | 'tempo'
  | 'marker'
  | 'pattern'
  | 'preset'
  | 'level';

export interface Happening {
  readonly atUs: number;
  readonly lengthUs?: number;
  readonly kind: HappeningKind;
  /** The seat by its id; a channel or a name where the target has none. */
  readonly seat: string;
  /** Key, lane from 1, or number. */
  readonly key: number;
  readonly value?: number | string | null;
  readonly text?: string;
  readonly file: string;
}

export interface Complaint {
  readonly file: string;
  /** A byte, a line or a path of JSON. */
  readonly at: string;
  readonly says: string;
  /** The block of the target that it breaks; none where the file itself is at fault. */
  readonly block: string | null;
}

export interface Dropped {
  readonly atUs: number;
  readonly seat: string;
  readonly key: number;
  readonly file: string;
  readonly because: string;
  readonly block: string | null;
  /** `altered`: it sounds, and not as it is written. */
  readonly how: 'silent' | 'altered';
  /** Where it was to sound as written, by the clock of its own file. */
  readonly writtenUs: number;
}

export interface DeliveredFile {
  readonly path: string;
  readonly bytes: Uint8Array;
}

/** Notes of what a device plays are gathered here. */
export class Gathering {
  readonly events: Happening[] = [];
  readonly refused: Complaint[] = [];
  readonly dropped: Dropped[] = [];
  readonly shows: string[] = [];
  readonly turns: Turn[] = [];
  readonly stray: Stray[] = [];
  display: Display | undefined;
  lengthUs = 0;
  rate: number | undefined;

  refuse(file: string, at: string | number, says: string, block: string | null = null) {
    // A file of a million faults is refused for the first of them.
    if (this.refused.length < 200)
      this.refused.push({ file, at: typeof at === 'number' ? `byte ${at}` : at, says, block });
  }

  get played(): Played {
    const { events, refused, dropped, shows, turns, stray, display, lengthUs, rate } = this;
    events.sort(
      (a, b) =>
        a.atUs - b.atUs ||
        (a.file < b.file ? -1 : a.file > b.file ? 1 : 0) ||
        (a.seat < b.seat ? -1 : a.seat > b.seat ? 1 : 0) ||
        a.key - b.key,
    );
    dropped.sort((a, b) => a.atUs - b.atUs || a.key - b.key);
    return {
      lengthUs,
      ...(rate === undefined ? {} : { rate }),
      events,
      refused,
      dropped,
      shows,
      ...(turns.length === 0 ? {} : { turns }),
      ...(stray.length === 0 ? {} : { stray }),
      ...(display === undefined ? {} : { display }),
    };
  }
}

const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];
/** Note 60 is C4. */
export const pitch = (key: number): string => `${NAMES[key % 12]}${Math.floor(key / 12) - 1}`;

const PART = 8192;

/** UTF-8, RFC 3629, in parts: a long text is not put together letter by letter. Null where it is none. */
export function utf8(bytes: Uint8Array): string | null {
  const parts: string[] = [];
  const units = new Uint16Array(PART);
  let used = 0;
  for (let i = 0; i < bytes.length;) {
    if (used > PART - 2) {
      parts.push(String.fromCharCode.apply(null, units.subarray(0, used) as never));
      used = 0;
    }
    const lead = bytes[i]!;
    if (lead < 0x80) {
      units[used++] = lead;
      i++;
      continue;
    }
    const size = lead >= 0xf0 && lead <= 0xf4 ? 4 : lead >= 0xe0 ? 3 : lead >= 0xc2 ? 2 : 0;
    if (size === 0 || lead > 0xf4 || i + size > bytes.length) return null;
    let code = lead & (0xff >> (size + 1));
    for (let k = 1; k < size; k++) {
      const more = bytes[i + k]!;
      if (more >> 6 !== 2) return null;
      code = (code << 6) | (more & 63);
    }
    const least = size === 2 ? 0x80 : size === 3 ? 0x800 : 0x10000;
    if (code < least || code > 0x10ffff || (code >= 0xd800 && code <= 0xdfff)) return null;
    if (code > 0xffff) {
      units[used++] = 0xd800 + ((code - 0x10000) >> 10);
      units[used++] = 0xdc00 + ((code - 0x10000) & 0x3ff);
    } else units[used++] = code;
    i += size;
  }
  parts.push(String.fromCharCode.apply(null, units.subarray(0, used) as never));
  return parts.join('');
}
