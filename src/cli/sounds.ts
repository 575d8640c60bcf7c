import { basename } from 'node:path';
import { safeName, type CompanionSound } from '../core/outputs/define-writer';
import type { HeardSound } from '../core/sound/beside';
import { decodeSound, SOUND_KINDS, soundKindOf } from '../core/sound/decode';
import { sayBeat } from '../core/sound/say-beat';
import { factsOf, type SoundFacts } from '../core/sound/facts';
import { decibels } from '../core/sound/level';
import { lengthMs, type Samples } from '../core/sound/samples';
import { companionName } from '../core/target/sound';
import { count, plain } from '../core/target/words';
import { sayClock } from '../core/time/meter-map';
import { complain, print, readSound, Unusable } from './files';

/** A recording that a call names, or a job brings: decoded and listened to. */
export interface BroughtSound extends CompanionSound {
  readonly samples: Samples;
  readonly heard: HeardSound;
}

export async function decoded(file: string, bytes: Uint8Array): Promise<Samples> {
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

export const rounded = <T extends number | null>(ms: T): T =>
  (ms === null ? ms : Math.round(ms * 1000) / 1000) as T;

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
