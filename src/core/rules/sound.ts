import { isIn, type Part } from '../score/score';
import { leaveOut } from '../steps/routing';
import { setController, setProgram, velocity as velocityStep } from '../steps/sound';
import { strip } from '../steps/strip';
import { count } from '../target/words';
import { defineRule, mend, Places, spanAt } from './define-rule';

/** Indices of a part's program changes. */
function programsOf({ events }: Part): number[] {
  const out: number[] = [];
  for (let i = 0; i < events.count; i++) if (events.kind[i] === 0xc0) out.push(i);
  return out;
}

const sayProgram = (n: number) => `${n + 1} (${n} in the file)`;

export const program = defineRule({
  id: 'program',
  summary: 'The program of each part: at the start, once, and one that its seat has.',
  block: 'events',
  reads: ['programs'],
  phase: 'events',
  codes: {
    'program-missing': {
      title: 'No program',
      wrong: (f) => `“${f['name']}” sets no program.`,
      then: (_, w) => `${w.Target} plays it with whatever sound was there before.`,
    },
    'program-not-there': {
      title: 'A sound that the seat does not have',
      wrong: (f) => `“${f['name']}” asks for program ${f['program']}.`,
      then: (f, w) => `${w.Target} has ${f['sounds']} on ${f['seat']} and plays the first instead.`,
    },
    'program-off-by-one': {
      title: 'Program off by one',
      wrong: (f) =>
        `“${f['name']}” asks for program ${f['program']}; the seat has its neighbour, ${f['sound']}.`,
      then: (_, w) =>
        `Programs are counted from 0 in the file and from 1 on many devices. ${w.Target} would play another sound.`,
    },
    'program-again': {
      title: 'Program changes on the way',
      wrong: (f) => `“${f['name']}” changes its program ${f['times']} times.`,
      then: (_, w) => `${w.Target} takes one program a channel, at the start.`,
    },
    'program-late': {
      title: 'Program not at the start',
      wrong: (f) => `The program of “${f['name']}” ${f['late']}.`,
      then: (_, w) => `${w.Target} sets its sounds up before it plays and passes over later ones.`,
    },
  },
  check({ block, piece, target, report }) {
    const mode = block.programs;
    if (mode !== 'one-at-start' && mode !== 'of-seat') return;
    for (const part of piece.score.parts) {
      if (!isIn(part) || part.notes.count === 0) continue;
      const { events } = part;
      const places = programsOf(part);
      const seat = target.seats.find((s) => s.id === part.seat);
      const sounds = mode === 'of-seat' ? (seat?.sounds ?? []) : [];
      const [first] = places;
      const current = first === undefined ? null : events.data1[first]!;
      const base = {
        part,
        allowed: {
          programs: mode,
          ...(sounds.length ? { sounds: sounds.map((s) => s.program) } : {}),
        },
      };
      const say = sounds
        .slice(0, 5)
        .map((s) => `${s.name}, ${s.program + 1}`)
        .join('; ');
      const choose = sounds
        .slice(0, 4)
        .map((s) => mend(`Play it with ${s.name}`, setProgram, { program: s.program }, [part]));
      if (current === null) {
        if (mode === 'of-seat')
          report({
            code: 'program-missing',
            ...base,
            spans: [spanAt(0)],
            data: { name: part.name },
            mends: choose,
            ...(choose.length === 0 ? { noMend: 'Its seat names no sounds.' } : {}),
          });
        continue;
      }
      const there = sounds.some((s) => s.program === current);
      const kept = there || sounds.length === 0 ? current : null;
      if (places.length > 1)
        report({
          code: 'program-again',
          ...base,
          spans: places.slice(0, 200).map((i) => spanAt(events.tick[i]!)),
          data: { name: part.name, times: places.length },
          measured: { value: places.length, unit: 'program changes' },
          mends: [
            mend(
              'Keep the first',
              setProgram,
              { program: kept ?? sounds[0]!.program, keepBank: true },
              [part],
            ),
          ],
        });
      if (!there && sounds.length > 0) {
        const neighbour = sounds.find((s) => Math.abs(s.program - current) === 1);
        report({
          code: neighbour ? 'program-off-by-one' : 'program-not-there',
          ...base,
          spans: [spanAt(events.tick[first!]!)],
          data: {
            name: part.name,
            program: sayProgram(current),
            sounds: say,
            seat: seat?.name ?? 'its seat',
            sound: neighbour ? `${neighbour.name}, ${neighbour.program + 1}` : '',
          },
          measured: { value: current, unit: 'program' },
          mends: neighbour
            ? [
                mend(`Play it with ${neighbour.name}`, setProgram, { program: neighbour.program }, [
                  part,
                ]),
              ]
            : choose,
        });
      }
      const tick = events.tick[first!]!;
      const late = mode === 'of-seat' ? tick > 0 : tick > part.notes.start[0]!;
      if (late && places.length === 1)
        report({
          code: 'program-late',
          ...base,
          spans: [spanAt(tick)],
          data: {
            name: part.name,
            late:
              mode === 'of-seat' ? `stands at tick ${tick}, not 0` : 'comes behind its first note',
          },
          measured: { value: tick, unit: 'ticks' },
          mends: [
            mend(
              'Set it at the start',
              setProgram,
              { program: kept ?? sounds[0]!.program, keepBank: true },
              [part],
            ),
          ],
        });
    }
  },
});

export const setUp = defineRule({
  id: 'set-up-once',
  summary: 'Exactly one of each set-up controller on a seat, at tick 0.',
  block: 'events',
  reads: ['controllersOnceAtStart'],
  phase: 'events',
  codes: {
    'set-up-missing': {
      title: 'Set-up missing',
      wrong: (f) => `“${f['name']}” has no controller ${f['numbers']}.`,
      then: (_, w) => `${w.Target} keeps what the last song left there.`,
    },
    'set-up-again': {
      title: 'Set up more than once',
      wrong: (f) =>
        `“${f['name']}” sets controller ${f['numbers']} several times, or not at tick 0.`,
      then: (_, w) => `${w.Target} expects each exactly once, at tick 0, and stops at another.`,
    },
  },
  check({ block, piece, report }) {
    const wanted = block.controllersOnceAtStart;
    if (!wanted) return;
    for (const part of piece.score.parts) {
      if (!isIn(part) || part.notes.count === 0) continue;
      const missing: number[] = [];
      const again: number[] = [];
      const ticks: number[] = [];
      for (const number of wanted) {
        const at: number[] = [];
        for (let i = 0; i < part.events.count; i++)
          if (part.events.kind[i] === 0xb0 && part.events.data1[i] === number)
            at.push(part.events.tick[i]!);
        if (at.length === 0) missing.push(number);
        else if (at.length > 1 || at[0] !== 0) {
          again.push(number);
          ticks.push(...at.filter((t, i) => i > 0 || t > 0));
        }
      }
      const steps = (numbers: number[], title: string) => ({
        title,
        steps: numbers.flatMap(
          (controller) => mend('', setController, { controller }, [part]).steps,
        ),
      });
      const base = { part, allowed: { controllersOnceAtStart: wanted } };
      if (missing.length > 0)
        report({
          code: 'set-up-missing',
          ...base,
          spans: [spanAt(0)],
          data: { name: part.name, numbers: missing.join(', ') },
          measured: { value: missing.length, unit: 'controllers' },
          mends: [steps(missing, 'Write the usual values at the start')],
        });
      if (again.length > 0)
        report({
          code: 'set-up-again',
          ...base,
          spans: [...new Set(ticks)].slice(0, 200).map(spanAt),
          data: { name: part.name, numbers: again.join(', ') },
          measured: { value: ticks.length, unit: 'controller events' },
          mends: [steps(again, 'Keep the first value, at the start')],
        });
    }
  },
});

export const silentChannel = defineRule({
  id: 'silent-channel',
  summary: 'Only channels that have notes.',
  block: 'events',
  reads: ['silentChannels'],
  phase: 'events',
  codes: {
    'silent-channel': {
      title: 'A channel without notes',
      wrong: (f) => `“${f['name']}” has ${f['eventsText']} on channel ${f['channel']} and no note.`,
      then: (_, w) => `${w.Target} makes a row for it that stays dark.`,
    },
  },
  check({ block, piece, report }) {
    if (block.silentChannels !== 'none') return;
    for (const part of piece.score.parts) {
      if (!isIn(part) || part.notes.count > 0 || part.events.count === 0) continue;
      report({
        code: 'silent-channel',
        part,
        spans: [spanAt(part.events.tick[0]!)],
        data: {
          name: part.name,
          channel: part.channel,
          eventsText: count(part.events.count, 'event'),
        },
        measured: { value: 0, unit: 'notes' },
        allowed: { silentChannels: 'none' },
        mends: [
          mend(
            'Take its events out',
            strip,
            { kinds: ['controllers', 'programs', 'bends', 'aftertouch', 'stray note-offs'] },
            [part],
          ),
          mend('Leave it out', leaveOut, {}, [part]),
        ],
      });
    }
  },
});

export const velocity = defineRule({
  id: 'velocity',
  summary: 'How hard notes are struck: within the range of the target, and not all alike.',
  block: 'velocity',
  phase: 'notes',
  codes: {
    'velocity-range': {
      title: 'Velocity out of range',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'is' : 'are'} struck outside ${f['lowest']}–${f['highest']}.`,
      then: (_, w) => `${w.Target} does not sound them as they are meant.`,
    },
    'velocity-ignored': {
      title: 'Velocity is not kept',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'has' : 'have'} another velocity than ${f['as']}.`,
      then: (f, w) => `${w.Target} knows no velocity: every note is delivered with ${f['as']}.`,
    },
    'velocity-alike': {
      title: 'All struck alike',
      wrong: (f) => `All ${f['countText']} of “${f['name']}” have velocity ${f['value']}.`,
      then: () => 'Perhaps the dynamics were lost in an export. It will sound like a machine.',
    },
  },
  check({ block, piece, report }) {
    const { lowest = 1, highest = 127, deliveredAs, allAlike } = block;
    for (const part of piece.score.parts) {
      if (!isIn(part) || part.notes.count === 0) continue;
      const { velocity: values, count: n } = part.notes;
      const out = new Places();
      const other = new Places();
      let alike = true;
      let worst = values[0]!;
      for (let i = 0; i < n; i++) {
        const value = values[i]!;
        if (value !== values[0]) alike = false;
        if (value < lowest || value > highest) {
          out.add(part, i);
          worst = value;
        }
        if (deliveredAs !== undefined && value !== deliveredAs) other.add(part, i);
      }
      const facts = (places: Places) => ({
        name: part.name,
        countText: count(places.count, 'note'),
        one: places.count === 1 ? 1 : 0,
      });
      if (out.count > 0)
        report({
          code: 'velocity-range',
          part,
          ...out.found,
          data: { ...facts(out), lowest, highest },
          measured: { value: worst, unit: 'velocity' },
          allowed: { lowest, highest },
          mends: [
            mend(`Bring them within ${lowest}–${highest}`, velocityStep, { lowest, highest }, [
              part,
            ]),
          ],
        });
      if (deliveredAs !== undefined && other.count > 0)
        report({
          code: 'velocity-ignored',
          part,
          ...other.found,
          data: { ...facts(other), as: deliveredAs },
          measured: { value: other.count, unit: 'notes' },
          allowed: { deliveredAs },
          mends: [mend(`Set all to ${deliveredAs}`, velocityStep, { all: deliveredAs }, [part])],
        });
      if (allAlike !== undefined && alike && n >= 8)
        report({
          code: 'velocity-alike',
          severity: allAlike,
          part,
          spans: [spanAt(part.notes.start[0]!)],
          notes: part.notes.id,
          data: { name: part.name, countText: count(n, 'note'), value: values[0]! },
          measured: { value: values[0]!, unit: 'velocity' },
          mends: [
            mend('Vary them a little, by a stored seed', velocityStep, { vary: 8, seed: 1 }, [
              part,
            ]),
          ],
        });
    }
  },
});
