import { writeOutputs } from '../src/core/outputs/index';
import { baseOf } from '../src/core/plan/base';
import { runPlan } from '../src/core/plan/run';
import type { CompanionSound, OutputFile } from '../src/core/outputs/define-writer';
import type { SourceScore } from '../src/core/sources/source';
import type { Target } from '../src/core/target/schema';

export interface WrittenFiles {
  readonly paths: readonly string[];
  readonly files: readonly OutputFile[];
  /** A text, by the end of its path. */
  text(end: string): string;
  /** A JSON, by the end of its path. */
  json<T>(end: string): T;
  /** The rows of a CSV of plain cells. */
  rows(end: string): string[][];
  readonly losses: readonly string[];
}

/** What a target's writers make of a source, after these steps. */
export function written(
  target: Target,
  source: SourceScore,
  steps: readonly { step: string; params: unknown; scope?: object }[] = [],
  sound: CompanionSound | null = null,
): WrittenFiles {
  const plan = {
    steps: steps.map(({ step, params, scope = {} }, i) => ({
      key: String(i),
      step,
      params,
      scope,
      on: true,
    })),
  };
  const run = runPlan({ base: baseOf(source), target, plan });
  const refused = run.outcomes.find((o) => o.refused !== null);
  if (refused) throw new Error(`refused: ${String(refused.refused)}`);
  const { files, losses } = writeOutputs(run.rendition, target, sound);
  const text = (end: string) => {
    const file = files.find((f) => f.path.endsWith(end));
    if (!file) throw new Error(`no ${end} among ${files.map((f) => f.path).join(', ')}`);
    return new TextDecoder().decode(file.bytes);
  };
  return {
    files,
    paths: files.map((f) => f.path),
    text,
    json: <T>(end: string) => JSON.parse(text(end)) as T,
    rows: (end) =>
      text(end)
        .split('\r\n')
        .slice(1, -1)
        .map((line) => line.split(',')),
    losses: losses.map((l) => `${l.count} ${l.what}`),
  };
}
