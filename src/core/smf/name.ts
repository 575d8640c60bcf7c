/** The endings by which files of music are known; what else follows a dot belongs to the name. */
const ENDING = /\.(mid|midi|smf|kar|rmi)$/i;

/** A file name without its ending: of `Étude No. 5` all of it. */
export const stemOf = (name: string): string => name.replace(ENDING, '');

/** The name of a MIDI file, whatever the source was called. */
export const midiName = (name: string): string =>
  /\.midi?$/i.test(name) ? name : `${stemOf(name)}.mid`;
