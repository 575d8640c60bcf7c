import { chartFormat, type Chart, type ChartLine } from '../../formats/chart';
import type { FormatDefinition } from '../../formats/define-format';
import type { Seat, Target } from '../../target/schema';
import { count } from '../../target/words';
import { keeps, Device, HAIR_US, type DeviceNote } from '../device';
import { Gathering, type DeliveredFile, type Played } from '../played';
import { companion } from '../companion';
import { loadJson } from '../strict-json';
import { ownLimits } from '../own-limits';
import { timeOf } from '../smf-device';
import { clockOf } from '../strict-smf';

type LaneSeat = Extract<Seat, { kind: 'laneGroup' }>;
type Limits = NonNullable<NonNullable<Target['chart']>['rungs']>[number];

/** A lane game: loads one song a chart and shows what a player would have to strike. */
export function chartGame(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const charts = files.filter((f) => f.path.endsWith('.chart.json'));
  if (charts.length === 0) out.refuse('', 'folder', 'There is no chart.', 'outputs');
  for (const file of charts) {
    const chart = load(file, target, out);
    if (chart) play(chart, file, files, target, out);
  }
  return out.played;
}

function load(file: DeliveredFile, target: Target, out: Gathering): Chart | null {
  const data = loadJson(chartFormat as FormatDefinition<Chart>, file, out);
  if (!data) return null;
  const before = out.refused.length;
  consistent(data, file.path, target, out);
  metadata(data, file.path, target, out);
  return out.refused.length > before ? null : data;
}

/** What a shape cannot say: lanes that are there, times that agree, order. */
function consistent(chart: Chart, path: string, target: Target, out: Gathering) {
  const no = (at: string, says: string, block: string | null = null) =>
    out.refuse(path, at, says, block);
  if (chart.target !== target.id) no('target', `It was written for ${chart.target}.`);
  const tempos = chart.tempos.map((t, order) => ({ ...t, track: 0, order }));
  const clock = clockOf({ ppq: chart.ppq, tempos });
  const agrees = (tick: number, us: number) => Math.abs(clock(tick) - us) <= 1;
  const timed = (at: string, list: readonly { tick: number; atUs: number }[]) => {
    list.forEach((e, i) => {
      if (i > 0 && e.tick < list[i - 1]!.tick) no(`${at}[${i}].tick`, 'It stands before the last.');
      if (!agrees(e.tick, e.atUs)) no(`${at}[${i}].atUs`, 'Its tick is at another time.');
    });
  };
  if (chart.tempos[0]!.tick !== 0) no('tempos[0].tick', 'The first tempo stands at tick 0.');
  if (chart.meters[0]!.tick !== 0) no('meters[0].tick', 'The first meter stands at tick 0.');
  timed('tempos', chart.tempos);
  timed('sections', chart.sections);
  if (!agrees(chart.endTick, chart.endUs)) no('endUs', 'Its tick is at another time.');
  const seen = new Set<string>();
  chart.lines.forEach((line, l) => {
    const at = `lines[${l}]`;
    const seat = target.seats.find((s) => s.id === line.seat);
    if (seat?.kind !== 'laneGroup') return no(`${at}.seat`, `It has no seat ${line.seat}.`);
    if (seen.has(line.seat)) no(`${at}.seat`, 'This seat has a line already.');
    seen.add(line.seat);
    const same =
      line.name === seat.name &&
      line.track === (seat.track ?? null) &&
      line.channel === seat.channel &&
      line.rung === (seat.rung ?? null) &&
      line.keys.join() === seat.laneNotes.join();
    if (!same) no(at, `It is not the seat ${line.seat} of this game.`);
    timed(`${at}.strikes`, line.strikes);
    const holdMs = target.chart?.holdMs ?? 0;
    line.strikes.forEach((s, i) => {
      const here = `${at}.strikes[${i}]`;
      const lane = s.lanes.find((n) => n > seat.laneNotes.length);
      if (lane !== undefined) no(`${here}.lanes`, `There is no lane ${lane}.`);
      if (s.lanes.some((n, k) => k > 0 && n <= s.lanes[k - 1]!))
        no(`${here}.lanes`, 'Lanes stand in order, each once.');
      const length = clock(s.tick + s.lengthTicks) - clock(s.tick);
      const held = length >= holdMs * 1000 - 1.5;
      const short = length < holdMs * 1000 + 1.5;
      if (s.holdUs === 0 ? !short : !held || Math.abs(s.holdUs - length) > 2)
        no(`${here}.holdUs`, 'It does not agree with its ticks.');
      const strange = s.flags.find((f) => !target.chart?.flags?.includes(f));
      if (strange !== undefined && keeps(target.chart))
        no(`${here}.flags`, `It knows no flag ${strange}.`, 'chart');
    });
    phrases(line, seat, chart, target, (says) => no(`${at}.phrases`, says));
  });
}

/** Phrases end where nothing sounds for so many beats. */
function phrases(
  line: ChartLine,
  _seat: LaneSeat,
  { meters, ppq }: Chart,
  { chart }: Target,
  no: (says: string) => void,
) {
  const empty = chart?.phraseBreakBeats;
  if (empty === undefined) {
    if (line.phrases.length > 0) no('This game has no phrases.');
    return;
  }
  const found: { fromTick: number; toTick: number }[] = [];
  for (const { tick, lengthTicks } of line.strikes) {
    const last = found.at(-1);
    if (last && tick < beatsLater(last.toTick, empty, meters, ppq))
      last.toTick = Math.max(last.toTick, tick + lengthTicks);
    else found.push({ fromTick: tick, toTick: tick + lengthTicks });
  }
  const say = (list: readonly { fromTick: number; toTick: number }[]) =>
    list.map((p) => `${p.fromTick}-${p.toTick}`).join();
  if (say(found) !== say(line.phrases)) no('They are not where its strikes have them.');
}

/** A beat is one denominator unit of the meter in which it stands; rests of one go along. */
function beatsLater(tick: number, beats: number, meters: Chart['meters'], ppq: number): number {
  let low = 0;
  let high = meters.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (meters[mid]!.tick <= tick) low = mid + 1;
    else high = mid;
  }
  const at = meters[low - 1]!;
  const next = meters[low];
  const size = (ppq * 4) / at.denominator;
  const until = tick + beats * size;
  // Whole beats up to the next meter are of this one.
  if (!next || until <= next.tick) return Math.ceil(until - 1e-9);
  const here = Math.ceil((next.tick - tick) / size - 1e-9);
  const inBeat = (tick - at.tick) % size;
  const left = beats - here;
  const later = (ppq * 4) / next.denominator;
  return Math.ceil(next.tick + left * later + inBeat - 1e-9);
}

function metadata(chart: Chart, path: string, target: Target, out: Gathering) {
  const { metadata: asked, tempo } = target;
  const told: Record<string, string | null> = {
    title: chart.title,
    maker: chart.maker,
    bpm: chart.bpm === null ? null : String(chart.bpm),
    sound: chart.sound?.file ?? null,
  };
  if (keeps(asked))
    for (const { key, longest } of asked!.required) {
      if (!(key in told)) continue;
      const value = told[key];
      if (value === null || value === undefined)
        out.refuse(path, key, 'It asks for this and shows no song without.', 'metadata');
      else if (longest !== undefined && [...value].length > longest)
        out.refuse(path, key, `It shows ${longest} characters.`, 'metadata');
    }
  if (keeps(tempo) && tempo?.declaredWithinBpm !== undefined && chart.bpm !== null) {
    const first = 60_000_000 / chart.tempos[0]!.microsecondsPerQuarter;
    if (Math.abs(first - chart.bpm) > tempo.declaredWithinBpm + 1e-9)
      out.refuse(path, 'bpm', `The first tempo is ${first.toFixed(3)} BPM.`, 'tempo');
  }
}

function play(
  chart: Chart,
  file: DeliveredFile,
  files: readonly DeliveredFile[],
  target: Target,
  out: Gathering,
) {
  out.lengthUs = Math.max(out.lengthUs, chart.endUs);
  companion(chart.sound, file.path, files, target, out);
  const facts = { ...chart, lines: undefined };
  out.shows.push(`${file.path} ${JSON.stringify(facts)}`);
  const start = barLead(chart, target);
  const tempos = chart.tempos.map((t, order) => ({ ...t, track: 0, order }));
  const clock = clockOf({ ppq: chart.ppq, tempos });
  // A line is one seat: what is measured of the whole piece or file is not told by it.
  const ofSeats = {
    ...target,
    ...(target.limits
      ? { limits: target.limits.filter((l) => l.over !== 'piece' && l.over !== 'file') }
      : {}),
  };
  const ends = chart.lines.flatMap((l) => l.strikes.map((s) => s.tick + s.lengthTicks));
  const time = timeOf({
    ppq: chart.ppq,
    meters: chart.meters.map((m, order) => ({ ...m, track: 0, order })),
    tempos,
    tracks: [],
    endTick: ends.reduce((a, b) => Math.max(a, b), 0),
    us: clock,
  });
  for (const line of chart.lines) {
    const seat = target.seats.find((s) => s.id === line.seat) as LaneSeat;
    out.shows.push(`${file.path} ${line.seat}: ${line.phrases.length} phrases`);
    const notes: DeviceNote[] = [];
    const flags = new Map<DeviceNote, string>();
    const holds = new Map<DeviceNote, number>();
    for (const s of line.strikes)
      for (const lane of s.lanes) {
        const note: DeviceNote = {
          atUs: s.atUs,
          endUs: s.atUs + clock(s.tick + s.lengthTicks) - clock(s.tick),
          writtenUs: s.atUs,
          tick: s.tick,
          endTick: s.tick + s.lengthTicks,
          channel: line.channel,
          track: line.track,
          seat: line.seat,
          key: seat.laneNotes[lane - 1]!,
          velocity: s.velocity,
          release: 64,
          file: file.path,
        };
        notes.push(note);
        holds.set(note, s.holdUs);
        if (s.flags.length > 0) flags.set(note, s.flags.join(' '));
      }
    notes.sort((a, b) => a.tick - b.tick || a.key - b.key);
    const device = new Device(ofSeats, out, notes);
    device.start();
    if (start !== null) device.sift('start', (n) => (n.tick < start ? 'it counts in first' : null));
    device.velocity();
    device.apart();
    device.lengths();
    device.voices();
    ownLimits(device, time, file.path);
    const rung = target.chart?.rungs?.find((r) => r.rung === seat.rung);
    if (keeps(target.chart)) rungs(device, rung, holds, target.chart?.releaseGapMs);
    for (const n of device.notes)
      out.events.push({
        atUs: n.atUs,
        lengthUs: holds.get(n)!,
        kind: 'strike',
        seat: n.seat,
        key: seat.laneNotes.indexOf(n.key) + 1,
        value: n.velocity,
        text: `${n.endTick - n.tick}${flags.has(n) ? ` ${flags.get(n)}` : ''}`,
        file: n.file,
      });
  }
}

/** Whole bars of rest that the game counts before the first strike, as a tick. */
function barLead({ meters, ppq }: Chart, { start }: Target): number | null {
  if (!keeps(start) || !start?.leadInBars) return null;
  const { numerator, denominator } = meters[0]!;
  return Math.floor((start.leadInBars * numerator * 4 * ppq) / denominator);
}

/** What a rung asks of its player at the most. */
function rungs(
  device: Device,
  rung: Limits | undefined,
  holds: ReadonlyMap<DeviceNote, number>,
  releaseGapMs: number | undefined,
) {
  const gone = new Set<DeviceNote>();
  const gap = rung?.releaseGapMs ?? releaseGapMs;
  const onLane = new Map<number, DeviceNote>();
  for (const n of device.notes) {
    const last = onLane.get(n.key);
    onLane.set(n.key, n);
    if (gap === undefined || !last || holds.get(last) === 0) continue;
    if (n.atUs - (last.atUs + holds.get(last)!) < gap * 1000 - HAIR_US)
      device.drop(last, 'there is no time to let go of it', 'chart', 'altered');
  }
  if (!rung) return;
  const strikes: number[] = [];
  let sounding: DeviceNote[] = [];
  let held: DeviceNote[] = [];
  for (const n of device.notes) {
    if (strikes.at(-1) !== n.atUs) {
      while (strikes.length > 0 && n.atUs - strikes[0]! >= 1_000_000 - HAIR_US) strikes.shift();
      if (strikes.length >= rung.strikesASecond) {
        device.drop(
          n,
          `its player follows ${count(rung.strikesASecond, 'strike')} in a second`,
          'chart',
        );
        gone.add(n);
        continue;
      }
      strikes.push(n.atUs);
    }
    sounding = sounding.filter((o) => o.endTick > n.tick);
    if (n.endTick > n.tick && !sounding.some((o) => o.key === n.key)) {
      const lanes = new Set(sounding.map((o) => o.key));
      if (lanes.size >= rung.together) {
        device.drop(n, `it takes ${count(rung.together, 'lane')} together`, 'chart');
        gone.add(n);
        continue;
      }
    }
    sounding.push(n);
    if (rung.holdsOverlap || holds.get(n) === 0) continue;
    held = held.filter((o) => o.endTick > n.tick);
    if (held.some((o) => o.tick < n.tick))
      device.drop(n, 'another hold is let go of for it', 'chart', 'altered');
    held.push(n);
  }
  device.notes = device.notes.filter((n) => !gone.has(n));
}
