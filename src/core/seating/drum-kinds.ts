/** What a drum is, so that another of its kind can stand in for it. */
type Kind =
  | 'bass drum'
  | 'snare'
  | 'rim'
  | 'clap'
  | 'tom'
  | 'hi-hat'
  | 'open hi-hat'
  | 'crash'
  | 'ride'
  | 'bell'
  | 'hand drum'
  | 'shaker'
  | 'wood'
  | 'metal';

/** The percussion keys of General MIDI Level 1, 35 to 81. */
const KEYS: readonly (readonly [number, string, Kind])[] = [
  [35, 'Acoustic bass drum', 'bass drum'],
  [36, 'Bass drum 1', 'bass drum'],
  [37, 'Side stick', 'rim'],
  [38, 'Acoustic snare', 'snare'],
  [39, 'Hand clap', 'clap'],
  [40, 'Electric snare', 'snare'],
  [41, 'Low floor tom', 'tom'],
  [42, 'Closed hi-hat', 'hi-hat'],
  [43, 'High floor tom', 'tom'],
  [44, 'Pedal hi-hat', 'hi-hat'],
  [45, 'Low tom', 'tom'],
  [46, 'Open hi-hat', 'open hi-hat'],
  [47, 'Low-mid tom', 'tom'],
  [48, 'High-mid tom', 'tom'],
  [49, 'Crash cymbal 1', 'crash'],
  [50, 'High tom', 'tom'],
  [51, 'Ride cymbal 1', 'ride'],
  [52, 'Chinese cymbal', 'crash'],
  [53, 'Ride bell', 'bell'],
  [54, 'Tambourine', 'shaker'],
  [55, 'Splash cymbal', 'crash'],
  [56, 'Cowbell', 'bell'],
  [57, 'Crash cymbal 2', 'crash'],
  [58, 'Vibraslap', 'wood'],
  [59, 'Ride cymbal 2', 'ride'],
  [60, 'High bongo', 'hand drum'],
  [61, 'Low bongo', 'hand drum'],
  [62, 'Mute high conga', 'hand drum'],
  [63, 'Open high conga', 'hand drum'],
  [64, 'Low conga', 'hand drum'],
  [65, 'High timbale', 'hand drum'],
  [66, 'Low timbale', 'hand drum'],
  [67, 'High agogo', 'bell'],
  [68, 'Low agogo', 'bell'],
  [69, 'Cabasa', 'shaker'],
  [70, 'Maracas', 'shaker'],
  [71, 'Short whistle', 'metal'],
  [72, 'Long whistle', 'metal'],
  [73, 'Short guiro', 'wood'],
  [74, 'Long guiro', 'wood'],
  [75, 'Claves', 'wood'],
  [76, 'High wood block', 'wood'],
  [77, 'Low wood block', 'wood'],
  [78, 'Mute cuica', 'hand drum'],
  [79, 'Open cuica', 'hand drum'],
  [80, 'Mute triangle', 'metal'],
  [81, 'Open triangle', 'metal'],
];
const names = new Map(KEYS.map(([key, name]) => [key, name]));
const kinds = new Map(KEYS.map(([key, , kind]) => [key, kind]));

/** What a percussion key is called in General MIDI; null outside of 35 to 81. */
export const drumName = (key: number): string | null => names.get(key) ?? null;

/** Words by which a seat’s own sound names tell their kind. */
const WORDS: readonly (readonly [RegExp, Kind])[] = [
  [/open/i, 'open hi-hat'],
  [/hat/i, 'hi-hat'],
  [/kick|bass|boom|stomp|deep/i, 'bass drum'],
  [/rim|side stick|edge/i, 'rim'],
  [/snare|rattle/i, 'snare'],
  [/clap/i, 'clap'],
  [/tom|tub|barrel/i, 'tom'],
  [/crash|splash|china/i, 'crash'],
  [/bell|cow|agogo|chime/i, 'bell'],
  [/ride/i, 'ride'],
  [/shak|tamb|marac|cabasa|sand/i, 'shaker'],
  [/wood|block|clave|guiro|plank|sticks/i, 'wood'],
  [/triangle|whistle|metal|chain|anvil/i, 'metal'],
  [/conga|bongo|hand|timbale/i, 'hand drum'],
];

/** What is heard in the place of a kind that is not there, the nearest first. */
const NEAR: Readonly<Record<Kind, readonly Kind[]>> = {
  'bass drum': ['tom', 'hand drum', 'snare'],
  snare: ['clap', 'rim', 'tom', 'hand drum'],
  rim: ['wood', 'snare', 'clap'],
  clap: ['snare', 'rim', 'hand drum'],
  tom: ['hand drum', 'bass drum', 'snare'],
  'hi-hat': ['open hi-hat', 'shaker', 'ride', 'metal'],
  'open hi-hat': ['hi-hat', 'crash', 'ride', 'shaker'],
  crash: ['ride', 'open hi-hat', 'metal', 'hi-hat'],
  ride: ['hi-hat', 'crash', 'bell', 'open hi-hat'],
  bell: ['metal', 'wood', 'ride', 'rim'],
  'hand drum': ['tom', 'wood', 'snare', 'rim'],
  shaker: ['hi-hat', 'open hi-hat', 'metal'],
  wood: ['rim', 'bell', 'hand drum', 'snare'],
  metal: ['bell', 'open hi-hat', 'hi-hat', 'ride'],
};

const kindOf = (key: number, name: string | undefined): Kind | null =>
  (name && WORDS.find(([word]) => word.test(name))?.[1]) || (kinds.get(key) ?? null);

export interface KeyPair {
  readonly from: number;
  readonly to: number;
}

/** A key that a seat has, with its own name for it where it has one. */
export interface SeatKey {
  readonly key: number;
  readonly name?: string;
}

/**
 * A key of the seat for every key that is used: the same where it is there, else one of its kind, a
 * run of several of one kind laid in order from low to high; else what sounds most like it; else the
 * nearest. Every used key gets one.
 */
export function nearestInKind(used: readonly number[], there: readonly SeatKey[]): KeyPair[] {
  if (there.length === 0) return [];
  const byKey = [...there].sort((a, b) => a.key - b.key);
  const all = byKey.map((k) => k.key);
  const has = new Set(all);
  const ofKind = new Map<Kind, number[]>();
  for (const { key, name } of byKey) {
    const kind = kindOf(key, name);
    if (kind) ofKind.set(kind, [...(ofKind.get(kind) ?? []), key]);
  }
  const groups = new Map<Kind, number[]>();
  const out: KeyPair[] = [];
  for (const key of [...used].sort((a, b) => a - b)) {
    const kind = kinds.get(key);
    if (kind) groups.set(kind, [...(groups.get(kind) ?? []), key]);
    else out.push({ from: key, to: has.has(key) ? key : nearest(key, all) });
  }
  for (const [kind, keys] of groups) {
    const found = [kind, ...NEAR[kind]].find((k) => ofKind.has(k));
    const to = found ? ofKind.get(found)! : null;
    // A run that is there as it is stays; else it is laid in order on what exists.
    const same = keys.every((k) => has.has(k) && (to === null || to.includes(k)));
    keys.forEach((key, i) => {
      if (same) out.push({ from: key, to: key });
      else if (to === null) out.push({ from: key, to: nearest(key, all) });
      else {
        const at = Math.round((i * (to.length - 1)) / Math.max(1, keys.length - 1));
        out.push({ from: key, to: keys.length === 1 ? nearest(key, to) : to[at]! });
      }
    });
  }
  return out.sort((a, b) => a.from - b.from);
}

const nearest = (key: number, there: readonly number[]): number =>
  there.reduce((a, b) => (Math.abs(b - key) < Math.abs(a - key) ? b : a));

/** Every key on one of the seat: as many in order as there are, evenly where there are fewer. */
export function inOrder(used: readonly number[], there: readonly SeatKey[]): KeyPair[] {
  if (there.length === 0) return [];
  const to = there.map((k) => k.key).sort((a, b) => a - b);
  const keys = [...used].sort((a, b) => a - b);
  return keys.map((from, i) => ({
    from,
    to:
      keys.length <= to.length
        ? to[i]!
        : to[Math.round((i * (to.length - 1)) / Math.max(1, keys.length - 1))]!,
  }));
}
