import type * as z from 'zod';
import type { FormatDefinition } from '../../formats/define-format';
import { holeListFormat, type HoleRowSchema } from '../../formats/lists';
import type { Target } from '../../target/schema';
import { readCsv } from '../csv';
import { keeps } from '../device';
import { Gathering, pitch, utf8, type DeliveredFile, type Played } from '../played';
import { loadSmf } from '../smf-device';
import { seatOf } from '../device';
import { ownCrc32 } from '../sums';
import type { StrictFile } from '../strict-smf';

type Row = z.infer<typeof HoleRowSchema>;

interface Hole {
  readonly row: number;
  readonly seat: string;
  readonly key: number;
}

/** A punched strip: plays the holes of the list; sheet and MIDI file have to have the same. */
export function organ(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const lists = files.filter((f) => f.path.endsWith('-holes.csv'));
  if (lists.length === 0) out.refuse('', 'folder', 'There is no hole list.', 'outputs');
  for (const file of lists) {
    const refusals = out.refused.length;
    const { data, problems } = readCsv(holeListFormat as unknown as FormatDefinition<Row>, file);
    for (const p of problems) out.refuse(file.path, p.path, p.says);
    if (!data) continue;
    const stem = file.path.replace(/-holes\.csv$/, '');
    const midi = files.find((f) => f.path === `${stem}.mid`);
    const sheet = files.find((f) => f.path === `${stem}-strip.svg`);
    if (!midi) out.refuse(`${stem}.mid`, 'folder', 'The MIDI file is missing.', 'outputs');
    if (!sheet) out.refuse(`${stem}-strip.svg`, 'folder', 'The strip sheet is missing.', 'outputs');
    const rate = rateOf(data, target, midi, file.path, out);
    const holes = holesOf(data, file.path, target, out);
    const smf = midi ? loadSmf(midi, target, out) : null;
    if (sheet) sheetAgrees(sheet, holes, out);
    if (smf && midi) midiAgrees(smf, midi.path, holes, rate, target, out);
    if (out.refused.length === refusals) punch(holes, rate, file.path, target, out);
  }
  return out.played;
}

/** Rows a second, from two numbers of the list; a strip of one row runs at any. */
function rateOf(
  rows: readonly Row[],
  { grid }: Target,
  _midi: DeliveredFile | undefined,
  path: string,
  out: Gathering,
): number {
  const rates = grid?.rowsPerSecond ?? [8];
  const fits = (rate: number) =>
    rows.every((r) => r.seconds === Math.round((r.row * 1_000_000) / rate));
  const rate = rates.find(fits);
  if (rate === undefined)
    out.refuse(path, 'line 2', `Its rows are not of ${rates.join(', ')} a second.`, 'grid');
  return rate ?? rates[0]!;
}

function holesOf(rows: readonly Row[], path: string, target: Target, out: Gathering): Hole[] {
  const ranks = target.seats.map((s) => s.id);
  const holes: Hole[] = [];
  let last = -1;
  rows.forEach((row, i) => {
    const at = `line ${i + 2}`;
    if (row.row <= last) out.refuse(path, at, 'Rows stand in order, each once.');
    last = row.row;
    if (row.front === '' && row.rear === '') out.refuse(path, at, 'A row without a hole.');
    [row.front, row.rear].forEach((cell, r) => {
      let before = -1;
      for (const pipe of cell === '' ? [] : cell.split(' | ')) {
        const [name, number] = pipe.split(' ');
        const key = Number(number);
        const seat = ranks[r];
        if (!/^\d{1,3}$/.test(number ?? '') || key > 127 || name !== pitch(key))
          out.refuse(path, at, `“${pipe}” is no pipe.`);
        else if (seat === undefined) out.refuse(path, at, `There is no rank ${r + 1}.`);
        else if (key <= before) out.refuse(path, at, 'Pipes stand in order, each once.');
        else holes.push({ row: row.row, seat, key });
        before = key;
      }
    });
  });
  return holes;
}

const name = ({ row, seat, key }: Hole) => `${row} ${seat} ${key}`;

/** The sheet is printed only if it is whole, and cut only if it has the holes of the list. */
function sheetAgrees(file: DeliveredFile, holes: readonly Hole[], out: Gathering) {
  const found = readSheet(file, out);
  if (found && found.join() !== holes.map(name).sort().join())
    out.refuse(file.path, 'holes', 'It has other holes than the list.');
}

/** The holes of a sheet, in words; null where its sum does not agree. */
export function readSheet(file: DeliveredFile, out: Gathering): string[] | null {
  const tail = '<!-- crc32 00000000 -->\n'.length;
  const body = file.bytes.subarray(0, Math.max(0, file.bytes.length - tail));
  const end = utf8(file.bytes.subarray(body.length)) ?? '';
  const said = /^<!-- crc32 ([0-9a-f]{8}) -->\n$/.exec(end)?.[1];
  if (said === undefined) {
    out.refuse(file.path, 'last line', 'It has no sum.');
    return null;
  }
  if (Number.parseInt(said, 16) !== ownCrc32(body)) {
    out.refuse(file.path, 'last line', 'Its sum is another: something was changed.');
    return null;
  }
  return [...(utf8(body) ?? '').matchAll(/ data-row="(\d+)" data-rank="([^"]+)" data-key="(\d+)"/g)]
    .map(([, row, seat, key]) => name({ row: Number(row), seat: seat!, key: Number(key) }))
    .sort();
}

function midiAgrees(
  smf: StrictFile,
  path: string,
  holes: readonly Hole[],
  rate: number,
  target: Target,
  out: Gathering,
) {
  const wanted = new Set(holes.map(name));
  const met = new Set<string>();
  const pipes = target.notes?.only;
  const as = target.velocity?.deliveredAs;
  for (const n of smf.notes) {
    const seat = seatOf(target.seats, { channel: n.channel, track: smf.tracks[n.track]!.name });
    if (as !== undefined && n.velocity !== as)
      out.refuse(path, `tick ${n.onTick}`, `Its velocity is not ${as}.`);
    const us = smf.us(n.onTick);
    if (!seat || (pipes && !pipes.includes(n.key))) {
      out.dropped.push({
        atUs: Math.round(us),
        seat: seat?.id ?? '',
        key: n.key,
        file: path,
        because: seat ? 'there is no such pipe' : 'there is no rank for it',
        block: seat ? 'notes' : 'seats',
        how: 'silent',
        writtenUs: us,
      });
      continue;
    }
    const row = Math.round((us * rate) / 1_000_000);
    const hole = name({ row, seat: seat.id, key: n.key });
    if (!wanted.has(hole)) out.refuse(path, `tick ${n.onTick}`, 'The list has no hole for it.');
    else if (met.has(hole))
      out.dropped.push({
        atUs: Math.round(us),
        seat: seat.id,
        key: n.key,
        file: path,
        because: 'one hole is there for both',
        block: 'grid',
        how: 'silent',
        writtenUs: us,
      });
    met.add(hole);
    const off = Math.abs(us - (row * 1_000_000) / rate);
    if (off > 1000 + 1 && off > tickUs(smf, n.onTick) / 2 + 1 && keeps(target.grid))
      out.dropped.push({
        atUs: Math.round(us),
        seat: seat.id,
        key: n.key,
        file: path,
        because: 'it is punched in the nearest row',
        block: 'grid',
        how: 'altered',
        writtenUs: us,
      });
  }
  for (const hole of wanted)
    if (!met.has(hole)) out.refuse(path, 'notes', `No note is there for row ${hole}.`);
  // How long notes sound is the pipe's own matter; the file says it for those who listen to it.
  for (const n of smf.notes)
    out.shows.push(`${path} ${n.onTick} ${n.key} ${n.offTick} ${n.release}`);
}

const tickUs = (smf: StrictFile, tick: number) =>
  Math.max(smf.us(tick + 1) - smf.us(tick), smf.us(tick) - smf.us(Math.max(0, tick - 1)));

/** The strip runs: too many holes in a row tear it, a hole behind another makes one long one. */
function punch(
  holes: readonly Hole[],
  rate: number,
  file: string,
  { grid }: Target,
  out: Gathering,
) {
  out.rate = rate;
  const us = (row: number) => Math.round((row * 1_000_000) / rate);
  const strict = keeps(grid);
  const last = new Map<string, number>();
  const lose = (h: Hole, because: string) =>
    out.dropped.push({
      atUs: us(h.row),
      seat: h.seat,
      key: h.key,
      file,
      because,
      block: 'grid',
      how: 'silent',
      writtenUs: us(h.row),
    });
  for (let from = 0; from < holes.length;) {
    let to = from;
    while (to < holes.length && holes[to]!.row === holes[from]!.row) to++;
    holes.slice(from, to).forEach((h, i) => {
      const pipe = `${h.seat} ${h.key}`;
      const before = last.get(pipe);
      if (strict && grid!.mostInRow !== undefined && i >= grid!.mostInRow)
        lose(h, `the strip tears where more than ${grid!.mostInRow} stand in a row`);
      else if (strict && grid!.mostRows !== undefined && h.row >= grid!.mostRows)
        lose(h, `the strip ends at row ${grid!.mostRows}`);
      else if (strict && grid!.sameKeyNextRow === 'none' && before === h.row - 1) {
        lose(h, 'its hole runs on from the one before');
        return;
      } else out.events.push({ atUs: us(h.row), kind: 'hole', seat: h.seat, key: h.key, file });
      last.set(pipe, h.row);
    });
    from = to;
  }
  out.lengthUs = Math.max(out.lengthUs, us((holes.at(-1)?.row ?? -1) + 1));
}
