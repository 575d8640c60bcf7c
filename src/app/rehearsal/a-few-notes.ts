import type { Happening, HappeningKind, Played } from '../../core/standin/played';
import { allowedKeys } from '../../core/target/limits';
import type { Target } from '../../core/target/schema';

/** Where in them a picture is taken: some have been, some are, some are to come. */
export const PICTURE_US = 1_500_000;
const EACH_US = 260_000;
const COUNT = 22;

/** A few notes that a target would take, by its data alone: so that its picture shows it at work. */
export function aFewNotes(target: Target): Played {
  const writes = new Set(target.outputs.map((o) => o.writer));
  const kind: HappeningKind = writes.has('chart')
    ? 'strike'
    : writes.has('captions')
      ? 'caption'
      : writes.has('hole-list')
        ? 'hole'
        : writes.has('strands')
          ? 'cue-value'
          : 'note';
  // Strands have the names that a game listens for; where it says none, some stand in.
  const names = target.strands
    ? (target.strands.names ?? ['lamp', 'gate', 'bell', 'rope', 'gull'])
    : [];
  const files = target.seats.filter((s) => s.kind === 'file');
  const seats =
    names.length > 0
      ? [...names]
      : target.seats.length > 0
        ? target.seats.map((s) => s.id)
        : ['channel 1', 'channel 2', 'channel 3'];
  const keys = keysOf(target);
  const events: Happening[] = [];
  for (let i = 0; i < COUNT; i++) {
    // Seats in turn; of many, by leaps.
    const seat = seats[(seats.length > 8 ? i * 7 : i) % seats.length]!;
    const own = target.seats.find((s) => s.id === seat);
    const lanes = own?.kind === 'laneGroup' ? own.laneNotes.length : null;
    events.push({
      atUs: i * EACH_US,
      lengthUs: EACH_US * (i % 4 === 0 ? 3 : 1),
      kind,
      seat,
      key: lanes === null ? keys[(i * 5) % keys.length]! : (i % lanes) + 1,
      value: 90,
      file: 'a.mid',
      ...(kind === 'caption' ? { text: 'Lanterns out\nalong the quay' } : {}),
    });
  }
  turned(target, seats[0]!, events);
  if (writes.has('tempo-map'))
    [96, 104, 120, 88].forEach((bpm, i) => {
      const at = { seat: 'conductor', key: i + 1, file: 'a.mid' };
      const atUs = i * 1_200_000;
      events.push({ ...at, atUs, kind: 'tempo', value: Math.round(60_000_000 / bpm) });
      events.push({ ...at, atUs: atUs + 400_000, kind: 'marker', text: `Quay ${i + 1}` });
    });
  if (writes.has('chain'))
    events.push({
      ...{ atUs: 0, lengthUs: COUNT * EACH_US, kind: 'pattern', seat: 'chain', key: 0 },
      ...{ text: 'A', file: 'a.mid' },
    });
  events.sort((a, b) => a.atUs - b.atUs);
  const prefixes = target.naming?.prefixes ?? [];
  const turns =
    files.length > 0
      ? files.slice(0, 9).map((s) => ({ file: `${s.id}.mid`, seat: s.id }))
      : prefixes.slice(0, 5).map((p) => ({ file: `${p}a.mid`, seat: '' }));
  const placed =
    turns.length > 0 ? events.map((e, i) => ({ ...e, ...turns[i % turns.length]! })) : events;
  return {
    lengthUs: COUNT * EACH_US,
    ...(writes.has('hole-list') ? { rate: 8 } : {}),
    events: placed.map((e) => (e.seat === '' ? { ...e, seat: seats[0]! } : e)),
    refused: [],
    dropped: [],
    shows: [],
    ...(turns.length > 0
      ? {
          turns: turns.map((t) => ({ ...t, lengthUs: 4_000_000, barUs: 2_000_000, next: [] })),
        }
      : {}),
  };
}

/** Presets and values, for what listens to them in the place of notes. */
function turned({ presets, curves, notes }: Target, seat: string, events: Happening[]) {
  if (notes?.none) events.length = 0;
  presets?.list.slice(0, 6).forEach(({ bank, program, name }, i) =>
    events.push({
      ...{ atUs: i * 1_000_000, lengthUs: (presets.loadMs ?? 0) * 1000, kind: 'preset', seat },
      ...{ key: program, value: bank, text: name, file: 'a.mid' },
    }),
  );
  for (const c of curves?.list ?? [])
    (c.controllers ?? []).forEach((key, n) => {
      for (let i = 0; i < 12; i++) {
        const wave = Math.round(64 + 60 * Math.sin(n * 0.9 + i * 0.7));
        const value = c.values ? c.values[(i + n) % c.values.length]! : wave;
        events.push({ atUs: i * 300_000, kind: 'level', seat, key, value, file: 'a.mid' });
      }
    });
}

function keysOf({ notes }: Target): number[] {
  const allowed = notes ? allowedKeys(notes) : null;
  const keys = allowed ? [...allowed.keys()].filter((k) => allowed[k]) : [];
  return keys.length > 0 ? keys : [48, 52, 55, 60, 64, 67, 72];
}
