import type { InlineNode, LineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import { type Finding, type Shape, type Solved, isLeaf, solve } from './solve';
import type { Found } from './found';
import { onceParts, tokensOf } from './line-parts';

/** What two lines of one kind have in common: their marks, with their values left out. */
const kindOf = (line: string): string =>
  tokensOf(line)
    .map((t) => (/^-?\d/.test(t) ? '#' : /^[A-Ga-g][#♯b♭s]?-?\d$/u.test(t) ? '#' : t))
    .join('');

export function describeLines(lines: readonly string[], world: World): Found[] {
  const counts = new Map<string, number>();
  for (const line of lines) counts.set(kindOf(line), (counts.get(kindOf(line)) ?? 0) + 1);
  const out: Found[] = [];
  // One kind of line for each row, between lines that stand once.
  for (const [kind, count] of [...counts].sort((a, b) => b[1] - a[1]).slice(0, 3)) {
    if (count < 2) continue;
    const from = lines.findIndex((l) => kindOf(l) === kind);
    const to = lines.findLastIndex((l) => kindOf(l) === kind) + 1;
    const body = lines.slice(from, to);
    const once = (l: string) => onceParts(l, world);
    const before = lines.slice(0, from).map(once);
    const behind = lines.slice(to).map(once);
    const wrap = (nodes: LineNode[], findings: readonly Finding[]): Found => ({
      findings: [...before, ...behind].flatMap((b) => b.findings).concat(findings),
      container: {
        kind: 'lines',
        lines: [
          ...before.map((b): LineNode => ({ parts: b.parts })),
          ...nodes,
          ...behind.map((b): LineNode => ({ parts: b.parts })),
        ],
      },
    });
    if (body.every((l) => kindOf(l) === kind)) {
      const rows = rowLines(body, world);
      if (rows) out.push(wrap([rows.node], rows.findings));
      continue;
    }
    const sections = sectionLines(body, kind, lines.slice(0, from), world);
    if (sections) {
      const dropped = sections.took;
      const found = wrap([sections.node], sections.findings);
      if (found.container.kind === 'lines')
        found.container.lines.splice(before.length - dropped, dropped);
      out.push(found);
    }
  }
  const lists = listLines(lines, world);
  if (lists) out.push(lists);
  return out;
}

/** Lines of one kind: values where they differ, letters where they do not. */
function rowLines(
  body: readonly string[],
  world: World,
): { node: LineNode; findings: readonly Finding[] } | null {
  const tokens = body.map(tokensOf);
  const width = tokens[0]!.length;
  if (tokens.some((t) => t.length !== width)) return null;
  const varies = tokens[0]!.map((t, i) => tokens.some((o) => o[i] !== t));
  const shape: Shape = {
    items: tokens.map((row) => ({
      fields: row.flatMap((t, i): [string, Shape][] =>
        varies[i] || /^-?\d/.test(t)
          ? [[`place ${i + 1}`, { leaf: t.replace(/%$/, ''), plain: false }]]
          : [],
      ),
    })),
    always: true,
  };
  const { solved, findings } = solve(shape, world);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  return {
    node: { each: solved.each, lines: [{ parts: partsOf(tokens, solved.item.fields) }] },
    findings,
  };
}

function partsOf(
  tokens: readonly string[][],
  fields: readonly (readonly [string, Solved])[],
): InlineNode[] {
  const byPlace = new Map(fields.map(([name, s]) => [Number(name.slice(6)) - 1, s]));
  const parts: InlineNode[] = [];
  const add = (text: string) => {
    const last = parts.at(-1);
    if (typeof last === 'string') parts[parts.length - 1] = last + text;
    else if (text !== '') parts.push(text);
  };
  tokens[0]!.forEach((t, i) => {
    const solved = byPlace.get(i);
    if (!solved || !isLeaf(solved)) return add(t);
    if (solved.value.is === 'constant') add(String(solved.value.value));
    else parts.push({ value: solved.value });
    if (t.endsWith('%')) add('%');
  });
  return parts;
}

/** Sections that begin with a line of their own: a seat or a part, and its rows. */
function sectionLines(
  body: readonly string[],
  kind: string,
  before: readonly string[],
  world: World,
): { node: LineNode; findings: readonly Finding[]; took: number } | null {
  const heads: number[] = [];
  const all = [...before, ...body];
  all.forEach((l, i) => {
    if (kindOf(l) !== kind && kindOf(all[i + 1] ?? '') === kind) heads.push(i);
  });
  const first = heads[0];
  if (first === undefined) return null;
  const took = before.length - first;
  if (took < 0 || took > 1) return null;
  const sections: { head: string; rows: string[] }[] = [];
  for (let i = first; i < all.length; i++)
    if (heads.includes(i)) sections.push({ head: all[i]!, rows: [] });
    else if (kindOf(all[i]!) === kind) sections.at(-1)!.rows.push(all[i]!);
    else return null;
  const tokens = sections.map((s) => s.rows.map(tokensOf));
  const width = tokens[0]![0]!.length;
  if (tokens.flat().some((t) => t.length !== width)) return null;
  const flat = tokens.flat();
  const varies = flat[0]!.map((t, i) => flat.some((o) => o[i] !== t) || /^-?\d/.test(t));
  const heading = common(sections.map((s) => s.head));
  const shape: Shape = {
    items: sections.map((s, n) => ({
      fields: [
        [
          'head',
          {
            leaf: s.head.slice(heading.before.length, s.head.length - heading.behind.length),
            plain: false,
          },
        ],
        [
          'rows',
          {
            always: true,
            items: tokens[n]!.map((row) => ({
              fields: row.flatMap((t, i): [string, Shape][] =>
                varies[i] ? [[`place ${i + 1}`, { leaf: t.replace(/%$/, ''), plain: false }]] : [],
              ),
            })),
          },
        ],
      ],
    })),
    always: true,
  };
  const { solved, findings } = solve(shape, world);
  if (!('each' in solved) || !('fields' in solved.item)) return null;
  const [head, rows] = solved.item.fields;
  if (!head || !rows || !isLeaf(head[1]) || !('each' in rows[1]) || !('fields' in rows[1].item))
    return null;
  return {
    took,
    findings,
    node: {
      each: solved.each,
      lines: [
        {
          parts: [heading.before, { value: head[1].value }, heading.behind].filter((p) => p !== ''),
        },
        { each: rows[1].each, lines: [{ parts: partsOf(flat, rows[1].item.fields) }] },
      ],
    },
  };
}

/** What all lines begin and end with; a name is left whole between them. */
function common(lines: readonly string[]): { before: string; behind: string } {
  const [first] = lines;
  let n = 0;
  while (n < first!.length && lines.every((l) => l[n] === first![n])) n++;
  let m = 0;
  while (
    m < first!.length - n &&
    lines.every((l) => l.length - m > n && l.at(-1 - m) === first!.at(-1 - m))
  )
    m++;
  const before = first!.slice(0, n).replace(/[A-Za-z0-9]+$/, '');
  const behind = m === 0 ? '' : first!.slice(first!.length - m).replace(/^[A-Za-z0-9]+/, '');
  return { before, behind };
}

/** A line for each strike, with its notes in a list inside it; the same letters may begin each. */
function listLines(lines: readonly string[], world: World): Found | null {
  const middle = /^\D*/.exec(lines[lines.length >> 1] ?? '')![0].replace(/-$/, '');
  const begins = (l: string) => l.startsWith(middle) && /^-?\d/.test(l.slice(middle.length));
  for (const between of ['+', ',', ' ', '/', '|', '-', ';'])
    for (const lead of [': ', ' = ', '=', '\t', ' ', ':', ';', ',']) {
      const split = (l: string) => {
        const at = l.indexOf(lead, middle.length);
        return at < 0 || !begins(l)
          ? null
          : ([l.slice(middle.length, at), l.slice(at + lead.length).split(between)] as const);
      };
      const from = lines.findIndex(begins);
      const to = lines.findLastIndex(begins) + 1;
      if (from < 0 || to - from < 2) continue;
      const body = lines.slice(from, to).map(split);
      if (body.some((b) => b === null) || !body.some((b) => b![1].length > 1)) continue;
      const shape: Shape = {
        items: body.map((b) => ({
          fields: [
            ['time', { leaf: b![0], plain: false }],
            [
              'notes',
              { items: b![1].map((t): Shape => ({ leaf: t, plain: false })), always: true },
            ],
          ],
        })),
        always: true,
      };
      const { solved, findings } = solve(shape, world);
      if (
        !('each' in solved) ||
        !('fields' in solved.item) ||
        findings.some((f) => f.is === 'unexplained')
      )
        continue;
      const [time, notes] = solved.item.fields;
      if (!time || !notes || !isLeaf(time[1]) || !('each' in notes[1]) || !isLeaf(notes[1].item))
        continue;
      const once = (l: string): LineNode => ({ parts: onceParts(l, world).parts });
      return {
        findings,
        container: {
          kind: 'lines',
          lines: [
            ...lines.slice(0, from).map(once),
            {
              each: solved.each,
              lines: [
                {
                  parts: [
                    ...(middle === '' ? [] : [middle]),
                    { value: time[1].value },
                    lead,
                    { each: notes[1].each, between, parts: [{ value: notes[1].item.value }] },
                  ],
                },
              ],
            },
            ...lines.slice(to).map(once),
          ],
        },
      };
    }
  return null;
}
