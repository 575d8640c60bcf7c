import * as z from 'zod';
import { CHART_VERSION, type ChartStrike } from '../formats/chart';
import { heardNotes, type HeardNotes } from '../reading/heard-notes';
import { microsecondsAt } from '../reading/microseconds';
import { deliveredEnd } from '../reading/ends';
import { phrasesOf } from '../reading/phrases';
import { mapsOf, type Maps } from '../score/inventory';
import { isIn, type Part } from '../score/score';
import { stemOf } from '../smf/name';
import type { Loss } from '../steps/define-step';
import type { Seat, Target } from '../target/schema';
import type { Piece } from '../score/piece';
import { countChart } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { conductorJson, soundJson } from './conducting';
import { Entries, jsonBytes, type JsonValue, type TextBytes } from './text';

type LaneSeat = Extract<Seat, { kind: 'laneGroup' }>;

export const chartWriter = defineWriter({
  id: 'chart',
  format: 'chart',
  summary: 'A chart of strikes and holds by lane, as JSON.',
  carries: [
    'notes',
    'note numbers',
    'velocities',
    'lengths',
    'flags',
    'names',
    'tempos',
    'meters',
    'markers',
    'sounds',
  ],
  count: countChart,
  options: z.strictObject({}),
  write({ pieces }, _options, target, sound) {
    const losses: Loss[] = [];
    const files = pieces.map((piece, index) => {
      const maps = mapsOf(piece.score);
      const { metadata = {} } = piece.delivery;
      const end = deliveredEnd(piece);
      const seats = target.seats.filter((s): s is LaneSeat => s.kind === 'laneGroup');
      const lines = seats.flatMap((seat) => {
        const seated = (p: Part) => isIn(p) && p.seat === seat.id && p.notes.count > 0;
        const parts = piece.score.parts.filter(seated);
        if (parts.length === 0) return [];
        const line = lineJson(piece, maps, target, seat, heardNotes(piece, parts), losses);
        return line === null ? [] : [line];
      });
      const { ppq, tempos, meters, sections } = conductorJson(piece, maps);
      return {
        path: `${stemOf(safeName(piece.delivery.fileName))}.chart.json`,
        bytes: jsonBytes(
          {
            format: 'chart',
            version: CHART_VERSION,
            target: target.id,
            title: metadata.title ?? null,
            maker: metadata.maker ?? null,
            bpm: metadata.bpm === undefined ? null : Number(metadata.bpm),
            ppq,
            tempos,
            meters,
            sections,
            endTick: end,
            endUs: microsecondsAt(maps, end),
            sound: soundJson(piece, sound),
            lines,
          },
          2,
        ),
        holds: index,
      };
    });
    return { files, losses };
  },
});

function lineJson(
  { flags = [] }: Piece,
  maps: Maps,
  { chart = {} }: Target,
  seat: LaneSeat,
  notes: HeardNotes,
  losses: Loss[],
): JsonValue | null {
  const lanes = new Map(seat.laneNotes.map((k, i) => [k, i + 1]));
  const laid: number[] = [];
  for (let i = 0; i < notes.count; i++) if (lanes.has(notes.key[i]!)) laid.push(i);
  const outside = notes.count - laid.length;
  if (outside > 0) losses.push({ what: `notes on no lane of ${seat.name}`, count: outside });
  // A line without a strike says nothing.
  if (outside === notes.count) return null;
  const phrases =
    chart.phraseBreakBeats === undefined
      ? []
      : phrasesOf(only(notes, laid), maps, chart.phraseBreakBeats);
  return {
    seat: seat.id,
    name: seat.name,
    track: seat.track ?? null,
    channel: seat.channel,
    rung: seat.rung ?? null,
    keys: seat.laneNotes,
    phrases: phrases.map(({ fromTick, toTick }) => ({ fromTick, toTick })),
    strikes: new Entries((entry) =>
      writeStrikes(entry, notes, lanes, flags, maps, chart.holdMs ?? 0),
    ),
  };
}

/** What is on no lane strikes nothing, and ends no rest. */
const only = ({ start, end }: HeardNotes, at: readonly number[]) => ({
  count: at.length,
  start: Int32Array.from(at, (i) => start[i]!),
  end: Int32Array.from(at, (i) => end[i]!),
});

function strikeOf(
  notes: HeardNotes,
  i: number,
  lanes: number[],
  flags: string[],
  maps: Maps,
  holdMs: number,
): ChartStrike & { lanes: number[] } {
  const tick = notes.start[i]!;
  const end = notes.end[i]!;
  const atUs = microsecondsAt(maps, tick);
  const lengthUs = microsecondsAt(maps, end) - atUs;
  return {
    tick,
    atUs,
    lanes,
    velocity: notes.velocity[i]!,
    lengthTicks: end - tick,
    // A hair's breadth: what is rounded to microseconds may lack half of one.
    holdUs: lengthUs >= holdMs * 1000 - 0.5 ? lengthUs : 0,
    flags,
  };
}

function writeStrike(out: TextBytes, s: ChartStrike) {
  out.add('{ "atUs": ').int(s.atUs).add(', "flags": [');
  s.flags.forEach((f, i) => out.add(i > 0 ? ', ' : '').add(JSON.stringify(f)));
  out.add('], "holdUs": ').int(s.holdUs).add(', "lanes": [');
  s.lanes.forEach((n, i) => out.add(i > 0 ? ', ' : '').int(n));
  out.add('], "lengthTicks": ').int(s.lengthTicks);
  out.add(', "tick": ').int(s.tick).add(', "velocity": ').int(s.velocity).add(' }');
}

/** What is struck at one tick, by length, velocity and flags. */
function writeStrikes(
  entry: () => TextBytes,
  notes: HeardNotes,
  lanes: ReadonlyMap<number, number>,
  flags: NonNullable<Piece['flags']>,
  maps: Maps,
  holdMs: number,
) {
  for (let from = 0; from < notes.count;) {
    let to = from + 1;
    while (to < notes.count && notes.start[to] === notes.start[from]) to++;
    if (to === from + 1 && flags.length === 0) {
      // Most ticks of a long line have one note.
      const lane = lanes.get(notes.key[from]!);
      if (lane !== undefined) writeStrike(entry(), strikeOf(notes, from, [lane], [], maps, holdMs));
      from = to;
      continue;
    }
    const alike = new Map<string, ChartStrike & { lanes: number[] }>();
    for (let i = from; i < to; i++) {
      const lane = lanes.get(notes.key[i]!);
      if (lane === undefined) continue;
      const own = flags.filter((f) => f.notes.has(notes.id[i]!)).map((f) => f.flag);
      const sorted = own.sort();
      let key = `${notes.end[i]} ${notes.velocity[i]} ${sorted.join()}`;
      let there = alike.get(key);
      // A lane stands once in an entry: a note struck twice is two of them.
      for (let n = 2; there?.lanes.includes(lane); n++) there = alike.get((key = `${key}#${n}`));
      if (there) {
        there.lanes.push(lane);
        continue;
      }
      alike.set(key, strikeOf(notes, i, [lane], sorted, maps, holdMs));
    }
    for (const strike of alike.values()) {
      strike.lanes.sort((a, b) => a - b);
      writeStrike(entry(), strike);
    }
    from = to;
  }
}
