import { crateFormat, type Crate } from '../../formats/crate';
import type { FormatDefinition } from '../../formats/define-format';
import { loadJson } from '../strict-json';
import type { Target } from '../../target/schema';
import { keeps } from '../device';
import { Gathering, type DeliveredFile, type Played } from '../played';
import { barsOf, deviceNotes, loadSmf, playThrough } from '../smf-device';
import { sound } from './sequencer';

type FileSlot = Extract<Target['seats'][number], { kind: 'file' }>;

/** A drum pedal: reads the crate of a song and plays the file of each place from its own start. */
export function cratePedal(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const crates = files.filter((f) => /(^|\/)crate\.json$/.test(f.path));
  if (crates.length === 0) out.refuse('', 'folder', 'There is no crate.', 'seats');
  const claimed = new Set<string>();
  for (const file of crates) {
    const data = loadJson(crateFormat as FormatDefinition<Crate>, file, out);
    if (!data) continue;
    song(data, file, files, claimed, target, out);
  }
  // A target of one’s own may ask for the plain files beside the crate.
  const beside = target.outputs.some((o) => o.writer === 'smf');
  for (const f of beside ? [] : files)
    if (f.path.endsWith('.mid') && !claimed.has(f.path))
      out.refuse(f.path, 'name', 'No place of a crate takes it.', 'seats');
  return out.played;
}

function song(
  crate: Crate,
  { path }: DeliveredFile,
  files: readonly DeliveredFile[],
  claimed: Set<string>,
  target: Target,
  out: Gathering,
) {
  const no = (at: string, says: string, block: string | null = null) =>
    out.refuse(path, at, says, block);
  const folder = path.slice(0, path.length - 'crate.json'.length);
  const name = target.metadata?.required.find((r) => r.key === 'displayName');
  if (keeps(target.metadata) && name) {
    if ([...crate.name].length > (name.longest ?? Infinity))
      no('name', `Its display has ${name.longest} letters.`, 'metadata');
    if (name.letters === "A-Za-z0-9 '-" && /[^A-Za-z0-9 '-]/.test(crate.name))
      no('name', 'Its display cannot show this.', 'metadata');
  }
  if (folder !== `${crate.name}/`) no('name', 'Its folder has another name.');
  const kit = target.kits?.find((k) => k.id === crate.kit);
  if (crate.kit !== null && !kit) no('kit', `It has no kit ${crate.kit}.`, 'kits');
  const ids = crate.places.map((p) => p.place);
  const played = kit ?? likeliest(keysOf(crate, folder, files, target), target);
  const { microsecondsPerQuarter } = crate;
  out.display ??= { name: crate.name, microsecondsPerQuarter, kit: crate.kit };
  for (const seat of target.seats)
    if (seat.kind === 'file' && !seat.optional && !ids.includes(seat.id))
      no('places', `It shows no song without ${seat.name}.`, 'seats');
  out.shows.push(
    `${path} ${JSON.stringify({ ...crate, places: crate.places.map((p) => p.next) })}`,
  );
  crate.places.forEach((place, i) => {
    const at = `places[${i}]`;
    const seat = target.seats.find((s) => s.id === place.place);
    if (seat?.kind !== 'file') return no(`${at}.place`, `There is no place ${place.place}.`);
    if (ids.indexOf(place.place) !== i) no(`${at}.place`, 'It is taken twice.', 'seats');
    if (place.name !== seat.name || place.file !== seat.fileName)
      no(at, `The place ${place.place} has another name.`);
    const strange = place.next.find((n) => !ids.includes(n));
    if (strange !== undefined) no(`${at}.next`, `There is no place ${strange}.`);
    const expected = followers(seat, ids, target.seats);
    if (place.next.join() !== expected.join()) no(`${at}.next`, 'It is not what may follow.');
    const file = files.find((f) => f.path === `${folder}${place.file}`);
    if (!file) return no(`${at}.file`, `There is no ${place.file}.`);
    claimed.add(file.path);
    const smf = loadSmf(file, target, out);
    if (!smf) return;
    const meter = [...smf.meters].filter((m) => m.tick === 0).at(-1) ?? {
      numerator: 4,
      denominator: 4,
    };
    const tempo =
      [...smf.tempos].filter((t) => t.tick === 0).at(-1)?.microsecondsPerQuarter ?? 500_000;
    if (smf.ppq !== crate.ppq) no(`${at}.file`, 'It counts other ticks than the crate.');
    if (keeps(target.tempo) && tempo !== crate.microsecondsPerQuarter)
      no(`${at}.file`, 'It runs at another tempo than the crate.', 'tempo');
    if (meter.numerator !== crate.meter.numerator || meter.denominator !== crate.meter.denominator)
      no(`${at}.file`, 'It counts another meter than the crate.', 'tempo');
    const halfBars = barsOf(smf)(smf.endTick) * 2;
    if (Math.max(1, Math.round(halfBars)) !== place.halfBars)
      no(`${at}.halfBars`, 'The file is not as long.');
    if (smf.endTick !== place.lengthTicks) no(`${at}.lengthTicks`, 'The file is not as long.');
    if (Math.abs(smf.us(smf.endTick) - place.lengthUs) > 1)
      no(`${at}.lengthUs`, 'The file is not as long.');
    const bars = halfBars / 2;
    const { onlyBars, leastBars = 0, mostBars = Infinity } = seat;
    const whole = Math.abs(bars - Math.round(bars)) < 1e-9;
    const fits = onlyBars
      ? onlyBars.some((n) => Math.abs(n - bars) < 1e-9)
      : bars >= leastBars - 1e-9 && bars <= mostBars + 1e-9 && (whole || leastBars === 0);
    if (!fits) no(`${at}.halfBars`, `${seat.name} takes no ${bars.toFixed(2)} bars.`, 'seats');
    const device = deviceNotes(smf, file.path, target, out);
    const keys = played && new Set(played.keys.map((k) => k.noteNumber));
    for (const n of device.notes) n.seat = place.place;
    if (keys)
      device.sift('kits', (n) =>
        keys.has(n.key) ? null : `the kit ${played.name} has no such drum`,
      );
    playThrough(device, smf, file.path);
    sound(device, out);
    out.turns.push({
      file: file.path,
      seat: place.place,
      lengthUs: place.lengthUs,
      barUs: Math.round((tempo * 4 * meter.numerator) / meter.denominator),
      next: place.next,
      ...(seat.plays ? { plays: seat.plays } : {}),
      ...(seat.from ? { leadsFrom: seat.from } : {}),
      ...(seat.to ? { leadsTo: seat.to } : {}),
    });
  });
}

/** The notes of all files of a song; what is wrong with them is said when each is played. */
function keysOf(
  crate: Crate,
  folder: string,
  files: readonly DeliveredFile[],
  target: Target,
): { key: number }[] {
  return crate.places.flatMap((place) => {
    const file = files.find((f) => f.path === `${folder}${place.file}`);
    return (file && loadSmf(file, target, new Gathering())?.notes) ?? [];
  });
}

/** Without a choice the pedal takes the kit that has the most of the song’s notes. */
function likeliest(notes: readonly { key: number }[], { kits }: Target) {
  const lacks = (k: NonNullable<typeof kits>[number]) => {
    const keys = new Set(k.keys.map((e) => e.noteNumber));
    return notes.filter((n) => !keys.has(n.key)).length;
  };
  return kits?.reduce((a, b) => (lacks(b) < lacks(a) ? b : a));
}

/** What the foot may go to from a place, of the places of this crate. */
function followers(seat: FileSlot, ids: readonly string[], seats: Target['seats']): string[] {
  const there = ids.flatMap((id): FileSlot[] => {
    const found = seats.find((s) => s.id === id);
    return found?.kind === 'file' ? [found] : [];
  });
  const out: string[] = [];
  const rounds = there.filter((p) => p.plays === 'round').map((p) => p.id);
  if (seat.plays === 'lead-in' && rounds[0] !== undefined) out.push(rounds[0]);
  if (seat.plays === 'crossing') out.push(...rounds.filter((r) => r === seat.to));
  if (seat.plays === 'break') out.push(...rounds);
  if (seat.plays === 'round') {
    if (rounds.length > 1) out.push(rounds[rounds.indexOf(seat.id) + 1] ?? rounds[0]!);
    for (const p of there) if (p.plays === 'break') out.push(p.id);
    for (const p of there) if (p.plays === 'crossing' && p.from === seat.id) out.push(p.id);
  }
  if (seat.plays === 'round' || seat.plays === 'break')
    for (const p of there) if (p.plays === 'end') out.push(p.id);
  return out;
}
