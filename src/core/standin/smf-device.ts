import type { Target } from '../target/schema';
import { count } from '../target/words';
import { ownLimits, type DeviceTime } from './own-limits';
import { Device, keeps, seatOf, type DeviceNote } from './device';
import type { DeliveredFile, Gathering } from './played';
import {
  clockOf,
  readStrict,
  type StrictFile,
  type StrictMark,
  type StrictMeter,
  type StrictTempo,
  type Timed,
} from './strict-smf';

/** Loads a MIDI file as the target's data has it; null where the device refuses it. */
export function loadSmf(file: DeliveredFile, target: Target, out: Gathering): StrictFile | null {
  const refusals = out.refused.length;
  const read = readStrict(file.bytes);
  if (!('file' in read)) {
    out.refuse(file.path, read.at, read.says);
    return null;
  }
  const smf = read.file;
  const no: No = (block, says, at) => out.refuse(file.path, at, says, block);
  fileLimits(smf, file, target, no);
  eventLimits(smf, target, no);
  endLimits(smf, target, no);
  shows(smf, file.path, target, out);
  return out.refused.length > refusals ? null : smf;
}

/** Bytes of a MIDI file that say what kind it is (SMF 1.0, header chunk). */
const AT_FORMAT = 8;
const AT_PPQ = 12;

/** @param at the byte that is meant, or what else of the file is */
type No = (block: string, says: string, at: number | string) => void;

function fileLimits(smf: StrictFile, { bytes, path }: DeliveredFile, target: Target, no: No) {
  const { file, naming, text } = target;
  if (keeps(file)) {
    const { formats, ppq, mostBytes, layout } = file!;
    if (formats && !formats.includes(smf.format as 0))
      no('file', `It reads no format ${smf.format}.`, AT_FORMAT);
    if (mostBytes !== undefined && bytes.length > mostBytes)
      no('file', `It has room for ${mostBytes} bytes.`, mostBytes);
    const fits =
      ppq === undefined ||
      ((ppq.multipleOf === undefined || smf.ppq % ppq.multipleOf === 0) &&
        smf.ppq >= (ppq.lowest ?? 1) &&
        smf.ppq <= (ppq.highest ?? 32_767) &&
        (ppq.only?.includes(smf.ppq) ?? true));
    if (!fits) no('file', `It does not count ${smf.ppq} ticks to a quarter.`, AT_PPQ);
    if (layout === 'conductor-first' && smf.tracks[0]!.notes > 0)
      no('file', 'The first track has to conduct, without notes.', firstNote(smf, 0));
  }
  if (keeps(naming)) {
    const { letters, longest, ending, prefixes, only } = naming!;
    const name = path.split('/').at(-1)!;
    const stem = name.slice(0, Math.max(0, name.length - ending.length));
    const allowed = letters === 'any' ? null : new RegExp(`^[${letters}]*$`);
    if (
      !name.endsWith(ending) ||
      stem === '' ||
      [...stem].length > longest ||
      (allowed && !allowed.test(stem)) ||
      (prefixes && !prefixes.some((p) => stem.startsWith(p))) ||
      (only && !only.includes(name))
    )
      no('naming', `It does not list a file of the name ${name}.`, 'name');
  }
  if (keeps(text)) {
    const { mostTrackNames, markers, others } = text!;
    const names = smf.texts.filter((t) => t.type === 3);
    if (mostTrackNames !== undefined && names.length > mostTrackNames)
      no(
        'text',
        `It takes ${count(mostTrackNames, 'track name')}; there are ${names.length}.`,
        names[mostTrackNames]!.at,
      );
    const marks = smf.texts.filter((t) => t.type === 6);
    if (markers === 'none' && marks.length > 0) no('text', 'It takes no markers.', marks[0]!.at);
    const strange = marks.find((m) => m.text !== target.end?.loopMarker);
    if (markers === 'loop-marker' && strange)
      no('text', 'It takes no markers but the one where the loop begins.', strange.at);
    const other = smf.texts.find((t) => t.type !== 3 && t.type !== 6);
    if (others === 'none' && other) no('text', 'It takes no other text.', other.at);
  }
}

/** Byte of the first note of a track, or of all; of the first track where there is none. */
const firstNote = (smf: StrictFile, track?: number) =>
  smf.notes.find((n) => track === undefined || n.track === track)?.at ?? FIRST_TRACK;
const FIRST_TRACK = 14;

function eventLimits(smf: StrictFile, { events, carrier, notes }: Target, no: No) {
  if (notes?.none && keeps(notes) && smf.notes.length > 0)
    no('notes', 'It takes no notes.', smf.notes[0]!.at);
  if (keeps(events)) {
    const e = events!;
    const of = (...status: number[]) => smf.settings.filter((s) => status.includes(s.status));
    /** What is not taken at all is told at the first of it. */
    const none = (
      taken: string | readonly number[] | undefined,
      list: readonly StrictMark[],
      says: string,
    ) => {
      if (taken === 'none' && list.length > 0) no('events', says, list[0]!.at);
    };
    const controllers = of(0xb0);
    none(e.controllers as string, controllers, 'It takes no controllers.');
    const listed = Array.isArray(e.controllers) ? e.controllers : null;
    const strange = controllers.find((s) => listed && !listed.includes(s.data1));
    if (strange) no('events', `It takes no controller ${strange.data1}.`, strange.at);
    const barred = controllers.find((s) => e.controllersWithout?.includes(s.data1));
    if (barred) no('events', `It takes no controller ${barred.data1}.`, barred.at);
    none(e.programs, of(0xc0), 'It takes no programs.');
    none(e.bends, of(0xe0), 'It cannot bend.');
    none(e.aftertouch, of(0xa0, 0xd0), 'It knows no aftertouch.');
    none(e.sysex, smf.sysex, 'It takes no system exclusives.');
    none(e.unknownMeta, smf.unknownMeta, 'It does not know some of the meta events.');
    if (e.controllersOnceAtStart) setUpOnce(smf, e.controllersOnceAtStart, no);
    if (e.programs === 'one-at-start') {
      for (const channel of new Set(of(0xc0).map((s) => s.channel))) {
        const own = of(0xc0).filter((s) => s.channel === channel);
        const first = smf.notes.find((n) => n.channel === channel);
        if (first && own.length > 1)
          no('events', `Channel ${channel} has ${own.length} programs.`, own[1]!.at);
        else if (first && own[0]!.tick > first.onTick) {
          const says = `The program of channel ${channel} comes after its first note.`;
          no('events', says, own[0]!.at);
        }
      }
    }
  }
  if (carrier && keeps(carrier)) {
    const [note] = smf.notes;
    const right =
      smf.notes.length === 1 &&
      note!.channel === carrier.channel &&
      note!.key === carrier.noteNumber &&
      note!.velocity === carrier.velocity &&
      note!.onTick === 0 &&
      note!.offTick >= Math.max(...smf.tracks.map((t) => t.endTick)) &&
      smf.tracks[note!.track]!.name === carrier.track;
    const says = 'It needs the one carrier note through the whole length.';
    if (!right) no('carrier', says, firstNote(smf));
  }
}

function setUpOnce(smf: StrictFile, wanted: readonly number[], no: No) {
  const first = new Map<number, number>();
  for (const n of smf.notes) if (!first.has(n.channel)) first.set(n.channel, n.at);
  for (const [channel, begins] of first)
    for (const number of wanted) {
      const own = smf.settings.filter(
        (s) => s.status === 0xb0 && s.channel === channel && s.data1 === number,
      );
      const wrong = own.length > 1 ? own[1]! : own.find((s) => s.tick !== 0);
      if (own.length !== 1 || wrong) {
        const says = `Channel ${channel} needs controller ${number} once, at tick 0.`;
        no('events', says, wrong?.at ?? begins);
      }
    }
}

interface Metered {
  readonly ppq: number;
  readonly meters: readonly Omit<StrictMeter, 'at'>[];
}

/** Bars are told by the meters of the file. */
export function barsOf(smf: Metered): (tick: number) => number {
  const whole = smf.ppq * 4;
  const list = [{ tick: 0, numerator: 4, denominator: 4, bar: 0 }];
  const sorted = [...smf.meters].sort(
    (a, b) => a.tick - b.tick || a.track - b.track || a.order - b.order,
  );
  for (const m of sorted) {
    const last = list.at(-1)!;
    const passed = ((m.tick - last.tick) * last.denominator) / (last.numerator * whole);
    if (m.tick === last.tick) list[list.length - 1] = { ...m, bar: last.bar };
    else if (
      m.numerator !== last.numerator ||
      m.denominator !== last.denominator ||
      !Number.isInteger(passed)
    )
      list.push({ ...m, bar: last.bar + Math.ceil(passed) });
  }
  return (tick) => {
    let at = list[0]!;
    for (const m of list) if (m.tick <= tick) at = m;
    return at.bar + ((tick - at.tick) * at.denominator) / (at.numerator * whole);
  };
}

const isWhole = (bars: number) => Math.abs(bars - Math.round(bars)) < 1e-9;

function endLimits(smf: StrictFile, { end, meter }: Target, no: No) {
  if (keeps(end) && smf.endTick > 0) {
    const { wholeBars, leastBars, mostBars, tracksEqual, loopMarker, loopWholeBars } = end!;
    const bars = barsOf(smf);
    const length = bars(smf.endTick);
    const last = smf.tracks.find((t) => t.endTick === smf.endTick)!.endAt;
    // Exact lengths are the pads' own matter: they play what fits.
    if (wholeBars && !isWhole(length)) no('end', `It is ${length.toFixed(3)} bars long.`, last);
    if (leastBars !== undefined && length < leastBars - 1e-9) no('end', 'It is too short.', last);
    if (mostBars !== undefined && length > mostBars + 1e-9)
      no('end', `It holds ${count(mostBars, 'bar')}.`, last);
    const early = smf.tracks.find((t) => t.endTick !== smf.endTick);
    if (tracksEqual && early) no('end', 'Its tracks do not end together.', early.endAt);
    if (loopMarker !== undefined) {
      const marks = smf.texts.filter((t) => t.type === 6 && t.text === loopMarker);
      if (marks.length !== 1)
        no('end', `It needs the marker ${loopMarker} once.`, marks[1]?.at ?? last);
      else if (loopWholeBars && !(isWhole(bars(marks[0]!.tick)) && isWhole(length)))
        no('end', 'Its loop is no whole number of bars.', marks[0]!.at);
    }
  }
  if (keeps(meter) && meter?.only) {
    const strange = smf.meters.find(
      (m) =>
        !meter.only!.some((o) => o.numerator === m.numerator && o.denominator === m.denominator),
    );
    if (strange)
      no('meter', `It does not count ${strange.numerator}/${strange.denominator}.`, strange.at);
  }
}

const TEXT_WORDS: Readonly<Record<number, string>> = { 3: 'track', 5: 'lyric', 6: 'marker' };

function shows(smf: StrictFile, path: string, { text }: Target, out: Gathering) {
  const cut = (words: string) => {
    const spelt =
      text?.markerLetters === 'printable-ascii' ? words.replace(/[^\x20-\x7e]/g, ' ') : words;
    return [...spelt].slice(0, text?.longestMarker ?? Infinity).join('');
  };
  const say = (line: string) => {
    if (out.shows.length < 20_000) out.shows.push(`${path} ${line}`);
  };
  say(`format ${smf.format}, ${smf.ppq} ticks, ${smf.tracks.length} tracks`);
  smf.tracks.forEach((t, i) => say(`track ${i + 1} ends at ${t.endTick}`));
  for (const t of smf.texts) {
    const words = t.type === 6 ? cut(t.text) : t.text;
    say(`${TEXT_WORDS[t.type] ?? `text ${t.type}`} ${t.track} ${t.tick} ${words}`);
  }
  for (const m of smf.meters) say(`meter ${m.track} ${m.tick} ${m.numerator}/${m.denominator}`);
  for (const t of smf.tempos) say(`tempo ${t.track} ${t.tick} ${t.microsecondsPerQuarter}`);
  for (const s of smf.settings)
    say(`set ${s.track} ${s.tick} ${s.status} ${s.channel} ${s.data1} ${s.data2}`);
  for (const line of smf.others) say(line);
}

/** The tempos that a device runs at, where it has fewer than the file asks for. */
function deviceTempos(smf: StrictFile, { tempo }: Target): StrictTempo[] {
  if (!keeps(tempo)) return smf.tempos;
  const { constant, lowestBpm, highestBpm, mostEvents, onlyBpm, wholeBpm } = tempo!;
  const sorted = [...smf.tempos].sort(
    (a, b) => a.tick - b.tick || a.track - b.track || a.order - b.order,
  );
  const first = sorted.find((t) => t.tick === 0);
  const kept = constant ? (first ? [first] : []) : sorted.slice(0, mostEvents ?? sorted.length);
  return kept.map((t) => {
    const bpm = 60_000_000 / t.microsecondsPerQuarter;
    let runs = bpm;
    if (lowestBpm !== undefined && bpm < lowestBpm - 1e-4) runs = lowestBpm;
    if (highestBpm !== undefined && bpm > highestBpm + 1e-4) runs = highestBpm;
    if (onlyBpm) runs = onlyBpm.reduce((a, b) => (Math.abs(b - bpm) < Math.abs(a - bpm) ? b : a));
    if (wholeBpm) {
      const n = Math.round(runs);
      const meant = 60_000_000 / n;
      const same = [Math.floor(meant), Math.round(meant)].includes(t.microsecondsPerQuarter);
      runs = same && runs === bpm ? bpm : n;
    }
    if (onlyBpm?.some((o) => Math.round(60_000_000 / o) === t.microsecondsPerQuarter)) runs = bpm;
    const at = runs === bpm ? t.microsecondsPerQuarter : Math.round(60_000_000 / runs);
    return { ...t, microsecondsPerQuarter: at };
  });
}

/** The notes of a file as the device meets them: in order of time, on its own clock. */
export function deviceNotes(smf: StrictFile, path: string, target: Target, out: Gathering) {
  const tempos = deviceTempos(smf, target);
  const own = tempos === smf.tempos ? smf.us : clockOf({ ppq: smf.ppq, tempos });
  const { notes, seats } = { notes: smf.notes, seats: target.seats };
  const most = target.file?.mostNoteTracks;
  const kept = new Set(
    smf.tracks.flatMap((t, i) => (t.notes > 0 ? [i] : [])).slice(0, most ?? Infinity),
  );
  const list: DeviceNote[] = [];
  for (const n of notes) {
    const track = smf.tracks[n.track]!.name;
    const note: DeviceNote = {
      atUs: own(n.onTick),
      endUs: own(n.offTick),
      writtenUs: smf.us(n.onTick),
      tick: n.onTick,
      endTick: n.offTick,
      channel: n.channel,
      track,
      seat: seatOf(seats, { channel: n.channel, track })?.id ?? `channel ${n.channel}`,
      key: n.key,
      velocity: n.velocity,
      release: n.release,
      file: path,
    };
    if (keeps(target.file) && !kept.has(n.track)) {
      const { seat, key, atUs, writtenUs } = note;
      out.dropped.push({
        atUs: Math.round(atUs),
        seat,
        key,
        file: path,
        because: `it reads ${count(most!, 'track')} with notes`,
        block: 'file',
        how: 'silent',
        writtenUs,
      });
      continue;
    }
    list.push(note);
  }
  list.sort((a, b) => a.tick - b.tick || a.key - b.key);
  out.lengthUs = Math.max(out.lengthUs, Math.round(own(smf.endTick)));
  const device = new Device(target, out, list);
  if (own !== smf.us)
    for (const n of list)
      if (Math.abs(n.atUs - n.writtenUs) > 1)
        device.drop(n, 'it runs at another tempo', 'tempo', 'altered');
  return device;
}

/** All limits on notes, in the order in which a device meets them. */
/** Every limit in turn; those of its own come last, on what the others left. */
export function playThrough(device: Device, smf: StrictFile, path: string) {
  device.seats();
  device.keys();
  device.start();
  device.velocity();
  device.apart();
  device.lengths();
  device.voices();
  device.breath();
  ownLimits(device, timeOf(smf), path);
}

/** What limits of its own are measured by, of a file as it was read. */
export function timeOf(
  smf: Timed &
    Metered &
    Pick<StrictFile, 'endTick' | 'us'> & {
      readonly tracks: readonly { readonly notes: number }[];
    },
): DeviceTime {
  const bars = barsOf(smf);
  type Placed = Pick<StrictMark, 'tick' | 'track' | 'order'>;
  const order = (a: Placed, b: Placed) => a.tick - b.tick || a.track - b.track || a.order - b.order;
  const meters = [...smf.meters].sort(order);
  const tempos = [...smf.tempos].sort(order);
  const at = (list: readonly Placed[]) => list.some((m) => m.tick === 0);
  return {
    ppq: smf.ppq,
    endTick: smf.endTick,
    us: (tick) => smf.us(tick),
    bars,
    barQuarters: [
      ...(at(meters) ? [] : [4]),
      ...meters.map((m) => (m.numerator * 4) / m.denominator),
    ],
    tempos: [...(at(tempos) ? [] : [500_000]), ...tempos.map((t) => t.microsecondsPerQuarter)],
    noteTracks: smf.tracks.filter((t) => t.notes > 0).length,
    beatsAt: (tick) => {
      let beats = 4;
      for (const m of meters) if (m.tick <= tick) beats = m.numerator;
      return beats;
    },
  };
}
