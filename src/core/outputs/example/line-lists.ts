import type { LineNode } from '../../formats/own/schema';
import type { World } from '../own/world';
import type { Found } from './found';
import { onceParts } from './line-parts';
import { type Shape, isLeaf, solve } from './solve';

/** A line for each strike, with its notes in a list inside it; the same letters may begin each. */
export function listLines(lines: readonly string[], world: World): Found | null {
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
