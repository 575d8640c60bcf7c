import { interpret } from '../../formats/own/interpret';
import { readFormat } from '../../formats/own/read';
import { unpackFiles } from '../../formats/unpack';
import type { Target } from '../../target/schema';
import { Device, type DeviceNote } from '../device';
import { ownLimits } from '../own-limits';
import { Gathering, type DeliveredFile, type Played } from '../played';

/** Whatever reads a format of its own: it plays what its description finds in the bytes. */
export function ownPlayer(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const own = files.flatMap((f) => (f.path.toLowerCase().endsWith('.zip') ? opened(f, out) : [f]));
  let met = 0;
  for (const file of own) {
    const tries = (target.formats ?? []).flatMap((f) =>
      f.files.map((d) => readFormat(d, file.bytes)),
    );
    const read = tries.find((t) => t.file)?.file;
    if (!read) {
      // A file of another writer beside it is none of its business.
      const described = (target.formats ?? []).some((f) =>
        f.files.some((d) => endingOf(d.path) === endingOf(file.path)),
      );
      const problem = tries.at(-1)?.problem;
      if (described && problem) {
        met++;
        out.refuse(file.path, problem.at, problem.says);
      }
      continue;
    }
    met++;
    const { notes, facts, tempos, meters, keyed } = interpret(read, target);
    for (const [key, value] of facts)
      if (out.shows.length < 20_000) out.shows.push(`${key} ${value}`);
    const list = notes
      .map((n): DeviceNote => {
        const seat = target.seats.find((s) => s.id === n.seat);
        const channel = n.channel ?? (seat && 'channel' in seat ? seat.channel : 1);
        const endUs = n.endUs ?? n.startUs + 1000;
        return {
          atUs: n.startUs,
          endUs,
          writtenUs: n.startUs,
          // No ticks are known here: microseconds stand for them.
          tick: Math.round(n.startUs),
          endTick: Math.round(endUs),
          channel,
          track: n.part,
          seat: n.seat ?? `channel ${channel}`,
          key: n.key ?? -1,
          velocity: n.velocity ?? target.velocity?.deliveredAs ?? 64,
          release: 64,
          file: file.path,
        };
      })
      .sort((a, b) => a.tick - b.tick || a.key - b.key);
    const device = new Device(target, out, list);
    device.sift('notes', (n) => (keyed && n.key < 0 ? 'it has no such key' : null));
    if (keyed) device.keys();
    device.start();
    if (notes.some((n) => n.velocity !== null)) device.velocity();
    device.apart();
    if (notes.some((n) => n.endUs !== null)) {
      device.lengths();
      device.voices();
      device.breath();
    }
    const end = list.reduce((m, n) => Math.max(m, n.endTick), 0);
    const bar = meters[0] ?? { numerator: 4, denominator: 4 };
    const perQuarter = tempos[0]?.microsecondsPerQuarter ?? 500_000;
    const barUs = ((bar.numerator * 4) / bar.denominator) * perQuarter;
    ownLimits(
      device,
      {
        ppq: perQuarter,
        endTick: end,
        us: (tick) => tick,
        bars: (tick) => tick / barUs,
        barQuarters: [(bar.numerator * 4) / bar.denominator],
        tempos: tempos.length > 0 ? tempos.map((t) => t.microsecondsPerQuarter) : [500_000],
        noteTracks: 1,
        beatsAt: () => bar.numerator,
      },
      file.path,
    );
    for (const n of device.notes)
      out.events.push({
        atUs: n.atUs,
        lengthUs: n.endUs - n.atUs,
        kind: 'note',
        seat: n.seat,
        key: n.key,
        value: n.velocity,
        file: file.path,
      });
    out.lengthUs = Math.max(out.lengthUs, end);
  }
  if (met === 0) out.refuse('', 'folder', 'There is no file of its format.', 'outputs');
  return out.played;
}

const endingOf = (path: string) => path.slice(path.lastIndexOf('.')).toLowerCase();

function opened(file: DeliveredFile, out: Gathering): DeliveredFile[] {
  const { files, problem } = unpackFiles(file.bytes);
  if (!files) {
    out.refuse(file.path, 'the pack', problem);
    return [];
  }
  return [...files].map(([path, bytes]) => ({ path, bytes }));
}
