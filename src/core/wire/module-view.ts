import type { Checkpoint } from '../diagnostic/checkpoint';
import { mapsOf } from '../score/inventory';
import { scoreFromFile } from '../score/from-file';
import type { ModuleChoices } from '../sources/module/choices';
import { readKnown, type KnownModule } from '../sources/module/open';
import type { SampleRole } from '../sources/module/samples/role';
import { PITCHED } from '../sources/module/samples/pitch';
import { noteName } from '../target/words';

/** What is in a module, as plain data: the list that people write on paper. */
export interface ModuleView {
  readonly format: string;
  readonly name: string;
  readonly comment: string;
  readonly channels: number;
  readonly patterns: number;
  readonly rows: number;
  readonly seconds: number;
  /** The order that it goes round to; null where it stops. */
  readonly roundTo: number | null;
  readonly rowsPerBeat: number;
  readonly beatsPerBar: number;
  readonly beatsReason: string;
  readonly samples: readonly SampleView[];
  readonly lost: readonly { readonly what: string; readonly count: number }[];
}

export interface SampleView {
  readonly number: number;
  readonly name: string;
  readonly seconds: number;
  /** Hz at the middle C. */
  readonly rate: number;
  readonly loops: boolean;
  readonly strikes: number;
  readonly keys: readonly { readonly key: number; readonly count: number }[];
  /** 0 to 1. */
  readonly quietest: number;
  readonly loudest: number;
  /** From 1. */
  readonly channels: readonly number[];
  readonly firstBar: number | null;
  readonly lastBar: number | null;
  /** The lowest and the highest value of each of as many stretches: −1 to 1. */
  readonly wave: readonly number[];
  readonly role: SampleRole;
  readonly suspected: SampleRole;
  readonly reason: string;
  /** Semitones that it sounds above what is written, cents beside that, and how sure that is. */
  readonly pitch: {
    readonly semitones: number;
    readonly cents: number;
    readonly sure: number;
    readonly says: string;
  } | null;
  readonly beat: {
    readonly bpm: number;
    readonly beats: number;
    readonly hits: number;
  } | null;
  readonly chord: readonly number[] | null;
  /** Channels of a second role. */
  readonly apart: readonly number[];
}

export const WAVE_STRETCHES = 64;

export function moduleView(known: KnownModule, choices: ModuleChoices): ModuleView {
  const { module, played, samples } = known;
  const reading = readKnown(known, choices);
  const score = scoreFromFile(reading.file, { sourceKey: 'main' });
  const { bars } = mapsOf(score);
  const barOf = (seconds: number) => bars.placeAt(reading.line.tickAt(seconds)).bar;
  return {
    format: module.format.toUpperCase(),
    name: module.name,
    comment: module.comment,
    channels: module.channels,
    patterns: module.patterns.length,
    rows: played.rows.length,
    seconds: played.seconds,
    roundTo: played.roundTo,
    rowsPerBeat: reading.beats.rowsPerBeat,
    beatsPerBar: reading.beats.beatsPerBar,
    beatsReason: reading.beats.reason,
    lost: reading.lost,
    samples: samples.map(({ number, heard, strikes, splits }): SampleView => {
      const sample = module.samples[number]!;
      const counts = new Map<number, number>();
      let [quietest, loudest] = [1, 0];
      for (const s of strikes) {
        counts.set(s.soundingKey, (counts.get(s.soundingKey) ?? 0) + 1);
        const level = s.levels.reduce((top, l) => Math.max(top, l.value), 0);
        quietest = Math.min(quietest, level);
        loudest = Math.max(loudest, level);
      }
      const last = strikes.reduce((latest, s) => Math.max(latest, s.at), 0);
      const { pitch } = heard;
      return {
        number,
        name: sample.name.trim(),
        seconds: sample.frames.length / sample.rate,
        rate: Math.round(sample.rate),
        loops: sample.loop !== null || sample.sustain !== null,
        strikes: strikes.length,
        keys: [...counts].map(([key, count]) => ({ key, count })).sort((a, b) => a.key - b.key),
        quietest: strikes.length > 0 ? quietest : 0,
        loudest,
        channels: [...new Set(strikes.map((s) => s.channel + 1))].sort((a, b) => a - b),
        firstBar: strikes.length > 0 ? barOf(strikes[0]!.at) : null,
        lastBar: strikes.length > 0 ? barOf(last) : null,
        wave: waveOf(sample.frames),
        role: choices.samples?.[number]?.role ?? heard.role,
        suspected: heard.role,
        reason: heard.reason,
        pitch:
          pitch && pitch.strength >= PITCHED && heard.chord === null
            ? {
                semitones: pitch.semitones,
                cents: pitch.cents,
                sure: pitch.strength,
                says: sayPitch(pitch.semitones, pitch.cents),
              }
            : null,
        beat: heard.beat && {
          bpm: heard.beat.bpm,
          beats: heard.beat.beats,
          hits: heard.beat.hits.length,
        },
        chord: heard.chord,
        apart: splits.length > 1 ? splits[1]!.map((c) => c + 1) : [],
      };
    }),
  };
}

/** "a C sounds as G2, 17 semitones lower (+8 cents)" */
function sayPitch(semitones: number, cents: number): string {
  const off = Math.abs(cents) >= 5 ? ` (${cents > 0 ? '+' : '−'}${Math.abs(cents)} cents)` : '';
  if (semitones === 0) return `sounds as written${off}`;
  const by = Math.abs(semitones);
  const name = 60 + semitones >= 0 && 60 + semitones <= 127 ? noteName(60 + semitones) : null;
  return (
    `a C4 sounds${name ? ` as ${name},` : ''} ${by} semitone${by === 1 ? '' : 's'} ` +
    `${semitones > 0 ? 'higher' : 'lower'} than written${off}`
  );
}

function waveOf(frames: Float32Array): number[] {
  const out: number[] = [];
  for (let s = 0; s < WAVE_STRETCHES; s++) {
    const from = Math.floor((s * frames.length) / WAVE_STRETCHES);
    const to = Math.max(from + 1, Math.floor(((s + 1) * frames.length) / WAVE_STRETCHES));
    let [low, high] = [0, 0];
    for (let i = from; i < Math.min(to, frames.length); i++) {
      low = Math.min(low, frames[i]!);
      high = Math.max(high, frames[i]!);
    }
    out.push(Math.round(low * 1000) / 1000, Math.round(high * 1000) / 1000);
  }
  return out;
}

/** One way of a choice, with what it gives and what it leaves. */
export interface ModuleWay {
  readonly choice: keyof typeof WAYS;
  readonly value: string;
  readonly notes: number;
  readonly parts: number;
  readonly controllers: number;
  readonly bends: number;
  /** Beyond what every way leaves. */
  readonly lost: readonly { readonly what: string; readonly count: number }[];
}

const WAYS = {
  parts: ['sample', 'instrument', 'channel'],
  volume: ['expression', 'steps', 'out'],
  pitch: ['bends', 'notes', 'out'],
  arpeggio: ['chord', 'quick', 'root'],
  pan: ['controllers', 'out'],
  programs: ['none', 'role'],
  tuning: ['written', 'out'],
} as const;

const ALL_WAYS = Object.values(WAYS).flat().length;

/** What each way of each choice would give, the others staying as they are. */
export function moduleWays(
  known: KnownModule,
  choices: ModuleChoices,
  checkpoint?: Checkpoint,
): ModuleWay[] {
  let done = 0;
  return Object.entries(WAYS).flatMap(([choice, values]) =>
    values.map((value) => {
      checkpoint?.(done++, ALL_WAYS);
      const reading = readKnown(known, { ...choices, [choice]: value });
      const score = scoreFromFile(reading.file, { sourceKey: 'main' });
      let [notes, controllers, bends] = [0, 0, 0];
      for (const { notes: own, events } of score.parts) {
        notes += own.count;
        for (let i = 0; i < events.count; i++)
          if (events.kind[i] === 0xb0) controllers++;
          else if (events.kind[i] === 0xe0) bends++;
      }
      return {
        choice: choice as ModuleWay['choice'],
        value,
        notes,
        parts: score.parts.filter((p) => p.notes.count > 0).length,
        controllers,
        bends,
        lost: reading.lost.filter((l) => !l.what.startsWith('samples')),
      };
    }),
  );
}
