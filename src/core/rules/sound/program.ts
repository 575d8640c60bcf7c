import { channelOf, eventsOn, forChannel } from './channels';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { setProgram } from '../../steps/sound';
import { strip } from '../../steps/strip';

const sayProgram = (n: number) => `${n + 1} (${n} in the file)`;

export const program = defineRule({
  id: 'program',
  summary: 'The program of each part: at the start, once, and one that its seat has.',
  story: {
    why: 'Programs are counted from 0 in the file and from 1 on many displays, and change on the way in live sets.',
    mends:
      'One program at the start: the first, its neighbour that the seat has, or one of the seat’s own sounds.',
  },
  block: 'events',
  reads: ['programs'],
  phase: 'events',
  codes: {
    'program-missing': says<{ name: string }>({
      title: 'Program change missing',
      wrong: (f) => `“${f.name}” sets no program.`,
      then: (_, w) => `${w.Target} plays it with whatever sound was there before.`,
    }),
    'program-not-there': says<{
      name: string;
      program: string;
      sounds: string;
      seat: string;
      sound: string;
    }>({
      title: 'Sound that the seat does not have',
      wrong: (f) => `“${f.name}” asks for program ${f.program}.`,
      then: (f, w) => `${w.Target} has ${f.sounds} on ${f.seat} and plays the first instead.`,
    }),
    'program-off-by-one': says<{
      name: string;
      program: string;
      sounds: string;
      seat: string;
      sound: string;
    }>({
      title: 'Program numbers off by one',
      wrong: (f) =>
        `“${f.name}” asks for program ${f.program}; the seat has its neighbour, ${f.sound}.`,
      then: (_, w) =>
        `Programs are counted from 0 in the file and from 1 on many devices. ${w.Target} would play another sound.`,
    }),
    'program-again': says<{ name: string; times: number; channel: number }>({
      title: 'Program changes within the piece',
      wrong: (f) => `Channel ${f.channel} (“${f.name}”) is given a program ${f.times} times.`,
      then: (_, w) => `${w.Target} takes one program a channel, at the start.`,
    }),
    'program-late': says<{ name: string; late: string }>({
      title: 'Program change not at the start',
      wrong: (f) => `The program of “${f.name}” ${f.late}.`,
      then: (_, w) => `${w.Target} sets its sounds up before it plays and passes over later ones.`,
    }),
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
            // Any is taken where its seat names none: the one that a device begins with.
            mends: choose.length > 0 ? choose : [set(`Play it with program ${sayProgram(0)}`, 0)],
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
