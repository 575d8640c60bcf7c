import type { Piece } from './piece';
import { buildFile } from '../smf/build';
import { divisionWord, type SmfFile } from '../smf/file';
import { layoutOf } from './layout';
import { toTrack } from './to-tracks';

/** A piece as a file of new tracks, laid out as its delivery says. */
export function fileOf(piece: Piece): SmfFile {
  const tracks = layoutOf(piece).map((selection) => toTrack(piece.score, selection));
  return buildFile(piece.delivery.format, divisionWord(piece.score.division), tracks);
}
