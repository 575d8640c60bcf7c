import { describeExample } from '../core/outputs/example/describe';
import { interpret } from '../core/formats/own/interpret';
import { readFormat } from '../core/formats/own/read';
import type { ReadRow } from '../core/formats/own/row';
import { FormatSchema, type Format } from '../core/formats/own/schema';
import { problemsOf } from '../core/diagnostic/say-problems';
import { holdAgainstExamples, readTargetPack } from '../core/handover/target-pack';
import { sayEvidence, sayNumber } from '../core/target/evidence';
import { learnTarget } from '../core/learning/learn';
import { observe } from '../core/learning/observe';
import { tuneLike } from '../core/learning/probe-tune';
import { nextProbe, type Answered } from '../core/learning/probes';
import type { Trial } from '../core/learning/reasons';
import { separate, type Separated } from '../core/learning/separate';
import { asCautions, settle } from '../core/target/settle';
import { baseOf } from '../core/plan/base';
import { runPlan } from '../core/plan/run';
import { UNSAID } from '../core/target/unsaid';
import { placeOf, plainText, valueAt, type Data } from '../core/target/sentences';
import type { Target } from '../core/target/schema';
import {
  complain,
  loadTarget,
  nameOf,
  openBytes,
  print,
  readInput,
  Unusable,
  whyNot,
  writeOutput,
} from './files';

function sourceOf(file: string) {
  const bytes = readInput(file);
  const { opened } = openBytes(bytes, nameOf(file));
  if (!opened.source) throw new Unusable(whyNot(file, opened));
  return { source: opened.source, bytes };
}

export interface LearnOptions {
  readonly refused?: string[];
  readonly wrong?: string[];
  readonly heard?: string;
  readonly out?: string;
  readonly name?: string;
  readonly take?: string;
  readonly force?: boolean;
  readonly json?: boolean;
}

/** What would accept the taken files, and why the refused ones may have been refused. */
export function learn(files: string[], options: LearnOptions): 0 | 1 | 2 {
  const taken = files.map(sourceOf);
  const tried = (list: readonly string[], isTaken: boolean): Trial[] =>
    list.map((name) => {
      const { source, bytes } = sourceOf(name);
      return { name, taken: isTaken, observed: observe(source, bytes.length) };
    });
  const right = tried(files, true);
  const name = options.name ?? nameOf(files[0]!).replace(/\.[^.]*$/, '');
  const { target, learnt, evidence } = learnTarget(
    taken.map((t) => t.source),
    name,
  );
  const refused = separate([...right, ...tried(options.refused ?? [], false)]);
  const wrongly = options.wrong?.length
    ? separate([...right, ...tried(options.wrong, false)], 'played wrongly')
    : null;
  const first = ({ proposals }: Separated) =>
    proposals.slice(0, Number(options.take ?? 0) || 0).flatMap((p) => p.sets);
  const learned = target as unknown as Data;
  const grave = settle(learned, first(refused));
  const mild = wrongly ? asCautions(grave, first(wrongly), options.heard ?? '') : [];
  const data = settle(grave, mild);
  if (options.json)
    print(
      JSON.stringify({
        target: data,
        learnt,
        evidence,
        ...toldOf(refused),
        ...(wrongly ? { wrongly: toldOf(wrongly) } : {}),
      }),
    );
  else {
    print(`Learnt from ${files.length} taken: ${learnt.length} numbers.`);
    for (const e of evidence) {
      const sentence = placeOf(e.path)?.sentence;
      const says = sentence ? plainText(sentence, target as unknown as Data) : e.path;
      const value = sayNumber(Number(valueAt(target as unknown as Data, e.path)));
      const round = e.round === null ? '' : `; ${sayNumber(e.round)}?`;
      print(`   ${says}. ${value}: ${sayEvidence(e)}${round}`);
    }
    for (const { proposals, advice } of wrongly ? [refused, wrongly] : [refused]) {
      proposals.slice(0, 12).forEach((p, i) => {
        print(`${i + 1}. ${p.says}`);
        if (p.twins) print(`   ${p.twins.refused} and ${p.twins.taken} differ in this alone.`);
      });
      if (advice) print(advice);
    }
  }
  if (options.out !== undefined)
    writeOutput(
      options.out,
      new TextEncoder().encode(`${JSON.stringify(data, null, 2)}\n`),
      options.force === true,
    );
  return refused.unexplained.length + (wrongly?.unexplained.length ?? 0) > 0 ? 1 : 0;
}

const toldOf = ({ proposals, unexplained, advice }: Separated) => ({
  proposals: proposals.map(({ claim, broken, ...rest }) => ({
    feature: claim,
    breaks: broken.length,
    broken,
    ...rest,
  })),
  unexplained,
  advice,
});

export interface FormatOptions {
  readonly score: string;
  readonly target?: string;
  readonly out?: string;
  readonly force?: boolean;
  readonly json?: boolean;
}

/** Explains an example by the score that it was made from. */
export function explainFormat(file: string, options: FormatOptions): 0 | 1 | 2 {
  const { source } = sourceOf(options.score);
  const target: Target = options.target ? loadTarget(options.target) : UNSAID;
  const base = baseOf(source);
  const { pieces } = runPlan({ base, target, plan: { steps: [] } }).rendition;
  const found = describeExample(readInput(file), nameOf(file), pieces[0]!, target);
  if ('problem' in found) throw new Unusable(`${file}: ${found.problem}`);
  const { format, findings, identical, differsAt, doubts } = found;
  if (options.json) print(JSON.stringify({ file, identical, differsAt, findings, doubts, format }));
  else {
    for (const f of findings)
      if (f.is !== 'constant')
        print(
          `${f.is === 'explained' ? '' : 'not explained, '}${f.where}: ${f.says}${f.rows > 1 ? `; ${f.rows} of ${f.rows}` : ''}`,
        );
    for (const d of doubts) print(`in doubt: ${d}`);
    print(identical ? 'written again: identical' : `written again: differs at byte ${differsAt}`);
  }
  if (options.out !== undefined)
    writeOutput(
      options.out,
      new TextEncoder().encode(`${JSON.stringify(format, null, 2)}\n`),
      options.force === true,
    );
  return identical ? 0 : 1;
}

/** A description alone, or those of a target with its seats. */
export function loadFormat(file: string): { formats: readonly Format[]; seats: Target['seats'] } {
  const ofTarget = () => {
    const { formats = [], seats } = loadTarget(file);
    return { formats, seats };
  };
  const bytes = readInput(file);
  if (bytes[0] === 0x50) return ofTarget();
  let data: unknown;
  try {
    data = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    throw new Unusable(`${file}: this is not JSON (${(error as Error).message}).`);
  }
  if (typeof data === 'object' && data !== null && 'schemaVersion' in data) return ofTarget();
  const result = FormatSchema.safeParse(data);
  if (result.success) return { formats: [result.data], seats: [] };
  const [first] = problemsOf(FormatSchema, result.error.issues);
  throw new Unusable(`${file}: ${first!.path}: ${first!.says}`);
}

const rowJson = (row: ReadRow): unknown => ({
  ...(row.of ? { of: row.of.of } : {}),
  values: row.values.map((v) => ({
    is: v.value.is,
    ...('of' in v.value && typeof v.value.of === 'string' ? { of: v.value.of } : {}),
    ...('key' in v.value ? { key: v.value.key } : {}),
    says: v.said,
    at: v.from,
  })),
  ...(row.rows.length > 0 ? { rows: row.rows.map(rowJson) } : {}),
});

/** The rows of a file, by its description. */
export function readByFormat(file: string, options: { format: string }): 0 | 2 {
  const bytes = readInput(file);
  const problems: string[] = [];
  const { formats, seats } = loadFormat(options.format);
  for (const format of formats)
    for (const described of format.files) {
      const read = readFormat(described, bytes);
      if (!read.file) {
        problems.push(`${file}, ${read.problem.at}: ${read.problem.says}`);
        continue;
      }
      const { notes, tempos, markers } = interpret(read.file, { seats });
      print(
        JSON.stringify({
          file,
          format: format.id,
          notes: notes.map(({ startUs, endUs, key, velocity, part }) => ({
            startUs,
            endUs,
            key,
            velocity,
            part,
          })),
          tempos,
          markers,
          rows: rowJson(read.file),
        }),
      );
      return 0;
    }
  for (const p of problems) complain(p);
  if (problems.length === 0) complain(`${options.format}: no format is described there.`);
  return 2;
}

/** The next probe, by the answers so far: yes and no, in their order. */
export function probe(options: {
  answers?: string;
  from?: string;
  out?: string;
  force?: boolean;
  json?: boolean;
}): 0 | 2 {
  const said = (options.answers ?? '').split(/[,\s]+/).filter(Boolean);
  const answers: Answered[] = [];
  const first = options.from === undefined ? undefined : tuneLike(sourceOf(options.from).source);
  if (first === null) throw new Unusable(`${options.from}: There is no note in it to begin from.`);
  for (const word of said) {
    if (!/^(yes|no|y|n)$/i.test(word))
      throw new Unusable(`--answers: “${word}” is neither yes nor no.`);
    const next = nextProbe(answers, first);
    if ('done' in next)
      throw new Unusable(`--answers: there are ${said.length}, and ${answers.length} were enough.`);
    answers.push({ tune: next.tune, taken: /^y/i.test(word) });
  }
  const next = nextProbe(answers, first);
  if ('done' in next) {
    if (!next.done)
      throw new Unusable(
        `None of ${answers.length} probes was taken. Give a file that was: --from FILE.`,
      );
    print(JSON.stringify(next.done));
    return 0;
  }
  if (options.json) print(JSON.stringify({ probe: answers.length + 1, says: next.says }));
  else print(`Probe ${answers.length + 1}: ${next.says}. Was it taken?`);
  if (options.out !== undefined) writeOutput(options.out, next.bytes, options.force === true);
  return 0;
}

/** A pack held against its own examples. */
export function checkPack(file: string): 0 | 1 | 2 {
  const { pack, problems } = readTargetPack(readInput(file));
  if (!pack) {
    for (const says of problems) complain(`${file}: ${says}`);
    return 2;
  }
  const { target } = pack;
  const results = holdAgainstExamples(pack);
  print(`${file}: ${target.name} (${target.id} ${target.version}) is a valid target.`);
  for (const { what, file: example, ok, says } of results)
    (ok ? print : complain)(`${ok ? 'ok' : 'BROKEN'} ${what} ${example}: ${says}`);
  const broken = results.filter((r) => !r.ok).length;
  if (results.length > 0) print(`${results.length} examples, ${broken} broken`);
  return broken > 0 ? 1 : 0;
}
