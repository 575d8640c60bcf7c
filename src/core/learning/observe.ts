import { isKnownMeta, isTextMeta, mapsOf, type Maps } from '../score/inventory';
import { endTickOf, firstTickOf, readTextOf, type Score } from '../score/score';
import { META, META_TRACK_NAME } from '../smf/file';
import type { SourceScore } from '../sources/source';
import { isWholeBpm } from '../time/tempos';
import { bpmOf } from '../time/tempo-map';
import { observeNotes } from './observe-notes';
import { Window } from './window';
import type { Numbers, Put } from './numbers';
import { printsOf, type Prints } from './prints';

/** All that is measured of one file. */
export interface Observed {
  readonly numbers: Numbers;
  /** Markers that stand exactly once. */
  readonly once: readonly string[];
  readonly prints: Prints;
}

/** Measures a file, its name with it: linear in notes and events. Ms, BPM, ticks, 1-based channels. */
export function observe({ score, head, name }: SourceScore, bytes?: number): Observed {
  const numbers = new Map<string, readonly number[]>();
  const put: Put = (id, values) =>
    void numbers.set(id, typeof values === 'number' ? [values] : [...values]);
  const maps = mapsOf(score);
  put('format', head.format);
  if (score.division.kind === 'ppq') put('ppq', score.division.ticksPerQuarter);
  if (bytes !== undefined) put('bytes', bytes);
  observeName(name, put);
  observeTime(score, maps, put);
  observeNotes(score, maps, put);
  observeEvents(score, maps, put);
  return { numbers, once: observeTexts(score, put), prints: printsOf(score, head.format) };
}

function observeName(name: string, put: Put) {
  const stem = name.replace(/^.*[/\\]/, '').replace(/\.[^.]*$/, '');
  put('name-length', [...stem].length);
  put('name-any', /^[A-Za-z0-9]*$/.test(stem) ? 0 : 1);
  put('name-lower', /^[A-Z0-9]*$/.test(stem) ? 0 : 1);
  put('name-upper', /^[a-z0-9]*$/.test(stem) ? 0 : 1);
}

/** A meter as one number: 6/8 is 6,008. */
export const meterCode = (numerator: number, denominator: number): number =>
  numerator * 1000 + denominator;

function observeTime(score: Score, { clock, bars }: Maps, put: Put) {
  const { tempos, meters } = score.conductor;
  const stated = tempos.some((t) => t.tick === 0);
  put(
    'bpm',
    new Set([...(stated ? [] : [120]), ...tempos.map((t) => bpmOf(t.microsecondsPerQuarter))]),
  );
  put('tempos', Math.max(1, tempos.length));
  put('odd-bpm', tempos.filter((t) => !isWholeBpm(t.microsecondsPerQuarter)).length);
  let apart = Infinity;
  for (let i = 1; i < tempos.length; i++)
    apart = Math.min(apart, clock.msAt(tempos[i]!.tick) - clock.msAt(tempos[i - 1]!.tick));
  if (Number.isFinite(apart)) put('tempo-apart', apart);
  const codes = new Set(meters.map((m) => meterCode(m.numerator, m.denominator)));
  if (!meters.some((m) => m.tick === 0)) codes.add(meterCode(4, 4));
  put('meters', codes);
  put('meter-changes', codes.size - 1);

  const first = firstTickOf(score);
  if (first !== null) {
    put('first-ms', clock.msAt(first));
    put('first-bar', bars.barAt(first));
  }
  let busy = first ?? Infinity;
  for (const { events } of score.parts)
    for (let i = 0; i < events.count; i++)
      if (events.tick[i]! > 0) {
        busy = Math.min(busy, events.tick[i]!);
        break;
      }
  if (Number.isFinite(busy)) put('busy-ms', clock.msAt(busy));

  const end = endTickOf(score);
  const count = bars.barCount(end);
  put('bars', count);
  put('over-bar', end - bars.barStart(bars.barAt(end)));
  put('clock-ms', clock.msAt(end));
  let sounds = 0;
  let said = 0;
  let past = 0;
  for (const { notes, events, track } of score.parts) {
    const own = score.tracks[track]?.endTick ?? end;
    for (let i = 0; i < notes.count; i++) {
      if (notes.end[i]! > sounds) sounds = notes.end[i]!;
      if (notes.end[i]! > own) past++;
    }
    if (events.count > 0) said = Math.max(said, events.tick[events.count - 1]!);
  }
  put('past-end', past);
  if (sounds > 0) {
    put('empty-bars', count - bars.barCount(sounds));
    put('tail-ms', clock.msAt(end) - clock.msAt(Math.max(sounds, said)));
  }
  put('uneven-ends', new Set(score.tracks.map((t) => t.endTick)).size - 1);
}

function observeEvents(score: Score, { clock }: Maps, put: Put) {
  const kinds = new Map<number, number>();
  const controllers = new Map<number, { values: Set<number>; most: number; apart: number }>();
  const programs = new Set<number>();
  const chosen = new Map<number, { times: number; tick: number }>();
  const firsts = new Map<number, number>();
  const silent = new Set<number>();
  const loud = new Set<number>();
  const atStart: Map<number, number>[] = [];
  for (const { events, notes, channel } of score.parts) {
    if (notes.count > 0) {
      loud.add(channel);
      firsts.set(channel, Math.min(firsts.get(channel) ?? Infinity, notes.start[0]!));
    } else if (events.count > 0) silent.add(channel);
    const seen = new Map<number, { tick: number; second: Window }>();
    const once = new Map<number, number>();
    for (let i = 0; i < events.count; i++) {
      const kind = events.kind[i]!;
      kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
      const tick = events.tick[i]!;
      if (kind === 0xc0) {
        programs.add(events.data1[i]!);
        const own = chosen.get(channel) ?? { times: 0, tick };
        chosen.set(channel, { ...own, times: own.times + 1, tick: Math.min(own.tick, tick) });
      }
      if (kind !== 0xb0) continue;
      const number = events.data1[i]!;
      once.set(number, (once.get(number) ?? 0) + (tick === 0 ? 1 : 2));
      const of = controllers.get(number) ?? { values: new Set(), most: 1, apart: Infinity };
      controllers.set(number, of);
      of.values.add(events.data2[i]!);
      const ms = clock.msAt(tick);
      const before = seen.get(number);
      if (before && tick > before.tick) of.apart = Math.min(of.apart, ms - clock.msAt(before.tick));
      const second = before?.second ?? new Window();
      of.most = Math.max(of.most, second.add(ms));
      seen.set(number, { tick, second });
    }
    if (notes.count > 0) atStart.push(once);
  }
  const of = (...k: number[]) => k.reduce((n, kind) => n + (kinds.get(kind) ?? 0), 0);
  put('controllers', of(0xb0));
  put('programs', of(0xc0));
  put('bends', of(0xe0));
  put('aftertouch', of(0xa0, 0xd0));
  if (controllers.size > 0) put('controller-numbers', controllers.keys());
  for (const [number, { values, most, apart }] of controllers) {
    put(`controller-${number}`, values);
    put(`controller-${number}-second`, most);
    if (Number.isFinite(apart)) put(`controller-${number}-apart`, apart);
  }
  const [first, ...others] = atStart;
  put(
    'once-at-start',
    [...(first ?? [])].flatMap(([number, n]) =>
      n === 1 && others.every((o) => o.get(number) === 1) ? [number] : [],
    ),
  );
  if (programs.size > 0) put('program-numbers', programs);
  const late = [...chosen].filter(([channel, { times, tick }]) => {
    const first = firsts.get(channel);
    return first !== undefined && (times > 1 || tick > first);
  });
  put('late-programs', late.length);
  put('silent-channels', [...silent].filter((c) => !loud.has(c)).length);
  const metas = score.tracks.flatMap((t) => t.events);
  put('sysex', metas.filter((e) => e.status !== META).length);
  put(
    'unknown-meta',
    metas.filter((e) => e.status === META && !isKnownMeta(e.type) && !isTextMeta(e.type)).length,
  );
}

/** Counts texts, and names the markers that stand exactly once. */
function observeTexts(score: Score, put: Put): string[] {
  const { markers } = score.conductor;
  put('markers', markers.length);
  put('marker-length', new Set(markers.map((m) => [...m.text].length)));
  put('odd-markers', markers.filter((m) => /[^ -~]/.test(m.text)).length);
  const texts = score.tracks
    .flatMap((t) => t.events)
    .filter((e) => e.status === META && isTextMeta(e.type));
  put('texts', texts.filter((e) => e.type !== META_TRACK_NAME).length);
  put(
    'track-names',
    texts.filter((e) => e.type === META_TRACK_NAME && readTextOf(e).text !== '').length,
  );
  const times = new Map<string, number>();
  for (const m of markers) times.set(m.text, (times.get(m.text) ?? 0) + 1);
  return [...times].flatMap(([text, n]) => (n === 1 && text !== '' ? [text] : []));
}
