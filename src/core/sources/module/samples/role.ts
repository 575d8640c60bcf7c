import FFT from 'fft.js';
import type { Sample } from '../module';
import { featuresOf, type Features } from './features';
import type { SampleRole } from './roles';
import { beatIn, type SampledBeat } from './hits';
import { soundingPitch, PITCHED, type SoundingPitch } from './pitch';

/** How a sample is used in its module. */
export interface SampleUse {
  /** Of the instrument that it is struck by most; empty where there is none. */
  readonly instrument: string;
  readonly strikes: number;
  /** Keys that are struck, and the one that lies in the middle of all strikes. */
  readonly keys: readonly number[];
  readonly middleKey: number;
  /** Seconds that a strike sounds, in the middle. */
  readonly held: number;
}

export interface SampleSound {
  readonly role: SampleRole;
  /** "by its name; falls within 0.2 s; 81 % of it below 150 Hz" */
  readonly reason: string;
  readonly pitch: SoundingPitch | null;
  readonly beat: SampledBeat | null;
  /** Semitones above the lowest of its notes, where it is a chord. */
  readonly chord: readonly number[] | null;
}

/** Words in names of samples: whole, with digits behind them. */
const NAMES: readonly (readonly [SampleRole, RegExp])[] = [
  ['beat', word('loop|break|breakbeat|beat|beats|drumloop|groove|rhythm')],
  ['bass drum', word('kick|bd|bassdrum|bass drum|bassdr|bdrum|bsdrum|kik|kck')],
  ['snare', word('snare|sd|snr|sn|clap|claps|rim|rimshot|snaredrum')],
  ['hat', word('hat|hihat|hi hat|hh|ohh|chh|hats|openhat|closedhat')],
  ['tom', word('tom|toms|tomtom')],
  ['cymbal', word('cymbal|crash|ride|cym|splash|china|gong')],
  [
    'other drum',
    word(
      'perc|percussion|conga|bongo|shaker|tamb|tambourine|cowbell|clave|claves|drum|drums|block|' +
        'timpani|timbale|tabla|maracas|cabasa|guiro|triangle',
    ),
  ],
  ['bass', word('bass|bas|slap|subbass|contrabass|fretless')],
  ['chord', word('chord|chords|chrd|stab|minor|major|min|maj|min7|maj7')],
  ['pad', word('pad|pads|strings?|choir|str|ambient|warm')],
  ['speech', word('voice|voices|vocals?|vox|speech|say|says|talk|word|words|shout|hey|yeah')],
  ['effect', word('fx|sfx|effects?|noise|sweep|zap|wind|rain|scratch|explosion|siren|water')],
  [
    'lead',
    word(
      'lead|solo|synth|saw|square|pulse|flute|piano|guitars?|gtr|organ|bells?|brass|trumpet|sax|' +
        'violin|melody|harp|pluck|arp|clarinet|oboe|marimba|vibes|sitar|banjo|accordion|harmonica',
    ),
  ],
];

/** Parts of words that say it wherever they stand: "kickhard", "acidbass", "stringens". */
const STEMS: readonly (readonly [SampleRole, RegExp])[] = [
  ['beat', /[a-z]loop(?![a-z])|breakb/i],
  ['bass drum', /kick|bassdr/i],
  ['snare', /snare/i],
  ['hat', /hi-?hat|(?:open|closed?|pedal|tight|soft|hard)hat(?![a-z])/i],
  ['cymbal', /cymbal|crash/i],
  ['other drum', /conga|bongo|shaker|tambour|cowbell|[a-z]drum(?![a-z])/i],
  ['bass', /[a-z](?<!em)bass(?![a-z])|(?<![a-z])bass(?=gu|syn)/i],
  ['chord', /(?<!psi|avi)chord/i],
  ['pad', /string|choir/i],
  ['speech', /vocal|speech/i],
  ['lead', /guitar|piano|flute|trumpet|violin|psichord|avichord|(?<![a-z])lead|(?<![a-z])synth/i],
];

/** A loop of something that has a pitch is that; alone, or of drums, it is a beat. */
const OF_ANYTHING = word('loop|groove|rhythm');
const PITCHED_ROLES: ReadonlySet<SampleRole> = new Set(['bass', 'chord', 'pad', 'speech', 'lead']);

function word(words: string): RegExp {
  return new RegExp(`(^|[^a-z])(?:${words})(?=$|[^a-z])`, 'i');
}

/** What the name of a sample speaks of; a line of a letter that was written over names says nothing. */
export function roleByName(name: string): SampleRole | null {
  if (name.split(/\s+/).length > 4) return null;
  const said = name.replace(/[_.\-#]/g, ' ');
  const found = NAMES.filter(([, words]) => words.test(said)).map(([role]) => role);
  const [first = null] = found;
  if (first === 'beat' && OF_ANYTHING.test(said))
    return found.find((role) => PITCHED_ROLES.has(role)) ?? first;
  return first ?? STEMS.find(([, part]) => part.test(name))?.[0] ?? null;
}

const percent = (share: number) => `${Math.round(share * 100)} %`;
const secs = (s: number) => `${s < 0.1 ? s.toFixed(2) : s.toFixed(1)} s`;

/** What a sample is suspected to be, with its reasons. */
export function hear(sample: Sample, use: SampleUse): SampleSound {
  const none = { pitch: null, beat: null, chord: null };
  // As it sounds where it is played most.
  const scale = 2 ** ((use.middleKey - 60) / 12);
  const played = { ...sample, rate: sample.rate * scale };
  const f = featuresOf(played);
  if (sample.frames.length < 4 || f.peak < 0.002)
    return { role: 'silence', reason: 'nothing sounds in it', ...none };
  const pitch = soundingPitch(sample);
  const pitched = (pitch?.strength ?? 0) >= PITCHED;
  const beat = sample.loop && f.seconds < 1.5 ? null : beatIn(sample);
  const named = roleByName(sample.name) ?? roleByName(use.instrument);
  const chord = chordIn(sample);
  const hz = (pitch?.hz ?? 0) * scale;
  const scores = new Map<SampleRole, { score: number; because: string[] }>();
  const says = (role: SampleRole, score: number, because: string) => {
    const s = scores.get(role) ?? { score: 0, because: [] };
    scores.set(role, { score: s.score + score, because: [...s.because, because] });
  };
  // “Bass” is a drum too: what falls at once, without a pitch, and is struck on one key.
  const bassDrum =
    named === 'bass' && !pitched && use.keys.length <= 2 && f.low > 0.35 && f.fall < 0.5;
  if (named) says(bassDrum ? 'bass drum' : named, 1.3, 'so its name says');
  drums(f, pitched, hz, use, says);
  if (beat && !pitched)
    says('beat', 1.6, `${beat.hits.length} hits on a grid of ${beat.beats} beats`);
  else if (beat && beat.hits.length >= 6) says('beat', 0.8, `${beat.hits.length} hits in it`);
  if (pitched) {
    const keys = use.keys.length;
    // What falls and is struck on one key alone is played as a drum is, however low it hums.
    const asDrum = keys === 1 && !sample.loop && f.fall < 1;
    if (hz < 150) says('bass', asDrum ? 0.4 : 0.9, `sounds at ${Math.round(hz)} Hz`);
    else if (hz < 220 && f.edge < 2500) says('bass', 0.4, `sounds at ${Math.round(hz)} Hz`);
    if (hz >= 150) says('lead', 0.8, `has a pitch (${percent(pitch!.strength)} periodic)`);
    if (keys > 3) says(hz < 150 ? 'bass' : 'lead', 0.5, `${keys} keys are played on it`);
    if (hz >= 150 && f.rise > 0.12 && use.held > 0.8)
      says('pad', 0.9, `swells for ${secs(f.rise)}, held ${secs(use.held)}`);
  }
  // The period of a chord is that of a note far below it, which nobody plays.
  if (chord) says('chord', 1.5, `${chord.length} notes sound in it`);
  if (
    !pitched &&
    !beat &&
    f.seconds > 0.8 &&
    !sample.loop &&
    f.noise < 0.35 &&
    use.keys.length <= 2
  )
    says(
      f.centre > 300 && f.centre < 2500 ? 'speech' : 'effect',
      0.8,
      `${secs(f.seconds)} without a pitch of its own`,
    );
  if (!pitched && sample.loop && f.noise > 0.3) says('effect', 0.5, 'noise that goes on');
  const ranked = [...scores].sort((a, b) => b[1].score - a[1].score);
  const [role, why] = ranked[0] ?? [
    pitched ? 'lead' : 'effect',
    { because: ['nothing tells more'] },
  ];
  return { role, reason: why.because.join('; '), pitch, beat, chord };
}

function drums(
  f: Features,
  pitched: boolean,
  hz: number,
  use: SampleUse,
  says: (role: SampleRole, score: number, because: string) => void,
): void {
  const bright = f.high > 0.6 && !pitched && use.keys.length <= 2;
  if (f.fall === Infinity && bright) says('cymbal', 0.8, 'goes on above 4 kHz');
  if (f.fall > 2.5) return;
  const melodic = use.keys.length > 5 ? -0.8 : use.keys.length > 3 ? -0.3 : 0;
  const falls = `falls within ${secs(f.fall)}`;
  const short = f.fall < 0.7;
  if (short && f.low > 0.35 && f.rise < 0.06)
    says(
      'bass drum',
      0.5 +
        0.6 * f.low +
        Math.min(0.5, f.drop * 0.5) +
        melodic -
        (pitched && f.drop < 0.2 ? 0.7 : 0),
      `${falls}; ${percent(f.low)} of it below 150 Hz`,
    );
  if (short && f.high > 0.4 && f.fall < 0.35)
    says('hat', 0.7 + 0.7 * f.high + melodic, `${falls}; ${percent(f.high)} of it above 4 kHz`);
  if (f.high > 0.3 && f.fall >= 0.35 && (f.noise > 0.1 || bright))
    says('cymbal', 0.6 + 0.8 * f.high + melodic, `rings for ${secs(f.fall)} above 4 kHz`);
  if (short && f.noise > 0.06 && f.centre > 500 && f.centre < 6500 && f.high < 0.6 && !pitched)
    says(
      'snare',
      0.9 + Math.min(0.4, f.noise) + melodic,
      `${falls}; noise around ${Math.round(f.centre)} Hz`,
    );
  if (short && f.drop > 0.04 && f.low < 0.6 && f.centre < 700 && hz < 300)
    says('tom', 1.1 + Math.min(0.4, f.drop) + melodic * 0.5, `${falls}; its pitch falls`);
  if (short && f.fall < 0.25 && f.rise < 0.03 && !pitched) says('other drum', 0.5 + melodic, falls);
}

const CHORDS: readonly (readonly number[])[] = [
  [0, 4, 7],
  [0, 3, 7],
  [0, 5, 7],
  [0, 3, 6],
  [0, 4, 8],
];

/** Semitones above the lowest note of a chord that was sampled; null where it is one note. */
export function chordIn(sample: Sample): number[] | null {
  const { frames, rate } = sample;
  let size = 8192;
  while (size > 1024 && size > frames.length) size /= 2;
  if (frames.length < size || size / rate < 0.08) return null;
  const fft = new FFT(size);
  const from = Math.min(frames.length - size, Math.round(rate * 0.02));
  const input = Array.from(
    { length: size },
    (_, i) => frames[from + i]! * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size)),
  );
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, input);
  const level = (k: number) => Math.hypot(out[2 * k]!, out[2 * k + 1]!);
  const peaks: { key: number; level: number }[] = [];
  for (let k = 2; k < size / 2 - 1; k++) {
    const hz = (k * rate) / size;
    if (hz < 60 || hz > 2200) continue;
    const [a, b, c] = [level(k - 1), level(k), level(k + 1)];
    if (b <= a || b < c) continue;
    const by = (a - c) / (2 * (a - 2 * b + c));
    peaks.push({ key: 69 + 12 * Math.log2(((k + by) * rate) / size / 440), level: b });
  }
  const strongest = Math.max(0, ...peaks.map((p) => p.level));
  const strong = peaks.filter((p) => p.level > strongest * 0.3).sort((a, b) => a.key - b.key);
  // Partials of the lowest are no notes of a chord.
  const notes: number[] = [];
  for (const p of strong) {
    const partial = notes.some((n) =>
      [12, 19.02, 24, 27.86, 31.02, 33.69, 36].some((h) => Math.abs(p.key - n - h) < 0.35),
    );
    if (!partial && !notes.some((n) => Math.abs(n - p.key) < 0.6)) notes.push(p.key);
  }
  if (notes.length < 3 || notes.length > 5) return null;
  const off = notes.map((n) => Math.round(n - notes[0]!));
  const isChord = CHORDS.some((chord) =>
    chord.some((root) => {
      const classes = new Set(chord.map((n) => (n - root + 24) % 12));
      return (
        off.every((o) => classes.has(o % 12)) &&
        new Set(off.map((o) => o % 12)).size === classes.size
      );
    }),
  );
  return isChord ? off : null;
}
