import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { mendingSongs } from '../../demo/mending-songs';
import { baseOf } from '../../src/core/plan/base';
import { mendMany } from '../../src/core/plan/mend';
import { runPlan } from '../../src/core/plan/run';
import { tallyOf } from '../../src/core/rules/proof';
import { fileOf } from '../../src/core/score/to-file';
import { figuresOf } from '../../src/core/compare/figures';
import { FIGURES, type Figures } from '../../src/core/compare/say-figures';
import type { Rendition } from '../../src/core/score/piece';
import { isIn } from '../../src/core/score/score';
import { writeSmf } from '../../src/core/smf/write';
import { openSource } from '../../src/core/sources/source';
import type { Base } from '../../src/core/sources/merge';
import { builtInTargets } from '../../src/core/target/index';
import type { Target } from '../../src/core/target/schema';
import { bandSongs } from '../../demo/band-songs';
import { isDrum, lineOf, onsets, outerLine } from './lines';
import { compare, listen, type Heard } from './listener';

/**
 * How much of the music is left when a song was mended for a target: `npm run bench:mending
 * [--keep] [--target ID] [--shape TEXT] [FOLDER…]`. What is heard is told by a reader that is not ours.
 */
const args = process.argv.slice(2);
const valueOf = (flag: string) => (args.includes(flag) ? args[args.indexOf(flag) + 1] : undefined);
const onlyTarget = valueOf('--target');
const onlyShape = valueOf('--shape');
const folders = args.filter(
  (a, i) => !a.startsWith('--') && !args[i - 1]?.match(/^--(target|shape)$/),
);

const songs = [
  ...(folders.length > 0 ? [] : [...mendingSongs(), ...bandSongs()]),
  ...folders.flatMap((folder) =>
    readdirSync(folder, { recursive: true })
      .map(String)
      .filter((f) => /\.midi?$/i.test(f))
      .map((f) => ({
        shape: 'given',
        name: f,
        bytes: new Uint8Array(readFileSync(join(folder, f))),
      })),
  ),
].filter((s) => !onlyShape || s.shape.includes(onlyShape));

/** Which notes of the source are meant: those of every part that plays, within what was carved. */
function meant(
  base: Base,
  { pieces }: Rendition,
  target: Target,
): { total: number; names: Set<string> } {
  const delivered = new Map<number, number>();
  pieces.forEach((p, i) => {
    for (const part of p.score.parts)
      if (isIn(part)) for (const id of part.notes.origin) delivered.set(id, i);
  });
  // Where a target holds a few bars only, what counts is the bars that were chosen.
  const carved =
    pieces.length > 1 ||
    pieces[0]!.delivery.place !== undefined ||
    target.end?.onlyBars !== undefined ||
    target.end?.mostBars !== undefined;
  let total = 0;
  const names = new Set<string>();
  for (const { score } of base.rendition.pieces)
    for (const part of score.parts) {
      const { id, start, count } = part.notes;
      let any = false;
      const spans = pieces.map(() => ({ from: Infinity, to: -Infinity }));
      for (let i = 0; i < count; i++) {
        const piece = delivered.get(id[i]!);
        if (piece === undefined) continue;
        any = true;
        spans[piece]!.from = Math.min(spans[piece]!.from, start[i]!);
        spans[piece]!.to = Math.max(spans[piece]!.to, start[i]!);
      }
      if (!any) continue;
      names.add(`${part.ref.track}#${part.ref.channel}`);
      for (let i = 0; i < count; i++)
        if (!carved || spans.some((s) => start[i]! >= s.from && start[i]! <= s.to)) total++;
    }
  return { total, names };
}

const toleranceOf = (target: Target): number => {
  if (target.grid?.rowsPerSecond) return 1000 / Math.max(...target.grid.rowsPerSecond);
  return target.clock ? Math.max(6, target.clock.withinMs) : 30;
};
const hasLanes = (t: Target) =>
  t.chart !== undefined ||
  t.seats.some((s) => s.kind === 'laneGroup') ||
  t.channels !== undefined ||
  t.captions !== undefined;

/** Those who have the tune, by the songs that say so; else the highest line. */
interface Told {
  readonly lead?: readonly string[];
  readonly bass?: readonly string[];
}

interface Result {
  /** What the engine says of the same. */
  own: Figures;
  /** Shares of what a listener follows that is heard again; null where there is none of it. */
  tune: number | null;
  highest: number | null;
  bass: number | null;
  beat: number | null;
  shape: string;
  name: string;
  target: string;
  notes: number;
  seated: number;
  kept: number;
  intact: number;
  delivered: number;
  stops: number;
  newStops: number;
  choices: number;
  ms: number;
}
const results: Result[] = [];
for (const song of songs) {
  const { source } = openSource(song.bytes, { key: 'main', name: song.name, sha256: song.name });
  if (!source) continue;
  const came = listen(song.bytes);
  for (const target of builtInTargets) {
    if (onlyTarget && target.id !== onlyTarget) continue;
    if (target.carrier) continue;
    const begun = performance.now();
    const base = baseOf(source);
    const { rendition } = runPlan({ base, target, plan: { steps: [] } });
    const done = mendMany({ rendition, target, base, reach: 'drop', accept: true });
    const ms = performance.now() - begun;
    const heard = done.rendition.pieces.map((p) => listen(writeSmf(fileOf(p))));
    const { total, names } = meant(base, done.rendition, target);
    const mine = names.size === 0 ? [] : came.filter((h) => names.has(h.part));
    // A board is turned once a caption: what counts is that each has its advance.
    const captions = target.captions ? (done.rendition.pieces[0]!.captions?.length ?? 0) : null;
    const lanes = hasLanes(target);
    const whole = heard.length === 1 && carvedBars(target) === null;
    const again = (line: readonly Heard[], pitched = true): number | null => {
      if (line.length === 0) return null;
      if (!whole) return bestPart(line, heard, pitched && !lanes);
      return (
        compare(line, heard[0]!, { toleranceMs: 50, lanes: lanes || !pitched, stretch: 0.03 })
          .kept / line.length
      );
    };
    const told = song as Told;
    let kept = 0;
    let intact = 0;
    for (const h of heard) {
      const found = compare(mine.length > 0 ? mine : came, h, {
        toleranceMs: toleranceOf(target),
        lanes: hasLanes(target),
        stretch: 0.03,
      });
      kept += found.kept;
      intact += found.intact;
    }
    results.push({
      own: figuresOf(base.rendition, done.rendition, target),
      tune: told.lead ? again(lineOf(came, told.lead)) : null,
      highest: again(outerLine(came, 'highest')),
      bass: again(told.bass?.length ? lineOf(came, told.bass) : outerLine(came, 'lowest')),
      beat: again(onsets(came.filter(isDrum)), false),
      shape: song.shape,
      name: song.name,
      target: target.id,
      notes: came.length,
      seated: captions ?? total,
      kept: Math.min(captions === null ? kept : (heard[0]?.length ?? 0), captions ?? total),
      intact: Math.min(intact, captions ?? total),
      delivered: heard.reduce((n, h) => n + h.length, 0),
      stops: tallyOf(done.findings).stops,
      newStops: done.newStops,
      choices: done.choices.length,
      ms,
    });
  }
}

function carvedBars(target: Target): true | null {
  const carved =
    target.seats.some((s) => s.kind === 'file') || target.end?.onlyBars || target.end?.mostBars;
  return carved ? true : null;
}

/** Of what is a piece of a song: how much of the line in the same stretch is there. */
function bestPart(line: readonly Heard[], files: readonly Heard[][], pitched: boolean): number {
  let [kept, total] = [0, 0];
  for (const file of files) {
    if (file.length === 0) continue;
    const long = file.at(-1)!.ms - file[0]!.ms;
    let best = { kept: 0, of: 1 };
    // The stretch begins where one of its notes does.
    for (let i = 0; i < line.length; i += Math.max(1, Math.floor(line.length / 60))) {
      // As if it began where the piece does: it may come from minutes into the song.
      const from = line[i]!.ms;
      const own = line
        .filter((h) => h.ms >= from - 1 && h.ms <= from + long + 60)
        .map((h) => ({ ...h, ms: h.ms - from + file[0]!.ms }));
      const found = compare(own, file, { toleranceMs: 50, lanes: !pitched });
      if (found.kept / own.length > best.kept / best.of)
        best = { kept: found.kept, of: own.length };
    }
    kept += best.kept;
    total += best.of;
  }
  return total === 0 ? 0 : kept / total;
}

const share = (a: number, b: number) => (b === 0 ? 0 : a / b);
const at = (list: number[], q: number) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))] ?? 0;
const figure = (of: readonly Result[], value: (r: Result) => number | null): string => {
  const all = of.flatMap((r) => value(r) ?? []);
  return all.length === 0 ? '–' : `${at(all, 0.5).toFixed(2)} (${at(all, 0.1).toFixed(2)})`;
};
const median = (all: number[]) => (all.length === 0 ? '–' : at(all, 0.5).toFixed(2));
/** How far the engine's figure stands from what the listener found, in the middle. */
const apart = (of: readonly Result[], figure: 'tune' | 'bass'): string =>
  median(
    of.flatMap((r) =>
      r[figure] === null || r.own[figure] === null ? [] : Math.abs(r[figure] - r.own[figure]),
    ),
  );
const lines = [
  '# Mending',
  '',
  `Written by \`npm run bench:mending\`: ${songs.length} songs, everything mended with the first of each choice taken.`,
  '',
  '| target | tune: median (worst tenth) | highest line | bass | beat | told: tune, bass, beat, chords | apart from it: tune, bass | empty, exit 0 | under 10 %, exit 0 | kept of seated: median | worst tenth | intact | kept of all | stops left: songs | new stops | choices | ms: median | most |',
  '| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |',
];
for (const target of builtInTargets) {
  const r = results.filter((x) => x.target === target.id);
  if (r.length === 0) continue;
  const good = r.filter((x) => x.stops === 0);
  const kept = r.map((x) => share(x.kept, x.seated));
  lines.push(
    `| ${[
      target.id,
      figure(good, (x) => x.tune),
      figure(good, (x) => x.highest),
      figure(good, (x) => x.bass),
      figure(good, (x) => x.beat),
      FIGURES.map((f) => median(good.flatMap((x) => x.own[f] ?? []))).join(' '),
      `${apart(good, 'tune')} ${apart(good, 'bass')}`,
      good.filter((x) => x.delivered === 0).length,
      good.filter((x) => x.delivered > 0 && share(x.kept, x.seated) < 0.1).length,
      at(kept, 0.5).toFixed(2),
      at(kept, 0.1).toFixed(2),
      at(
        r.map((x) => share(x.intact, x.seated)),
        0.5,
      ).toFixed(2),
      at(
        r.map((x) => share(x.kept, x.notes)),
        0.5,
      ).toFixed(2),
      r.length - good.length,
      r.reduce((n, x) => n + x.newStops, 0),
      r.reduce((n, x) => n + x.choices, 0),
      at(
        r.map((x) => x.ms),
        0.5,
      ).toFixed(0),
      Math.max(...r.map((x) => x.ms)).toFixed(0),
    ].join(' | ')} |`,
  );
}
console.log(lines.join('\n'));
if (onlyTarget || onlyShape)
  for (const r of results)
    console.log(
      r.target.padEnd(16),
      r.name.padEnd(32),
      `all ${r.notes} seated ${r.seated} kept ${share(r.kept, r.seated).toFixed(2)} intact ${share(r.intact, r.seated).toFixed(2)} out ${r.delivered} tune ${r.tune?.toFixed(2)} own ${r.own.tune?.toFixed(2)} high ${r.highest?.toFixed(2)} bass ${r.bass?.toFixed(2)} beat ${r.beat?.toFixed(2)} stops ${r.stops} choices ${r.choices} ${r.ms.toFixed(0)} ms`,
    );
if (args.includes('--keep')) writeFileSync('bench/mending/results.md', `${lines.join('\n')}\n`);
