import { basename } from 'node:path';
import { safeName, type CompanionSound } from '../core/outputs/define-writer';
import { mapsOf } from '../core/score/inventory';
import { APART_MS, struckIn, type Heard } from '../core/sound/beside';
import { decodeSound, SOUND_KINDS, soundKindOf } from '../core/sound/decode';
import { factsOf, type SoundFacts } from '../core/sound/facts';
import { decibels } from '../core/sound/level';
import { followFreely } from '../core/sound/follow';
import { lineUp, type Pair } from '../core/sound/line-up';
import { lengthMs, type Samples } from '../core/sound/samples';
import { companionName } from '../core/target/sound';
import { baseOf } from '../core/plan/base';
import { count, plain } from '../core/target/words';
import { sayClock } from '../core/time/meter-map';
import { complain, open, print, readInput, Unusable, whyNot } from './files';

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
  const { firstMs, lastMs, onsets } = factsOf(samples);
  return {
    name: safeName(companionName(name), 'sound.wav'),
    bytes,
    lengthUs: Math.round(lengthMs(samples) * 1000),
    samples,
    heard: { firstMs, lastMs, onsets },
  };
}

/** The recording that a call names; null where none is named. */
export const loadSound = async (file: string | undefined): Promise<BroughtSound | null> =>
  file === undefined ? null : soundFrom(file, basename(file), readInput(file));

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
  if (beat)
    print(`  about ${beat.bpm.toFixed(1)} BPM (${Math.round(beat.confidence * 100)} % sure)`);
}

/** By how much the sound is later than the score at the start, the quartiles and the end. */
function driftAt(pairs: readonly Pair[], score: Float64Array, sound: Float64Array): number[] {
  const offs = pairs.map(({ note, onset }) => sound[onset]! - score[note]!);
  return [0, 0.25, 0.5, 0.75, 1].map((q) => {
    const at = Math.round(q * (offs.length - 1));
    const near = offs.slice(Math.max(0, at - 4), at + 5).sort((a, b) => a - b);
    return near[near.length >> 1] ?? 0;
  });
}

/** Where a recording lies beside a score. Status 0 where both agree as they are, 1 where not. */
export async function align(
  file: string,
  soundFile: string,
  { json }: { json?: boolean },
): Promise<0 | 1> {
  const { opened } = open(file);
  if (!opened.source) throw new Unusable(whyNot(file, opened));
  const bytes = readInput(soundFile);
  const facts = factsOf(await decoded(soundFile, bytes));
  const [piece] = baseOf([opened.source]).rendition.pieces;
  const { clock, bars } = mapsOf(piece!.score);
  const struck = struckIn(piece!, clock);
  const found = lineUp(struck, facts.onsets, { withTempo: true });
  if (!found) {
    if (json) print(JSON.stringify({ file, sound: soundFile, found: null }));
    else
      print(
        `${file} and ${soundFile}: ${struck.ms.length === 0 ? 'the score has no notes' : 'nothing begins in the recording'}, so they cannot be lined up.`,
      );
    return 1;
  }
  // Where no one tempo fits, it was played freely: then both are followed from note to note.
  const free = found.confidence < SURE ? followFreely(struck, facts.onsets).pairs : [];
  const wanders = free.length > found.pairs.length;
  const pairs = wanders ? free : found.pairs;
  const drift = driftAt(pairs, struck.ms, facts.onsets.ms).map((ms) => rounded(ms)!);
  const { offsetMs, ratio, confidence } = found;
  const matched = wanders ? pairs.length / struck.ms.length : found.share;
  const inPlace = drift.every((ms) => Math.abs(ms) <= APART_MS);
  if (json) {
    print(
      JSON.stringify({
        file,
        sound: soundFile,
        found: {
          offsetMs: wanders ? drift[0] : rounded(offsetMs),
          tempoRatio: wanders ? null : Math.round(ratio * 1e6) / 1e6,
          confidence: rounded(confidence),
          matched: rounded(matched),
          driftMs: drift,
        },
      }),
    );
    return inPlace ? 0 : 1;
  }
  const later = (ms: number) =>
    `${plain(Math.abs(Math.round(ms)) / 1000)} s ${ms < 0 ? 'earlier' : 'later'}`;
  const bar = clock.msAt(bars.barStart(1));
  const whole = Math.round(offsetMs / bar);
  const inBars = whole !== 0 && Math.abs(offsetMs - whole * bar) < 30;
  print(
    wanders
      ? `${file} and ${soundFile}: the recording begins ${later(drift[0]!)} and its tempo wanders.`
      : `${file} and ${soundFile}: the recording is ${later(offsetMs)}${inBars ? ` (${count(Math.abs(whole), 'bar')})` : ''}, ${Math.round(confidence * 100)} % sure.`,
  );
  if (!wanders)
    print(
      Math.abs(ratio - 1) < 0.0002
        ? '  It runs at the tempo of the score.'
        : `  It runs ${plain(Math.round(Math.abs(ratio - 1) * 100_000) / 1000)} % ${ratio > 1 ? 'slower' : 'faster'} than the score.`,
    );
  print(
    `  ${Math.round(matched * 100)} % of what the score plays was found in it; the sound less the score at the start, the quarters and the end: ${drift.map((ms) => Math.round(ms)).join(', ')} ms.`,
  );
  return inPlace ? 0 : 1;
}

/** Below it a place is only one of several. */
const SURE = 0.4;
