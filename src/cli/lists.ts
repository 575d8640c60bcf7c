import * as z from 'zod';
import { writers } from '../core/outputs/index';
import { rules } from '../core/rules/index';
import { steps } from '../core/steps/index';
import { existsSync } from 'node:fs';
import { builtInTargets, findTarget } from '../core/target/index';
import { checkPack } from './learning';
import { findFormat, formats } from '../core/formats/index';
import { nearest } from '../core/diagnostic/say-problems';
import { loadTarget, print, Unusable } from './files';

interface ListOptions {
  json?: boolean;
}

function list(rows: readonly { id: string; summary: string }[], json: boolean | undefined): 0 {
  const width = Math.max(...rows.map((r) => r.id.length));
  for (const row of rows)
    print(json ? JSON.stringify(row) : `${row.id.padEnd(width)}  ${row.summary}`);
  return 0;
}

export function listTargets(id: string | undefined, { json }: ListOptions): 0 {
  if (id !== undefined) {
    print(JSON.stringify(loadTarget(id), null, 2));
    return 0;
  }
  return list(
    builtInTargets.map((t) => ({ id: t.id, version: t.version, name: t.name, summary: t.summary })),
    json,
  );
}

export const listRules = ({ json }: ListOptions): 0 =>
  list(
    rules.map((r) => ({
      id: r.id,
      summary: r.summary,
      block: r.block,
      codes: Object.keys(r.codes),
    })),
    json,
  );

export const listSteps = ({ json }: ListOptions): 0 =>
  list(
    steps.map((s) => ({
      id: s.id,
      summary: s.summary,
      reach: s.reach,
      ...(json ? { params: z.toJSONSchema(s.params) } : {}),
    })),
    json,
  );

export function listOutputs(id: string | undefined, { json }: ListOptions): 0 {
  if (id !== undefined) return tellOutput(id, json);
  return list(
    writers.map((w) => ({
      id: w.id,
      summary: w.summary,
      ...(json ? { format: w.format ?? null } : {}),
    })),
    json,
  );
}

/** One format in full: what it is, and a reader of it; or its JSON Schema. */
function tellOutput(id: string, json: boolean | undefined): 0 {
  const writer = writers.find((w) => w.id === id);
  const format = findFormat(writer?.format ?? id);
  if (!format) {
    if (!writer) {
      const known = [...writers.map((w) => w.id), ...formats.map((f) => f.id)];
      const near = nearest(id, known);
      throw new Unusable(
        `There is no output named ${id}.${near ? ` The nearest is ${near}.` : ''}`,
      );
    }
    print(`${writer.id}: ${writer.summary} It has no format of ours.`);
    return 0;
  }
  if (json) {
    const schema = format.schema ? z.toJSONSchema(format.schema, { io: 'input' }) : null;
    print(JSON.stringify(schema, null, 2));
    return 0;
  }
  print(`${format.title} (${format.file})`);
  print(format.summary);
  for (const note of format.notes) print(`- ${note}`);
  print('');
  print(format.reader);
  return 0;
}

export function checkTarget(file: string): 0 | 1 | 2 {
  const builtIn = existsSync(file) ? undefined : findTarget(file);
  if (builtIn) {
    print(`${file}: ${builtIn.name} is a built-in target, and valid.`);
    return 0;
  }
  return checkPack(file);
}
