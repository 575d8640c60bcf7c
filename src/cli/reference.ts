import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import * as z from 'zod';
import { damageRows } from '../core/diagnostic/damage';
import { formats } from '../core/formats/index';
import { writers } from '../core/outputs/index';
import { week } from '../../demo/week';
import { openSource } from '../core/sources/source';
import { baseOf, baseRendition } from '../core/plan/base';
import { Trials } from '../core/plan/trial';
import type { RuleDefinition } from '../core/rules/define-rule';
import { rules } from '../core/rules/index';
import { SET_RULE_STORIES } from '../core/sets/rule-stories';
import { setRules } from '../core/sets/rules';
import { proof } from '../core/rules/proof';
import { sayFinding } from '../core/rules/say';
import { mapsOf } from '../core/score/inventory';
import { endTickOf } from '../core/score/score';
import { steps } from '../core/steps/index';
import { strictnessOf } from '../core/target/strictness';
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

/** What a finding says and what each of its mends comes to, worked out on a song of the demo. */
interface Example {
  readonly song: string;
  readonly target: string;
  readonly said: string;
  readonly mends: readonly string[];
}

const examples = new Map<string, Example>();
for (const job of week) {
  const { source } = openSource(job.bytes(), { key: 'main', name: job.file, sha256: job.id });
  if (!source) continue;
  const base = baseOf(source);
  for (const target of builtInTargets) {
    const rendition = baseRendition(base, target);
    const trials = new Trials(base, target);
    // A sound that is two bars longer, so that rules which need one have something to say.
    const recordingMs = mapsOf(source.score).clock.msAt(endTickOf(source.score)) + 4000;
    const own = job.targets.some((t) => t.id === target.id);
    for (const f of proof({ rendition, target, base, recordingMs })) {
      const key = `${f.rule}/${f.code}`;
      // The song that was written for a target shows its rules best.
      if (examples.has(key) && !own) continue;
      if (examples.has(key) && own && examples.get(key)!.target === target.name) continue;
      const said = sayFinding(f, target, mapsOf(rendition.pieces[0]!.score));
      examples.set(key, {
        song: job.title,
        target: target.name,
        said: `${said.wrong} ${said.then}`,
        mends: f.mends.map((m) => {
          const trial = trials.try(rendition, m);
          const loss = trial.lossless
            ? `the music stays as it is${trial.shiftMs === 0 ? '' : `, all ${trial.shiftMs} ms later`}`
            : `${trial.notesTouched} notes changed`;
          return `**${m.title}**: ${trial.refused ?? `${trial.says} (${loss})`}`;
        }),
      });
    }
  }
}

/** Facts that show a sentence with its blanks. */
const blanks = new Proxy({}, { get: (_, key) => `‹${String(key)}›` }) as Record<string, string>;
const words = wordsOf(builtInTargets[0]!);
const blockOf = (rule: RuleDefinition) =>
  rule.block === null
    ? 'none, it holds for every target'
    : `\`${rule.block}\`${rule.reads ? ` (${rule.reads.map((k) => `\`${k}\``).join(', ')})` : ''}`;
page('rules.md', 'Rules', [
  'Each rule has a page. A rule reads one block of a target and is silent where it is absent.',
  '',
  ...table(
    ['rule', 'what it asks', 'block', 'codes'],
    rules.map((r) =>
      row(
        `[${r.id}](rules/${r.id}.md)`,
        r.summary,
        r.block === null ? 'every target' : `\`${r.block}\``,
        Object.keys(r.codes)
          .map((c) => `\`${c}\``)
          .join(', '),
      ),
    ),
  ),
]);
page('set-rules.md', 'Rules over the songs of a set', [
  'They are asked of all songs of a set beside each other, whatever each of them is for. What a target wants of a card stands in its block `card`.',
  ...setRules.flatMap(({ id, title }) => {
    const story = SET_RULE_STORIES[id];
    if (!story) throw new Error(`${id} has no story.`);
    return [
      '',
      `## ${title} (\`${id}\`)`,
      '',
      story.asks,
      '',
      `- Why people meet it: ${story.why}`,
      `- What the mends do: ${story.mends}`,
    ];
  }),
]);
mkdirSync(join(folder, 'rules'), { recursive: true });
for (const rule of rules) {
  const { story } = rule;
  page(join('rules', `${rule.id}.md`), rule.id, [
    rule.summary,
    '',
    `Block: ${blockOf(rule)}. Mended in the phase “${rule.phase}”.${rule.needs?.includes('recording') ? ' Needs the length of the sound that plays beside it.' : ''}`,
    '',
    '## Why people meet it',
    '',
    story.why,
    '',
    '## What the mends do',
    '',
    story.mends,
    ...Object.entries(rule.codes).flatMap(([code, text]) => {
      const example = examples.get(`${rule.id}/${code}`);
      return [
        '',
        `## ${text.title} (\`${code}\`)`,
        '',
        `- What is wrong: ${text.wrong(blanks, words)}`,
        `- What the target will do: ${text.then(blanks, words)}`,
        ...(example
          ? [
              '',
              `On “${example.song}”, held against the ${example.target.toLowerCase()}:`,
              '',
              `> ${example.said}`,
              ...(example.mends.length > 0 ? ['', ...example.mends.map((m) => `- ${m}`)] : []),
            ]
          : []),
      ];
    }),
  ]);
}

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
    ...strictnessOf(t).map((l) => `- ${l.says}`),
    '',
    '```json',
    JSON.stringify(t, null, 2),
    '```',
  ]),
]);

const takenBy = (id: string) =>
  builtInTargets
    .filter((t) => t.outputs.some((o) => o.writer === id))
    .map((t) => t.name)
    .join(', ');
page('outputs.md', 'Outputs', [
  'A writer turns a job into files; before they are handed over a stand-in for the device plays them.',
  '',
  ...table(
    ['writer', 'what it writes', 'its format', 'taken by'],
    writers.map((w) =>
      row(
        `\`${w.id}\``,
        w.summary,
        w.format ? `[${w.format}](formats/${w.format}.md)` : 'a common one',
        takenBy(w.id),
      ),
    ),
  ),
]);

mkdirSync(join(folder, 'formats'), { recursive: true });
interface Field {
  readonly type?: string | readonly string[];
  readonly description?: string;
  readonly properties?: Readonly<Record<string, Field>>;
  readonly items?: Field;
  readonly anyOf?: readonly Field[];
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
}
const typeOf = (f: Field): string => {
  if (f.const !== undefined) return `\`${JSON.stringify(f.const)}\``;
  if (f.enum) return f.enum.map((v) => `\`${JSON.stringify(v)}\``).join(', ');
  if (f.anyOf) return f.anyOf.map(typeOf).join(' or ');
  if (f.type === 'array') return `list of ${f.items ? typeOf(f.items) : 'values'}`;
  return { integer: 'whole number', string: 'text' }[String(f.type)] ?? String(f.type ?? 'any');
};
/** Every field with its path, those of lists behind `[]`. */
function fieldRows(f: Field, path: string): string[] {
  const form = f.anyOf?.find((a) => a.properties ?? a.items) ?? f;
  if (form.items) return fieldRows(form.items, `${path}[]`);
  return Object.entries(form.properties ?? {}).flatMap(([key, of]) => {
    const here = path === '' ? key : `${path}.${key}`;
    return [row(`\`${here}\``, typeOf(of), of.description ?? ''), ...fieldRows(of, here)];
  });
}
for (const format of formats) {
  const schema = format.schema ? z.toJSONSchema(format.schema, { io: 'input' }) : null;
  page(join('formats', `${format.id}.md`), format.title, [
    '```js',
    format.reader,
    '```',
    '',
    `${format.summary} Files: \`${format.file}\`.`,
    '',
    ...format.notes.map((n) => `- ${n}`),
    ...(schema
      ? ['', ...table(['field', 'what it is', 'meaning'], fieldRows(schema as Field, ''))]
      : []),
  ]);
  if (schema)
    writeFileSync(
      join(folder, 'formats', `${format.id}.schema.json`),
      `${JSON.stringify(schema, null, 2)}\n`,
    );
}

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
