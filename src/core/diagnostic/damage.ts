/**
 * What can be wrong with the bytes of a source. Codes are permanent. Damage is data: a code, a byte
 * offset, a track (from 0) and numbers; the sentences are made here, in one place, at the very end.
 */
export type DamageCode = keyof typeof damageTable;

export interface Damage {
  readonly code: DamageCode;
  /** Offset into the file as it was given, in bytes. */
  readonly byteOffset: number;
  /** Track chunk, counted from 0 among those found; null for the header and the file as a whole. */
  readonly track: number | null;
  /** How often this was met in a row on this track. */
  readonly times: number;
  readonly value?: number;
  readonly limit?: number;
  /** Of a text: its line or path, in the place of bytes; and what is wrong there. */
  readonly place?: string;
  readonly says?: string;
}

interface DamageText {
  /** Nothing can be read or timed: the source cannot be used. */
  readonly fatal?: true;
  readonly what: (d: Damage) => string;
  /** What the reader did about it. */
  readonly done: string;
  /** What to do. */
  readonly todo: string;
}

const n = (value: number | undefined) => (value ?? 0).toLocaleString('en-GB');

export const damageTable = {
  'empty-file': {
    fatal: true,
    what: () => 'The file is empty.',
    done: 'Nothing was read.',
    todo: 'Export it again, or drop another file.',
  },
  'file-too-large': {
    fatal: true,
    what: (d: Damage) => `The file has ${n(d.value)} bytes; sources may have up to ${n(d.limit)}.`,
    done: 'Nothing was read.',
    todo: 'Split it, or export only the parts that are needed.',
  },
  'too-many-events': {
    fatal: true,
    what: (d: Damage) => `The file holds more than ${n(d.limit)} events.`,
    done: 'Reading was stopped.',
    todo: 'Split it, or export only the parts that are needed.',
  },
  'too-many-tracks': {
    fatal: true,
    what: (d: Damage) =>
      `The file holds more than the ${n(d.limit)} tracks that a header can name.`,
    done: 'Reading was stopped.',
    todo: 'Export it again; a file like this was not written by a music program.',
  },
  'not-midi': {
    fatal: true,
    what: () => 'This is not a MIDI file: it holds no MThd header.',
    done: 'Nothing was read.',
    todo: 'Check that the file was exported as a Standard MIDI File, and drop that one.',
  },
  'text-unreadable': {
    fatal: true,
    what: (d: Damage) => d.says ?? 'The file is none of the formats that can be read.',
    done: 'Nothing was read.',
    todo: 'Mend it there, or export it again.',
  },
  'text-doubtful': {
    what: (d: Damage) => d.says ?? 'A line contradicts another.',
    done: 'Both were kept.',
    todo: 'Check this place.',
  },
  'module-doubtful': {
    what: (d: Damage) => d.says ?? 'The module contradicts itself.',
    done: 'The rest was read.',
    todo: 'Listen to this place, or save the module again where it was made.',
  },
  'header-cut': {
    fatal: true,
    what: () => 'The file ends inside its header.',
    done: 'Nothing was read.',
    todo: 'Copy or export the file again.',
  },
  'ppq-zero': {
    fatal: true,
    what: () => 'The header says 0 ticks to a quarter note, so nothing can be timed.',
    done: 'The events can be listed, but there is no score.',
    todo: 'Export it again with a PPQ such as 480.',
  },
  'leading-bytes': {
    what: (d: Damage) => `${n(d.value)} bytes stand before the MThd header.`,
    done: 'They were passed over.',
    todo: 'Nothing needs to be done if the music is complete.',
  },
  'header-length': {
    what: (d: Damage) => `The header says it has ${n(d.value)} bytes; a MIDI header has 6.`,
    done: 'Its first 6 bytes were read and the others kept.',
    todo: 'Nothing needs to be done if the music is complete.',
  },
  'format-unknown': {
    what: (d: Damage) => `The header gives format ${n(d.value)}; there are 0, 1 and 2.`,
    done: 'It was read as format 1.',
    todo: 'Check that no track is missing.',
  },
  'format-0-tracks': {
    what: (d: Damage) =>
      `The header says format 0, which has one track, but there are ${n(d.value)}.`,
    done: 'All were read, as in format 1.',
    todo: 'Choose which tracks are wanted.',
  },
  'smpte-rate': {
    what: (d: Damage) =>
      `The header gives ${n(d.value)} frames a second; there are 24, 25, 29 and 30.`,
    done: 'The number was taken as it stands.',
    todo: 'Check the clock length.',
  },
  'track-count': {
    what: (d: Damage) => `The header announces ${n(d.limit)} tracks; ${n(d.value)} were found.`,
    done: 'Those found were read.',
    todo: 'Compare with the program that wrote it: a track may be missing.',
  },
  'chunk-length': {
    what: (d: Damage) =>
      `The track's length is given as ${n(d.limit)} bytes, but its events take ${n(d.value)}.`,
    done: 'Reading followed the events.',
    todo: 'Check the end of this track.',
  },
  truncated: {
    what: () => 'The file ends in the middle of this chunk.',
    done: 'What stood before the cut was read.',
    todo: 'Copy or export the file again; what follows the cut is missing.',
  },
  'event-cut': {
    what: () => 'An event runs past the end of its track.',
    done: 'A text or sysex was kept as far as it goes; any other event was left out.',
    todo: 'Check the end of this track.',
  },
  'running-status-missing': {
    what: () => 'A data byte stands where an event should begin, and no status came before it.',
    done: 'Bytes were passed over up to the next status byte.',
    todo: 'Check this track at this place.',
  },
  'running-status-cancelled': {
    what: () => 'Running status is carried over a meta or sysex event, which cancels it.',
    done: 'The status from before was used.',
    todo: 'Nothing needs to be done if it sounds right. Strict devices would misread it; the handover will not.',
  },
  'data-byte': {
    what: (d: Damage) => `A data byte is ${n(d.value)}; data bytes end at 127.`,
    done: 'It was read as 127.',
    todo: 'Check this event.',
  },
  'number-too-long': {
    what: () => 'A variable-length number takes more than its 4 bytes.',
    done: 'It was read to its end.',
    todo: 'Check the timing from here on.',
  },
  'number-endless': {
    what: () => 'A variable-length number does not end.',
    done: 'The rest of this track was not read.',
    todo: 'Copy or export the file again.',
  },
  'tick-overflow': {
    what: (d: Damage) => `The track runs past tick ${n(d.limit)}, the latest that is kept.`,
    done: 'The events from here on stand at that tick.',
    todo: 'Check the delta time at this place.',
  },
  'end-of-track-missing': {
    what: () => 'The track has no end-of-track event.',
    done: 'One was set at its last event.',
    todo: 'Nothing needs to be done if the music is complete.',
  },
  'bytes-after-end': {
    what: (d: Damage) => `${n(d.value)} bytes follow the end of the track inside its chunk.`,
    done: 'They were kept but not read.',
    todo: 'Check that nothing is missing from this track.',
  },
  'trailing-bytes': {
    what: (d: Damage) => `${n(d.value)} bytes follow the last chunk.`,
    done: 'They were kept but not read.',
    todo: 'Nothing needs to be done if the music is complete.',
  },
  'system-byte': {
    what: (d: Damage) =>
      `The byte ${(d.value ?? 0).toString(16).toUpperCase()} (a live system message) stands in a track.`,
    done: 'It was left out.',
    todo: 'Nothing needs to be done.',
  },
  'tempo-length': {
    what: (d: Damage) => `A tempo event has ${n(d.value)} bytes; it needs 3.`,
    done: 'It was kept as data and not used.',
    todo: 'Check the tempo from here on.',
  },
  'tempo-zero': {
    what: () => 'A tempo event gives 0 microseconds to a quarter note.',
    done: 'It was kept as data and not used.',
    todo: 'Check the tempo from here on.',
  },
  'meter-invalid': {
    what: () => 'A meter event has no beats, a beat smaller than 1/128, or the wrong length.',
    done: 'It was kept as data and not used.',
    todo: 'Check the bars from here on.',
  },
} satisfies Record<string, DamageText>;

const table: Record<DamageCode, DamageText> = damageTable;

export const isFatal = (damage: Damage): boolean => table[damage.code].fatal === true;

/** The whole sentence: what, where, what was done and what to do. */
export function sayDamage(d: Damage): string {
  const { what, done, todo } = table[d.code];
  const place = [
    d.track === null ? '' : `track ${d.track + 1}, `,
    d.place ?? `byte ${n(d.byteOffset)}`,
    d.times > 1 ? `, ${n(d.times)} times` : '',
  ].join('');
  return `${what(d)} (${place}) ${done} ${todo}`;
}

/** The rows of the damage reference in the docs. */
export const damageRows = () =>
  (Object.keys(damageTable) as DamageCode[]).map((code) => ({
    code,
    fatal: table[code].fatal === true,
    what: table[code].what({ code, byteOffset: 0, track: null, times: 1, value: 0, limit: 0 }),
    done: table[code].done,
    todo: table[code].todo,
  }));
