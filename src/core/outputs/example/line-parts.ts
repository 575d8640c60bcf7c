import type { InlineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import { type Finding, isLeaf, solve } from './solve';

export const NUMERIC = /^-?\d+([.,]\d+)?$/;
/**
 * Numbers that colons hold together, as a clock or a place, are one; so is the name of a note. Digits
 * behind a word are a number of their own, and a hyphen behind one is no minus.
 */
const NUMBERS = String.raw`(?<![\p{L}\p{N}])0x(?=[0-9A-Fa-f])|(?<=(?<![\p{L}\p{N}])0x)[0-9A-Fa-f]+|\d+(?::\d+)+(?:[.,;]\d+)?|(?<![\p{L}\p{N}])-?\d+(?:\.\d+)?%?|\d+(?:\.\d+)?%?`;
const NAMES = String.raw`(?<![\p{L}\p{N}])[A-G][#♯b♭s]?-?\d(?![\p{L}\p{N}])`;
const OTHERS = String.raw`[A-Za-z_♯♭#]+|[^\sA-Za-z0-9]|\s+`;
const TOKEN = new RegExp(`(?:${NUMBERS}|${NAMES}|${OTHERS})`, 'gu');
const TOKEN_WITHOUT = new RegExp(`(?:${NUMBERS}|${OTHERS})`, 'gu');

/** How lines are cut: into numbers, names that the score knows, words, and what stands between. */
export interface Lexer {
  /** A line as values and what stands between them. */
  readonly tokensOf: (line: string) => string[];
  /** What two lines of one kind have in common: their marks, with their values left out. */
  readonly kindOf: (line: string) => string;
  readonly isValue: (token: string) => boolean;
  /** The entries of a long list, and what parts them; null of every other token. */
  readonly listOf: (token: string) => { between: string; entries: string[] } | null;
}

/** Fewer entries are no list: two or three numbers beside each other are values of their own. */
const LEAST_ENTRIES = 4;
const BETWEEN = [', ', ',', '; ', ';', ' | ', '|', ' + ', '+', ' '];

const NUMBER_FIRST = /^-?\d/;
const NOTE_NAME = /^[A-G][#♯b♭s]?-?\d$/u;
const MOST_NAMES = 400;
const literal = (text: string) => text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');

/** @param noteNames `C1` is the name of a note; else a word with a number behind it. */
export function lexerOf({ target, piece, notes }: World, noteNames = true): Lexer {
  const pattern = noteNames ? TOKEN : TOKEN_WITHOUT;
  const all = new Set([
    ...target.seats.map((s) => s.name),
    ...notes.parts.map((p) => p.name),
    ...piece.score.conductor.markers.map((m) => m.text),
    ...(piece.captions ?? []).map((c) => c.text),
  ]);
  // Letters that are met everywhere are no names.
  const names = [...all]
    .filter((n) => n.length > 1 && /\p{L}{2}/u.test(n) && !/[\r\n]/.test(n))
    .sort((a, b) => b.length - a.length)
    .slice(0, MOST_NAMES);
  const known = new Set(names);
  const named =
    names.length === 0
      ? null
      : new RegExp(`(?<![\\p{L}\\p{N}])(${names.map(literal).join('|')})(?![\\p{L}\\p{N}])`, 'u');
  const isValue = (t: string) =>
    (NUMBER_FIRST.test(t) && t !== '0x') || NOTE_NAME.test(t) || known.has(t);
  const bare = (line: string) =>
    (named ? line.split(named) : [line]).flatMap((piece, i) =>
      i % 2 === 1 ? [piece] : (piece.match(pattern) ?? []),
    );
  const marked = (tokens: readonly string[]) =>
    tokens
      .map((t, i) => {
        if (known.has(t)) return '§';
        if (t === '0x') return t;
        return tokens[i - 1] === '0x' || NUMBER_FIRST.test(t) || NOTE_NAME.test(t) ? '#' : t;
      })
      .join('');
  const lists = new Map<string, { between: string; entries: string[] }>();
  const tokensOf = (line: string): string[] => {
    const found = listIn(line, bare, marked);
    if (!found) return bare(line);
    lists.set(found.text, found);
    return [...bare(found.before), found.text, ...bare(found.behind)];
  };
  const listOf = (token: string) => lists.get(token) ?? null;
  const kindOf = (line: string) => {
    const tokens = tokensOf(line);
    const at = tokens.findIndex((t) => lists.has(t));
    const list = lists.get(tokens[at] ?? '');
    if (!list) return marked(tokens);
    const entry = marked(bare(list.entries[0]!));
    return `${marked(tokens.slice(0, at))}⟦${list.between}${entry}⟧${marked(tokens.slice(at + 1))}`;
  };
  return { tokensOf, kindOf, isValue, listOf };
}

interface ListIn {
  readonly before: string;
  readonly text: string;
  readonly behind: string;
  readonly between: string;
  readonly entries: string[];
}

/** Entries of one kind behind each other, with what stands before the first and behind the last. */
function listIn(
  line: string,
  bare: (text: string) => string[],
  marked: (tokens: readonly string[]) => string,
): ListIn | null {
  for (const between of BETWEEN) {
    const pieces = line.split(between);
    if (pieces.length < LEAST_ENTRIES) continue;
    const kind = marked(bare(pieces[1]!));
    if (!kind.includes('#') && !kind.includes('§')) continue;
    if (pieces.slice(1, -1).some((p) => marked(bare(p)) !== kind)) continue;
    const head = bare(pieces[0]!);
    const tail = bare(pieces.at(-1)!);
    let from = head.length;
    while (from > 0 && marked(head.slice(from)) !== kind) from--;
    let to = 0;
    while (to < tail.length && marked(tail.slice(0, to)) !== kind) to++;
    // What is no entry itself stands before the first of them, or behind the last.
    const isFirst = marked(head.slice(from)) === kind;
    const isLast = marked(tail.slice(0, to)) === kind;
    const entries = [
      ...(isFirst ? [head.slice(from).join('')] : []),
      ...pieces.slice(1, -1),
      ...(isLast ? [tail.slice(0, to).join('')] : []),
    ];
    if (entries.length < LEAST_ENTRIES) continue;
    return {
      before: isFirst ? head.slice(0, from).join('') : pieces[0]! + between,
      text: entries.join(between),
      behind: isLast ? tail.slice(to).join('') : between + pieces.at(-1)!,
      between,
      entries,
    };
  }
  return null;
}

/** A line that stands once: values where a fact is met, else letters. */
export function onceParts(
  line: string,
  world: World,
): { parts: InlineNode[]; findings: Finding[] } {
  const findings: Finding[] = [];
  const title = world.facts.get('title') ?? '';
  const marked = [title, world.facts.get('file') ?? ''].filter((t) => t.length > 1);
  for (const words of marked) {
    const from = line.indexOf(words);
    if (from < 0) continue;
    const before = onceParts(line.slice(0, from), world);
    const behind = onceParts(line.slice(from + words.length), world);
    const key = words === title ? 'title' : 'file';
    return {
      parts: [...before.parts, { value: { is: 'fact', key } }, ...behind.parts],
      findings: [
        ...before.findings,
        { where: `line “${line.slice(0, 30)}”`, says: `the ${key}`, rows: 1, is: 'explained' },
        ...behind.findings,
      ],
    };
  }
  const parts: InlineNode[] = [];
  const add = (text: string) => {
    const last = parts.at(-1);
    if (typeof last === 'string') parts[parts.length - 1] = last + text;
    else parts.push(text);
  };
  // Numbers alone: a digit inside a word belongs to it.
  for (const piece of line.split(/((?<![\w.])-?\d+(?:\.\d+)?(?![\w.]))/)) {
    if (!NUMERIC.test(piece)) {
      if (piece !== '') add(piece);
      continue;
    }
    const { solved, findings: found } = solve({ leaf: piece, plain: false }, world);
    if (isLeaf(solved) && solved.sure) {
      parts.push({ value: solved.value });
      findings.push(...found.map((f) => ({ ...f, where: `line “${line.slice(0, 30)}”` })));
    } else add(piece);
  }
  return { parts, findings };
}
