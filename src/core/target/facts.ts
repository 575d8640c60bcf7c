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

/** What a fact is called: own facts by the name that they were given. */
export const factWords = (key: string): string => FACT_WORDS[key] ?? key;

/** The key of a fact that is called so; a name of its own is its key. */
export const factKey = (words: string): string =>
  Object.entries(FACT_WORDS).find(([key, w]) => w === words || key === words)?.[0] ?? words;
