import type { Finding } from '../rules/finding';
import type { OutputFile } from '../outputs/define-writer';
import { chainOf, lettersOf, voiceSeats } from '../reading/chain';
import { BEND, CONTROL, curvesIn, delivered, presetsIn } from '../reading/curves';
import { deliveredEnd } from '../reading/ends';
import { frameNotes } from '../reading/frame-notes';
import { frameRateOf, frameShiftOf } from '../reading/frames';
import { heardNotes, type HeardNotes } from '../reading/heard-notes';
import { microsecondsAt } from '../reading/microseconds';
import { placeOfPiece } from '../reading/places';
import { rowAt, rowRateOf } from '../reading/rows';
import { strandOf, strandParts } from '../reading/strands';
import { findRule } from '../rules/index';
import { mapsOf, type Maps } from '../score/inventory';
import type { Piece, Rendition } from '../score/piece';
import type { Part } from '../score/score';
import { rehearse, standInOf } from '../standin/index';
import type { Complaint, Dropped, Happening, Played } from '../standin/played';
import type { Target } from '../target/schema';
import { count, wordsOf } from '../target/words';

/** A note of the rendition as its target means it. */
export interface Meant {
  readonly piece: number;
  readonly seat: string;
  /** Key, lane or number, as the device counts. */
  readonly key: number;
  readonly atUs: number;
  /** By the clock of its own piece. */
  readonly writtenUs: number;
  /** The note’s own key. */
  readonly noteNumber: number;
  readonly id: number;
  readonly text?: string;
}

const seatName = (part: Part) => part.seat ?? `channel ${part.channel}`;

/**
 * What the device of a target should do for each note of a rendition.
 * @param all also those that fall on the hole of another
 */
export function meantOf(rendition: Rendition, target: Target, all = false): Meant[] {
  const device = standInOf(target)?.id;
  if (device === 'voices') return chained(rendition, target);
  if (device === 'effects-pedal' || device === 'dimmer-bank')
    return rendition.pieces.flatMap((piece, index) => turned(piece, index, target));
  return rendition.pieces.flatMap((piece, index) => {
    const maps = mapsOf(piece.score);
    if (device === 'ledger') return strands(piece, index, maps);
    const notes = heardNotes(piece);
    const out: Meant[] = [];
    const place = device === 'crate-pedal' ? placeOfPiece(piece, target.seats)?.id : undefined;
    const rows = device === 'organ' ? rowRateOf(piece, maps, target.grid) : null;
    const rate = frameRateOf(piece) ?? target.frames?.perSecond[0] ?? 25;
    const frames =
      device === 'frame-player' ? frameNotes(piece, maps, rate, frameShiftOf(piece)) : null;
    const holes = new Set<string>();
    let advance = 0;
    for (let i = 0; i < notes.count; i++) {
      const part = notes.parts[notes.part[i]!]!;
      const writtenUs = microsecondsAt(maps, notes.start[i]!);
      const noteNumber = notes.key[i]!;
      const base = {
        piece: index,
        seat: place ?? (frames ? `channel ${part.channel}` : seatName(part)),
        key: noteNumber,
        atUs: writtenUs,
        writtenUs,
        noteNumber,
        id: notes.id[i]!,
      };
      if (device === 'chart-game') {
        const seat = target.seats.find((s) => s.id === part.seat);
        if (seat?.kind !== 'laneGroup') continue;
        out.push({ ...base, key: seat.laneNotes.indexOf(noteNumber) + 1 });
      } else if (rows !== null) {
        const row = rowAt(maps, rows, notes.start[i]!);
        const hole = `${row} ${base.seat} ${noteNumber}`;
        if (holes.has(hole) && !all) continue;
        holes.add(hole);
        out.push({ ...base, atUs: Math.round((row * 1_000_000) / rows) });
      } else if (frames) {
        if (frames.on[i]! < 0) continue;
        const frame = frames.on[i]!;
        out.push({ ...base, atUs: Math.round((frame * 1_000_000) / rate) });
      } else out.push(base);
      if (device === 'prompter' && noteNumber === target.captions?.noteNumber) {
        const caption = piece.captions?.[advance++];
        if (caption) out.push({ ...base, key: -advance, text: caption.text });
      }
    }
    return out;
  });
}

/** Presets and values that a device of curves is to hear; they have no note, and no id. */
function turned(piece: Piece, index: number, { curves, presets }: Target): Meant[] {
  const maps = mapsOf(piece.score);
  const parts = delivered(piece);
  const out: Meant[] = [];
  const add = (part: Part, tick: number, key: number, text: string) => {
    const atUs = microsecondsAt(maps, tick);
    const at = { atUs, writtenUs: atUs, noteNumber: key, id: 0 };
    out.push({ piece: index, seat: seatName(part), key, text, ...at });
  };
  if (presets) for (const p of presetsIn(parts)) add(p.part, p.tick, p.program, `preset ${p.bank}`);
  for (const curve of curvesIn(parts)) {
    const isBend = curve.kind === BEND;
    const known = curves?.list.some((b) =>
      isBend ? b.bend : curve.kind === CONTROL && b.controllers?.includes(curve.number),
    );
    if (!known) continue;
    for (let i = 0; i < curve.count; i++)
      add(
        curve.parts[curve.part[i]!]!,
        curve.tick[i]!,
        isBend ? 128 : curve.number,
        `level ${curve.value[i]}`,
      );
  }
  return out;
}

function strands(piece: Piece, index: number, maps: Maps): Meant[] {
  return strandParts(piece).flatMap((part) => {
    const notes = heardNotes(piece, [part]);
    const { name } = strandOf(piece, part);
    return Array.from({ length: notes.count }, (_, i): Meant => {
      const writtenUs = microsecondsAt(maps, notes.start[i]!);
      return {
        piece: index,
        seat: name,
        key: i + 1,
        atUs: writtenUs,
        writtenUs,
        noteNumber: notes.key[i]!,
        id: notes.id[i]!,
      };
    });
  });
}

function chained(rendition: Rendition, target: Target): Meant[] {
  const { pieces } = rendition;
  const letters = lettersOf(pieces, target);
  const seats = voiceSeats(target).map((s) => s.id);
  const heard = pieces.map((piece): { notes: HeardNotes; maps: Maps; us: number } => {
    const maps = mapsOf(piece.score);
    return { notes: heardNotes(piece), maps, us: microsecondsAt(maps, deliveredEnd(piece)) };
  });
  const out: Meant[] = [];
  let from = 0;
  for (const link of chainOf(rendition, target)) {
    const index = letters.indexOf(link.pattern);
    const pattern = heard[index];
    if (!pattern) continue;
    const { notes, maps, us } = pattern;
    for (let n = 0; n < link.repeats; n++, from += us)
      for (let i = 0; i < notes.count; i++) {
        const part = notes.parts[notes.part[i]!]!;
        if (!link.voices.includes(seats.indexOf(part.seat ?? '') + 1)) continue;
        const writtenUs = microsecondsAt(maps, notes.start[i]!);
        out.push({
          piece: index,
          seat: seatName(part),
          key: notes.key[i]! + link.shift,
          atUs: from + writtenUs,
          writtenUs,
          noteNumber: notes.key[i]!,
          id: notes.id[i]!,
        });
      }
  }
  return out;
}

export interface Difference {
  readonly missing: readonly Meant[];
  readonly extra: readonly Happening[];
  readonly matched: number;
}

/** Kinds of happenings that stand for notes. */
const OF_NOTES = new Set([
  'note',
  'strike',
  'cue',
  'hole',
  'cue-value',
  'caption',
  'preset',
  'level',
]);

/** What was meant and what was played, note for note, within a microsecond. */
export function differenceOf(
  meant: readonly Meant[],
  played: Played,
  pieceOf: (file: string) => number | undefined,
  withinUs = 1,
): Difference {
  interface Point {
    readonly line: string;
    readonly atUs: number;
    readonly of: number;
  }
  const events = played.events.filter((e) => OF_NOTES.has(e.kind));
  const pointsOf = <T>(list: readonly T[], line: (t: T) => string, at: (t: T) => number): Point[] =>
    list
      .map((t, of) => ({ line: line(t), atUs: at(t), of }))
      .sort((a, b) => (a.line < b.line ? -1 : a.line > b.line ? 1 : a.atUs - b.atUs));
  const a = pointsOf(
    meant,
    (m) => `${m.piece} ${m.seat} ${m.key} ${m.text ?? ''}`,
    (m) => m.atUs,
  );
  const b = pointsOf(
    events,
    (e) =>
      e.kind === 'caption'
        ? `${pieceOf(e.file)} ${e.seat} ${-e.key} ${e.text}`
        : e.kind === 'level' || e.kind === 'preset'
          ? `${pieceOf(e.file)} ${e.seat} ${e.key} ${e.kind} ${e.value}`
          : `${pieceOf(e.file)} ${e.seat} ${e.key} `,
    (e) => e.atUs,
  );
  const missing: Meant[] = [];
  const extra: Happening[] = [];
  let matched = 0;
  let j = 0;
  for (const m of a) {
    while (
      j < b.length &&
      (b[j]!.line < m.line || (b[j]!.line === m.line && b[j]!.atUs < m.atUs - withinUs))
    )
      extra.push(events[b[j++]!.of]!);
    if (j < b.length && b[j]!.line === m.line && b[j]!.atUs <= m.atUs + withinUs) {
      matched++;
      j++;
    } else missing.push(meant[m.of]!);
  }
  for (; j < b.length; j++) extra.push(events[b[j]!.of]!);
  return { missing, extra, matched };
}

/** What the device did with one file. */
export interface RehearsedFile {
  readonly path: string;
  readonly loaded: boolean;
  /** `62 cues`, `24 captions`: what it plays of it. */
  readonly plays: string;
  readonly complaints: readonly { readonly at: string; readonly says: string }[];
}

/** Notes that the device lost for one reason. */
export interface LostNotes {
  readonly because: string;
  readonly how: Dropped['how'];
  readonly notes: number;
  readonly firstUs: number;
  /** Open findings that said so, by key. */
  readonly findings: readonly string[];
}

export interface Rehearsal {
  /** The device that stood in; null where a target has none. */
  readonly standIn: string | null;
  readonly lengthUs: number;
  readonly files: readonly RehearsedFile[];
  readonly asMeant: boolean;
  readonly lost: readonly LostNotes[];
  /** What no open finding explains: writer and stand-in disagree. */
  readonly unexplained: readonly string[];
}

const KIND_WORDS: Readonly<Record<Happening['kind'], string>> = {
  note: 'note',
  strike: 'strike',
  cue: 'cue',
  caption: 'caption',
  hole: 'hole',
  'cue-value': 'cue',
  tempo: 'tempo',
  marker: 'marker',
  pattern: 'link',
  preset: 'preset',
  level: 'value',
};

/** The block of the target that a finding speaks of. */
const blockOf = ({ rule }: Finding): string | null =>
  rule === 'note-range' ? 'notes' : (findRule(rule)?.block ?? null);

/** Stops that leave a file with nothing in it. */
const NOTHING = new Set(['no-notes', 'file-empty', 'carrier-missing', 'frames', 'wait-long']);

/** Runs the device of a target on delivered bytes, and holds it against what was meant. */
export function rehearsalOf(
  files: readonly OutputFile[],
  rendition: Rendition,
  target: Target,
  findings: readonly Finding[],
): Rehearsal {
  const standIn = standInOf(target);
  if (!standIn)
    return { standIn: null, lengthUs: 0, files: [], asMeant: false, lost: [], unexplained: [] };
  const played = rehearse(files, target);
  const meant = meantOf(rendition, target);
  const pieces = new Map(files.map((f) => [f.path, f.holds]));
  const within = standIn.id === 'own-player' ? 1 + resolutionUs(target) : 1;
  const difference = differenceOf(meant, played, (f) => pieces.get(f), within);
  const lost = lostOf(played.dropped, meantOf(rendition, target, true), findings, pieces, target);
  const stops = findings.filter((f) => f.severity === 'stop');
  // What has no seat is not judged by the other rules: whatever becomes of it, its finding said so.
  const unseated = stops.some((f) => f.code === 'unseated');
  const empty = stops.some((f) => NOTHING.has(f.code));
  const explains = (block: string | null) =>
    unseated ||
    (block === null && empty) ||
    stops.some((f) => blockOf(f) === block) ||
    // Limits of its own look at what the others left: with a note gone, its neighbours meet.
    (block === 'limits' && stops.some((f) => f.notes.length > 0));
  const unexplained = [
    ...played.refused
      .filter((c) => !explains(c.block))
      .map((c) => `${c.file || standIn.name}, ${c.at}: ${c.says}`),
    ...played.dropped.filter((d) => !explains(d.block)).map(sayDropped),
  ];
  const asMeant =
    played.refused.length + played.dropped.length === 0 &&
    difference.missing.length + difference.extra.length === 0;
  if (!asMeant) {
    const { missing, extra } = beyondFindings(difference, {
      played,
      rendition,
      findings,
      pieces,
      target,
      unseated,
    });
    if (missing + extra > 0)
      unexplained.push(
        `${count(missing, 'note')} ${missing === 1 ? 'is' : 'are'} not played as meant, ` +
          `${extra.toLocaleString('en-GB')} ${extra === 1 ? 'was' : 'were'} not meant.`,
      );
  }
  return {
    standIn: standIn.name,
    lengthUs: played.lengthUs,
    files: files.map((f) => fileOf(f.path, played, target)),
    asMeant,
    lost,
    unexplained: [...new Set(unexplained)].slice(0, 20),
  };
}

/** Blocks whose stops leave every note where it is, whatever becomes of the file. */
const HARMLESS = new Set([
  'text',
  'naming',
  'metadata',
  'clock',
  'events',
  'end',
  'captions',
  'carrier',
  'velocity',
]);

interface Known {
  readonly played: Played;
  readonly rendition: Rendition;
  readonly findings: readonly Finding[];
  readonly pieces: ReadonlyMap<string, number | undefined>;
  readonly target: Target;
  readonly unseated: boolean;
}

/**
 * Of what is not played as it is meant, what nothing speaks of: neither a loss of the device, nor a
 * refusal of the file, nor a finding that names the note or a limit of the whole.
 */
function beyondFindings(
  { missing, extra }: Pick<Difference, 'missing' | 'extra'>,
  { played, rendition, findings, pieces, target, unseated }: Known,
): { missing: number; extra: number } {
  const open = findings.filter((f) => f.severity !== 'remark');
  const ofAll = (f: Finding) =>
    f.severity === 'stop' && f.notes.length === 0 && !HARMLESS.has(blockOf(f) ?? '');
  if (open.some(ofAll)) return { missing: 0, extra: 0 };
  const spoken = new Set<number>();
  for (const f of open) for (const id of f.notes) spoken.add(id);
  const idOf = idsByPlace(meantOf(rendition, target, true), pieces, target);
  for (const d of played.dropped) for (const id of idOf(d)) spoken.add(id);
  if (unseated)
    for (const { score } of rendition.pieces)
      for (const { seat, notes } of score.parts)
        if (seat === null) for (const id of notes.id) spoken.add(id);
  // What is refused is not played, and its refusal is told by itself.
  const refused = new Set(played.refused.map((c) => pieces.get(c.file)));
  const isRefused = (piece: number | undefined) => refused.has(piece) || refused.has(undefined);
  const gone = missing.filter((m) => !isRefused(m.piece));
  const said = gone.filter((m) => spoken.has(m.id)).length;
  // What a finding names may be played elsewhere: as much as is missing is not of nobody's making.
  const here = extra.filter((e) => !isRefused(pieces.get(e.file))).length;
  return { missing: gone.length - said, extra: Math.max(0, here - said) };
}

const sayDropped = (d: Dropped) =>
  `${d.file}, at ${Math.round(d.atUs / 1000)} ms, key ${d.key}: ${d.because}.`;

function fileOf(path: string, played: Played, target: Target): RehearsedFile {
  const complaints = played.refused
    .filter((c: Complaint) => c.file === path)
    .map(({ at, says }) => ({ at, says }));
  const kinds = new Map<Happening['kind'], number>();
  for (const e of played.events)
    if (e.file === path) kinds.set(e.kind, (kinds.get(e.kind) ?? 0) + 1);
  const words = wordsOf(target);
  const plays = [...kinds]
    .map(([kind, n]) =>
      kind === 'note' || kind === 'strike' || kind === 'cue'
        ? count(n, words.note, words.notes)
        : count(n, KIND_WORDS[kind]),
    )
    .join(', ');
  return { path, loaded: complaints.length === 0, plays, complaints };
}

/** By reason; each with the findings that named the same notes. */
function lostOf(
  dropped: readonly Dropped[],
  meant: readonly Meant[],
  findings: readonly Finding[],
  pieces: ReadonlyMap<string, number | undefined>,
  target: Target,
): LostNotes[] {
  const idOf = idsByPlace(meant, pieces, target);
  const named = new Map<number, string[]>();
  for (const f of findings)
    for (const id of f.notes) {
      const there = named.get(id);
      if (there) there.push(f.key);
      else named.set(id, [f.key]);
    }
  const groups = new Map<
    string,
    { -readonly [K in keyof LostNotes]: LostNotes[K] } & { keys: Set<string> }
  >();
  for (const d of dropped) {
    const key = `${d.because} ${d.how}`;
    const group = groups.get(key) ?? {
      because: d.because,
      how: d.how,
      notes: 0,
      firstUs: d.atUs,
      findings: [],
      keys: new Set<string>(),
    };
    groups.set(key, group);
    group.notes++;
    group.firstUs = Math.min(group.firstUs, d.atUs);
    const said = idOf(d).flatMap((id) => named.get(id) ?? []);
    const ofBlock = findings.filter((f) => said.includes(f.key) && blockOf(f) === d.block);
    for (const f of ofBlock) group.keys.add(f.key);
    if (said.length === 0)
      for (const f of findings)
        if (f.notes.length === 0 && blockOf(f) === d.block) group.keys.add(f.key);
  }
  return [...groups.values()].map(({ keys, ...group }) => ({ ...group, findings: [...keys] }));
}

/** The notes that a loss may be: of one piece, by written time and key. */
export function idsByPlace(
  meant: readonly Meant[],
  pieces: ReadonlyMap<string, number | undefined>,
  target: Target,
): (d: Dropped) => number[] {
  const captions = target.captions?.noteNumber;
  const place = (piece: number | undefined, key: number, us: number) => `${piece} ${key} ${us}`;
  const byKey = new Map<string, number[]>();
  const byNumber = new Map<string, number[]>();
  const add = (map: Map<string, number[]>, at: string, id: number) => {
    const there = map.get(at);
    if (there) there.push(id);
    else map.set(at, [id]);
  };
  const coarsest = resolutionUs(target);
  const onKey = new Map<string, Meant[]>();
  for (const m of meant) {
    const own = `${m.piece} ${m.noteNumber}`;
    if (coarsest > 0) onKey.set(own, [...(onKey.get(own) ?? []), m]);
    add(byNumber, place(m.piece, m.noteNumber, m.writtenUs), m.id);
    add(byKey, place(m.piece, Math.abs(m.key), m.atUs), m.id);
  }
  return (d) => {
    const piece = pieces.get(d.file);
    const us = Math.round(d.writtenUs);
    for (const near of [us, us - 1, us + 1]) {
      // Frames and rows move notes: what was meant there counts beside what was written there.
      const key = d.file.endsWith('.vtt') ? (captions ?? -1) : d.key;
      const found = [
        ...(byNumber.get(place(piece, key, near)) ?? []),
        ...(byKey.get(place(piece, d.key, near)) ?? []),
      ];
      if (found.length > 0) return found;
    }
    // In a format of its own a time is as fine as it is written.
    return (onKey.get(`${piece} ${d.key}`) ?? [])
      .filter((m) => Math.abs(m.writtenUs - us) <= coarsest + 1)
      .map((m) => m.id);
  };
}

/** How fine the coarsest time of its own formats is: what is rounded there is no difference. */
export function resolutionUs({ formats = [] }: Pick<Target, 'formats'>): number {
  let coarsest = 0;
  const visit = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return;
    const v = node as {
      is?: string;
      unit?: string;
      rate?: number;
      ppq?: number;
      decimals?: number;
    };
    if (v.is === 'time' && v.unit !== undefined) {
      const steps = 10 ** (v.decimals ?? 0);
      // The slowest quarter that counts is two seconds long.
      const quarter = 2_000_000;
      const unit =
        { seconds: 1_000_000, ms: 1000, us: 1, frames: 1_000_000 / (v.rate ?? 25) }[v.unit] ??
        (v.unit === 'ticks' || v.unit === 'tick-of-beat' ? quarter / (v.ppq ?? 480) : quarter);
      if (v.unit !== 'bar' && v.unit !== 'beat') coarsest = Math.max(coarsest, unit / steps);
    }
    for (const inner of Object.values(node)) visit(inner);
  };
  visit(formats);
  return coarsest;
}
