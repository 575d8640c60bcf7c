import { sayDamage } from '../diagnostic/damage';
import { isIn, OFF_MISSING } from '../score/score';
import { leaveOut } from '../steps/routing';
import { pairStuck, shorten } from '../steps/spacing';
import { dropDuplicates, strip } from '../steps/strip';
import { count } from '../target/words';
import { defineRule, mend, Places, spanAt } from './define-rule';

export const stuck = defineRule({
  id: 'stuck-note',
  summary: 'Every note has an end.',
  block: null,
  phase: 'integrity',
  codes: {
    stuck: {
      title: 'Notes that never end',
      wrong: (f) => `${f['countText']} of “${f['name']}” ${f['one'] ? 'has' : 'have'} no note-off.`,
      then: (_, w) => `${w.Target} holds them until it is switched off.`,
    },
  },
  check({ piece, report }) {
    for (const part of piece.score.parts) {
      if (!isIn(part)) continue;
      const places = new Places();
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.offKind[i] === OFF_MISSING) places.add(part, i);
      if (places.count === 0) continue;
      report({
        code: 'stuck',
        part,
        ...places.found,
        data: {
          countText: count(places.count, 'note'),
          one: places.count === 1 ? 1 : 0,
          name: part.name,
        },
        measured: { value: places.count, unit: 'notes' },
        mends: [
          mend(
            'End them at the usual length of the part',
            pairStuck,
            { until: 'median' as const },
            [part],
          ),
          mend('End them with their bar', pairStuck, { until: 'bar-end' as const }, [part]),
        ],
      });
    }
  },
});

export const strayOff = defineRule({
  id: 'note-off-alone',
  summary: 'Every note-off ends a note.',
  block: null,
  phase: 'integrity',
  codes: {
    'stray-off': {
      title: 'Note-offs without a note',
      wrong: (f) => `${f['countText']} of “${f['name']}” ${f['one'] ? 'ends' : 'end'} no note.`,
      then: (_, w) =>
        `It does no harm as a rule; ${w.target} may cut a note that another part began.`,
    },
  },
  check({ piece, report }) {
    for (const part of piece.score.parts) {
      if (!isIn(part)) continue;
      const ticks: number[] = [];
      for (let i = 0; i < part.events.count; i++)
        if (part.events.kind[i]! < 0xa0) ticks.push(part.events.tick[i]!);
      if (ticks.length === 0) continue;
      report({
        code: 'stray-off',
        severity: 'caution',
        part,
        spans: [...new Set(ticks)].map(spanAt),
        data: {
          countText: count(ticks.length, 'note-off'),
          one: ticks.length === 1 ? 1 : 0,
          name: part.name,
        },
        measured: { value: ticks.length, unit: 'note-offs' },
        mends: [mend('Take them out', strip, { kinds: ['stray note-offs'] }, [part])],
      });
    }
  },
});

export const overlap = defineRule({
  id: 'overlap',
  summary: 'A key is not struck again on its track and channel while it still sounds.',
  block: null,
  phase: 'integrity',
  codes: {
    overlap: {
      title: 'The same key overlaps',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'begins' : 'begin'} while the same key still sounds.`,
      then: (_, w) => `The first note-off ends both for ${w.target}: one is cut, or hangs.`,
    },
    doubled: {
      title: 'Notes struck twice',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'is' : 'are'} struck twice at the same tick.`,
      then: (_, w) => `${w.Target} plays one of the two, or hangs on the other.`,
    },
  },
  check({ lines, report }) {
    for (const line of lines()) {
      const { notes } = line;
      const overlapping = new Places();
      const doubled = new Places();
      const last = new Int32Array(128).fill(-1);
      for (let i = 0; i < notes.count; i++) {
        const key = notes.noteNumber[i]!;
        const before = last[key]!;
        if (before >= 0 && notes.end[before]! > notes.start[i]!)
          (notes.start[before] === notes.start[i] ? doubled : overlapping).addNote(notes, i);
        // The one that sounds longest is what the next may overlap.
        if (before < 0 || notes.end[i]! >= notes.end[before]!) last[key] = i;
      }
      const name = line.parts.map((p) => p.name).join(' + ');
      const base = {
        severity: 'caution' as const,
        cause: `${line.channel}:${line.parts.map((p) => p.ref.track).join('+')}`,
        ...(line.parts.length === 1 ? { part: line.parts[0]! } : {}),
      };
      const facts = (n: number) => ({ countText: count(n, 'note'), one: n === 1 ? 1 : 0, name });
      if (overlapping.count > 0)
        report({
          code: 'overlap',
          ...base,
          ...overlapping.found,
          data: facts(overlapping.count),
          measured: { value: overlapping.count, unit: 'notes' },
          mends: [
            mend(
              'End the earlier one first',
              shorten,
              { until: 'next-same-key' as const },
              line.parts,
            ),
          ],
        });
      if (doubled.count > 0)
        report({
          code: 'doubled',
          ...base,
          ...doubled.found,
          data: facts(doubled.count),
          measured: { value: doubled.count, unit: 'notes' },
          // Doubles that stand in two parts are no doubles within either.
          ...(line.parts.length === 1
            ? {
                mends: [
                  mend(
                    'Keep one of each',
                    dropDuplicates,
                    { notes: true, events: false },
                    line.parts,
                  ),
                ],
              }
            : {
                noMend: `They stand in several parts (${name}): leave one out, or join the parts first.`,
              }),
        });
    }
  },
});

export const zeroLength = defineRule({
  id: 'zero-length',
  summary: 'Every note has a length.',
  block: null,
  phase: 'integrity',
  codes: {
    'zero-length': {
      title: 'Notes of no length',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'ends' : 'end'} at the tick of ${f['one'] ? 'its' : 'their'} start.`,
      then: (_, w) => `${w.Target} may play nothing, or let them hang.`,
    },
  },
  check({ piece, report }) {
    for (const part of piece.score.parts) {
      if (!isIn(part)) continue;
      const places = new Places();
      const { start, end, offKind } = part.notes;
      for (let i = 0; i < part.notes.count; i++)
        if (end[i] === start[i] && offKind[i] !== OFF_MISSING) places.add(part, i);
      if (places.count === 0) continue;
      report({
        code: 'zero-length',
        severity: 'caution',
        part,
        ...places.found,
        data: {
          countText: count(places.count, 'note'),
          one: places.count === 1 ? 1 : 0,
          name: part.name,
        },
        measured: { value: places.count, unit: 'notes' },
        mends: [mend('Leave them out', leaveOut, { empty: true }, [part])],
      });
    }
  },
});

export const damage = defineRule({
  id: 'damage',
  summary: 'What was wrong with the bytes of the source.',
  block: null,
  phase: 'integrity',
  codes: {
    damage: {
      title: 'Damage in the source',
      wrong: (f) => String(f['says']),
      then: () => 'The handover is written clean; the source stays as it is.',
    },
  },
  check({ source, report }) {
    for (const d of source.damage)
      report({
        code: 'damage',
        severity: HARMLESS.has(d.code) ? 'remark' : 'caution',
        cause: `${d.code}@${d.byteOffset}`,
        data: { says: sayDamage(d), byteOffset: d.byteOffset },
        noMend: 'The source is never changed. Export it again, or leave it as is.',
      });
  },
});

/** Nothing of the music is touched by these. */
const HARMLESS = new Set([
  'leading-bytes',
  'header-length',
  'trailing-bytes',
  'end-of-track-missing',
  'running-status-cancelled',
  'system-byte',
]);
