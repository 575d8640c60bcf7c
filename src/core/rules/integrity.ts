import { sayDamage } from '../diagnostic/damage';
import { OFF_MISSING, ticksPerQuarterOf } from '../score/score';
import { leaveOut } from '../steps/routing';
import { pairStuck, shorten } from '../steps/spacing';
import { dropDuplicates, strip } from '../steps/strip';
import { holdClock } from '../steps/timing';
import { count } from '../target/words';
import { ppqForClock, sayBpm } from '../time/tempos';
import { ppqAllowed } from './file';
import { tempoToHold } from './tempo';
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
  check({ heard, report }) {
    for (const part of heard()) {
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
  check({ heard, report }) {
    for (const part of heard()) {
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
  check({ heard, report }) {
    for (const part of heard()) {
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
  over: 'delivery',
  codes: {
    damage: {
      title: 'Damage in the source',
      wrong: (f) => String(f['says']),
      then: () => 'The handover is written clean; the source stays as it is.',
    },
  },
  check({ base, report }) {
    const several = base.sources.length > 1;
    for (const source of base.sources)
      for (const d of source.damage)
        report({
          code: 'damage',
          severity: HARMLESS.has(d.code) ? 'remark' : 'caution',
          cause: `${several ? `${source.key}:` : ''}${d.code}@${d.byteOffset}`,
          data: {
            says: several ? `${source.name}: ${sayDamage(d)}` : sayDamage(d),
            byteOffset: d.byteOffset,
          },
          noMend: 'The source is never changed. Export it again, or leave it as is.',
        });
  },
});

export const sequences = defineRule({
  id: 'sequences',
  summary: 'Of a file with several sequences one is taken, and the others are named.',
  block: null,
  phase: 'integrity',
  over: 'delivery',
  codes: {
    'other-sequences': {
      title: 'One sequence of several',
      wrong: (f) =>
        `“${f['file']}” holds ${f['sequences']} sequences; sequence ${f['taken']} is taken${f['name'] ? ` (“${f['name']}”)` : ''}. The others hold ${f['othersText']}.`,
      then: (_, w) => `${w.Target} gets this one alone.`,
    },
  },
  check({ base, report }) {
    for (const { head, name, key } of base.sources) {
      const { sequences, sequence = 0 } = head;
      if (!sequences || sequences.length < 2) continue;
      const others = sequences.filter((_, i) => i !== sequence);
      const notes = others.reduce((n, s) => n + s.notes, 0);
      report({
        code: 'other-sequences',
        severity: notes > 0 ? 'caution' : 'remark',
        cause: key,
        data: {
          file: name,
          sequences: sequences.length,
          taken: sequence + 1,
          name: sequences[sequence]?.name ?? '',
          othersText: count(notes, 'note'),
        },
        measured: { value: notes, unit: 'notes' },
        noMend: 'Choose another in Intake, or with --sequence on the command line.',
      });
    }
  },
});

export const division = defineRule({
  id: 'division',
  summary: 'Time is counted in quarter notes, not in frames.',
  block: null,
  phase: 'tempo and meter',
  codes: {
    frames: {
      title: 'Timed in frames',
      wrong: (f) => `This file counts ${f['rate']} frames a second, not quarter notes.`,
      then: (_, w) => `${w.Target} reads PPQ only, and has no tempo to count by.`,
    },
  },
  check({ piece, target, report }) {
    const { division } = piece.score;
    if (division.kind !== 'smpte') return;
    const us = tempoToHold(piece.score, target.tempo ?? {});
    const from = ticksPerQuarterOf(division);
    const ticksPerQuarter = ppqForClock(from, us, (p) => ppqAllowed(target.file?.ppq, p));
    report({
      code: 'frames',
      data: { rate: division.framesPerSecond },
      measured: { value: division.framesPerSecond, unit: 'frames a second' },
      mends: [
        mend(`Hold clock time at ${sayBpm(us)}`, holdClock, {
          microsecondsPerQuarter: us,
          ticksPerQuarter,
        }),
      ],
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
