/** The endings by which files of music are known; what else follows a dot belongs to the name. */
const ENDING = /\.(mid|midi|smf|kar|rmi|mod|s3m|xm|it)$/i;
const OF_MODULE = /\.(mod|s3m|xm|it)$/i;
/** In old names of modules the format stands first, and there is no ending. */
const BEFORE = /^(mod|s3m|xm|it)\./i;

/** What a file dialog offers where scores are asked for. */
export const SCORE_FILES = '.mid,.midi,.smf,.rmi,.kar,.mod,.s3m,.xm,.it';

export const isModuleName = (name: string): boolean =>
  OF_MODULE.test(name) || (BEFORE.test(name) && !ENDING.test(name));

/** A file name without its ending: of `Étude No. 5` all of it. */
export const stemOf = (name: string): string =>
  ENDING.test(name) ? name.replace(ENDING, '') : name.replace(BEFORE, '');

/** The name of a MIDI file, whatever the source was called. */
export const midiName = (name: string): string =>
  /\.midi?$/i.test(name) ? name : `${stemOf(name)}.mid`;

const LONGEST_NAME = 120;
/**
 * What some file system does not take in a name, and what turns the direction of reading, so that a name
 * shows another than it is; a half of a letter is none.
 */
const NOT_IN_NAMES = /[\u0000-\u001f\u202a-\u202e\u2066-\u2069/\\:*?"<>|]|\p{Surrogate}/gu;

/** Whether it is the name of a file and nothing more: no folder, no letter that is not taken. */
export const isFileName = (name: string): boolean =>
  name.length <= LONGEST_NAME && plainName(name) === name;

/** Names that stand for a device where a card is read, whatever follows their first dot. */
const OF_DEVICES = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)/i;

/** The name that stands for a device, told from it by a number: letters of any target hold one. */
export const besideDevices = (name: string): string =>
  name.replace(OF_DEVICES, (_, device: string, then: string) => `${device}1${then}`);

/** A name with nothing in it that is none; empty where nothing is left. */
export function plainName(name: string): string {
  const plain = name.replace(NOT_IN_NAMES, '_').replace(/^\.+/, '').trim();
  const short = [...plain]
    .slice(0, LONGEST_NAME)
    .join('')
    .replace(/[. ]+$/, '');
  return OF_DEVICES.test(short) ? `_${short}`.slice(0, LONGEST_NAME) : short;
}

/** A name that none of some has, in small letters: with a number before its ending where it is there. */
export function nameBeside(name: string, taken: ReadonlySet<string>): string {
  let own = name;
  for (let n = 2; taken.has(own.toLowerCase()); n++) own = name.replace(/(\.\w{1,8})?$/, `-${n}$1`);
  return own;
}
