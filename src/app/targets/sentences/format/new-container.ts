import type { Container, OwnFile, Value } from '../../../../core/formats/own/schema';

const at: Value = { is: 'time', of: 'start', unit: 'ms' };
const key: Value = { is: 'key', as: 'number' };
const each = { of: 'notes' } as const;

/** What a file is begun with: a row for each note, its start and its key. */
export function newContainer(kind: Container['kind']): Container {
  switch (kind) {
    case 'table':
      return {
        kind,
        rows: each,
        columns: [
          { name: 'start', value: at },
          { name: 'note', value: key },
        ],
      };
    case 'lines':
      return { kind, lines: [{ each, lines: [{ parts: [{ value: at }, ' ', { value: key }] }] }] };
    case 'json':
      return {
        kind,
        indent: 2,
        root: {
          object: [
            {
              key: 'notes',
              node: {
                each,
                node: {
                  object: [
                    { key: 'start', node: { value: at } },
                    { key: 'note', node: { value: key } },
                  ],
                },
              },
            },
          ],
        },
      };
    case 'xml':
      return {
        kind,
        root: {
          name: 'notes',
          children: [
            {
              each,
              name: 'note',
              attributes: [
                { name: 'start', value: at },
                { name: 'key', value: key },
              ],
            },
          ],
        },
      };
    case 'binary':
      return {
        kind,
        order: 'little',
        fields: [
          { int: 4, value: { is: 'count', of: each } },
          {
            each,
            fields: [
              { int: 4, value: at },
              { int: 1, value: key },
            ],
          },
        ],
      };
  }
}

export const newFile = (): OwnFile => ({ path: '{file}.txt', container: newContainer('lines') });
