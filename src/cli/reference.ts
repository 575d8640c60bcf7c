import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import * as z from 'zod';
import { damageRows } from '../core/diagnostic/damage';
import { writers } from '../core/outputs/index';
import { rules } from '../core/rules/index';
import { steps } from '../core/steps/index';
import { builtInTargets } from '../core/target/index';
import { TargetSchema } from '../core/target/schema';
import { wordsOf } from '../core/target/words';
import { lines as jsonLines } from './schema';

/** Writes the reference pages of the docs from the code, so that they cannot differ from it. */
const folder = process.argv[2] ?? 'docs/reference';
mkdirSync(folder, { recursive: true });
const page = (name: string, title: string, lines: readonly string[]) =>
  writeFileSync(
    join(folder, name),
    `# ${title}\n\nGenerated from the code by \`npm run generate\`; do not edit.\n\n${lines.join('\n')}\n`,
  );
const cell = (text: string) => text.replaceAll('|', '\\|').replaceAll('\n', ' ');
const row = (...cells: string[]) => `| ${cells.map(cell).join(' | ')} |`;
const table = (head: readonly string[], rows: readonly string[]) => [
  row(...head),
  row(...head.map(() => '---')),
  ...rows,
];

page('damage.md', 'Damage codes', [
  'What can be wrong with the bytes of a source: what is said, what the reader did, what to do.',
  'Each is said with its byte offset and, inside a track, its track.',
  '',
  ...table(
    ['code', 'usable', 'what', 'what was done', 'what to do'],
    damageRows().map((d) => row(`\`${d.code}\``, d.fatal ? 'no' : 'yes', d.what, d.done, d.todo)),
  ),
]);

/** Facts that show a sentence with its blanks. */
const blanks = new Proxy({}, { get: (_, key) => `‹${String(key)}›` }) as Record<string, string>;
const words = wordsOf(builtInTargets[0]!);
page('rules.md', 'Rules', [
  'Each rule reads one block of a target; it is silent where the block is absent. Blanks of the',
  'sentences stand in ‹…›; targets are called here as the lantern rail is.',
  ...rules.flatMap((rule) => [
    '',
    `## ${rule.id}`,
    '',
    `${rule.summary} Block: ${rule.block === null ? 'none, it holds for every target' : `\`${rule.block}\``}. Mended in the phase “${rule.phase}”.`,
    '',
    ...table(
      ['code', 'title', 'what is wrong', 'what the target will do'],
      Object.entries(rule.codes).map(([code, text]) =>
        row(`\`${code}\``, text.title, text.wrong(blanks, words), text.then(blanks, words)),
      ),
    ),
  ]),
]);

interface Property {
  type?: string;
  description?: string;
  enum?: unknown[];
}
page('steps.md', 'Steps', [
  'Each step is pure, has a scope (everything, some parts, a stretch, chosen notes) and says what it',
  'did in counts.',
  ...steps.flatMap((step) => {
    const schema = z.toJSONSchema(step.params, { io: 'input' }) as {
      properties?: Record<string, Property>;
      required?: string[];
    };
    const rows = Object.entries(schema.properties ?? {}).map(([name, p]) =>
      row(
        `\`${name}\``,
        p.enum ? p.enum.map((v) => `\`${String(v)}\``).join(', ') : (p.type ?? 'any'),
        schema.required?.includes(name) ? 'yes' : 'no',
        p.description ?? '',
      ),
    );
    return [
      '',
      `## ${step.id}`,
      '',
      `${step.title}. ${step.summary}`,
      ...(rows.length > 0 ? ['', ...table(['parameter', 'kind', 'needed', 'meaning'], rows)] : []),
    ];
  }),
]);

page('targets.md', 'Targets', [
  'The built-in targets. All are invented. `wary-quill targets ID --json` prints the same data.',
  ...builtInTargets.flatMap((t) => [
    '',
    `## ${t.name} (\`${t.id}\` ${t.version})`,
    '',
    `${t.summary}.`,
    '',
    '```json',
    JSON.stringify(t, null, 2),
    '```',
  ]),
]);

page('outputs.md', 'Outputs', [
  ...table(
    ['writer', 'what it writes'],
    writers.map((w) => row(`\`${w.id}\``, w.summary)),
  ),
]);

writeFileSync(
  join(folder, 'cli.schema.json'),
  `${JSON.stringify(
    Object.fromEntries(Object.entries(jsonLines).map(([name, of]) => [name, z.toJSONSchema(of)])),
    null,
    2,
  )}\n`,
);
writeFileSync(
  join(folder, 'target.schema.json'),
  `${JSON.stringify(z.toJSONSchema(TargetSchema, { io: 'input' }), null, 2)}\n`,
);
