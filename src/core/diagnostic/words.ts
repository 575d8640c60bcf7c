/* Words and numbers in sentences, whatever they are about. */

const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** Note number 60 is C4. */
export const noteName = (noteNumber: number): string =>
  `${NAMES[noteNumber % 12]}${Math.floor(noteNumber / 12) - 1}`;

// Made once: to make one takes longer than a thousand uses.
const PLURALS = new Intl.PluralRules('en-GB');
const NUMBERS = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 3 });

export const count = (n: number, one: string, many = `${one}s`): string =>
  `${NUMBERS.format(n)} ${PLURALS.select(n) === 'one' ? one : many}`;

/** `1,976 of 3,879 notes`. */
export const countOf = (n: number, of: number, one: string, many = `${one}s`): string =>
  `${NUMBERS.format(n)} of ${count(of, one, many)}`;

/** Once, twice, 3 times. */
export const sayTimes = (n: number): string =>
  n === 1 ? 'once' : n === 2 ? 'twice' : count(n, 'time');

/** A number as people write it: at most three decimals, none that say nothing. */
export const plain = (value: number): string => NUMBERS.format(Math.round(value * 1000) / 1000);

/** An id from a name: lower-case letters, digits and single hyphens. */
export const slugOf = (name: string): string =>
  name
    .toLowerCase()
    .normalize('NFD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60)
    .replace(/-+$/, '') || 'target';

/** `3 markers`, `1 tempo`. */
export const sayKind = (n: number, kind: string): string =>
  `${n.toLocaleString('en-GB')} ${n === 1 ? singular(kind) : plural(kind)}`;

/** What steps and writers took away; whole parts stand by their names beside it. */
export const sayLoss = (n: number, what: string): string =>
  what === 'notes' ? `${sayKind(n, what)} of parts that play` : sayKind(n, what);

/** A name in quotes; a long one is told by its beginning and its end, where numbers stand. */
export function quoted(name: string): string {
  const letters = [...name];
  if (letters.length <= LONGEST) return `“${name}”`;
  const begins = letters.slice(0, LONGEST - ENDS - 1).join('');
  return `“${begins.trimEnd()}…${letters.slice(-ENDS).join('').trimStart()}”`;
}
const LONGEST = 30;
const ENDS = 7;

/** Kinds whose name is no plural of what is counted: one, several. */
const COUNTED: Readonly<Record<string, readonly [string, string]>> = {
  text: ['text event', 'text events'],
  sysex: ['system exclusive', 'system exclusives'],
  aftertouch: ['aftertouch event', 'aftertouch events'],
  'unknown meta': ['unknown meta event', 'unknown meta events'],
  velocities: ['velocity', 'velocities'],
};
const singular = (kind: string) => COUNTED[kind]?.[0] ?? kind.replace(/^([a-z -]*?)s\b/, '$1');
const plural = (kind: string) => COUNTED[kind]?.[1] ?? kind;

/** The first names of many, and how many more there are. */
export const listed = (names: readonly string[], most = 3): string =>
  names.length <= most
    ? names.join(', ')
    : `${names.slice(0, most).join(', ')} and ${(names.length - most).toLocaleString('en-GB')} more`;

/**
 * Milliseconds as they are read: a tenth decides; more digits below one millisecond, and where what
 * it stands beside would look the same.
 */
export function sayMs(ms: number, beside = NaN): string {
  const tenth = (x: number) => plain(Math.round(x * 10) / 10);
  const same = tenth(ms) === tenth(beside) && ms !== beside;
  return Math.abs(ms) < 1 || same ? plain(ms) : tenth(ms);
}

/** Less than that is told as no shift. */
const NO_SHIFT_MS = 0.05;

/** "5.625 s later", "0.4 ms earlier"; null for what nobody would notice. */
export function sayLater(ms: number): string | null {
  const far = Math.abs(ms);
  if (far < NO_SHIFT_MS) return null;
  const says = far < 100 ? `${plain(Math.round(far * 10) / 10)} ms` : `${plain(far / 1000)} s`;
  return `${says} ${ms > 0 ? 'later' : 'earlier'}`;
}
