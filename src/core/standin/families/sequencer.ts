import type { Target } from '../../target/schema';
import { keeps, type Device } from '../device';
import { Gathering, type DeliveredFile, type HappeningKind, type Played } from '../played';
import { barsOf, deviceNotes, loadSmf, playThrough } from '../smf-device';
import type { StrictFile } from '../strict-smf';

/** What is played of a device's notes. */
export function sound(device: Device, out: Gathering, kind: HappeningKind = 'note') {
  for (const n of device.notes)
    out.events.push({
      atUs: Math.round(n.atUs),
      lengthUs: Math.max(0, Math.round(n.endUs) - Math.round(n.atUs)),
      kind,
      seat: n.seat,
      key: n.key,
      value: n.velocity,
      ...(n.release === 64 ? {} : { text: `let go at ${n.release}` }),
      file: n.file,
    });
}

/** A seat that has its own list of sounds plays the first of them for any other program. */
export function programs(smf: StrictFile, path: string, target: Target, out: Gathering) {
  if (target.events?.programs !== 'of-seat' || !keeps(target.events)) return;
  for (const channel of new Set(smf.notes.map((n) => n.channel))) {
    const seat = target.seats.find((s) => s.kind === 'channel' && s.channel === channel);
    const own = smf.settings.filter((s) => s.status === 0xc0 && s.channel === channel);
    const says = (key: number, because: string) =>
      out.dropped.push({
        atUs: 0,
        seat: seat?.id ?? `channel ${channel}`,
        key,
        file: path,
        because,
        block: 'events',
        how: 'altered',
        writtenUs: 0,
      });
    const [first] = own;
    if (!seat) continue;
    if (!first || first.tick > 0) says(-1, 'it keeps the sound of the last song');
    else if (seat.sounds?.length && !seat.sounds.some((s) => s.program === first.data1))
      says(first.data1, 'it plays the first sound of its list');
    for (const later of own.slice(1)) says(later.data1, 'it sets its sounds up once');
  }
}

/** Plays MIDI files as they are: one after the other, each from its own start. */
export function sequencer(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const midi = files.filter((f) => f.path.toLowerCase().endsWith('.mid'));
  if (midi.length === 0) out.refuse('', 'folder', 'There is no MIDI file.', 'outputs');
  for (const file of midi) {
    const smf = loadSmf(file, target, out);
    if (!smf) continue;
    const device = deviceNotes(smf, file.path, target, out);
    programs(smf, file.path, target, out);
    playThrough(device, smf, file.path);
    sound(device, out);
    tempoEvents(smf, file.path, target, out);
  }
  return out.played;
}

/** A target that is there for its tempo map plays tempos and markers. */
function tempoEvents(smf: StrictFile, file: string, target: Target, out: Gathering) {
  if (!target.carrier) return;
  for (const t of smf.tempos)
    out.events.push({
      atUs: Math.round(smf.us(t.tick)),
      kind: 'tempo',
      seat: 'conductor',
      key: 0,
      value: t.microsecondsPerQuarter,
      file,
    });
  const bars = barsOf(smf);
  for (const m of smf.texts)
    if (m.type === 6)
      out.events.push({
        atUs: Math.round(smf.us(m.tick)),
        kind: 'marker',
        seat: 'conductor',
        key: Math.floor(bars(m.tick)) + 1,
        text: m.text,
        file,
      });
}
