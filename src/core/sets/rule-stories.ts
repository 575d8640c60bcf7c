/** Why people meet a rule over the songs of a set, and what its mends do; for the reference. */
export interface SetRuleStory {
  readonly asks: string;
  readonly why: string;
  readonly mends: string;
}

const ASIDE = 'a song is put aside; its job stays';

export const SET_RULE_STORIES: Readonly<Record<string, SetRuleStory>> = {
  'same-file': {
    asks: 'No two songs write a file of one name.',
    why: 'Two songs were exported under one name, or songs are carved into places whose names the device gives.',
    mends: `The later ones are named by their titles, each song or target gets a folder, or ${ASIDE}.`,
  },
  'card-names': {
    asks: 'Every name is one that cards take.',
    why: 'File systems of cards refuse names of devices, some characters, and more than 255 bytes.',
    mends: `The name is spelt in letters that the target takes, or ${ASIDE}.`,
  },
  numbers: {
    asks: 'Numbers stand before the names where the target plays by name, in the order of the set.',
    why: 'Songs were moved in the order, and their files still have the numbers of before.',
    mends: 'All are numbered by the order.',
  },
  alike: {
    asks: 'What the target wants alike in all songs of a card is alike: kit, tempo, PPQ.',
    why: 'Songs come from several sessions, each with its own.',
    mends: `Those that differ are told, to be mended in their jobs; or ${ASIDE}.`,
  },
  card: {
    asks: 'All files fit on a card: their number, their bytes, their folders.',
    why: 'The list of songs grew, or recordings became longer.',
    mends: `The last song is put aside, as often as it takes; its job stays.`,
  },
  'mixed-targets': {
    asks: 'Songs for several targets lie in folders of their own.',
    why: 'One set serves two devices, and each reads all files of a folder.',
    mends: 'Each target gets a folder.',
  },
  'same-name': {
    asks: 'Songs that are chosen on a display have names that differ.',
    why: 'Two versions of a song, or a title that was left from the song before.',
    mends: `The later ones are named by their titles, or ${ASIDE}.`,
  },
  'same-music': {
    asks: 'No song is there twice, note for note.',
    why: 'One export was brought in under two names.',
    mends: `All but the first are put aside; their jobs stay.`,
  },
  sounds: {
    asks: 'Every song that should have a recording has one, and no recording has two names.',
    why: 'One recording was brought to several songs, or one song was brought in without.',
    mends: `Songs without a recording are put aside; their jobs stay. A recording with two names is told alone.`,
  },
};
