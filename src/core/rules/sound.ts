import type { Mend } from '../diagnostic/finding';
import { velocitiesLost } from '../reading/as-delivered';
import type { Part } from '../score/score';
import { leaveOut } from '../steps/routing';
import { setController, setProgram, velocity as velocityStep } from '../steps/sound';
import { strip } from '../steps/strip';
import { count } from '../target/words';
import { defineRule, mend, Places, spanAt } from './define-rule';

/** An event of a channel: of which part, and where in it. */
interface OnChannel {
  readonly part: Part;
  readonly index: number;
  readonly tick: number;
}

/** Events of the parts of a channel that a rule looks at, in order of time; tracks as they stand. */
function eventsOn(parts: readonly Part[], wanted: (kind: number, data1: number) => boolean) {
  const out: OnChannel[] = [];
  for (const part of [...parts].sort((a, b) => a.track - b.track)) {
    const { events } = part;
    for (let index = 0; index < events.count; index++)
      if (wanted(events.kind[index]!, events.data1[index]!))
        out.push({ part, index, tick: events.tick[index]! });
  }
  return out.sort((a, b) => a.tick - b.tick);
}

/** The parts of a channel as one: who sets it up, how it is called, which of them a finding names. */
function channelOf(parts: readonly Part[]) {
  const [first] = [...parts].sort((a, b) => a.track - b.track);
  const name = parts
    .slice(0, 3)
    .map((p) => p.name)
    .join(' + ');
  return {
    first: first!,
    others: parts.filter((p) => p !== first),
    named: {
      cause: `channel ${first!.channel}`,
      ...(parts.length === 1 ? { part: first! } : {}),
    },
    name: parts.length > 3 ? `${name} and ${parts.length - 3} more` : name,
    seat: parts.find((p) => p.seat !== null)?.seat ?? null,
    notes: parts.reduce((n, p) => n + p.notes.count, 0),
    firstNote: parts.reduce(
      (tick, p) => (p.notes.count > 0 ? Math.min(tick, p.notes.start[0]!) : tick),
      Infinity,
    ),
  };
}

/** One part says it for the whole channel, and the others of the channel no longer do. */
const forChannel = (title: string, steps: Mend['steps'], quiet: Mend['steps']): Mend => ({
  title,
  steps: [...steps, ...quiet],
});

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
      wrong: (f) =>
        `Channel ${f['channel']} (“${f['name']}”) is given a program ${f['times']} times.`,
      then: (_, w) => `${w.Target} takes one program a channel, at the start.`,
    },
    'program-late': {
      title: 'Program not at the start',
      wrong: (f) => `The program of “${f['name']}” ${f['late']}.`,
      then: (_, w) => `${w.Target} sets its sounds up before it plays and passes over later ones.`,
    },
  },
  check({ channels, block, target, report }) {
    const mode = block.programs;
    if (mode !== 'one-at-start' && mode !== 'of-seat') return;
    for (const { parts } of channels()) {
      const on = channelOf(parts);
      if (on.notes === 0) continue;
      const places = eventsOn(parts, (kind) => kind === 0xc0);
      const seat = target.seats.find((s) => s.id === on.seat);
      const sounds = mode === 'of-seat' ? (seat?.sounds ?? []) : [];
      const [first] = places;
      const current = first === undefined ? null : first.part.events.data1[first.index]!;
      const base = {
        ...on.named,
        allowed: {
          programs: mode,
          ...(sounds.length ? { sounds: sounds.map((s) => s.program) } : {}),
        },
      };
      const say = sounds
        .slice(0, 5)
        .map((s) => `${s.name}, ${s.program + 1}`)
        .join('; ');
      const set = (title: string, number: number, keepBank = false) =>
        forChannel(
          title,
          mend('', setProgram, { program: number, ...(keepBank ? { keepBank } : {}) }, [on.first])
            .steps,
          on.others.some((p) => places.some((e) => e.part === p))
            ? mend('', strip, { kinds: ['programs' as const] }, on.others).steps
            : [],
        );
      const choose = sounds.slice(0, 4).map((s) => set(`Play it with ${s.name}`, s.program));
      if (current === null) {
        if (mode === 'of-seat')
          report({
            code: 'program-missing',
            ...base,
            spans: [spanAt(0)],
            data: { name: on.name },
            mends: choose,
            ...(choose.length === 0 ? { noMend: 'Its seat names no sounds.' } : {}),
          });
        continue;
      }
      const there = sounds.some((s) => s.program === current);
      const kept = there || sounds.length === 0 ? current : sounds[0]!.program;
      if (places.length > 1)
        report({
          code: 'program-again',
          ...base,
          spans: places.slice(0, 200).map((e) => spanAt(e.tick)),
          data: { name: on.name, times: places.length, channel: on.first.channel },
          measured: { value: places.length, unit: 'program changes' },
          mends: [set('Keep the first', kept, true)],
        });
      if (!there && sounds.length > 0) {
        const neighbour = sounds.find((s) => Math.abs(s.program - current) === 1);
        report({
          code: neighbour ? 'program-off-by-one' : 'program-not-there',
          ...base,
          spans: [spanAt(first!.tick)],
          data: {
            name: on.name,
            program: sayProgram(current),
            sounds: say,
            seat: seat?.name ?? 'its seat',
            sound: neighbour ? `${neighbour.name}, ${neighbour.program + 1}` : '',
          },
          measured: { value: current, unit: 'program' },
          mends: neighbour ? [set(`Play it with ${neighbour.name}`, neighbour.program)] : choose,
        });
      }
      const { tick } = first!;
      const late = mode === 'of-seat' ? tick > 0 : tick > on.firstNote;
      if (late && places.length === 1)
        report({
          code: 'program-late',
          ...base,
          spans: [spanAt(tick)],
          data: {
            name: on.name,
            late:
              mode === 'of-seat' ? `stands at tick ${tick}, not 0` : 'comes behind its first note',
          },
          measured: { value: tick, unit: 'ticks' },
          mends: [set('Set it at the start', kept, true)],
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
  check({ channels, block, report }) {
    const wanted = block.controllersOnceAtStart;
    if (!wanted) return;
    for (const { parts } of channels()) {
      const on = channelOf(parts);
      if (on.notes === 0) continue;
      const missing: number[] = [];
      const again: number[] = [];
      const ticks: number[] = [];
      const first = new Map<number, number>();
      for (const number of wanted) {
        const at = eventsOn(parts, (kind, data1) => kind === 0xb0 && data1 === number);
        if (at[0]) first.set(number, at[0].part.events.data2[at[0].index]!);
        if (at.length === 0) missing.push(number);
        else if (at.length > 1 || at[0]!.tick !== 0) {
          again.push(number);
          ticks.push(...at.filter((e, i) => i > 0 || e.tick > 0).map((e) => e.tick));
        }
      }
      const setAll = (title: string, numbers: number[]) =>
        forChannel(
          title,
          numbers.flatMap((controller) => {
            const value = first.get(controller);
            const params = { controller, ...(value === undefined ? {} : { value }) };
            return mend('', setController, params, [on.first]).steps;
          }),
          on.others.length > 0 && numbers.some((n) => first.has(n))
            ? mend('', strip, { kinds: ['controllers' as const], controllers: numbers }, on.others)
                .steps
            : [],
        );
      const base = { ...on.named, allowed: { controllersOnceAtStart: wanted } };
      if (missing.length > 0)
        report({
          code: 'set-up-missing',
          ...base,
          spans: [spanAt(0)],
          data: { name: on.name, numbers: missing.join(', ') },
          measured: { value: missing.length, unit: 'controllers' },
          mends: [setAll('Write the usual values at the start', missing)],
        });
      if (again.length > 0)
        report({
          code: 'set-up-again',
          ...base,
          spans: [...new Set(ticks)].slice(0, 200).map(spanAt),
          data: { name: on.name, numbers: again.join(', ') },
          measured: { value: ticks.length, unit: 'controller events' },
          mends: [setAll('Keep the first value, at the start', again)],
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
  check({ heard, block, report }) {
    if (block.silentChannels !== 'none') return;
    for (const part of heard()) {
      if (part.notes.count > 0 || part.events.count === 0) continue;
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
        `${f['countText']} ${f['one'] ? 'has' : 'have'} another velocity than ${f['as']}.`,
      then: (f, w) => `${w.Target} knows no velocity: every note is delivered with ${f['as']}.`,
    },
    'velocity-alike': {
      title: 'All struck alike',
      wrong: (f) => `All ${f['countText']} of “${f['name']}” have velocity ${f['value']}.`,
      then: () => 'Perhaps the dynamics were lost in an export. It will sound like a machine.',
    },
  },
  check({ heard, block, piece, target, report }) {
    const { lowest = 1, highest = 127, deliveredAs, allAlike } = block;
    const lost = velocitiesLost(piece, target);
    if (deliveredAs !== undefined && lost > 0)
      report({
        code: 'velocity-ignored',
        severity: 'remark',
        data: { countText: count(lost, 'note'), one: lost === 1 ? 1 : 0, as: deliveredAs },
        measured: { value: lost, unit: 'notes' },
        allowed: { deliveredAs },
        noMend: 'Nothing needs to be done: it is delivered so, and listed in the receipt.',
      });
    for (const part of heard()) {
      if (part.notes.count === 0) continue;
      const { velocity: values, count: n } = part.notes;
      const out = new Places();
      let alike = true;
      let worst = values[0]!;
      for (let i = 0; i < n; i++) {
        const value = values[i]!;
        if (value !== values[0]) alike = false;
        if (value < lowest || value > highest) {
          out.add(part, i);
          worst = value;
        }
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
