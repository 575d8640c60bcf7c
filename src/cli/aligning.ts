import { baseOf } from '../core/plan/base';
import { mapsOf } from '../core/score/inventory';
import { APART_MS, notesIn } from '../core/sound/beside';
import { align as lie } from '../core/sound/align/align';
import { type Alignment } from '../core/sound/align/alignment';
import type { Doubt } from '../core/sound/align/alignment';
import { jumpMs, missingBars, sayBars } from '../core/sound/align/jumps';
import { surenessOf, type MatchedPair } from '../core/sound/align/refine';
import { ownFeatures } from '../core/sources/module/own-features';
import { factsOf, type SoundFacts } from '../core/sound/facts';
import { count, plain } from '../core/target/words';
import { sayClock } from '../core/time/meter-map';
import type { MeterMap } from '../core/time/meter-map';
import type { Clock } from '../core/time/tempo-map';
import {
  complain,
  open,
  type Opening,
  print,
  readSound,
  sequenceOf,
  Unusable,
  whyNot,
} from './files';
import { readingOf } from './modules';
import { decoded, rounded } from './sounds';
import { worse, type Status } from './status';

const DOUBTS: Readonly<Record<Doubt, string>> = {
  other: 'this does not seem to be a recording of this score',
  little: 'only a part of the score is in it',
  repeats: 'the music repeats itself, and other places fit nearly as well',
  sparse: 'there is little to go by',
};

export interface AlignOptions {
  json?: boolean;
  onsets?: boolean;
  beats?: boolean;
  sequence?: string;
  reading?: string[];
}

/** A pair that was looked at. */
interface Pair {
  readonly file: string;
  readonly sound: string;
  readonly maps: { readonly clock: Clock; readonly bars: MeterMap };
  readonly facts: SoundFacts;
  readonly notes: number;
  readonly found: Alignment | null;
}

/** Where recordings lie beside scores: pairs of a score and a sound. 0 where all agree as they are. */
export async function align(files: string[], options: AlignOptions): Promise<Status> {
  if (files.length === 0 || files.length % 2 !== 0)
    throw new Unusable('Name pairs: a score and its recording, and so on.');
  const how = { sequence: sequenceOf(options), reading: readingOf(options.reading) };
  let status: Status = 0;
  const rows: string[][] = [];
  for (let i = 0; i < files.length; i += 2)
    try {
      const pair = await look(files[i]!, files[i + 1]!, how);
      status = worse(status, inPlace(pair) ? 0 : 1);
      if (options.json) print(JSON.stringify(jsonOf(pair, options)));
      else if (files.length === 2) tell(pair);
      else rows.push(rowOf(pair));
    } catch (error) {
      if (files.length === 2 || !(error instanceof Unusable)) throw error;
      complain(error.message);
      if (options.json)
        print(JSON.stringify({ file: files[i], sound: files[i + 1], problem: error.message }));
      status = 2;
    }
  if (rows.length > 0) table([HEAD, ...rows]);
  return status;
}

async function look(file: string, sound: string, how: Opening): Promise<Pair> {
  const { opened } = open(file, how);
  if (!opened.source) throw new Unusable(whyNot(file, opened));
  const facts = factsOf(await decoded(sound, readSound(sound)));
  const [piece] = baseOf([opened.source]).rendition.pieces;
  const maps = mapsOf(piece!.score);
  const notes = notesIn(piece!, maps.clock);
  const scoreMs = notes.reduce((ms, n) => Math.max(ms, n.toMs), 0) + 500;
  const { onsets, features } = facts;
  const { module } = opened.source.extras ?? {};
  // What a module sounds like is known: its samples sound at pitches that its notes do not tell.
  const like = module && (ownFeatures(module) ?? undefined);
  const found = lie({ notes, scoreMs, onsets, features, like });
  return { file, sound, maps, facts, notes: notes.length, found };
}

/** By how much the sound is later than the score at the start, the quartiles and the end. */
function driftAt(places: readonly MatchedPair[]): number[] {
  const offs = places.map((p) => p.soundMs - p.scoreMs);
  return [0, 0.25, 0.5, 0.75, 1].map((q) => {
    const at = Math.round(q * (offs.length - 1));
    const near = offs.slice(Math.max(0, at - 4), at + 5).sort((a, b) => a - b);
    return near[near.length >> 1] ?? 0;
  });
}

const inPlace = ({ found }: Pair): boolean =>
  found?.doubt === null && driftAt(found.places).every((ms) => Math.abs(ms) <= APART_MS);

/** Where the recording begins: of one whose tempo changes, at its first place. */
const beginsMs = (found: Alignment): number =>
  found.kind === 'wander' ? driftAt(found.places)[0]! : found.offsetMs;

function jsonOf({ file, sound, maps, facts, found }: Pair, options: AlignOptions) {
  const { onsets, beat } = facts;
  const further = {
    ...(options.onsets ? { onsetsMs: Array.from(onsets.ms, rounded) } : {}),
    ...(options.beats ? { beatsMs: beat && Array.from(beat.ms, rounded) } : {}),
  };
  if (!found) return { file, sound, found: null, ...further };
  const { kind, ratio, confidence, share, places, jumps, doubt } = found;
  const sureness = surenessOf(places);
  return {
    file,
    sound,
    found: {
      kind,
      offsetMs: rounded(beginsMs(found)),
      tempoRatio: kind === 'wander' ? null : Math.round(ratio * 1e6) / 1e6,
      confidence: rounded(confidence),
      sure: doubt === null,
      doubt: doubt && DOUBTS[doubt],
      matched: rounded(share),
      driftMs: driftAt(places).map(rounded),
      anchors: places.map((p, i) => ({
        tick: Math.round(maps.clock.tickAt(p.scoreMs)),
        us: Math.round(p.soundMs * 1000),
        confidence: Math.round(confidence * sureness[i]! * 100) / 100,
      })),
      jumps: jumps.map((j) => ({
        scoreFromMs: rounded(j.scoreFromMs),
        scoreToMs: rounded(j.scoreToMs),
        soundFromMs: rounded(j.soundFromMs),
        soundToMs: rounded(j.soundToMs),
        scoreHasMoreMs: rounded(jumpMs(j)),
        missingBars: missingBars(maps, j),
      })),
    },
    ...further,
  };
}

const whyNothing = ({ notes }: Pair) =>
  notes === 0 ? 'the score has no notes' : 'nothing of the score is heard in the recording';

const later = (ms: number) =>
  `${plain(Math.abs(Math.round(ms)) / 1000)} s ${ms < 0 ? 'earlier' : 'later'}`;

const percent = (ratio: number) =>
  `${plain(Math.round(Math.abs(ratio - 1) * 100_000) / 1000)} % ${ratio > 1 ? 'slower' : 'faster'}`;

const SAME_TEMPO = 0.0002;

const jumpsOf = ({ maps }: Pair, { jumps }: Alignment): string[] =>
  jumps.map((j) => {
    const lost = missingBars(maps, j);
    if (lost) return `lacks ${sayBars(lost)}`;
    const more = plain(Math.round(Math.abs(jumpMs(j))) / 1000);
    return jumpMs(j) > 0
      ? `lacks ${more} s at ${sayClock(j.scoreFromMs)} of the score`
      : `has ${more} s more at its ${sayClock(j.soundFromMs)}`;
  });

function tell(pair: Pair) {
  const { file, sound, maps, found } = pair;
  if (!found) {
    print(`${file} and ${sound}: ${whyNothing(pair)}, so they cannot be lined up.`);
    return;
  }
  const { kind, offsetMs, ratio, share, places, doubt } = found;
  const sure = doubt === null ? 'sure' : `not sure: ${DOUBTS[doubt]}`;
  const bar = maps.clock.msAt(maps.bars.barStart(1));
  const whole = Math.round(offsetMs / bar);
  const inBars = whole !== 0 && Math.abs(offsetMs - whole * bar) < 30;
  const begins = later(beginsMs(found));
  print(
    kind === 'wander'
      ? `${file} and ${sound}: the recording begins ${begins} and its tempo wanders, ${sure}.`
      : `${file} and ${sound}: the recording is ${begins}${inBars ? ` (${count(Math.abs(whole), 'bar')})` : ''}, ${sure}.`,
  );
  if (kind !== 'wander')
    print(
      Math.abs(ratio - 1) < SAME_TEMPO
        ? '  It runs at the tempo of the score.'
        : `  It runs ${percent(ratio)} than the score.`,
    );
  for (const jump of jumpsOf(pair, found)) print(`  It ${jump}.`);
  const drift = driftAt(places).map((ms) => Math.round(ms));
  print(
    `  ${Math.round(share * 100)} % of what the score plays was found in it; the sound less the score at the start, the quarters and the end: ${drift.join(', ')} ms.`,
  );
}

const HEAD = ['score', 'recording', 'begins', 'tempo', 'found', 'sure', 'further'];

function rowOf(pair: Pair): string[] {
  const { file, sound, found } = pair;
  if (!found) return [file, sound, '', '', '', 'no', whyNothing(pair)];
  const { kind, ratio, share, doubt } = found;
  const straight = Math.abs(ratio - 1) < SAME_TEMPO ? 'as the score' : percent(ratio);
  return [
    file,
    sound,
    later(beginsMs(found)),
    kind === 'wander' ? 'wanders' : straight,
    `${Math.round(share * 100)} %`,
    doubt === null ? 'yes' : 'no',
    doubt === null ? jumpsOf(pair, found).join(', ') : DOUBTS[doubt],
  ];
}

function table(rows: readonly (readonly string[])[]) {
  const widths = HEAD.map((_, c) => Math.max(...rows.map((r) => r[c]!.length)));
  for (const row of rows)
    print(
      row
        .map((cell, c) => cell.padEnd(widths[c]!))
        .join('  ')
        .trimEnd(),
    );
}
