import type { Damage } from '../../diagnostic/damage';
import type { SmfFile } from '../../smf/file';
import { stemOf } from '../../smf/name';
import { decodeUtf8 } from '../../smf/text';
import { captionsReader } from './captions';
import { chartReader } from './chart';
import { toDamage, type SourceExtras, type SourceReader } from './define-reader';
import { holeListReader, timeListReader } from './lists';
import { readOwn, type OwnFormats } from './own';

export type { SourceExtras } from './define-reader';

/** Formats of ours that can be brought in. */
export const sourceReaders: readonly SourceReader[] = [
  chartReader,
  captionsReader,
  holeListReader,
  timeListReader,
];

/** The longest text that is read as a source, in bytes. */
const LONGEST_TEXT_BYTES = 64 * 1024 * 1024;

export type ReadText =
  | {
      /** Its events, as those of a file of format 1; it has no bytes of its own. */
      readonly file: SmfFile;
      readonly extras: SourceExtras;
      readonly doubts: readonly Damage[];
    }
  | { readonly damage: readonly Damage[] };

/** The name that a delivery begins with: a text of ours goes out as music under its own stem. */
export const musicName = (name: string): string =>
  `${stemOf(name).replace(/(\.chart\.json|-times\.csv|-holes\.csv|\.json|\.csv|\.vtt)$/i, '')}.mid`;

const startsLike = (bytes: Uint8Array, text: string) =>
  [...text].every((c, i) => bytes[i] === c.charCodeAt(0));

/** A file of a format of somebody's own as a score; null where none of them reads it. */
export function readOwnText(bytes: Uint8Array, own: OwnFormats): ReadText | null {
  if (bytes.length > LONGEST_TEXT_BYTES || startsLike(bytes, 'MThd')) return null;
  const made = readOwn(bytes, own);
  if (made === null) return null;
  if ('fault' in made) return { damage: [toDamage('text-unreadable', made.fault)] };
  return { file: made.file, extras: made.extras, doubts: [] };
}

/** A text of one of our formats as a score; null where the bytes are no text of ours. */
export function readText(bytes: Uint8Array, name: string): ReadText | null {
  const named = /\.(json|csv|vtt)$/i.test(name);
  if (!named && !startsLike(bytes, 'WEBVTT')) return null;
  if (startsLike(bytes, 'MThd')) return null;
  const fault = (place: string, says: string): ReadText => ({
    damage: [toDamage('text-unreadable', { place, says })],
  });
  if (bytes.length > LONGEST_TEXT_BYTES)
    return fault('the whole file', 'The text is longer than 64 MB.');
  const withoutMark = startsLike(bytes, '\u00ef\u00bb\u00bf') ? bytes.subarray(3) : bytes;
  const text = decodeUtf8(withoutMark);
  if (text === null) return fault('line 1', 'The bytes are not UTF-8.');
  const reader = sourceReaders.find((r) => r.suits(text));
  if (!reader) return fault('line 1', 'It is none of the formats that can be brought in.');
  const made = reader.read(text);
  if ('fault' in made) return fault(made.fault.place, made.fault.says);
  return {
    file: made.file,
    extras: made.extras,
    doubts: made.doubts.map((d) => toDamage('text-doubtful', d)),
  };
}
