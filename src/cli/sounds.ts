import { basename } from 'node:path';
import { safeName, type CompanionSound } from '../core/outputs/define-writer';
import { mapsOf } from '../core/score/inventory';
import { APART_MS, notesIn, type Heard } from '../core/sound/beside';
import { decodeSound, SOUND_KINDS, soundKindOf } from '../core/sound/decode';
import { sayBeat } from '../core/sound/beat';
import { factsOf, type SoundFacts } from '../core/sound/facts';
import { decibels } from '../core/sound/level';
import { align as lie } from '../core/sound/align/align';
import type { Place } from '../core/sound/align/refine';
import { lengthMs, type Samples } from '../core/sound/samples';
import { companionName } from '../core/target/sound';
import { baseOf } from '../core/plan/base';
import { count, plain } from '../core/target/words';
import { sayClock } from '../core/time/meter-map';
import { worse, type Status } from './status';
import { complain, open, print, readSound, Unusable, whyNot } from './files';

/** A recording that a call names, or a job brings: decoded and listened to. */
export interface BroughtSound extends CompanionSound {
  readonly samples: Samples;
  readonly heard: Heard;
}

async function decoded(file: string, bytes: Uint8Array): Promise<Samples> {
  const read = await decodeSound(bytes);
  if (!read.samples) throw new Unusable(`${file}: ${read.problem}`);
  for (const doubt of read.doubts) complain(`${file}: ${doubt}`);
  return read.samples;
}

export async function soundFrom(
  file: string,
  name: string,
  bytes: Uint8Array,
): Promise<BroughtSound> {
  const samples = await decoded(file, bytes);
  const { firstMs, lastMs, onsets, features } = factsOf(samples);
  return {
    name: safeName(companionName(name), 'sound.wav'),
    bytes,
    lengthUs: Math.round(lengthMs(samples) * 1000),
    samples,
    heard: { firstMs, lastMs, onsets, features },
  };
}

/** The recording that a call names; null where none is named. */
export const loadSound = async (file: string | undefined): Promise<BroughtSound | null> =>
  file === undefined ? null : soundFrom(file, basename(file), readSound(file));

/** What rules need of a sound; empty where none is there. */
export const soundFacts = (sound: BroughtSound | null) =>
  sound ? { recordingMs: sound.lengthUs / 1000, soundName: sound.name, heard: sound.heard } : {};

/** Whether bytes begin as a recording does. */
export const isSound = (bytes: Uint8Array): boolean => soundKindOf(bytes) !== null;

const rounded = (ms: number | null) => (ms === null ? null : Math.round(ms * 1000) / 1000);

const soundJson = (bytes: Uint8Array, f: SoundFacts) => ({
  kind: soundKindOf(bytes),
  lengthMs: rounded(f.lengthMs),
  rate: f.rate,
  channels: f.channels,
  firstSoundMs: rounded(f.firstMs),
  lastSoundMs: rounded(f.lastMs),
  peakDb: f.peak > 0 ? rounded(decibels(f.peak)) : null,
  onsets: f.onsets.ms.length,
  beat: f.beat && {
    bpm: rounded(f.beat.bpm),
    fromBpm: rounded(f.beat.from),
    toBpm: rounded(f.beat.to),
    confidence: rounded(f.beat.confidence),
    beats: f.beat.ms.length,
  },
});

/** What a recording is, told as the inventory of a score is. */
export async function soundInventory(
  file: string,
  bytes: Uint8Array,
  sha256: string,
  json = false,
) {
  const facts = factsOf(await decoded(file, bytes));
  if (json) {
    print(JSON.stringify({ file, sha256, sound: soundJson(bytes, facts) }));
    return;
  }
  const { firstMs, lastMs, peak, beat } = facts;
  const kind = SOUND_KINDS[soundKindOf(bytes)!];
  print(file);
  print(
    `  ${kind}, ${plain(facts.rate / 1000)} kHz, ${count(facts.channels, 'channel')}, ${sayClock(facts.lengthMs)} long`,
  );
  print(
    firstMs === null
      ? '  silent all through'
      : `  first sound at ${sayClock(firstMs)}, last at ${sayClock(lastMs!)}, peak ${decibels(peak).toFixed(1)} dB`,
  );
  print(`  ${count(facts.onsets.ms.length, 'onset')}`);
  if (beat) print(`  ${sayBeat(beat)}`);
}

/** By how much the sound is later than the score at the start, the quartiles and the end. */
function driftAt(places: readonly Place[]): number[] {
  const offs = places.map((p) => p.soundMs - p.scoreMs);
  return [0, 0.25, 0.5, 0.75, 1].map((q) => {
    const at = Math.round(q * (offs.length - 1));
    const near = offs.slice(Math.max(0, at - 4), at + 5).sort((a, b) => a - b);
    return near[near.length >> 1] ?? 0;
  });
}

const DOUBTS = {
  other: 'this does not seem to be a recording of this score',
  little: 'only a part of the score is in it',
  repeats: 'the music repeats itself, and other places fit nearly as well',
  sparse: 'there is little to go by',
} as const;

export interface AlignOptions {
  json?: boolean;
  onsets?: boolean;
  beats?: boolean;
}

/** Where recordings lie beside scores: pairs of a score and a sound. 0 where all agree as they are. */
export async function align(files: string[], options: AlignOptions): Promise<Status> {
  if (files.length === 0 || files.length % 2 !== 0)
    throw new Unusable('Name pairs: a score and its recording, and so on.');
  let status: Status = 0;
  for (let i = 0; i < files.length; i += 2)
    try {
      status = worse(status, await alignOne(files[i]!, files[i + 1]!, options));
    } catch (error) {
      if (files.length === 2 || !(error instanceof Unusable)) throw error;
      complain(error.message);
      if (options.json)
        print(JSON.stringify({ file: files[i], sound: files[i + 1], problem: error.message }));
      status = 2;
    }
  return status;
}

async function alignOne(file: string, soundFile: string, options: AlignOptions): Promise<0 | 1> {
  const { opened } = open(file);
  if (!opened.source) throw new Unusable(whyNot(file, opened));
  const bytes = readSound(soundFile);
  const facts = factsOf(await decoded(soundFile, bytes));
  const [piece] = baseOf([opened.source]).rendition.pieces;
  const { clock, bars } = mapsOf(piece!.score);
  const notes = notesIn(piece!, clock);
  const scoreMs = notes.reduce((ms, n) => Math.max(ms, n.toMs), 0) + 500;
  const { onsets, features, beat } = facts;
  const found = lie({ notes, scoreMs, onsets, features });
  const further = {
    ...(options.onsets ? { onsetsMs: Array.from(onsets.ms, rounded) } : {}),
    ...(options.beats ? { beatsMs: beat && Array.from(beat.ms, rounded) } : {}),
  };
  if (!found) {
    if (options.json) print(JSON.stringify({ file, sound: soundFile, found: null, ...further }));
    else
      print(
        `${file} and ${soundFile}: ${notes.length === 0 ? 'the score has no notes' : 'nothing of the score is heard in the recording'}, so they cannot be lined up.`,
      );
    return 1;
  }
  const drift = driftAt(found.places).map((ms) => rounded(ms)!);
  const { kind, offsetMs, ratio, confidence, share, places, jumps, doubt } = found;
  const inPlace = doubt === null && drift.every((ms) => Math.abs(ms) <= APART_MS);
  if (options.json) {
    print(
      JSON.stringify({
        file,
        sound: soundFile,
        found: {
          kind,
          offsetMs: rounded(kind === 'wander' ? drift[0]! : offsetMs),
          tempoRatio: kind === 'wander' ? null : Math.round(ratio * 1e6) / 1e6,
          confidence: rounded(confidence),
          sure: doubt === null,
          doubt: doubt && DOUBTS[doubt],
          matched: rounded(share),
          driftMs: drift,
          anchors: places.map((p) => ({
            tick: Math.round(clock.tickAt(p.scoreMs)),
            us: Math.round(p.soundMs * 1000),
          })),
          jumps: jumps.map((j) => ({
            scoreFromMs: rounded(j.scoreFromMs),
            scoreToMs: rounded(j.scoreToMs),
            soundFromMs: rounded(j.soundFromMs),
            soundToMs: rounded(j.soundToMs),
          })),
        },
        ...further,
      }),
    );
    return inPlace ? 0 : 1;
  }
  const later = (ms: number) =>
    `${plain(Math.abs(Math.round(ms)) / 1000)} s ${ms < 0 ? 'earlier' : 'later'}`;
  const sure = doubt === null ? 'sure' : `not sure: ${DOUBTS[doubt]}`;
  const bar = clock.msAt(bars.barStart(1));
  const whole = Math.round(offsetMs / bar);
  const inBars = whole !== 0 && Math.abs(offsetMs - whole * bar) < 30;
  print(
    kind === 'wander'
      ? `${file} and ${soundFile}: the recording begins ${later(drift[0]!)} and its tempo wanders, ${sure}.`
      : `${file} and ${soundFile}: the recording is ${later(offsetMs)}${inBars ? ` (${count(Math.abs(whole), 'bar')})` : ''}, ${sure}.`,
  );
  if (kind !== 'wander')
    print(
      Math.abs(ratio - 1) < 0.0002
        ? '  It runs at the tempo of the score.'
        : `  It runs ${plain(Math.round(Math.abs(ratio - 1) * 100_000) / 1000)} % ${ratio > 1 ? 'slower' : 'faster'} than the score.`,
    );
  for (const j of jumps) {
    const [score, sound] = [j.scoreToMs - j.scoreFromMs, j.soundToMs - j.soundFromMs];
    print(
      score > sound
        ? `  The recording lacks ${sayClock(j.scoreFromMs)} to ${sayClock(j.scoreToMs)} of the score.`
        : `  From ${sayClock(j.soundFromMs)} to ${sayClock(j.soundToMs)} the recording has what the score has not.`,
    );
  }
  print(
    `  ${Math.round(share * 100)} % of what the score plays was found in it; the sound less the score at the start, the quarters and the end: ${drift.map((ms) => Math.round(ms)).join(', ')} ms.`,
  );
  return inPlace ? 0 : 1;
}
