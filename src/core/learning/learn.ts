import type { SourceScore } from '../sources/source';
import { isKnownMeta, isTextMeta, mapsOf } from '../score/inventory';
import { notesTogether } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import { endTickOf, firstTickOf } from '../score/score';
import { META, META_TRACK_NAME } from '../smf/file';
import { bpmOf } from '../time/tempo-map';
import { parseTarget } from '../target/parse';
import type { Target } from '../target/schema';
import { slugOf } from '../target/words';

/** 97.99998 is 98 to whoever typed it: the file holds whole microseconds. */
const hundredths = (bpm: number) => Math.round(bpm * 100) / 100;

export interface Learnt {
  readonly target: Target;
  /** Paths of the numbers that were read off the files; the rest is for people to say. */
  readonly learnt: readonly string[];
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
  data['seats'] = note(
    'seats',
    channels.map((channel) => {
      const names = unique2(parts.filter((p) => p.channel === channel).map((p) => p.name));
      return {
        kind: 'channel',
        id: `channel-${channel}`,
        name: names.length === 1 && names[0]!.length <= 60 ? names[0]! : `Channel ${channel}`,
        channel,
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

  const tempos = scores.flatMap((s) =>
    s.conductor.tempos.map((t) => bpmOf(t.microsecondsPerQuarter)),
  );
  const counts = scores.map((s) => s.conductor.tempos.length);
  if (tempos.length > 0)
    data['tempo'] = {
      ...(high(counts) <= 1
        ? { constant: note('tempo.constant', true) }
        : { mostEvents: note('tempo.mostEvents', high(counts)) }),
      lowestBpm: note('tempo.lowestBpm', Math.floor(hundredths(low(tempos)))),
      highestBpm: note('tempo.highestBpm', Math.ceil(hundredths(high(tempos)))),
    };
  if (scores.every((s) => s.conductor.meters.length <= 1))
    data['meter'] = { constant: note('meter.constant', true) };

  const starts = scores.flatMap((s) => {
    const first = firstTickOf(s);
    return first === null
      ? []
      : [{ bars: mapsOf(s).bars.barAt(first), ms: mapsOf(s).clock.msAt(first) }];
  });
  if (starts.length > 0) {
    const bars = low(starts.map((s) => s.bars));
    const ms = Math.floor(low(starts.map((s) => s.ms)));
    if (bars > 0) data['start'] = { leadInBars: note('start.leadInBars', Math.min(64, bars)) };
    else if (ms > 0) data['start'] = { leadInMs: note('start.leadInMs', ms) };
  }
  const lengths = scores.map((s) => {
    const end = endTickOf(s);
    const { bars } = mapsOf(s);
    const whole = bars.barAt(end);
    return bars.barStart(whole) === end && whole > 0 ? whole : null;
  });
  if (lengths.length > 0 && lengths.every((l) => l !== null))
    data['end'] = {
      wholeBars: note('end.wholeBars', true),
      leastBars: note('end.leastBars', low(lengths as number[])),
      mostBars: note('end.mostBars', high(lengths as number[])),
    };

  if (playing.length > 0) {
    const keys = new Set<number>();
    const velocities = new Set<number>();
    let together = 1;
    let shortest = Infinity;
    let longest = 0;
    let again = Infinity;
    for (const { score } of sources) {
      const { clock } = mapsOf(score);
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
          keys.add(notes.noteNumber[i]!);
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
    }
    const all = unique([...keys]);
    const span = all.at(-1)! - all[0]! + 1;
    data['notes'] =
      all.length <= span / 2 && all.length <= 24
        ? { only: note('notes.only', all) }
        : { lowest: note('notes.lowest', all[0]!), highest: note('notes.highest', all.at(-1)!) };
    const struck = unique([...velocities]);
    data['velocity'] = {
      lowest: note('velocity.lowest', Math.max(1, struck[0]!)),
      highest: note('velocity.highest', struck.at(-1)!),
    };
    data['polyphony'] = {
      together: note('polyphony.together', Math.min(128, together)),
      over: 'seat',
    };
    if (Number.isFinite(again) && again >= 1)
      data['spacing'] = { sameKeyApartMs: note('spacing.sameKeyApartMs', Math.floor(again)) };
    if (shortest > 1) {
      data['length'] = {
        shortestMs: note('length.shortestMs', Math.floor(shortest)),
        longestMs: note('length.longestMs', Math.ceil(longest)),
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
  const markers = scores.flatMap((s) => s.conductor.markers.map((m) => m.text));
  data['text'] = {
    markers: note('text.markers', none(markers.length > 0)),
    others: note(
      'text.others',
      none(
        metas.some((e) => e.status === META && isTextMeta(e.type) && e.type !== META_TRACK_NAME),
      ),
    ),
    ...(markers.length > 0
      ? {
          longestMarker: note(
            'text.longestMarker',
            markers.reduce((most, m) => Math.max(most, [...m].length), 1),
          ),
        }
      : {}),
  };
  return withinSchema(data, learnt);
}

/** Files may hold more than a target can say: what is out of its bounds is not learnt. */
function withinSchema(data: Record<string, unknown>, learnt: readonly string[]): Learnt {
  let kept = [...learnt];
  for (;;) {
    const { target, problems } = parseTarget(data);
    if (target) return { target, learnt: kept };
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
