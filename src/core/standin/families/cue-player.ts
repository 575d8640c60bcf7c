import { TimeRowSchema, timeListFormat } from '../../formats/lists';
import type { FormatDefinition } from '../../formats/define-format';
import type { Target } from '../../target/schema';
import { count } from '../../target/words';
import type * as z from 'zod';
import { plainCell, readCsv } from '../csv';
import { keeps } from '../device';
import { Gathering, pitch, type DeliveredFile, type Played } from '../played';
import { barsOf, deviceNotes, loadSmf, playThrough } from '../smf-device';
import type { StrictFile, StrictNote } from '../strict-smf';
import { sound } from './sequencer';

export type TimeRow = z.infer<typeof TimeRowSchema>;

/**
 * Lamps by cue number: counts its rest first, whatever the file begins with, and runs at one tempo.
 * The operator's list is held against what the file says.
 */
export function cuePlayer(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const midi = files.filter((f) => f.path.endsWith('.mid'));
  if (midi.length === 0) out.refuse('', 'folder', 'There is no MIDI file.', 'outputs');
  for (const file of midi) {
    const smf = loadSmf(file, target, out);
    if (!smf) continue;
    const device = deviceNotes(smf, file.path, target, out);
    const early = swallowed(smf, target);
    if (early > 0)
      for (const n of device.notes) {
        n.atUs -= early;
        n.endUs -= early;
        device.drop(n, 'its rest is missing: it comes early', 'start', 'altered');
      }
    playThrough(device, smf, file.path);
    sound(device, out, 'cue');
    checkTimes(files, file, smf, target, out);
  }
  return out.played;
}

/** Microseconds of the rest that the device counts and the file does not have. */
function swallowed(smf: StrictFile, { start }: Target): number {
  if (!keeps(start) || !start?.leadInBars || smf.notes.length === 0) return 0;
  const first = smf.notes.reduce((m, n) => Math.min(m, n.onTick), Infinity);
  const bars = Math.floor(
    barsOf({ ...smf, meters: smf.meters.filter((m) => m.tick === 0) })(first),
  );
  if (bars >= start.leadInBars) return 0;
  const meter = smf.meters.find((m) => m.tick === 0) ?? { numerator: 4, denominator: 4 };
  const bar = (meter.numerator * 4 * smf.ppq) / meter.denominator;
  return smf.us(Math.ceil((start.leadInBars - bars) * bar));
}

/** The list of times beside a MIDI file: every note, at its time, by its name. */
export function checkTimes(
  files: readonly DeliveredFile[],
  midi: DeliveredFile,
  smf: StrictFile,
  target: Target,
  out: Gathering,
): readonly TimeRow[] | null {
  const wanted = target.outputs.find((o) => o.writer === 'time-list');
  if (!wanted) return null;
  // A list for spreadsheets, or of chosen columns, is for people.
  if (wanted.options && Object.keys(wanted.options).length > 0) return null;
  const path = midi.path.replace(/\.mid$/, '-times.csv');
  const file = files.find((f) => f.path === path);
  if (!file) {
    out.refuse(path, 'folder', 'The list of times is missing.', 'outputs');
    return null;
  }
  const { data, problems } = readCsv(timeListFormat as unknown as FormatDefinition<TimeRow>, file);
  if (!data) {
    for (const p of problems) out.refuse(path, p.path, p.says);
    return null;
  }
  const notes = [...smf.notes].sort((a, b) => a.onTick - b.onTick || a.key - b.key);
  if (notes.length !== data.length) {
    out.refuse(
      path,
      'last line',
      `It lists ${count(data.length, 'note')}; the file has ${notes.length}.`,
    );
    return data;
  }
  const lowest = target.notes?.lowest ?? 0;
  const markers = smf.texts.filter((t) => t.type === 6).sort((a, b) => a.tick - b.tick);
  const place = placesOf(smf);
  let next = 0;
  data.forEach((row, i) => {
    const n = notes[i]!;
    const ms = smf.us(n.onTick) / 1000;
    while (next < markers.length && markers[next]!.tick <= n.onTick) next++;
    const marker = next > 0 ? markers[next - 1]!.text : '';
    const off =
      row.number !== i + 1 ||
      row.note !== n.key ||
      row.cue !== n.key - lowest + 1 ||
      row.name !== pitch(n.key) ||
      Math.abs(row.ms - ms) > 0.0011 ||
      row.clock !== clockText(ms) ||
      row.place !== place(n.onTick) ||
      plainCell(row.marker) !== marker ||
      !alike(notes, i).some(
        (o) => Math.abs(row['length ms'] - (smf.us(o.offTick) / 1000 - ms)) <= 0.0021,
      );
    if (off) out.refuse(path, `line ${i + 2}`, 'It does not agree with the MIDI file.');
    if (out.shows.length < 20_000) out.shows.push(`${path} ${row.part} ${row.caption}`);
  });
  return data;
}

/** Several notes at one tick on one key may be listed in either order. */
function alike(notes: readonly StrictNote[], i: number): readonly StrictNote[] {
  const { onTick, key } = notes[i]!;
  const same = (n: StrictNote | undefined) => n?.onTick === onTick && n.key === key;
  let from = i;
  let to = i + 1;
  while (same(notes[from - 1])) from--;
  while (same(notes[to])) to++;
  return notes.slice(from, to);
}

function clockText(ms: number): string {
  const whole = Math.round(ms);
  const s = Math.floor(whole / 1000);
  const two = (n: number, size: number) => `${n}`.padStart(size, '0');
  return `${Math.floor(s / 60)}:${two(s % 60, 2)}.${two(whole % 1000, 3)}`;
}

/** `bar.beat+ticks`, by the meters of the file, of ticks that are asked for in order. */
function placesOf(smf: StrictFile): (tick: number) => string {
  const bars = barsOf(smf);
  const meters = [...smf.meters].sort(
    (a, b) => a.tick - b.tick || a.track - b.track || a.order - b.order,
  );
  // Ticks are asked for in order.
  let next = 0;
  return (tick) => {
    while (next < meters.length && meters[next]!.tick <= tick) next++;
    const at = meters[next - 1] ?? { tick: 0, numerator: 4, denominator: 4 };
    const beatTicks = (smf.ppq * 4) / at.denominator;
    const beats = Math.floor((tick - at.tick) / beatTicks + 1e-9);
    const rest = tick - (at.tick + Math.ceil(beats * beatTicks - 1e-9));
    const bar = Math.floor(bars(tick) + 1e-9) + 1;
    // A meter that says what was in force already begins no new bar where it stands on a line.
    return `${bar}.${(beats % at.numerator) + 1}+${rest}`;
  };
}
