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

/** What a fact is called: own facts by the name that they were given. */
export const factWords = (key: string): string => FACT_WORDS[key] ?? SET_WORDS[key] ?? key;

export const ENDING_WORDS: Readonly<Record<string, string>> = {
  'round-again': 'round again',
  'rest-at-end': 'rest at the end',
};

/** What a fact is said to be: of what stands for something the words, else as it stands. */
export const sayFact = (key: string, value: string): string =>
  (key === 'ending' ? ENDING_WORDS[value] : undefined) ?? value;

/** The key of a fact that is called so; a name of its own is its key. */
export const factKey = (words: string): string =>
  Object.entries({ ...FACT_WORDS, ...SET_WORDS }).find(([key, w]) => w === words || key === words)?.[0] ?? words;
