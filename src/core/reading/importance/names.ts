/** What a part is for, as its name says or as it is played. */
export type Role =
  'lead' | 'bass' | 'drums' | 'chords' | 'left' | 'right' | 'voice' | 'cues' | 'effects';

/** Words in names of tracks, in the common languages; matched as whole words or at their beginning. */
const WORDS: Readonly<Record<Role, readonly string[]>> = {
  lead: ['lead', 'melody', 'solo', 'theme', 'melodie', 'mélodie', 'melodia', 'soprano', 'pulse 1', 'whistle', 'fiddle', 'treble', 'chanter'],
  bass: ['bass', 'basse', 'basso', 'bajo', 'contrabass', 'tuba', 'drone', 'triangle'],
  drums: ['drum', 'drums', 'kit', 'perc', 'percussion', 'beat', 'schlagzeug', 'batterie', 'batería', 'bateria', 'batteria', 'noise', 'clapper'],
  chords: ['chord', 'chords', 'pad', 'strings', 'guitar', 'organ', 'piano', 'akkord', 'accord', 'harmonium', 'squeezebox', 'bellows', 'comp'],
  left: ['left', 'lh', 'l.h.', 'links', 'linke', 'gauche', 'izquierda', 'sinistra', 'left hand'],
  right: ['right', 'rh', 'r.h.', 'rechts', 'rechte', 'droite', 'derecha', 'destra', 'right hand'],
  voice: ['voice', 'vocal', 'vox', 'choir', 'sing', 'stimme', 'chant', 'voix', 'voz', 'voce', 'alto', 'tenor'],
  cues: ['cue', 'cues', 'light', 'lights', 'lamp', 'lamps', 'lantern', 'licht', 'luces', 'lumière', 'luci', 'shutter', 'advance'],
  effects: ['fx', 'sfx', 'effect', 'effects', 'noise', 'effekt'],
}; // prettier-ignore

const escape = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
/** One pattern a role, made once: names are read for every part of every song that is tried. */
const PATTERNS = Object.entries(WORDS).map(
  ([role, words]) =>
    [
      role as Role,
      new RegExp(`(^|[^\\p{L}])(?:${words.map(escape).join('|')})($|[^\\p{L}])`, 'u'),
    ] as const,
);

/** What was read lately: a song that is mended has its names read thousands of times. */
const read = new Map<string, ReadonlySet<Role>>();
const MOST_KEPT = 1000;

/** The roles that a name speaks of. */
export function rolesIn(name: string): ReadonlySet<Role> {
  const known = read.get(name);
  if (known) return known;
  const said = name.toLowerCase().normalize('NFC');
  const roles = new Set(PATTERNS.flatMap(([role, words]) => (words.test(said) ? [role] : [])));
  if (read.size >= MOST_KEPT) read.clear();
  read.set(name, roles);
  return roles;
}
