// Lines as blocks: what stands once, what is repeated, and what is repeated with lines of its own inside.

/** A kind of line inside a block: there once, or any number of times behind each other. */
export interface BlockLine {
  readonly many: boolean;
  /** The lines of each occurrence of the block; one where it stands once. */
  readonly lines: readonly (readonly string[])[];
}
export type Block =
  | { readonly once: string }
  /** Lines of one kind behind each other. */
  | { readonly rows: readonly string[] }
  /** Several kinds, again and again. */
  | { readonly blocks: readonly BlockLine[]; readonly times: number };

/** More kinds behind each other are no block. */
const MOST_KINDS = 12;

interface Stretch {
  readonly kind: string;
  readonly from: number;
  readonly to: number;
  readonly many: boolean;
  readonly kindAt: (line: number) => string | undefined;
}

/**
 * Blocks from the first line on: at each place the repetition that covers most lines. Rows may be
 * missing from a block; its other lines may not.
 * @param apart so many stretches of one kind at the beginning are no part of what is repeated
 */
export function blocksOf(
  lines: readonly string[],
  kindOf: (line: string) => string,
  apart = 0,
): Block[] {
  const stretches = stretchesOf(lines, kindOf);
  const out: Block[] = [];
  for (let at = 0; at < stretches.length;) {
    const best = at < apart ? null : repeatedAt(stretches, at);
    if (best) {
      lead(best, out);
      out.push({
        times: best.found.length,
        blocks: best.unit.map(({ many }, n) => ({
          many,
          lines: best.found.map((own) => {
            const s = own[n];
            return s ? lines.slice(s.from, s.to) : [];
          }),
        })),
      });
      at = best.next;
      continue;
    }
    const { from, to } = stretches[at]!;
    if (to - from > 1) out.push({ rows: lines.slice(from, to) });
    else out.push({ once: lines[from]! });
    at++;
  }
  return out;
}

/**
 * Rows right before blocks that begin with a line and end with such rows: the first block, whose line
 * is left out.
 */
function lead({ unit, found }: Repeated, out: Block[]): void {
  const [head, rows] = unit;
  const last = out.at(-1);
  if (unit.length !== 2 || head!.many || !rows!.many || !last || !found[0]?.[0]) return;
  const from = found[0][0].from;
  const before = 'rows' in last ? last.rows.length : 'once' in last ? 1 : 0;
  if (before === 0 || rows!.kind !== rows!.kindAt(from - 1)) return;
  out.pop();
  found.unshift([null, { ...rows!, from: from - before, to: from }]);
}

/** Lines of one kind that stand together; those kinds that ever do may stand any number of times. */
function stretchesOf(lines: readonly string[], kindOf: (line: string) => string): Stretch[] {
  const kinds = lines.map(kindOf);
  const many = new Set(kinds.filter((k, i) => i > 0 && k === kinds[i - 1]));
  const out: Stretch[] = [];
  for (let i = 0; i < kinds.length;) {
    let to = i + 1;
    while (to < kinds.length && kinds[to] === kinds[i]) to++;
    out.push({
      kind: kinds[i]!,
      from: i,
      to,
      many: many.has(kinds[i]!),
      kindAt: (line) => kinds[line],
    });
    i = to;
  }
  return out;
}

type Found = (Stretch | null)[];
interface Repeated {
  readonly unit: readonly Stretch[];
  readonly found: Found[];
  readonly next: number;
}

function repeatedAt(stretches: readonly Stretch[], from: number): Repeated | null {
  let best: Repeated | null = null;
  for (let size = 2; size <= MOST_KINDS && from + size <= stretches.length; size++) {
    const unit = stretches.slice(from, from + size);
    // A block that begins again inside itself is a shorter one.
    if (unit.slice(1).some((s) => s.kind === unit[0]!.kind && !s.many)) break;
    const found: Found[] = [];
    let at = from;
    for (;;) {
      const own = matchAt(stretches, at, unit);
      if (!own) break;
      found.push(own.found);
      at = own.next;
    }
    if (found.length >= 2 && (!best || at > best.next)) best = { unit, found, next: at };
  }
  return best;
}

function matchAt(stretches: readonly Stretch[], from: number, unit: readonly Stretch[]) {
  const found: Found = [];
  let at = from;
  for (const [n, { kind, many }] of unit.entries()) {
    const own = stretches[at];
    if (own?.kind === kind && (many || own.to - own.from === 1)) {
      found.push(own);
      at++;
    } else if (many && n > 0) found.push(null);
    else return null;
  }
  return at === from ? null : { found, next: at };
}
