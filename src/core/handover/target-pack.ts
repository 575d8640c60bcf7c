import * as z from 'zod';
import { sayDamage } from '../diagnostic/damage';
import { problemsOf } from '../diagnostic/say-problems';
import { unpackFiles } from '../formats/unpack';
import { packFiles } from '../outputs/pack';
import { writeOutputs } from '../outputs/index';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import { proof } from '../rules/proof';
import { sayFinding } from '../rules/say';
import { mapsOf } from '../score/inventory';
import { encodeUtf8, decodeUtf8 } from '../smf/text';
import { openSource } from '../sources/source';
import { parseTargetText } from '../target/parse';
import type { Target } from '../target/schema';

/** A target with its own proof: files that it takes, files that it refuses, and pairs. */
export const PACK_VERSION = 1;

const path = z
  .string()
  .min(1)
  .max(200)
  .regex(/^(?!\/)(?!.*\.\.)[^\\]+$/, 'a path inside the pack');
const ExamplesSchema = z.strictObject({
  packVersion: z.literal(PACK_VERSION),
  taken: z.array(z.strictObject({ file: path, note: z.string().max(400).optional() })).max(200),
  refused: z
    .array(
      z.strictObject({
        file: path,
        finds: z
          .string()
          .min(1)
          .max(80)
          .describe('A finding’s code, its rule, or a limit’s title.'),
        note: z.string().max(400).optional(),
      }),
    )
    .max(200),
  pairs: z.array(z.strictObject({ score: path, file: path })).max(200),
});
export type Examples = z.infer<typeof ExamplesSchema>;

export interface TargetPack {
  readonly target: Target;
  readonly examples: Examples;
  readonly files: ReadonlyMap<string, Uint8Array>;
}

const TARGET = 'target.json';
const EXAMPLES = 'examples.json';

export function writeTargetPack({ target, examples, files }: TargetPack): Uint8Array {
  const json = (data: unknown) => encodeUtf8(`${JSON.stringify(data, null, 2)}\n`);
  return packFiles([
    { path: TARGET, bytes: json(target) },
    { path: EXAMPLES, bytes: json(examples) },
    ...[...files].map(([name, bytes]) => ({ path: name, bytes })),
  ]);
}

export type ReadPack =
  | { readonly pack: TargetPack; readonly problems: readonly [] }
  | { readonly pack?: undefined; readonly problems: readonly string[] };

/** Reads a pack, or a target as JSON alone: then it has no examples. */
export function readTargetPack(bytes: Uint8Array): ReadPack {
  const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b;
  if (!isZip) {
    const result = parseTargetText(decodeUtf8(bytes) ?? '');
    if (!result.target)
      return { problems: result.problems.map((p) => `${p.path ? `${p.path}: ` : ''}${p.says}`) };
    const examples = { packVersion: PACK_VERSION, taken: [], refused: [], pairs: [] } as const;
    return {
      pack: {
        target: result.target,
        examples: { ...examples, taken: [], refused: [], pairs: [] },
        files: new Map(),
      },
      problems: [],
    };
  }
  const { files, problem } = unpackFiles(bytes);
  if (!files) return { problems: [problem] };
  const own = files.get(TARGET);
  if (!own) return { problems: [`The pack holds no ${TARGET}.`] };
  const result = parseTargetText(decodeUtf8(own) ?? '');
  if (!result.target)
    return {
      problems: result.problems.map((p) => `${TARGET}, ${p.path ? `${p.path}: ` : ''}${p.says}`),
    };
  let data: unknown = { packVersion: PACK_VERSION, taken: [], refused: [], pairs: [] };
  const listed = files.get(EXAMPLES);
  if (listed)
    try {
      data = JSON.parse(decodeUtf8(listed) ?? '');
    } catch (error) {
      return { problems: [`${EXAMPLES} is not JSON: ${(error as Error).message}`] };
    }
  const checked = ExamplesSchema.safeParse(data);
  if (!checked.success)
    return {
      problems: problemsOf(ExamplesSchema, checked.error.issues).map(
        (p) => `${EXAMPLES}, ${p.path}: ${p.says}`,
      ),
    };
  const { taken, refused, pairs } = checked.data;
  const wanted = [
    ...taken.map((t) => t.file),
    ...refused.map((r) => r.file),
    ...pairs.flatMap((p) => [p.score, p.file]),
  ];
  const missing = wanted.filter((w) => !files.has(w));
  if (missing.length > 0) return { problems: [`The pack holds no ${missing.join(', no ')}.`] };
  const strange = [...files.keys()].filter(
    (f) => f !== TARGET && f !== EXAMPLES && !wanted.includes(f),
  );
  if (strange.length > 0) return { problems: [`No example names ${strange.join(', ')}.`] };
  const rest = new Map([...files].filter(([name]) => name !== TARGET && name !== EXAMPLES));
  return { pack: { target: result.target, examples: checked.data, files: rest }, problems: [] };
}

/** What became of one example. */
export interface ExampleResult {
  readonly what: 'taken' | 'refused' | 'pair';
  readonly file: string;
  readonly ok: boolean;
  readonly says: string;
}

/** Holds a target against its own examples: each is as it is said to be, or why not. */
export function holdAgainstExamples({ target, examples, files }: TargetPack): ExampleResult[] {
  const judge = (name: string) => {
    const opened = openSource(files.get(name)!, {
      key: 'main',
      name: name.split('/').at(-1)!,
      sha256: name,
    });
    if (!opened.source) return { problem: opened.damage.map(sayDamage)[0] ?? 'It was not read.' };
    const base = baseOf(opened.source);
    const { rendition } = runPlan({ base, target, plan: { steps: [] } });
    const findings = proof({ rendition, target, base });
    const maps = mapsOf(rendition.pieces[0]!.score);
    const stops = findings
      // What has to be told beside the music no example can tell.
      .filter((f) => f.severity === 'stop' && f.code !== 'metadata-missing')
      .map((f) => ({ f, said: sayFinding(f, target, maps) }));
    return { rendition, stops, problem: undefined };
  };
  const out: ExampleResult[] = [];
  for (const { file } of examples.taken) {
    const found = judge(file);
    const says =
      found.problem !== undefined
        ? found.problem
        : found.stops.length === 0
          ? 'no stop'
          : `${found.stops[0]!.said.title}: ${found.stops[0]!.said.wrong}`;
    out.push({
      what: 'taken',
      file,
      ok: found.problem === undefined && found.stops.length === 0,
      says,
    });
  }
  for (const { file, finds } of examples.refused) {
    const found = judge(file);
    if (found.problem !== undefined) {
      out.push({ what: 'refused', file, ok: true, says: found.problem });
      continue;
    }
    const hit = found.stops.find(
      ({ f, said }) =>
        f.code === finds || f.rule === finds || said.title === finds || f.data['title'] === finds,
    );
    const others = [...new Set(found.stops.map(({ f }) => f.code))].join(', ');
    out.push({
      what: 'refused',
      file,
      ok: hit !== undefined,
      says: hit
        ? `${hit.said.title}: ${hit.said.wrong}`
        : `“${finds}” was not found; found: ${others || 'no stop'}`,
    });
  }
  for (const { score, file } of examples.pairs) {
    const found = judge(score);
    if (found.problem !== undefined) {
      out.push({ what: 'pair', file, ok: false, says: found.problem });
      continue;
    }
    const wanted = files.get(file)!;
    const written = writeOutputs(found.rendition, target).files;
    const same = written.some(
      (w) => w.bytes.length === wanted.length && w.bytes.every((b, i) => b === wanted[i]),
    );
    const near =
      written.find((w) => w.path.split('.').at(-1) === file.split('.').at(-1)) ?? written[0];
    const at = near ? firstDifference(near.bytes, wanted) : 0;
    out.push({
      what: 'pair',
      file,
      ok: same,
      says: same
        ? 'written identical'
        : near
          ? `${near.path} differs at byte ${at}`
          : 'nothing was written',
    });
  }
  return out;
}

function firstDifference(a: Uint8Array, b: Uint8Array): number {
  for (let i = 0; i < Math.max(a.length, b.length); i++) if (a[i] !== b[i]) return i;
  return -1;
}
