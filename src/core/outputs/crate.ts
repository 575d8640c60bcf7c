import * as z from 'zod';
import { CRATE_VERSION } from '../formats/crate';
import { asDelivered } from '../reading/as-delivered';
import { deliveredEnd } from '../reading/ends';
import { microsecondsAt } from '../reading/microseconds';
import { placeOfPiece, placesOf } from '../reading/places';
import { mapsOf } from '../score/inventory';
import { ticksPerQuarterOf } from '../score/score';
import { fileOf } from '../score/to-file';
import { midiName } from '../smf/name';
import { writeSmf } from '../smf/write';
import { ALL_OF_MIDI } from './counts/music';
import { countCrate } from './counts/of-files';
import { defineWriter, safeName, type OutputFile } from './define-writer';
import { jsonBytes } from './text';

/** What may follow a place, by the roles that the ids say: count, b1 …, k1 …, x12 …, hit. */
export function followersOf(id: string, taken: readonly string[]): string[] {
  const beds = taken.filter((t) => /^b\d+$/.test(t));
  const among = (wanted: readonly string[]) => wanted.filter((t) => taken.includes(t));
  const crossing = /^x(\d)(\d)$/.exec(id);
  if (crossing) return among([`b${crossing[2]}`]);
  if (id === 'hit') return [];
  if (id === 'count') return beds.slice(0, 1);
  if (/^k\d+$/.test(id)) return [...beds, ...among(['hit'])];
  const at = beds.indexOf(id);
  if (at < 0) return [];
  const breaks = taken.filter((t) => /^k\d+$/.test(t));
  const crossings = taken.filter((t) => new RegExp(`^x${id.slice(1)}\\d$`).test(t));
  const next = beds.length > 1 ? [beds[(at + 1) % beds.length]!] : [];
  return [...next, ...breaks, ...crossings, ...among(['hit'])];
}

export const crateWriter = defineWriter({
  id: 'crate',
  format: 'crate',
  summary: 'A folder a song: a MIDI file for each place, and the crate that names them.',
  carries: ALL_OF_MIDI,
  count: countCrate,
  options: z.strictObject({}),
  write({ pieces }, _options, target) {
    const files: OutputFile[] = [];
    const places = placesOf(target.seats);
    const { displayName, kit } = pieces[0]?.delivery.metadata ?? {};
    const folder = safeName(displayName ?? 'song', 'song');
    const taken = new Map<string, number>();
    let beside = 0;
    pieces.forEach((piece, index) => {
      const place = placeOfPiece(piece, target.seats);
      if (!place) beside++;
      const path = midiName(place ? place.fileName : safeName(piece.delivery.fileName));
      if (place && !taken.has(place.id)) taken.set(place.id, index);
      files.push({
        path: `${folder}/${path}`,
        bytes: writeSmf(fileOf(asDelivered(piece, target))),
        piece: index,
        holds: index,
      });
    });
    const ids = places.filter((p) => taken.has(p.id)).map((p) => p.id);
    const first = pieces[taken.get(ids[0] ?? '') ?? 0];
    if (!first || ids.length === 0)
      return { files, losses: [{ what: 'crate: no file takes a place', count: 1 }] };
    const maps = mapsOf(first.score);
    const meter = maps.bars.meters[0]!;
    const crate = jsonBytes({
      format: 'crate',
      version: CRATE_VERSION,
      name: displayName ?? folder,
      kit: kit ?? null,
      microsecondsPerQuarter: maps.clock.tempos[0]!.microsecondsPerQuarter,
      meter: { numerator: meter.numerator, denominator: meter.denominator },
      ppq: ticksPerQuarterOf(first.score.division),
      places: ids.map((id) => {
        const { name, fileName } = places.find((p) => p.id === id)!;
        const piece = pieces[taken.get(id)!]!;
        const own = mapsOf(piece.score);
        const end = deliveredEnd(piece);
        const bar = own.bars.barStart(1) - own.bars.barStart(0);
        return {
          place: id,
          name,
          file: fileName,
          halfBars: Math.max(1, Math.round((end * 2) / bar)),
          lengthTicks: Math.max(1, end),
          lengthUs: microsecondsAt(own, end),
          next: followersOf(id, ids),
        };
      }),
    });
    files.push({ path: `${folder}/crate.json`, bytes: crate });
    const losses =
      beside > 0 ? [{ what: 'files that take no place, not in the crate', count: beside }] : [];
    return { files, losses };
  },
});
