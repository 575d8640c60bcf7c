import * as z from 'zod';
import { CHAIN_VERSION } from '../formats/chain';
import { chainOf, lettersOf } from '../reading/chain';
import { deliveredEnd } from '../reading/ends';
import { microsecondsAt } from '../reading/microseconds';
import { mapsOf } from '../score/inventory';
import type { Rendition } from '../score/piece';
import { ticksPerQuarterOf } from '../score/score';
import { midiName, stemOf } from '../smf/name';
import type { Target } from '../target/schema';
import { countNothing } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { jsonBytes } from './text';

/** The chain of a delivery; the SMF writer writes the patterns that it names. */
export function chainBytes(rendition: Rendition, target: Target): Uint8Array {
  const letters = lettersOf(rendition.pieces, target);
  const patterns = rendition.pieces.flatMap((piece, i) => {
    const pattern = letters[i];
    if (!pattern) return [];
    const maps = mapsOf(piece.score);
    const end = deliveredEnd(piece);
    return [
      {
        pattern,
        file: midiName(safeName(piece.delivery.fileName)),
        bars: maps.bars.barCount(end),
        microsecondsPerQuarter: maps.clock.tempos[0]!.microsecondsPerQuarter,
        ppq: ticksPerQuarterOf(piece.score.division),
        lengthUs: microsecondsAt(maps, end),
      },
    ];
  });
  const links = chainOf(rendition, target).map(({ pattern, repeats, shift, voices }) => ({
    pattern,
    repeats,
    shift,
    voices: [...voices],
  }));
  return jsonBytes({ format: 'chain', version: CHAIN_VERSION, patterns, links });
}

export const chainName = ({ pieces }: Rendition): string =>
  `${stemOf(safeName(pieces[0]?.delivery.fileName ?? 'song'))}.chain.json`;

export const chainWriter = defineWriter({
  id: 'chain',
  format: 'chain',
  summary: 'Patterns and the order in which they are played, as JSON.',
  carries: [],
  count: countNothing,
  options: z.strictObject({}),
  write(rendition, _options, target) {
    if (rendition.pieces.length === 0) return { files: [], losses: [] };
    const beyond = lettersOf(rendition.pieces, target).filter((l) => l === null).length;
    return {
      files: [{ path: chainName(rendition), bytes: chainBytes(rendition, target) }],
      losses: beyond > 0 ? [{ what: 'patterns that there is no letter for', count: beyond }] : [],
    };
  },
});
