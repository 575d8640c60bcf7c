import type { Target } from '../../target/schema';
import { keeps, type Device, type DeviceNote } from '../device';
import { Gathering, type DeliveredFile, type Played } from '../played';
import { barsOf, deviceNotes, loadSmf, playThrough } from '../smf-device';
import { clockOf, readStrict, type StrictFile } from '../strict-smf';
import { sound } from './sequencer';

/** Loops on pads: a name says the pad; it plays as many bars as fit, and chords with their pluck. */
export function pads(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const taken = new Map<string, string>();
  const midi = files.filter((f) => f.path.endsWith('.mid'));
  if (midi.length === 0) out.refuse('', 'folder', 'There is no MIDI file.', 'outputs');
  for (const file of midi) {
    strays(file, target, out);
    const smf = loadSmf(file, target, out);
    if (!smf) continue;
    const pad = target.naming?.prefixes?.find((p) => file.path.startsWith(p));
    const there = pad === undefined ? undefined : taken.get(pad);
    if (pad !== undefined && there !== undefined) {
      out.refuse(file.path, 'name', `${there} is on this pad already.`, 'naming');
      continue;
    }
    if (pad !== undefined) taken.set(pad, file.path);
    const device = deviceNotes(smf, file.path, target, out);
    const bars = fitting(device, smf, target, out);
    playThrough(device, smf, file.path);
    chords(device, target);
    sound(device, out);
    const barUs = Math.round(smf.us(smf.endTick) / Math.max(1e-9, barsOf(smf)(smf.endTick)));
    out.turns.push({
      file: file.path,
      seat: '',
      lengthUs: Math.round(barUs * bars),
      barUs,
      next: [],
    });
  }
  return out.played;
}

/** A wheel that is moved by mistake: it is shown how far, and the file is refused for it. */
function strays({ path, bytes }: DeliveredFile, { events }: Target, out: Gathering) {
  const read = readStrict(bytes);
  if (!('file' in read) || !keeps(events)) return;
  const us = clockOf(read.file);
  for (const { tick, status, data1, data2 } of read.file.settings) {
    const at = { atUs: Math.round(us(tick)), file: path };
    if (status === 0xe0 && events?.bends === 'none')
      out.stray.push({ ...at, controller: null, value: data2 });
    else if (status === 0xb0 && events?.controllersWithout?.includes(data1))
      out.stray.push({ ...at, controller: data1, value: data2 });
  }
  out.stray.sort((a, b) => a.atUs - b.atUs);
}

/** Of a length that it does not have it plays the longest that fits: as many bars as that is. */
function fitting(device: Device, smf: StrictFile, { end }: Target, out: Gathering): number {
  const lengths = end?.onlyBars;
  const bars = barsOf(smf);
  const length = bars(smf.endTick);
  if (!keeps(end) || !lengths) return length;
  if (lengths.some((n) => Math.abs(n - length) < 1e-9)) return length;
  const most = lengths.filter((n) => n <= length + 1e-9).reduce((a, b) => Math.max(a, b), 0);
  const file = device.notes[0]?.file ?? '';
  out.dropped.push({
    atUs: 0,
    seat: '',
    key: -1,
    file,
    because: most > 0 ? `it plays ${most} bars of ${length.toFixed(2)}` : 'it is too short to loop',
    block: 'end',
    how: 'altered',
    writtenUs: 0,
  });
  device.sift('end', (n) => (bars(n.tick) >= most - 1e-9 ? 'it stands behind what fits' : null));
  return most;
}

/** Notes of the chord zone that begin within 60 ms were meant as one chord. */
const ONE_CHORD_US = 60_000;

function chords(device: Device, { grid }: Target) {
  if (!keeps(grid) || grid?.chordWithinMs === undefined) return;
  const { chordLowest = 0, chordHighest = 127, triggerLowest, triggerHighest } = grid;
  const within = grid.chordWithinMs * 1000 + 1;
  const isTrigger = (n: DeviceNote) =>
    triggerLowest !== undefined &&
    triggerHighest !== undefined &&
    n.key >= triggerLowest &&
    n.key <= triggerHighest;
  const triggers = device.notes
    .filter(isTrigger)
    .map((n) => n.writtenUs)
    .sort((a, b) => a - b);
  const gone = new Set<DeviceNote>();
  const byChannel = new Map<number, DeviceNote[]>();
  for (const n of device.notes) {
    if (n.key < chordLowest || n.key > chordHighest) continue;
    const there = byChannel.get(n.channel);
    if (there) there.push(n);
    else byChannel.set(n.channel, [n]);
  }
  for (const notes of byChannel.values()) {
    let chord: DeviceNote[] = [];
    const close = () => {
      if (chord.length < 2) return;
      const first = chord[0]!.writtenUs;
      const last = chord.at(-1)!.writtenUs;
      if (last - first > within) {
        for (const n of chord)
          if (n.writtenUs - first > within) {
            device.drop(n, 'it comes too late for its chord', 'grid');
            gone.add(n);
          }
      } else if (
        triggerLowest !== undefined &&
        !hasBetween(triggers, last - within, first + within)
      )
        for (const n of chord) {
          device.drop(n, 'no pluck key goes with its chord', 'grid');
          gone.add(n);
        }
    };
    for (let from = 0; from < notes.length;) {
      let to = from;
      while (to < notes.length && notes[to]!.tick === notes[from]!.tick) to++;
      const struck = notes.slice(from, to);
      const near = chord.length > 0 && struck[0]!.writtenUs - chord[0]!.writtenUs <= ONE_CHORD_US;
      const again = struck.some((n) => chord.some((o) => o.key === n.key));
      if (!near || again) {
        close();
        chord = [];
      }
      for (const n of struck) {
        // One key twice at one tick is a chord of its own.
        if (chord.some((o) => o.key === n.key)) {
          close();
          chord = [];
        }
        chord.push(n);
      }
      from = to;
    }
    close();
  }
  device.notes = device.notes.filter((n) => !gone.has(n));
}

/** Whether a sorted list has a value between two others, both counted in. */
function hasBetween(list: readonly number[], from: number, to: number): boolean {
  let low = 0;
  let high = list.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (list[mid]! < from) low = mid + 1;
    else high = mid;
  }
  return low < list.length && list[low]! <= to;
}
