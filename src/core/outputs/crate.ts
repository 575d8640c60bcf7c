import * as z from 'zod';
import { CRATE_VERSION } from '../formats/crate';
import { asDelivered } from '../reading/as-delivered';
import { deliveredEnd } from '../reading/ends';
import { microsecondsAt } from '../reading/microseconds';
import { placeOfPiece, placesOf, type FileSeat } from '../reading/places';
import { mapsOf } from '../score/inventory';
import { ticksPerQuarterOf } from '../score/score';
import { fileOf } from '../score/to-file';
import { midiName } from '../smf/name';
import { writeSmf } from '../smf/write';
import { ALL_OF_MIDI } from './counts/kinds';
import { countCrate } from './counts/of-files';
import { defineWriter, safeName, type OutputFile } from './define-writer';
import { jsonBytes } from './text';

/** The places that may follow one, of those that are taken, by what the target says they play. */
export function followersOf({ id, plays, to }: FileSeat, taken: readonly FileSeat[]): string[] {
  const all = (wanted: FileSeat['plays']) => taken.filter((t) => t.plays === wanted);
  const rounds = all('round');
  const follow = (): readonly FileSeat[] => {
    switch (plays) {
      case 'lead-in':
        return rounds.slice(0, 1);
      case 'break':
        return [...rounds, ...all('end')];
      case 'crossing':
        return rounds.filter((t) => t.id === to);
      case 'round': {
        const at = rounds.findIndex((t) => t.id === id);
        const next = rounds.length > 1 ? [rounds[(at + 1) % rounds.length]!] : [];
        const crossings = all('crossing').filter((t) => t.from === id);
        return [...next, ...all('break'), ...crossings, ...all('end')];
      }
      default:
        return [];
    }
  };
  return follow().map((t) => t.id);
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
    // A file in which nothing stands has no length, and takes no place.
    const held = places.filter(
      (p) => taken.has(p.id) && deliveredEnd(pieces[taken.get(p.id)!]!) > 0,
    );
    const first = pieces[taken.get(held[0]?.id ?? '') ?? 0];
    if (!first || held.length === 0)
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
      places: held.map((place) => {
        const { id, name, fileName } = place;
        const piece = pieces[taken.get(id)!]!;
        const own = mapsOf(piece.score);
        const end = deliveredEnd(piece);
        const bar = own.bars.barStart(1) - own.bars.barStart(0);
        return {
          place: id,
          name,
          file: fileName,
          halfBars: Math.max(1, Math.round((end * 2) / bar)),
          lengthTicks: end,
          lengthUs: microsecondsAt(own, end),
          next: followersOf(place, held),
        };
      }),
    });
    files.push({ path: `${folder}/crate.json`, bytes: crate });
    const losses =
      beside > 0 ? [{ what: 'files that take no place, not in the crate', count: beside }] : [];
    return { files, losses };
  },
});
