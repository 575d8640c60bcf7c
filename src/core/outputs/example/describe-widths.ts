import type { Value } from '../../formats/own/schema';
import type { World } from '../own/world';
import type { Found } from './found';
import { onceParts } from './line-parts';
import { type Shape, isLeaf, solve } from './solve';

interface Span {
  readonly from: number;
  readonly to: number;
}
interface Cut extends Span {
  readonly right: boolean;
}

/** Lines before a table of fixed widths, at most. */
const MOST_BEFORE = 4;

/** A table without signs between its columns: each has its place in the line. */
export function describeWidths(lines: readonly string[], world: World): Found[] {
  for (let from = 0; from <= MOST_BEFORE && lines.length - from >= 2; from++) {
    const body = lines.slice(from);
    const length = body[0]!.length;
    if (length < 3 || body.some((l) => l.length !== length)) continue;
    const cuts = cutsOf(body);
    if (!cuts) continue;
    const shape: Shape = {
      items: body.map((l) => ({
        fields: cuts.map((c, i): [string, Shape] => [
          `column ${i + 1}`,
          { leaf: l.slice(c.from, c.to).trim(), plain: false },
        ]),
      })),
      always: true,
    };
    const { solved, findings } = solve(shape, world);
    if (!('each' in solved) || !('fields' in solved.item)) continue;
    const before = lines.slice(0, from).map((l) => onceParts(l, world));
    return [
      {
        findings: [...before.flatMap((b) => b.findings), ...findings],
        container: {
          kind: 'table',
          heading: false,
          widths: cuts.map((c) => c.to - c.from),
          ...(before.length > 0 ? { before: before.map((b) => b.parts) } : {}),
          rows: solved.each,
          columns: solved.item.fields.map(([name, s], i) => ({
            name,
            value: isLeaf(s) ? placed(s.value, cuts[i]!) : { is: 'constant', value: '' },
          })),
        },
      },
    ];
  }
  return [];
}

/** A value at the right end of its column has spaces before it; at the left the table fills up. */
const placed = (value: Value, { from, to, right }: Cut): Value =>
  right && value.is !== 'case' ? { ...value, width: to - from } : value;

/**
 * Where letters stand in any line, parted by places that are empty in all. Columns whose values all end
 * at one place begin where the one before ends, others go up to where the next begins.
 */
function cutsOf(body: readonly string[]): Cut[] | null {
  const length = body[0]!.length;
  const spans: Span[] = [];
  let from = -1;
  for (let at = 0; at <= length; at++) {
    const used = at < length && body.some((l) => l[at] !== ' ');
    if (used && from < 0) from = at;
    if (!used && from >= 0) {
      spans.push({ from, to: at });
      from = -1;
    }
  }
  if (spans.length < 2) return null;
  const right = spans.map((s) => body.every((l) => l[s.to - 1] !== ' '));
  const left = spans.map((s) => body.every((l) => l[s.from] !== ' '));
  if (spans.some((_, i) => !right[i] && !left[i])) return null;
  const out: Cut[] = [];
  let begin = 0;
  for (const [i, span] of spans.entries()) {
    const next = spans[i + 1];
    const atRight = right[i]! && !(left[i]! && i > 0 && !out[i - 1]!.right);
    // A column at the left reaches to the next one, which then begins with its own first letter.
    const to = atRight || !next ? (next ? span.to : length) : next.from;
    out.push({ from: begin, to, right: atRight });
    begin = to;
  }
  return out;
}
