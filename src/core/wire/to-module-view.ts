import type { Checkpoint } from '../diagnostic/checkpoint';
import { mapsOf } from '../score/inventory';
import { scoreFromFile } from '../score/from-file';
import type { ModuleChoices } from '../sources/module/choices';
import type { KnownModule } from '../sources/module/known';
import { readAsScore } from '../sources/module/to-file';
import { PITCHED } from '../sources/module/samples/pitch';
import { noteName } from '../target/words';
import {
  WAVE_STRETCHES,
  WAYS,
  type ModuleView,
  type ModuleWay,
  type SampleView,
} from './module-view';

export function moduleView(known: KnownModule, choices: ModuleChoices): ModuleView {
  const { module, played, samples, songs, song } = known;
  const reading = readAsScore(known, choices);
  const score = scoreFromFile(reading.file, { sourceKey: 'main' });
  const { bars } = mapsOf(score);
  const barOf = (seconds: number) => bars.placeAt(reading.line.tickAt(seconds)).bar;
  return {
    format: module.format.toUpperCase(),
    name: module.name,
    comment: module.comment,
    channels: module.channels,
    hasInstruments: module.instruments !== null,
    patterns: module.patterns.length,
    rows: played.rows.length,
    seconds: played.seconds,
    roundTo: played.roundTo,
    songs: songs.length,
    song: song + 1,
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

const ALL_WAYS = Object.values(WAYS).flat().length;

/** What each way of each choice would give, the others staying as they are. */
export function moduleWays(
  known: KnownModule,
  choices: ModuleChoices,
  checkpoint?: Checkpoint,
): ModuleWay[] {
  let done = 0;
  return Object.entries(WAYS).flatMap(([choice, values]) => {
    const ways = values.map((value) => {
      checkpoint?.(done++, ALL_WAYS);
      const reading = readAsScore(known, { ...choices, [choice]: value });
      const score = scoreFromFile(reading.file, { sourceKey: 'main' });
      let [notes, controllers, bends] = [0, 0, 0];
      for (const { notes: own, events } of score.parts) {
        notes += own.count;
        for (let i = 0; i < events.count; i++)
          if (events.kind[i] === 0xb0) controllers++;
          else if (events.kind[i] === 0xe0) bends++;
      }
      const parts = score.parts.filter((p) => p.notes.count > 0).length;
      const { lost } = reading;
      return {
        choice: choice as ModuleWay['choice'],
        value,
        notes,
        parts,
        controllers,
        bends,
        lost,
      };
    });
    const same = ({ what, count }: ModuleWay['lost'][number]) =>
      ways.every((w) => w.lost.some((l) => l.what === what && l.count === count));
    return ways.map((w) => ({ ...w, lost: w.lost.filter((l) => !same(l)) }));
  });
}
