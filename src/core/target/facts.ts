/** Facts that the desk knows by name; a target may ask for others under names of its own. */
export const FACT_WORDS: Readonly<Record<string, string>> = {
  title: 'title',
  maker: 'maker',
  bpm: 'declared BPM',
  displayName: 'name for the display',
  kit: 'kit',
  frameRate: 'frame rate',
  ending: 'ending',
  sound: 'sound file',
};

/** Those that a step sets and no target asks to be told. */
const SET_WORDS: Readonly<Record<string, string>> = {
  frameShift: 'frame shift',
  soundMs: 'length of the sound file in ms',
  rowsPerSecond: 'rows a second',
};

const CALLED = new Map(Object.entries({ ...FACT_WORDS, ...SET_WORDS }));

/** What a fact is called: own facts by the name that they were given. */
export const factWords = (key: string): string => CALLED.get(key) ?? key;

export const ENDING_WORDS: ReadonlyMap<string, string> = new Map([
  ['round-again', 'round again'],
  ['rest-at-end', 'rest at the end'],
]);

/** What a fact is said to be: of what stands for something the words, else as it stands. */
export const sayFact = (key: string, value: string): string =>
  (key === 'ending' ? ENDING_WORDS.get(value) : undefined) ?? value;

const keyOf = (words: string, of: ReadonlyMap<string, string>): string | undefined =>
  of.has(words) ? words : [...of].find(([, w]) => w === words)?.[0];

/** The key of a fact that is called so; a name of its own is its key. */
export const factKey = (words: string): string => keyOf(words, CALLED) ?? words;

/** The ending that is called so, by its words or its key; undefined where there is none. */
export const endingKey = (words: string): string | undefined => keyOf(words, ENDING_WORDS);
