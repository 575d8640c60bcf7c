import { chainOf, lettersOf, voiceSeats } from '../reading/chain';
import { BEND, CONTROL, curvesIn, delivered, presetsIn } from '../reading/curves';
import { deliveredEnd } from '../reading/ends';
import { frameNotes } from '../reading/frame-notes';
import { frameRateOf, frameShiftOf } from '../reading/frames';
import { type HeardNotes, heardNotes } from '../reading/heard-notes';
import { microsecondsAt } from '../reading/microseconds';
import { placeOfPiece } from '../reading/places';
import { rowAt, rowRateOf } from '../reading/rows';
import { strandOf, strandParts } from '../reading/strands';
import { type Maps, mapsOf } from '../score/inventory';
import type { Piece, Rendition } from '../score/piece';
import type { Part } from '../score/score';
import { standInOf } from '../standin/index';
import type { Target } from '../target/schema';

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
        const seat = part.seat === null ? -1 : seats.indexOf(part.seat) + 1;
        if (seat >= 0 && !link.voices.includes(seat)) continue;
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
