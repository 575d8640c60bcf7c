import type { Mend } from '../diagnostic/finding';
import type { Maps } from '../score/inventory';
import { notesTogether, type LineNotes, type OutputLine } from '../reading/lines';
import { isIn, type Part } from '../score/score';
import {
  dropShared,
  keepReach,
  keepVoices,
  lengthen,
  limitOpen,
  shorten,
  thin,
} from '../steps/spacing';
import { leaveOut } from '../steps/routing';
import { count, plain } from '../target/words';
import { Sounding } from '../reading/sounding';
import { defineRule, HAIR, mend, Places, within } from './define-rule';

/** A line's name for a key that stays: its parts. */
const causeOf = (line: OutputLine) =>
  `${line.channel}:${line.parts.map((p) => p.ref.track).join('+')}`;
const onlyPart = (line: OutputLine): { part?: Part } =>
  line.parts.length === 1 ? { part: line.parts[0]! } : {};

export const atOnce = defineRule({
  id: 'at-once',
  summary: 'No more notes sounding in the same instant than the target can play.',
  block: 'polyphony',
  reads: ['together'],
  phase: 'spacing',
  codes: {
    'at-once': {
      title: 'Too many at once',
      wrong: (f, w) =>
        `Up to ${f['most']} ${w.notes} sound together, in ${f['places']} ${f['places'] === 1 ? 'place' : 'places'}.`,
      then: (f, w) =>
        `${w.Target} plays ${f['together'] === 1 ? `one ${w.note}` : `${f['together']} ${w.notes}`} at a time and drops the others.`,
    },
  },
  check({ block, piece, groups: seats, report }) {
    const { together, over } = block;
    const groups: { notes: LineNotes; line?: OutputLine }[] =
      over === 'all'
        ? [{ notes: notesTogether(piece.score.parts.filter(isIn)) }]
        : [...seats()]
            .filter(
              (line) =>
                !block.seats || line.parts.some((p) => p.seat && block.seats!.includes(p.seat)),
            )
            .map((line) => ({ notes: line.notes, line }));
    for (const { notes, line } of groups) {
      const { places, most, moments, struckTogether } = crowded(notes, together);
      if (places.count === 0) continue;
      const scope = line?.parts;
      const dropping = (keep: 'highest' | 'loudest' | 'newest') =>
        mend(
          `Keep the ${keep}${together === 1 ? '' : ` ${together}`}`,
          keepVoices,
          { voices: together, keep, over },
          scope,
        );
      report({
        code: 'at-once',
        ...(line ? { cause: causeOf(line), ...onlyPart(line) } : {}),
        ...places.found,
        data: { most, together, places: moments },
        measured: { value: most, unit: 'notes at once' },
        allowed: { together },
        mends: [
          ...(together === 1 ? [shortening(struckTogether, scope)] : []),
          dropping('highest'),
          dropping('loudest'),
          ...(together === 1 ? [] : [dropping('newest')]),
        ],
      });
    }
  },
});

/** One voice: what still sounds gives way to the next; of notes struck together the highest stays. */
function shortening(struckTogether: boolean, scope: readonly Part[] | undefined): Mend {
  const cut = mend(
    'End each where the next begins',
    shorten,
    { until: 'next-note' as const },
    scope,
  );
  if (!struckTogether) return cut;
  const keep = { voices: 1, keep: 'highest', over: 'seat' } as const;
  return {
    title: `${cut.title}, of two struck together keep the highest`,
    steps: [...cut.steps, ...mend('', keepVoices, keep, scope).steps],
  };
}

/** Where more sounds than may; a note of no length sounds in no instant, and has a rule of its own. */
function crowded(notes: LineNotes, together: number) {
  const places = new Places();
  const sounding = new Sounding(notes);
  let most = 0;
  let moments = 0;
  let inside = false;
  let struckTogether = false;
  let tick = -1;
  let struck = 0;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    if (notes.end[i]! <= start) continue;
    struck = start === tick ? struck + 1 : 1;
    tick = start;
    sounding.until(start);
    sounding.add(i);
    if (sounding.count > most) most = sounding.count;
    if (sounding.count <= together) {
      inside = false;
      continue;
    }
    if (!inside) moments++;
    inside = true;
    if (struck > 1) struckTogether = true;
    sounding.nameAll(start, (n) => places.addNote(notes, n));
  }
  return { places, most, moments, struckTogether };
}

export const sameKey = defineRule({
  id: 'same-key',
  summary: 'Time before the same key may be struck again, start to start.',
  block: 'spacing',
  reads: ['sameKeyApartMs'],
  phase: 'density',
  codes: {
    'same-key-soon': {
      title: 'Struck again too soon',
      wrong: (f) =>
        `${f['countText']} ${f['one'] ? 'follows' : 'follow'} the same key within ${f['least']} to ${f['most']} ms.`,
      then: (f, w) =>
        `${w.Target} needs ${f['apart']} ms before the same key moves again; the second ${w.note} is lost.`,
    },
  },
  check({ block, groups, maps, report }) {
    const apart = block.sameKeyApartMs;
    if (apart === undefined) return;
    for (const line of groups()) {
      const last = new Map<number, number>();
      const places = new Places();
      let least = Infinity;
      let most = 0;
      const { notes } = line;
      for (let i = 0; i < notes.count; i++) {
        const ms = maps.clock.msAt(notes.start[i]!);
        const before = last.get(notes.noteNumber[i]!);
        last.set(notes.noteNumber[i]!, ms);
        if (before === undefined || ms - before >= apart - HAIR) continue;
        places.addNote(notes, i);
        least = Math.min(least, ms - before);
        most = Math.max(most, ms - before);
      }
      if (places.count === 0) continue;
      const thinTo = (keep: 'first' | 'loudest') =>
        mend(
          `Drop the repeats, keep the ${keep}`,
          thin,
          { apartMs: apart, per: 'key' as const, keep },
          line.parts,
        );
      report({
        code: 'same-key-soon',
        cause: causeOf(line),
        ...onlyPart(line),
        ...places.found,
        data: {
          countText: count(places.count, 'note'),
          one: places.count === 1 ? 1 : 0,
          least: plain(least),
          most: plain(most),
          apart: plain(apart),
        },
        measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
        allowed: { sameKeyApartMs: apart },
        mends: [thinTo('first'), thinTo('loudest')],
      });
    }
  },
});

export const apart = defineRule({
  id: 'distance',
  summary: 'Time between any two notes of a seat, start to start.',
  block: 'spacing',
  reads: ['apartMs'],
  phase: 'density',
  codes: {
    'too-close': {
      title: 'Too close together',
      wrong: (f, w) =>
        `${f['count']} ${f['count'] === 1 ? w.note : w.notes} ${f['count'] === 1 ? 'comes' : 'come'} within ${f['apart']} ms of the one before, the closest after ${f['least']} ms.`,
      then: (f, w) =>
        `${w.Target} needs ${f['apart']} ms between two ${w.notes} and passes over the later one.`,
    },
  },
  check({ block, target, groups, maps, report }) {
    const { apartMs } = block;
    if (apartMs === undefined) return;
    for (const line of groups()) {
      const places = new Places();
      const { notes } = line;
      let least = Infinity;
      for (let i = 1; i < notes.count; i++) {
        // Notes struck together are judged by what may sound at once, where that is limited.
        if (target.polyphony && notes.start[i] === notes.start[i - 1]) continue;
        const gap = maps.clock.msAt(notes.start[i]!) - maps.clock.msAt(notes.start[i - 1]!);
        if (gap >= apartMs - HAIR) continue;
        places.addNote(notes, i);
        least = Math.min(least, gap);
      }
      if (places.count === 0) continue;
      const thinTo = (keep: 'first' | 'loudest') =>
        mend(
          `Keep the ${keep} of each crowd`,
          thin,
          { apartMs, per: 'seat' as const, keep, ...(target.polyphony ? {} : { chordsToo: true }) },
          line.parts,
        );
      report({
        code: 'too-close',
        cause: causeOf(line),
        ...onlyPart(line),
        ...places.found,
        data: { count: places.count, apart: plain(apartMs), least: plain(least) },
        measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
        allowed: { apartMs },
        mends: [thinTo('first'), thinTo('loudest')],
      });
    }
  },
});

export const shortest = defineRule({
  id: 'shortest-note',
  summary: 'The shortest note that the target notices.',
  block: 'length',
  reads: ['shortestMs'],
  phase: 'spacing',
  codes: {
    'too-short': {
      title: 'Too short',
      wrong: (f, w) =>
        `${f['count']} ${f['count'] === 1 ? w.note : w.notes} of “${f['name']}” ${f['count'] === 1 ? 'lasts' : 'last'} under ${f['shortest']} ms, the shortest ${f['least']} ms.`,
      then: (_, w) => `${w.Target} does not notice a ${w.note} that short.`,
    },
  },
  check({ heard, block, maps, report }) {
    const { shortestMs } = block;
    if (shortestMs === undefined) return;
    for (const part of heard()) {
      const places = new Places();
      let least = Infinity;
      for (let i = 0; i < part.notes.count; i++) {
        const ms = maps.clock.msAt(part.notes.end[i]!) - maps.clock.msAt(part.notes.start[i]!);
        if (ms >= shortestMs - HAIR) continue;
        places.add(part, i);
        least = Math.min(least, ms);
      }
      if (places.count === 0) continue;
      report({
        code: 'too-short',
        part,
        ...places.found,
        data: {
          count: places.count,
          name: part.name,
          shortest: plain(shortestMs),
          least: plain(least),
        },
        measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
        allowed: { shortestMs },
        mends: [
          mend(`Lengthen them to ${plain(shortestMs)} ms`, lengthen, { shortestMs }, [part]),
          ...(places.count === part.notes.count
            ? [mend('Leave the part out', leaveOut, {}, [part])]
            : []),
        ],
      });
    }
  },
});

/** Strikes in any one second; what is struck at one tick counts once. Marks the seconds too full. */
export function strikesOf(notes: LineNotes, { clock }: Pick<Maps, 'clock'>, allowed: number) {
  const places = new Places();
  let most = 0;
  const strikes: { ms: number; from: number; to: number }[] = [];
  for (let i = 0; i < notes.count; i++) {
    const last = strikes.at(-1);
    if (last && notes.start[last.from] === notes.start[i]) last.to = i + 1;
    else strikes.push({ ms: clock.msAt(notes.start[i]!), from: i, to: i + 1 });
  }
  let first = 0;
  let marked = 0;
  for (let k = 0; k < strikes.length; k++) {
    while (strikes[k]!.ms - strikes[first]!.ms >= 1000 - HAIR) first++;
    const here = k - first + 1;
    if (here > most) most = here;
    if (here <= allowed) continue;
    for (let m = Math.max(first, marked); m <= k; m++)
      for (let i = strikes[m]!.from; i < strikes[m]!.to; i++) places.addNote(notes, i);
    marked = Math.max(marked, k + 1);
  }
  return { places, most };
}

export const strikes = defineRule({
  id: 'strikes-a-second',
  summary: 'Strikes in any one second of a seat; a chord counts once.',
  block: 'spacing',
  reads: ['strikesASecond'],
  phase: 'density',
  codes: {
    'too-dense': {
      title: 'Too dense',
      wrong: (f, w) => `“${f['name']}” has up to ${f['most']} ${w.notes} in one second.`,
      then: (f, w) =>
        `${w.Target} keeps up with ${f['allowed']}; what is more may come late or not at all.`,
    },
  },
  check({ block, groups, maps, report }) {
    const allowed = block.strikesASecond;
    if (allowed === undefined) return;
    for (const group of groups()) {
      const { places, most } = strikesOf(group.notes, maps, allowed);
      if (places.count === 0) continue;
      report({
        code: 'too-dense',
        cause: causeOf(group),
        ...onlyPart(group),
        ...places.found,
        data: { name: group.parts.map((p) => p.name).join(' + '), most, allowed },
        measured: { value: most, unit: 'strikes a second' },
        allowed: { strikesASecond: allowed },
        mends: [
          within(
            mend(
              'Leave out what is too much in a second',
              thin,
              { mostInASecond: allowed, per: 'seat' as const, keep: 'first' as const },
              group.parts,
            ),
            places.spans,
          ),
        ],
      });
    }
  },
});

export const longest = defineRule({
  id: 'longest-note',
  summary: 'The longest note that the target can sound.',
  block: 'length',
  reads: ['longestMs'],
  phase: 'spacing',
  codes: {
    'too-long': {
      title: 'Too long',
      wrong: (f, w) =>
        `${f['count']} ${f['count'] === 1 ? w.note : w.notes} of “${f['name']}” ${f['count'] === 1 ? 'lasts' : 'last'} over ${f['longest']} ms, the longest ${f['most']} ms.`,
      then: (_, w) => `${w.Target} cannot hold a ${w.note} that long.`,
    },
  },
  check({ heard, block, maps, report }) {
    const { longestMs } = block;
    if (longestMs === undefined) return;
    for (const part of heard()) {
      const places = new Places();
      let most = 0;
      for (let i = 0; i < part.notes.count; i++) {
        const ms = maps.clock.msAt(part.notes.end[i]!) - maps.clock.msAt(part.notes.start[i]!);
        if (ms <= longestMs + HAIR) continue;
        places.add(part, i);
        most = Math.max(most, ms);
      }
      if (places.count === 0) continue;
      report({
        code: 'too-long',
        part,
        ...places.found,
        data: {
          count: places.count,
          name: part.name,
          longest: plain(longestMs),
          most: plain(most),
        },
        measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
        allowed: { longestMs },
        mends: [
          mend(`Shorten them to ${plain(longestMs)} ms`, shorten, { until: 'longest', longestMs }, [
            part,
          ]),
        ],
      });
    }
  },
});

export const openShare = defineRule({
  id: 'open-share',
  summary: 'How long a seat may sound within any stretch of time.',
  block: 'spacing',
  reads: ['mostOpenMs'],
  phase: 'spacing',
  codes: {
    'open-too-long': {
      title: 'Open too long',
      wrong: (f) => `“${f['name']}” is open for up to ${f['most']} ms in ${f['stretch']} ms.`,
      then: (f, w) => `${w.Target} runs out of breath after ${f['allowed']} ms and falls silent.`,
    },
  },
  check({ block, groups, maps, report }) {
    const { mostOpenMs, openInMs } = block;
    if (mostOpenMs === undefined || openInMs === undefined) return;
    for (const group of groups()) {
      const { places, most } = openTimes(group.notes, maps, mostOpenMs, openInMs);
      if (places.count === 0) continue;
      report({
        code: 'open-too-long',
        cause: causeOf(group),
        ...onlyPart(group),
        ...places.found,
        data: {
          name: group.parts.map((p) => p.name).join(' + '),
          most: plain(most),
          stretch: plain(openInMs),
          allowed: plain(mostOpenMs),
        },
        measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
        allowed: { mostOpenMs, openInMs },
        mends: [
          mend('Shorten what is too long', limitOpen, { mostOpenMs, inMs: openInMs }, group.parts),
        ],
      });
    }
  },
});

/** Sounding time in every window that begins with a note or ends with one: there it is greatest. */
function openTimes(
  notes: LineNotes,
  { clock }: Pick<Maps, 'clock'>,
  allowed: number,
  within: number,
) {
  // Stretches in which something sounds, merged.
  const open: { from: number; to: number; first: number; last: number }[] = [];
  for (let i = 0; i < notes.count; i++) {
    const from = clock.msAt(notes.start[i]!);
    const to = clock.msAt(notes.end[i]!);
    const last = open.at(-1);
    if (last && from <= last.to) {
      last.to = Math.max(last.to, to);
      last.last = i;
    } else open.push({ from, to, first: i, last: i });
  }
  const sums = new Float64Array(open.length + 1);
  open.forEach((s, k) => (sums[k + 1] = sums[k]! + s.to - s.from));
  const full = new Uint8Array(open.length);
  let most = 0;
  const look = (low: number, high: number) => {
    let a = 0;
    let b = open.length;
    while (a < b) {
      const mid = (a + b) >> 1;
      if (open[mid]!.to <= low) a = mid + 1;
      else b = mid;
    }
    let end = a;
    let hi = open.length;
    while (end < hi) {
      const mid = (end + hi) >> 1;
      if (open[mid]!.from < high) end = mid + 1;
      else hi = mid;
    }
    if (a >= end) return;
    let total = sums[end]! - sums[a]!;
    total -= Math.max(0, low - open[a]!.from) + Math.max(0, open[end - 1]!.to - high);
    if (total > most) most = total;
    if (total <= allowed + HAIR) return;
    full.fill(1, a, end);
  };
  for (const { from, to } of open) {
    look(from, from + within);
    look(to - within, to);
  }
  const places = new Places();
  open.forEach(({ first, last }, k) => {
    if (full[k] === 1) for (let i = first; i <= last; i++) places.addNote(notes, i);
  });
  return { places, most };
}

export const hands = defineRule({
  id: 'hands',
  summary: 'What a hand can reach, and no key for two hands at once.',
  block: 'polyphony',
  reads: ['spanSemitones', 'sharedNotes'],
  phase: 'spacing',
  codes: {
    'too-wide': {
      title: 'Too wide for a hand',
      wrong: (f) => `“${f['name']}” spans up to ${f['most']} semitones at once.`,
      then: (f, w) =>
        `${w.Target} draws a hand of ${f['allowed']} semitones; nobody can play more.`,
    },
    'shared-key': {
      title: 'One key for two hands',
      wrong: (f) => `${f['countText']} on a key that another seat is holding.`,
      then: (_, w) => `${w.Target} shows one of the two and waits for the other.`,
    },
  },
  check({ block, groups, report }) {
    const all = [...groups()].filter(
      (g) => !block.seats || g.parts.some((p) => p.seat && block.seats!.includes(p.seat)),
    );
    const span = block.spanSemitones;
    if (span !== undefined)
      for (const group of all) {
        const places = new Places();
        let most = 0;
        const { notes } = group;
        const sounding = new Sounding(notes);
        for (let i = 0; i < notes.count; i++) {
          const start = notes.start[i]!;
          sounding.until(start);
          if (notes.end[i]! > start) sounding.add(i);
          const wide = sounding.span;
          if (wide > most) most = wide;
          if (wide > span) sounding.nameAll(start, (n) => places.addNote(notes, n));
        }
        if (places.count === 0) continue;
        report({
          code: 'too-wide',
          cause: causeOf(group),
          ...onlyPart(group),
          ...places.found,
          data: { name: group.parts.map((p) => p.name).join(' + '), most, allowed: span },
          measured: { value: most, unit: 'semitones' },
          allowed: { spanSemitones: span },
          mends: [
            {
              title: 'Let none ring into the next, and drop what is out of reach from the top',
              steps: mend('', keepReach, { semitones: span, keep: 'lowest' }, group.parts).steps,
            },
            {
              title: 'Let none ring into the next, and drop what is out of reach from the bottom',
              steps: mend('', keepReach, { semitones: span, keep: 'highest' }, group.parts).steps,
            },
          ],
        });
      }
    if (block.sharedNotes !== 'none' || all.length < 2) return;
    const places = new Places();
    const flat = all.flatMap((g, k) =>
      Array.from({ length: g.notes.count }, (_, i) => ({ k, i, start: g.notes.start[i]! })),
    );
    flat.sort((a, b) => a.start - b.start || a.k - b.k);
    // By key until when each seat holds it.
    const held = new Map<number, Map<number, number>>();
    for (const { k, i, start } of flat) {
      const { notes } = all[k]!;
      const key = notes.noteNumber[i]!;
      const there = held.get(key) ?? new Map<number, number>();
      if ([...there].some(([other, end]) => other !== k && end > start)) places.addNote(notes, i);
      there.set(k, Math.max(there.get(k) ?? 0, notes.end[i]!));
      held.set(key, there);
    }
    if (places.count === 0) return;
    report({
      code: 'shared-key',
      ...places.found,
      data: { countText: places.count === 1 ? 'One note begins' : `${places.count} notes begin` },
      measured: { value: places.count, unit: 'notes' },
      allowed: { sharedNotes: 'none' },
      mends: [
        mend(
          'Keep the one that was there first',
          dropShared,
          {},
          all.flatMap((g) => g.parts),
        ),
      ],
    });
  },
});
