/** Sounds of General MIDI Level 1, by program from 0; groups of eight. */
const GROUPS: readonly (readonly [string, readonly string[]])[] = [
  ['Piano', ['Acoustic grand piano', 'Bright acoustic piano', 'Electric grand piano', 'Honky-tonk piano', 'Electric piano 1', 'Electric piano 2', 'Harpsichord', 'Clavi']],
  ['Chromatic percussion', ['Celesta', 'Glockenspiel', 'Music box', 'Vibraphone', 'Marimba', 'Xylophone', 'Tubular bells', 'Dulcimer']],
  ['Organ', ['Drawbar organ', 'Percussive organ', 'Rock organ', 'Church organ', 'Reed organ', 'Accordion', 'Harmonica', 'Tango accordion']],
  ['Guitar', ['Nylon guitar', 'Steel guitar', 'Jazz guitar', 'Clean guitar', 'Muted guitar', 'Overdriven guitar', 'Distortion guitar', 'Guitar harmonics']],
  ['Bass', ['Acoustic bass', 'Fingered bass', 'Picked bass', 'Fretless bass', 'Slap bass 1', 'Slap bass 2', 'Synth bass 1', 'Synth bass 2']],
  ['Strings', ['Violin', 'Viola', 'Cello', 'Contrabass', 'Tremolo strings', 'Pizzicato strings', 'Orchestral harp', 'Timpani']],
  ['Ensemble', ['String ensemble 1', 'String ensemble 2', 'Synth strings 1', 'Synth strings 2', 'Choir aahs', 'Voice oohs', 'Synth voice', 'Orchestra hit']],
  ['Brass', ['Trumpet', 'Trombone', 'Tuba', 'Muted trumpet', 'French horn', 'Brass section', 'Synth brass 1', 'Synth brass 2']],
  ['Reed', ['Soprano sax', 'Alto sax', 'Tenor sax', 'Baritone sax', 'Oboe', 'English horn', 'Bassoon', 'Clarinet']],
  ['Pipe', ['Piccolo', 'Flute', 'Recorder', 'Pan flute', 'Blown bottle', 'Shakuhachi', 'Whistle', 'Ocarina']],
  ['Synth lead', ['Lead 1 (square)', 'Lead 2 (sawtooth)', 'Lead 3 (calliope)', 'Lead 4 (chiff)', 'Lead 5 (charang)', 'Lead 6 (voice)', 'Lead 7 (fifths)', 'Lead 8 (bass and lead)']],
  ['Synth pad', ['Pad 1 (new age)', 'Pad 2 (warm)', 'Pad 3 (polysynth)', 'Pad 4 (choir)', 'Pad 5 (bowed)', 'Pad 6 (metallic)', 'Pad 7 (halo)', 'Pad 8 (sweep)']],
  ['Synth effects', ['FX 1 (rain)', 'FX 2 (soundtrack)', 'FX 3 (crystal)', 'FX 4 (atmosphere)', 'FX 5 (brightness)', 'FX 6 (goblins)', 'FX 7 (echoes)', 'FX 8 (sci-fi)']],
  ['Ethnic', ['Sitar', 'Banjo', 'Shamisen', 'Koto', 'Kalimba', 'Bagpipe', 'Fiddle', 'Shanai']],
  ['Percussive', ['Tinkle bell', 'Agogo', 'Steel drums', 'Woodblock', 'Taiko drum', 'Melodic tom', 'Synth drum', 'Reverse cymbal']],
  ['Sound effects', ['Guitar fret noise', 'Breath noise', 'Seashore', 'Bird tweet', 'Telephone ring', 'Helicopter', 'Applause', 'Gunshot']],
]; // prettier-ignore

/** What a program is called in General MIDI; `program` counts from 0. */
export const programName = (program: number): string =>
  GROUPS[program >> 3]?.[1][program & 7] ?? `Program ${program + 1}`;
