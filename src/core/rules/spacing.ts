import type { Mend } from '../diagnostic/finding';
import { notesTogether, type LineNotes, type OutputLine } from '../score/lines';
import { isIn, type Part } from '../score/score';
import { keepVoices, lengthen, shorten, thin } from '../steps/spacing';
import { leaveOut } from '../steps/routing';
import { count, plain } from '../target/words';
import { defineRule, HAIR, mend, Places } from './define-rule';

/** A line's name for a key that stays: its parts. */
const causeOf = (line: OutputLine) =>
  `${line.channel}:${line.parts.map((p) => p.ref.track).join('+')}`;
const onlyPart = (line: OutputLine): { part?: Part } =>
  line.parts.length === 1 ? { part: line.parts[0]! } : {};

export const atOnce = defineRule({
  id: 'at-once',
  summary: 'No more notes sounding in the same instant than the target can play.',
  block: 'polyphony',
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
  check({ block, piece, lines, report }) {
    const { together, over } = block;
    const groups: { notes: LineNotes; line?: OutputLine }[] =
      over === 'all'
        ? [{ notes: notesTogether(piece.score.parts.filter(isIn)) }]
        : lines().map((line) => ({ notes: line.notes, line }));
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

/** Sweeps the notes by start; what sounds is kept as a short list. */
function crowded(notes: LineNotes, together: number) {
  const places = new Places();
  const marked = new Uint8Array(notes.count);
  const mark = (i: number) => {
    if (marked[i] === 0) places.addNote(notes, i);
    marked[i] = 1;
  };
  const sounding: number[] = [];
  let most = 0;
  let moments = 0;
  let inside = false;
  let struckTogether = false;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    if (notes.end[i]! <= start) continue; // no length, no instant; a rule of its own
    let still = 0;
    for (const s of sounding) if (notes.end[s]! > start) sounding[still++] = s;
    sounding.length = still;
    sounding.push(i);
    if (sounding.length > most) most = sounding.length;
    if (sounding.length <= together) {
      inside = false;
      continue;
    }
    if (!inside) moments++;
    inside = true;
    for (const s of sounding) {
      mark(s);
      if (s !== i && notes.start[s] === start) struckTogether = true;
    }
  }
  return { places, most, moments, struckTogether };
}

export const sameKey = defineRule({
  id: 'same-key',
  summary: 'Time before the same key may be struck again, start to start.',
  block: 'spacing',
  phase: 'spacing',
  codes: {
    'same-key-soon': {
      title: 'Struck again too soon',
      wrong: (f) =>
        `${f['countText']} ${f['one'] ? 'follows' : 'follow'} the same key within ${f['least']} to ${f['most']} ms.`,
      then: (f, w) =>
        `${w.Target} needs ${f['apart']} ms before the same key moves again; the second ${w.note} is lost.`,
    },
  },
  check({ block, lines, maps, report }) {
    const apart = block.sameKeyApartMs;
    if (apart === undefined) return;
    for (const line of lines()) {
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
  phase: 'spacing',
  codes: {
    'too-close': {
      title: 'Too close together',
      wrong: (f, w) =>
        `${f['count']} ${f['count'] === 1 ? w.note : w.notes} ${f['count'] === 1 ? 'comes' : 'come'} within ${f['apart']} ms of the one before, the closest after ${f['least']} ms.`,
      then: (f, w) =>
        `${w.Target} needs ${f['apart']} ms between two ${w.notes} and passes over the later one.`,
    },
  },
  check({ block, target, lines, maps, report }) {
    const { apartMs } = block;
    if (apartMs === undefined) return;
    for (const line of lines()) {
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
  phase: 'spacing',
  codes: {
    'too-short': {
      title: 'Too short',
      wrong: (f, w) =>
        `${f['count']} ${f['count'] === 1 ? w.note : w.notes} of “${f['name']}” ${f['count'] === 1 ? 'lasts' : 'last'} under ${f['shortest']} ms, the shortest ${f['least']} ms.`,
      then: (_, w) => `${w.Target} does not notice a ${w.note} that short.`,
    },
  },
  check({ block, piece, maps, report }) {
    const { shortestMs } = block;
    if (shortestMs === undefined) return;
    for (const part of piece.score.parts) {
      if (!isIn(part)) continue;
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
