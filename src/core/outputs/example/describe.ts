import { XMLValidator } from 'fast-xml-parser';
import { decode } from '../../formats/own/encoding';
import { doubtsOf } from '../../formats/own/doubts';
import type { Encoding, Format, OwnFile } from '../../formats/own/schema';
import type { Piece } from '../../score/piece';
import { slugOf } from '../../target/words';
import type { Target } from '../../target/schema';
import { worldOf } from '../own/rows';
import { type World } from '../own/world';
import { writeFormat } from '../own/write';
import { describeBinary } from './binary';
import type { Finding } from './solve';
import { describeLines } from './describe-lines';
import { describeGrid } from './describe-grid';
import { describeTable } from './describe-table';
import { describeWidths } from './describe-widths';
import type { Found } from './found';
import { describeJson } from './describe-json';
import { describeXml } from './describe-xml';

/** What an example was found to be, with what is explained of it and what is not. */
export interface Described {
  readonly format: Format;
  readonly findings: readonly Finding[];
  /** Written again from the same score it has the very same bytes. */
  readonly identical: boolean;
  /** The first byte that is written otherwise. */
  readonly differsAt: number | null;
  readonly doubts: readonly string[];
}

/** A file that the far side takes, explained by the score that it was made from. */
export function describeExample(
  bytes: Uint8Array,
  name: string,
  piece: Piece,
  target: Target,
): Described | { readonly problem: string } {
  if (bytes.length === 0) return { problem: 'The example is empty.' };
  const world = worldOf(piece, target);
  if (world.notes.count === 0)
    return { problem: 'The score has no notes: nothing can be explained by it.' };
  const ending = /\.[A-Za-z0-9]{1,12}$/.exec(name)?.[0] ?? '.txt';
  const path = name.replace(/\.[^.]*$/, '') === world.facts.get('file') ? `{file}${ending}` : name;
  let best: Described | null = null;
  const consider = (file: Omit<OwnFile, 'path'>, findings: readonly Finding[]) => {
    const own = inOwnTicks(file, world.ppq);
    const piece = `PPQ ${world.ppq}`;
    if (own)
      considerOne(
        own,
        findings.map((f) => ({ ...f, says: f.says.replace(piece, 'the PPQ that it tells') })),
      );
    considerOne(file, findings);
  };
  const considerOne = (file: Omit<OwnFile, 'path'>, findings: readonly Finding[]) => {
    const format: Format = {
      formatVersion: 1,
      id: slugOf(name.replace(/\.[^.]*$/, '')) || 'own',
      name: name.replace(/\.[^.]*$/, '') || 'Own format',
      files: [{ path, ...file }],
    };
    const [written] = writeFormat(format, [piece], target).files;
    const differsAt = written ? firstDifference(written.bytes, bytes) : 0;
    const doubts = doubtsOf(format).map((d) => d.says);
    const described = { format, findings, identical: differsAt === null, differsAt, doubts };
    if (!best || score(described) > score(best)) best = described;
  };
  const text = isText(bytes);
  if (text) {
    const encoding = text.encoding === 'utf-8' ? {} : { encoding: text.encoding };
    for (const { container, findings } of describeText(text.text, world)) {
      consider({ ...encoding, ...endingsOf(text.text), container }, findings);
      // What is explained to the last byte is not looked at in another way; the next is not begun.
      if (best !== null && isWhole(best)) break;
    }
  } else
    for (const { container, findings } of describeBinary(bytes, world))
      consider({ container }, findings);
  return (
    best ?? { problem: 'No container was recognised: neither text, JSON, XML, table nor records.' }
  );
}

/** Where a file tells its PPQ its ticks are those of the piece, whatever its PPQ. */
function inOwnTicks(file: Omit<OwnFile, 'path'>, ppq: number): Omit<OwnFile, 'path'> | null {
  const text = JSON.stringify(file);
  if (!text.includes('"key":"ppq"') || !text.includes(`"ppq":${ppq}`)) return null;
  const isTicks = (v: unknown): v is { is: 'time'; ppq?: number } =>
    typeof v === 'object' && v !== null && (v as { is?: unknown }).is === 'time';
  return JSON.parse(text, (_, v: unknown) => {
    if (!isTicks(v) || v.ppq !== ppq) return v;
    return Object.fromEntries(Object.entries(v).filter(([key]) => key !== 'ppq'));
  }) as Omit<OwnFile, 'path'>;
}

const isWhole = ({ identical, doubts, findings }: Described): boolean =>
  identical && doubts.length === 0 && findings.every((f) => f.is === 'explained');

const score = (d: Described): number =>
  (d.identical ? 1000 : 0) -
  d.findings.filter((f) => f.is === 'unexplained').length * 20 -
  d.doubts.length -
  // Of two that say the same the shorter: what is written out as letters explains nothing.
  JSON.stringify(d.format).length / 5000 +
  (d.format.files[0]!.container.kind === 'table' ? 0.5 : 0) +
  d.findings.filter((f) => f.is === 'explained').length +
  (d.differsAt ?? 0) / 1e9;

function firstDifference(a: Uint8Array, b: Uint8Array): number | null {
  const most = Math.max(a.length, b.length);
  for (let i = 0; i < most; i++) if (a[i] !== b[i]) return i;
  return null;
}

/** The text of an example and its encoding; null where its bytes are none. */
function isText(bytes: Uint8Array): { text: string; encoding: Encoding } | null {
  const [a, b, c] = bytes;
  if (a === 0xff && b === 0xfe) return read(bytes, 'utf-16le');
  if (a === 0xfe && b === 0xff) return read(bytes, 'utf-16be');
  if (a === 0xef && b === 0xbb && c === 0xbf) return read(bytes, 'utf-8-mark');
  for (const byte of bytes) if (byte < 9 || (byte > 13 && byte < 32 && byte !== 27)) return null;
  return read(bytes, 'utf-8') ?? read(bytes, 'shift-jis') ?? read(bytes, 'latin-1');
}

const read = (bytes: Uint8Array, encoding: Encoding) => {
  const text = decode(bytes, encoding);
  return text === null ? null : { text, encoding };
};

/** How its lines end. */
function endingsOf(text: string): Pick<OwnFile, 'lineEnd' | 'lastLineEnd'> {
  const lineEnd = text.includes('\r\n')
    ? ('crlf' as const)
    : text.includes('\n')
      ? ('lf' as const)
      : text.includes('\r')
        ? ('cr' as const)
        : ('lf' as const);
  const end = { lf: '\n', crlf: '\r\n', cr: '\r' }[lineEnd];
  return {
    ...(lineEnd === 'lf' ? {} : { lineEnd }),
    ...(text.endsWith(end) ? {} : { lastLineEnd: false }),
  };
}

function* describeText(text: string, world: World): Iterable<Found> {
  const trimmed = text.trimStart();
  if (/^[{[]/.test(trimmed)) {
    const found = describeJson(text, world);
    if (found.length > 0) return yield* found;
  }
  if (trimmed.startsWith('<') && XMLValidator.validate(text) === true)
    return yield* describeXml(text, world);
  const lines = text.split(/\r\n|\n|\r/);
  if (lines.at(-1) === '') lines.pop();
  yield* describeTable(lines, world);
  yield* describeWidths(lines, world);
  yield* describeGrid(lines, world);
  yield* describeLines(lines, world);
}
