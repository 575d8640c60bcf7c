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
}

/**
 * Blocks from the first line on: at each place the repetition that covers most lines. Rows may be
 * missing from a block; its other lines may not.
 */
export function blocksOf(lines: readonly string[], kindOf: (line: string) => string): Block[] {
  const stretches = stretchesOf(lines, kindOf);
  const out: Block[] = [];
  for (let at = 0; at < stretches.length;) {
    const best = repeatedAt(stretches, at);
    if (best) {
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

/** Lines of one kind that stand together; those kinds that ever do may stand any number of times. */
function stretchesOf(lines: readonly string[], kindOf: (line: string) => string): Stretch[] {
  const kinds = lines.map(kindOf);
  const many = new Set(kinds.filter((k, i) => i > 0 && k === kinds[i - 1]));
  const out: Stretch[] = [];
  for (let i = 0; i < kinds.length;) {
    let to = i + 1;
    while (to < kinds.length && kinds[to] === kinds[i]) to++;
    out.push({ kind: kinds[i]!, from: i, to, many: many.has(kinds[i]!) });
    i = to;
  }
  return out;
}

type Found = (Stretch | null)[];

function repeatedAt(
  stretches: readonly Stretch[],
  from: number,
): { unit: readonly Stretch[]; found: Found[]; next: number } | null {
  let best: { unit: readonly Stretch[]; found: Found[]; next: number } | null = null;
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
