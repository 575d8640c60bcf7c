import { buildFile, TrackBuilder } from '../../smf/build';
import {
  META,
  META_MARKER,
  META_METER,
  META_TEXT,
  META_TRACK_NAME,
  type SmfFile,
} from '../../smf/file';
import { encodeUtf8 } from '../../smf/text';
import { rowBeats, type RowBeats } from './beats';
import { channelsOf } from './channels';
import { DEFAULT_CHOICES, type ModuleChoices } from './choices';
import type { Module } from './module';
import { PITCHED } from './samples/pitch';
import { roleByName } from './samples/role';
import { DRUM_ROLES, type SampleRole } from './samples/roles';
import type { KnownModule } from './known';
import { instrumentOf, type SampleReading } from './samples-in';
import type { Strike } from './strikes';
import { PPQ, timeLine, type TimeLine } from './time-line';
import { drumKeys, Lost, notesOf, type ModuleNote } from './to-notes';

export interface ModuleReading {
  readonly file: SmfFile;
  readonly beats: RowBeats;
  readonly line: TimeLine;
  readonly samples: readonly SampleReading[];
  /** What no note carries, or was chosen to be left. */
  readonly lost: readonly { readonly what: string; readonly count: number }[];
}

/** What is off by less is in tune. */
const LEAST_CENTS = 8;
/** A name without what people draw around it (“>>> Tide <<<”); empty where there is nothing else. */
const bareName = (name: string) =>
  name.replace(/^[^\p{L}\p{N}([]+|[^\p{L}\p{N})\]!?.]+$/gu, '').trim();

/** Names of samples are often lines of a letter: of two names the one that says what it is. */
function nameOf(sample: string, instrument: string): string {
  const [own, other] = [bareName(sample), bareName(instrument)];
  return roleByName(own) === null && roleByName(other) !== null ? other : own || other;
}

/** Programs of General MIDI Level 1, from 0, that stand for what a sample is. */
const PROGRAMS: Partial<Record<SampleRole, number>> = {
  bass: 33,
  lead: 81,
  chord: 4,
  pad: 89,
  speech: 54,
  effect: 103,
};

interface PartPlan {
  name: string;
  drum: boolean;
  program: number | null;
  /** Cents above its key; null where that is not sure. */
  cents: number | null;
  notes: ModuleNote[];
}

/** A module as a score: parts, notes and tempos, with what was left behind. */
export function readAsScore(
  { module, played, samples }: KnownModule,
  choices: ModuleChoices,
): ModuleReading {
  const found = rowBeats(module, played);
  const beats: RowBeats = {
    rowsPerBeat: choices.rowsPerBeat ?? found.rowsPerBeat,
    beatsPerBar: choices.beatsPerBar ?? found.beatsPerBar,
    reason: choices.rowsPerBeat ? 'chosen' : found.reason,
  };
  const line = timeLine(played, beats);
  const lost = new Lost();
  const read = samples.map((s) => ({
    ...s,
    role: choices.samples?.[s.number]?.role ?? s.role,
  }));
  const parts = partsOf(module, read, choices, lost);
  lost.add('samples (their sound)', samples.filter((s) => s.strikes.length > 0).length);
  const filters = module.instruments?.filter((i) => i?.filter).length ?? 0;
  lost.add('filters of instruments', filters);
  return {
    file: toFile(module, line, parts, choices, lost),
    beats,
    line,
    samples: read,
    lost: lost.list(),
  };
}

function partsOf(
  module: Module,
  samples: readonly SampleReading[],
  choices: ModuleChoices,
  lost: Lost,
): PartPlan[] {
  const how = { ...DEFAULT_CHOICES, ...choices };
  const parts = new Map<string, PartPlan & { strikes: { strike: Strike; keyOf: KeyOf }[] }>();
  for (const { number, role, strikes, heard, splits } of samples) {
    const chosen = choices.samples?.[number] ?? {};
    const sample = module.samples[number]!;
    const label = nameOf(sample.name, instrumentOf(module, strikes)) || `Sample ${number}`;
    if (role === 'silence') {
      lost.add('strikes of silent samples', strikes.length);
      continue;
    }
    const drum = DRUM_ROLES.has(role);
    if (role === 'beat' && (chosen.beat ?? 'hits') !== 'strikes') {
      if (chosen.beat === 'out' || !heard.beat) {
        lost.add('strikes of sampled beats', strikes.length);
        continue;
      }
      const part = parts.get(`beat ${number}`) ?? {
        name: `${label} · hits`,
        drum: true,
        program: null,
        cents: null,
        notes: hitsOf(strikes, heard.beat.hits, sample.rate),
        strikes: [],
      };
      parts.set(`beat ${number}`, part);
      continue;
    }
    const keys = drum
      ? drumKeys(
          role,
          sample.name,
          strikes.map((s) => s.soundingKey),
          chosen.drumKey,
        )
      : null;
    const keyOf: KeyOf = (key) => keys?.get(key) ?? key + (chosen.transpose ?? 0);
    for (const strike of strikes) {
      const split = chosen.split !== false && splits.length > 1;
      const group = split ? splits.findIndex((g) => g.includes(strike.channel)) : 0;
      const [id, name] =
        how.parts === 'channel'
          ? [
              `channel ${strike.channel} ${drum}`,
              `Channel ${strike.channel + 1}${drum ? ' · drums' : ''}`,
            ]
          : how.parts === 'instrument' && strike.instrument > 0
            ? [
                `instrument ${strike.instrument} ${drum}`,
                bareName(module.instruments?.[strike.instrument]?.name ?? '') || label,
              ]
            : [
                `sample ${number} ${group}`,
                group > 0
                  ? `${label} · channel ${splits[group]!.map((c) => c + 1).join(', ')}`
                  : label,
              ];
      const part = parts.get(id) ?? {
        name,
        drum,
        program: chosen.program ?? (how.programs === 'role' ? (PROGRAMS[role] ?? null) : null),
        cents: heard.pitch && heard.pitch.strength >= PITCHED ? heard.pitch.cents : null,
        notes: [],
        strikes: [],
      };
      part.strikes.push({ strike, keyOf });
      parts.set(id, part);
    }
  }
  for (const part of parts.values()) {
    part.strikes.sort((a, b) => a.strike.at - b.strike.at);
    let until = -1;
    part.strikes.forEach(({ strike, keyOf }, i) => {
      const next = part.strikes[i + 1]?.strike.at ?? Infinity;
      // Controllers and bends are of the whole channel: they are written where one note sounds.
      const alone = !part.drum && strike.at >= until - 1e-6 && next >= strike.end - 1e-6;
      until = Math.max(until, strike.end);
      part.notes.push(...notesOf(strike, keyOf, how, alone, lost));
    });
  }
  return [...parts.values()].filter((p) => p.notes.length > 0);
}

type KeyOf = (soundingKey: number) => number;

/** The hits of a sampled beat where each of its strikes plays them. */
function hitsOf(
  strikes: readonly Strike[],
  hits: readonly { at: number; strength: number; key: number }[],
  rate: number,
): ModuleNote[] {
  return strikes.flatMap((s) => {
    const speed = 2 ** ((s.soundingKey - 60) / 12);
    const level = s.levels[0]?.value ?? 1;
    return hits.flatMap((h) => {
      const at = s.at + (h.at - s.offset / rate) / speed;
      if (at < s.at - 1e-6 || at >= s.end) return [];
      const note: ModuleNote = {
        at,
        end: Math.min(s.end, at + 0.1),
        key: h.key,
        level: level * Math.min(1, 0.5 + h.strength / 2),
        levels: [],
        bends: [],
        pan: 0.5,
      };
      return [note];
    });
  });
}

function toFile(
  module: Module,
  line: TimeLine,
  parts: readonly PartPlan[],
  choices: ModuleChoices,
  lost: Lost,
): SmfFile {
  const head = new TrackBuilder();
  const text = (track: TrackBuilder, tick: number, type: number, said: string) =>
    track.longEvent(tick, META, type, encodeUtf8(said));
  if (module.name) text(head, 0, META_TRACK_NAME, module.name);
  if (module.comment) text(head, 0, META_TEXT, module.comment);
  const { conductor } = line;
  const all = [
    ...conductor.tempos.map((t) => ({
      tick: t.tick,
      order: 0,
      write: () => head.tempo(t.tick, t.microsecondsPerQuarter),
    })),
    ...conductor.meters.map((m) => ({
      tick: m.tick,
      order: 1,
      write: () =>
        head.longEvent(
          m.tick,
          META,
          META_METER,
          Uint8Array.of(m.numerator, Math.log2(m.denominator), 24, 8),
        ),
    })),
    ...conductor.markers.map((m) => ({
      tick: m.tick,
      order: 2,
      write: () => text(head, m.tick, META_MARKER, m.text),
    })),
  ];
  for (const e of all.sort((a, b) => a.tick - b.tick || a.order - b.order)) e.write();
  let loudest = 0;
  for (const p of parts) for (const n of p.notes) loudest = Math.max(loudest, n.level);
  const channels = channelsOf(parts);
  const tracks = parts.map((part, index) => {
    const channel = channels[index]!;
    const others = parts.filter((o, i) => i !== index && !o.drum && channels[i] === channel);
    return trackOf(part, { channel, others }, line, choices, loudest || 1, lost);
  });
  let end = line.endTick;
  for (const t of tracks) end = Math.max(end, t.last);
  return buildFile(1, PPQ, [head.end(end), ...tracks.map((t) => t.builder.end(end))]);
}

interface Event {
  tick: number;
  order: number;
  status: number;
  data1: number;
  data2: number;
}

const RELEASE_ORDER = 0;
const CONTROL_ORDER = 1;
const STRIKE_ORDER = 2;

/** Where a part is written, and who else is on its channel. */
interface Place {
  readonly channel: number;
  readonly others: readonly PartPlan[];
}

function trackOf(
  part: PartPlan,
  { channel, others }: Place,
  line: TimeLine,
  choices: ModuleChoices,
  loudest: number,
  lost: Lost,
): { builder: TrackBuilder; last: number } {
  const builder = new TrackBuilder(part.notes.length * 2 + 16);
  builder.longEvent(0, META, META_TRACK_NAME, encodeUtf8(part.name));
  const on = channel - 1;
  const events: Event[] = [];
  const put = (tick: number, order: number, status: number, data1: number, data2: number) =>
    events.push({ tick, order, status: status | on, data1, data2 });
  if (part.program !== null && !part.drum) put(0, CONTROL_ORDER, 0xc0, part.program, 0);
  // Who shares a channel shares the range of its bends.
  const furthest = Math.max(...[part, ...others].map(furthestBend));
  const range = Math.min(24, Math.max(2, Math.ceil(furthest)));
  if (furthest > 0.02)
    // RPN 0 is the range of bends: first which, then how far, then none.
    for (const [controller, value] of [[101, 0], [100, 0], [6, range], [38, 0], [101, 127], [100, 127]] as const)
      put(0, CONTROL_ORDER, 0xb0, controller, value); // prettier-ignore
  const off =
    part.drum || part.cents === null || Math.abs(part.cents) < LEAST_CENTS ? 0 : part.cents;
  if (off !== 0 && choices.tuning === 'written') {
    // RPN 1 is fine tuning: 14 bits, the middle is none, a semitone either way.
    const value = Math.min(16383, Math.round(8192 + (off / 100) * 8192));
    for (const [controller, data] of [[101, 0], [100, 1], [6, value >> 7], [38, value & 127], [101, 127], [100, 127]] as const)
      put(0, CONTROL_ORDER, 0xb0, controller, data); // prettier-ignore
  } else if (off !== 0) lost.add('parts that sound off their keys by cents');
  const notes = withTicks(part.notes, line, lost);
  let [expression, bend, pan] = [127, 8192, 64];
  // What another part does to the channel is taken back before each note.
  const [faded, bent] = [
    others.some((o) => o.notes.some((n) => n.levels.length > 0)),
    others.some((o) => o.notes.some((n) => n.bends.length > 0)),
  ];
  const plays = others.some((o) => o.program !== part.program) ? (part.program ?? 0) : null;
  for (const n of notes) {
    if (plays !== null && !part.drum) put(n.start, CONTROL_ORDER, 0xc0, plays, 0);
    if (faded) expression = NaN;
    if (bent) bend = NaN;
    for (const l of n.note.levels) {
      const value = Math.max(0, Math.min(127, Math.round(l.value * 127)));
      if (value === expression) continue;
      expression = value;
      put(line.tickAt(l.at), CONTROL_ORDER, 0xb0, 11, value);
    }
    if (n.note.levels.length === 0 && expression !== 127) {
      expression = 127;
      put(n.start, CONTROL_ORDER, 0xb0, 11, 127);
    }
    const bends = n.note.bends.length > 0 ? n.note.bends : [{ at: n.note.at, value: 0 }];
    for (const b of bends) {
      const value = Math.max(0, Math.min(16383, Math.round(8192 + (b.value / range) * 8192)));
      // Of an unknown place every one is said.
      if (Math.abs(value - bend) * range < 24 && value !== 8192) continue;
      if (value === bend) continue;
      bend = value;
      put(line.tickAt(b.at), CONTROL_ORDER, 0xe0, value & 127, value >> 7);
    }
    if (choices.pan === 'controllers') {
      const value = Math.round(n.note.pan * 127);
      if (value !== pan) put(n.start, CONTROL_ORDER, 0xb0, 10, value);
      pan = value;
    } else if (Math.abs(n.note.pan - 0.5) > 0.02) lost.add('places between left and right');
    const velocity = Math.max(1, Math.min(127, Math.round((n.note.level / loudest) * 127)));
    put(n.start, STRIKE_ORDER, 0x90, n.note.key, velocity);
    put(n.end, RELEASE_ORDER, 0x80, n.note.key, 64);
  }
  events.sort((a, b) => a.tick - b.tick || a.order - b.order);
  for (const e of events) builder.channelEvent(e.tick, e.status, e.data1, e.data2);
  return { builder, last: events.at(-1)?.tick ?? 0 };
}

/** Semitones, either way. */
const furthestBend = ({ notes }: PartPlan): number =>
  notes.reduce((most, n) => n.bends.reduce((m, b) => Math.max(m, Math.abs(b.value)), most), 0);

interface Placed {
  note: ModuleNote;
  start: number;
  end: number;
}

/** Notes on ticks: no key is struck twice at once, and none sounds over its next strike. */
function withTicks(notes: readonly ModuleNote[], line: TimeLine, lost: Lost): Placed[] {
  const out: Placed[] = [];
  const open = new Map<number, Placed>();
  for (const note of [...notes].sort((a, b) => a.at - b.at)) {
    if (note.key < 0 || note.key > 127) {
      lost.add('notes outside of MIDI’s keys');
      continue;
    }
    const start = line.tickAt(note.at);
    const placed = { note, start, end: Math.max(start + 1, line.tickAt(note.end)) };
    const before = open.get(note.key);
    if (before && before.start === start) {
      // Two channels that strike one note: the louder is kept, for as long as either sounds.
      lost.add('doubled strikes of one note');
      before.end = Math.max(before.end, placed.end);
      if (note.level > before.note.level) before.note = { ...note, end: before.note.end };
      continue;
    }
    if (before && before.end > start) before.end = start;
    open.set(note.key, placed);
    out.push(placed);
  }
  return out;
}
