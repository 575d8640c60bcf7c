import { clockOf, interpret, type ToldMusic, type ToldNote } from '../../formats/own/interpret';
import type { SeatLike } from '../../formats/own/whose';
import { readFormat } from '../../formats/own/read';
import type { Format } from '../../formats/own/schema';
import { Gate } from '../../score/gate';
import type { MadeScore } from './define-reader';
import { newFile, type NewNote } from './tracks';

/** Formats of a target, with the seats that their files name. */
export interface OwnFormats {
  readonly formats: readonly Format[];
  readonly seats: readonly (SeatLike & { readonly channel?: number | undefined })[];
}

/** Half a second to a quarter where a file tells no tempo. */
const PLAIN_TEMPO = { quarters: 0, microsecondsPerQuarter: 500_000 };
/** Ticks to a quarter of what is told by the clock, and by beats that no ticks are told of. */
const CLOCK_PPQ = 25_000;
const BEAT_PPQ = 960;
/** A division of 15 bits, SMF header. */
const MOST_PPQ = 32_767;

/**
 * A file of a format of somebody's own as a score: notes at their beats where the file counts in
 * them, else at their clock under the tempos that it tells. Null where none of the formats reads it.
 */
export function readOwn(bytes: Uint8Array, { formats, seats }: OwnFormats): MadeScore | null {
  for (const format of formats)
    for (const described of format.files) {
      const read = readFormat(described, bytes);
      if (!read.file) continue;
      const told = interpret(read.file, { seats });
      if (told.notes.length > 0) return scoreOf(told, seats);
    }
  return null;
}

function scoreOf(told: ToldMusic, seats: OwnFormats['seats']): MadeScore {
  const gate = new Gate();
  const { quartersAt } = clockOf(told.tempos);
  const isCounted = told.notes.every((n) => n.startQuarters !== null);
  const ppq = !isCounted
    ? CLOCK_PPQ
    : told.ppq !== null && Number.isInteger(told.ppq) && told.ppq <= MOST_PPQ
      ? told.ppq
      : BEAT_PPQ;
  const tickAt = (quarters: number | null, us: number, place: () => string): number =>
    gate.tick(Math.round((quarters ?? quartersAt(us)) * ppq), place);

  const tracks = new Map<string, { name: string; channel: number; notes: NewNote[] }>();
  const trackOf = (n: ToldNote) => {
    const seat = seats.find((s) => s.id === n.seat);
    const name = n.part ?? seat?.name ?? 'Notes';
    const channel = n.channel ?? seat?.channel ?? null;
    const slot = `${channel} ${name}`;
    const track = tracks.get(slot) ?? {
      name,
      channel: channel ?? (tracks.size % 16) + 1,
      notes: [],
    };
    tracks.set(slot, track);
    return { slot, track };
  };
  const flagged: { flag: string; slot: string; tick: number; key: number }[] = [];
  for (const [i, n] of told.notes.entries()) {
    const place = () => `note ${(i + 1).toLocaleString('en-GB')}`;
    const { slot, track } = trackOf(n);
    const tick = tickAt(n.startQuarters, n.startUs, place);
    // A note without a length is a sixteenth.
    const ends =
      n.endUs === null
        ? tick + Math.max(1, Math.round(ppq / 4))
        : tickAt(n.endQuarters, n.endUs, place);
    const length = ends - tick;
    gate.end(tick, length, place);
    const key = gate.key(n.key ?? 60, place);
    const velocity = Math.max(1, n.velocity ?? 100);
    track.notes.push({ tick, length: Math.max(1, length), channel: track.channel, key, velocity });
    for (const flag of n.flags) flagged.push({ flag, slot, tick, key });
    gate.one(place);
    if (gate.fault !== null) return { fault: gate.fault };
  }

  const said = told.tempos.length > 0 ? told.tempos : [PLAIN_TEMPO];
  const tempos = said.map((t, i) => ({
    tick: tickAt(t.quarters, 0, () => `tempo ${i + 1}`),
    microsecondsPerQuarter: gate.tempo(t.microsecondsPerQuarter, () => `tempo ${i + 1}`),
  }));
  const meters = told.meters.map((m, i) => {
    const place = () => `meter ${i + 1}`;
    if (!(m.numerator >= 1 && m.numerator <= 255) || !Number.isInteger(Math.log2(m.denominator)))
      gate.refuse(place(), `${m.numerator}/${m.denominator} is no meter.`);
    return { ...m, tick: tickAt(m.quarters, 0, place) };
  });
  const texts = (of: readonly { quarters: number | null; us: number; text: string }[]) =>
    of.map((m) => ({ tick: tickAt(m.quarters, m.us, () => `“${m.text}”`), text: m.text }));
  // Where notes stand at their clock, what is told in beats goes there through the tempos as well.
  const markers = texts(told.markers.map((m) => ({ ...m, quarters: quartersAt(m.us) })));
  const captions = texts(told.captions.map((c) => ({ ...c, quarters: null })));
  if (gate.fault !== null) return { fault: gate.fault };
  const names = [...tracks.keys()];
  const flags = flagged.map(({ slot, ...f }) => ({
    ...f,
    // Behind the conductor.
    track: names.indexOf(slot) + 1,
    channel: tracks.get(slot)!.channel,
  }));
  const metadata = Object.fromEntries([...told.facts].filter(([key]) => !OF_MUSIC.has(key)));
  return {
    file: newFile(ppq, 0, { tempos, meters, markers }, [...tracks.values()]),
    extras: {
      ...(Object.keys(metadata).length > 0 ? { metadata } : {}),
      ...(captions.length > 0 ? { captions } : {}),
      ...(flags.length > 0 ? { flags } : {}),
    },
    doubts: [],
  };
}

/** Facts of a file that its music tells by itself. */
const OF_MUSIC = new Set([
  'file',
  'ppq',
  'lengthTicks',
  'lengthMs',
  'lengthSeconds',
  'bars',
  'numerator',
  'denominator',
  'notes',
]);
