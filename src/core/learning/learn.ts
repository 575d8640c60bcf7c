import type { SourceScore } from '../sources/source';
import { isKnownMeta, isTextMeta, mapsOf } from '../score/inventory';
import { isDrumPart } from '../reading/importance/drums';
import { notesTogether } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import { endTickOf, firstTickOf } from '../score/score';
import { META, META_TRACK_NAME } from '../smf/file';
import { bpmOf } from '../time/tempo-map';
import { parseTarget } from '../target/parse';
import { kindOf } from '../target/seat-kind';
import type { Target } from '../target/schema';
import { withValue, type Data } from '../target/sentences';
import { slugOf } from '../target/words';
import { evidenceOf, type Evidence, type Seen } from '../target/evidence';

/** 97.99998 is 98 to whoever typed it: the file holds whole microseconds. */
const hundredths = (bpm: number) => Math.round(bpm * 100) / 100;

export interface Learnt {
  readonly target: Target;
  /** Paths of the numbers that were read off the files; the rest is for people to say. */
  readonly learnt: readonly string[];
  /** Of bounds among them, what each rests on. */
  readonly evidence: readonly Evidence[];
}

/**
 * What would accept these files, and as little else as can be: the narrowest ranges that hold all
 * of them. A starting point, for two good files prove little; every number that was learnt is named.
 */
export function learnTarget(sources: readonly SourceScore[], name: string): Learnt {
  const learnt: string[] = [];
  const note = <T>(path: string, value: T): T => {
    learnt.push(path);
    return value;
  };
  const evidence: Evidence[] = [];
  /** A bound by what each file shows of it; what a file has nothing of is not asked. */
  const bounded = (
    path: string,
    bound: Evidence['bound'],
    seen: readonly Seen[],
    as: (value: number) => number = (v) => v,
  ): number => {
    const values = seen.map((s) => s.value);
    const value = as(bound === 'least' ? low(values) : high(values));
    evidence.push(evidenceOf(path, bound, value, seen, sources.length));
    return note(path, value);
  };
  /** One number for each file that has any. */
  const ofEach = (numbers: (s: SourceScore) => readonly number[], best: typeof low): Seen[] =>
    sources.flatMap((s) => {
      const all = numbers(s);
      return all.length > 0 ? [{ name: s.name, value: best(all) }] : [];
    });
  const scores = sources.map((s) => s.score);
  const parts = scores.flatMap((s) => s.parts);
  const playing = parts.filter((p) => p.notes.count > 0);
  const unique = (numbers: readonly number[]) => [...new Set(numbers)].sort((a, b) => a - b);
  const low = (numbers: readonly number[]) => numbers.reduce((a, b) => Math.min(a, b));
  const high = (numbers: readonly number[]) => numbers.reduce((a, b) => Math.max(a, b));
  const data: Record<string, unknown> = {
    schemaVersion: 1,
    id: slugOf(name),
    version: '1.0.0',
    name,
    summary: `Learnt from ${sources.length === 1 ? 'one file' : `${sources.length} files`}`,
    outputs: [{ writer: 'smf' }],
    checklist: [],
  };

  const channels = unique(
    parts.filter((p) => p.notes.count + p.events.count > 0).map((p) => p.channel),
  );
  const channelsOf = (name: string) =>
    new Set(parts.filter((p) => p.name === name).map((p) => p.channel));
  const shared = new Set(unique2(parts.map((p) => p.name)).filter((n) => channelsOf(n).size > 1));
  data['seats'] = note(
    'seats',
    channels.map((channel) => {
      const names = unique2(parts.filter((p) => p.channel === channel).map((p) => p.name));
      // One name on several channels, as of a file with one track, tells none of them.
      const [only] = names.length === 1 ? names.filter((n) => !shared.has(n)) : [];
      const seat = {
        kind: 'channel' as const,
        id: `channel-${channel}`,
        name: only !== undefined && only.length <= 60 ? only : `Channel ${channel}`,
        channel,
      };
      // What its files play there, where its name or channel would be taken for something else.
      const drums = new Set(playing.filter((p) => p.channel === channel).map(isDrumPart));
      const takes = drums.size > 1 ? 'any' : drums.has(true) ? 'drums' : 'pitched';
      const guess = kindOf(seat, {});
      return {
        ...seat,
        ...(drums.size > 0 && takes !== guess ? { takes } : {}),
        ...(sources.every((s) =>
          s.score.parts.some((p) => p.channel === channel && p.notes.count > 0),
        )
          ? {}
          : { optional: true }),
      };
    }),
  );

  const formats = unique(sources.map((s) => s.head.format)).filter((f) => f < 2);
  const ppqs = unique(
    scores.flatMap((s) => (s.division.kind === 'ppq' ? [s.division.ticksPerQuarter] : [])),
  );
  data['file'] = {
    ...(formats.length > 0
      ? { formats: note('file.formats', formats), deliverFormat: formats.at(-1) }
      : {}),
    ...(ppqs.length > 0 ? { ppq: { only: note('file.ppq.only', ppqs) } } : {}),
  };

  const temposOf = ({ score }: SourceScore) =>
    score.conductor.tempos.map((t) => hundredths(bpmOf(t.microsecondsPerQuarter)));
  const slowest = ofEach(temposOf, low);
  const counts = ofEach((s) => [s.score.conductor.tempos.length], high);
  if (slowest.length > 0)
    data['tempo'] = {
      ...(high(counts.map((c) => c.value)) <= 1
        ? { constant: note('tempo.constant', true) }
        : { mostEvents: bounded('tempo.mostEvents', 'most', counts) }),
      lowestBpm: bounded('tempo.lowestBpm', 'least', slowest, Math.floor),
      highestBpm: bounded('tempo.highestBpm', 'most', ofEach(temposOf, high), Math.ceil),
    };
  if (scores.every((s) => s.conductor.meters.length <= 1))
    data['meter'] = { constant: note('meter.constant', true) };

  const startsBy = (at: (s: SourceScore, tick: number) => number) =>
    ofEach((s) => {
      const first = firstTickOf(s.score);
      return first === null ? [] : [at(s, first)];
    }, low);
  const bars = startsBy((s, tick) => mapsOf(s.score).bars.barAt(tick));
  const ms = startsBy((s, tick) => mapsOf(s.score).clock.msAt(tick));
  if (bars.length > 0 && bars.every((b) => b.value > 0))
    data['start'] = {
      leadInBars: bounded('start.leadInBars', 'least', bars, (v) => Math.min(64, v)),
    };
  else if (ms.length > 0 && ms.every((s) => s.value >= 1))
    data['start'] = { leadInMs: bounded('start.leadInMs', 'least', ms, Math.floor) };
  const lengths = ofEach(({ score }) => {
    const end = endTickOf(score);
    const { bars: all } = mapsOf(score);
    const whole = all.barAt(end);
    return all.barStart(whole) === end && whole > 0 ? [whole] : [];
  }, high);
  if (lengths.length > 0 && lengths.length === sources.length)
    data['end'] = {
      wholeBars: note('end.wholeBars', true),
      leastBars: bounded('end.leastBars', 'least', lengths),
      mostBars: bounded('end.mostBars', 'most', lengths),
    };

  if (playing.length > 0) {
    const keys = new Set<number>();
    const struck: { low: Seen[]; high: Seen[] } = { low: [], high: [] };
    const keysOf: { low: Seen[]; high: Seen[] } = { low: [], high: [] };
    const seen: Record<'together' | 'shortest' | 'longest' | 'again', Seen[]> = {
      together: [],
      shortest: [],
      longest: [],
      again: [],
    };
    for (const { name: file, score } of sources) {
      const { clock } = mapsOf(score);
      const velocities = new Set<number>();
      const own = new Set<number>();
      let together = 1;
      let shortest = Infinity;
      let longest = 0;
      let again = Infinity;
      for (const part of score.parts)
        for (let i = 0; i < part.notes.count; i++) velocities.add(part.notes.velocity[i]!);
      // A channel is a seat: what its parts play together counts together.
      for (const channel of channels) {
        const notes = notesTogether(score.parts.filter((p) => p.channel === channel));
        const sounding = new Sounding(notes);
        const last = new Map<number, number>();
        for (let i = 0; i < notes.count; i++) {
          const start = notes.start[i]!;
          const from = clock.msAt(start);
          const ms = clock.msAt(notes.end[i]!) - from;
          own.add(notes.noteNumber[i]!);
          shortest = Math.min(shortest, ms);
          longest = Math.max(longest, ms);
          const before = last.get(notes.noteNumber[i]!);
          if (before !== undefined) again = Math.min(again, from - before);
          last.set(notes.noteNumber[i]!, from);
          sounding.until(start);
          if (notes.end[i]! > start) sounding.add(i);
          together = Math.max(together, sounding.count);
        }
      }
      if (own.size === 0) continue;
      const tell = (list: Seen[], value: number) => list.push({ name: file, value });
      for (const key of own) keys.add(key);
      tell(keysOf.low, Math.min(...own));
      tell(keysOf.high, Math.max(...own));
      tell(struck.low, Math.min(...velocities));
      tell(struck.high, Math.max(...velocities));
      tell(seen.together, together);
      tell(seen.shortest, shortest);
      tell(seen.longest, longest);
      if (Number.isFinite(again)) tell(seen.again, again);
    }
    const all = unique([...keys]);
    const span = all.at(-1)! - all[0]! + 1;
    data['notes'] =
      all.length <= span / 2 && all.length <= 24
        ? { only: note('notes.only', all) }
        : {
            lowest: bounded('notes.lowest', 'least', keysOf.low),
            highest: bounded('notes.highest', 'most', keysOf.high),
          };
    data['velocity'] = {
      lowest: bounded('velocity.lowest', 'least', struck.low, (v) => Math.max(1, v)),
      highest: bounded('velocity.highest', 'most', struck.high),
    };
    data['polyphony'] = {
      together: bounded('polyphony.together', 'most', seen.together, (v) => Math.min(128, v)),
      over: 'seat',
    };
    if (seen.again.length > 0 && seen.again.every((s) => s.value >= 1))
      data['spacing'] = {
        sameKeyApartMs: bounded('spacing.sameKeyApartMs', 'least', seen.again, Math.floor),
      };
    if (seen.shortest.every((s) => s.value > 1)) {
      data['length'] = {
        shortestMs: bounded('length.shortestMs', 'least', seen.shortest, Math.floor),
        longestMs: bounded('length.longestMs', 'most', seen.longest, Math.ceil),
      };
    }
  }

  const kinds = new Set<number>();
  const controllers = new Set<number>();
  for (const { events } of parts)
    for (let i = 0; i < events.count; i++) {
      kinds.add(events.kind[i]!);
      if (events.kind[i] === 0xb0) controllers.add(events.data1[i]!);
    }
  const metas = scores.flatMap((s) => s.tracks.flatMap((t) => t.events));
  const none = (there: boolean) => (there ? 'any' : 'none');
  data['events'] = {
    controllers: note(
      'events.controllers',
      controllers.size === 0 ? 'none' : unique([...controllers]),
    ),
    programs: note('events.programs', none(kinds.has(0xc0))),
    bends: note('events.bends', none(kinds.has(0xe0))),
    aftertouch: note('events.aftertouch', none(kinds.has(0xa0) || kinds.has(0xd0))),
    sysex: note('events.sysex', none(metas.some((e) => e.status !== META))),
    unknownMeta: note(
      'events.unknownMeta',
      none(metas.some((e) => e.status === META && !isKnownMeta(e.type) && !isTextMeta(e.type))),
    ),
  };
  const markers = ofEach(
    (s) => s.score.conductor.markers.map((m) => Math.max(1, [...m.text].length)),
    high,
  );
  data['text'] = {
    markers: note('text.markers', none(markers.length > 0)),
    others: note(
      'text.others',
      none(
        metas.some((e) => e.status === META && isTextMeta(e.type) && e.type !== META_TRACK_NAME),
      ),
    ),
    ...(markers.length > 0
      ? { longestMarker: bounded('text.longestMarker', 'most', markers) }
      : {}),
  };
  return withinSchema(data, learnt, evidence);
}

/** Files may hold more than a target can say: what is out of its bounds is not learnt. */
function withinSchema(
  data: Record<string, unknown>,
  learnt: readonly string[],
  evidence: readonly Evidence[],
): Learnt {
  let kept = [...learnt];
  for (;;) {
    const { target, problems } = parseTarget(data);
    if (target) {
      const takes = (path: string, value: number) =>
        parseTarget(withValue(data as Data, path, value)).target !== undefined;
      const of = evidence
        .filter((e) => kept.includes(e.path))
        .map((e) => (e.round === null || takes(e.path, e.round) ? e : { ...e, round: null }));
      return { target, learnt: kept, evidence: of };
    }
    const [first] = problems;
    const path = (first?.path ?? '').split('.');
    // A limit as a whole: without one bound of two the other says something else.
    const gone = path.slice(0, 2);
    if (!takeOut(data, gone))
      throw new Error(`a learnt target is valid: ${JSON.stringify(problems)}`);
    kept = kept.filter((p) => p !== gone.join('.') && !p.startsWith(`${gone.join('.')}.`));
  }
}

function takeOut(data: Record<string, unknown>, [block = '', key]: readonly string[]): boolean {
  const there = data[block];
  if (there === undefined) return false;
  if (key === undefined || Array.isArray(there)) delete data[block];
  else {
    const inner = there as Record<string, unknown>;
    if (inner[key] === undefined) return delete data[block];
    delete inner[key];
    if (Object.keys(inner).length === 0) delete data[block];
  }
  return true;
}

const unique2 = (names: readonly string[]) => [...new Set(names)];
