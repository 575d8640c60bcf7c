import * as z from 'zod';
import { sayIssue } from '../core/diagnostic/say-issue';
import { readTargetPack, writeTargetPack } from '../core/handover/target-pack';
import { openSource } from '../core/sources/source';
import { tuneLike } from '../core/learning/probe-tune';
import { nextProbe } from '../core/learning/probes';
import { writers } from '../core/outputs/index';
import { unpackFiles } from '../core/formats/unpack';
import { packFiles } from '../core/outputs/pack';
import { parseRecipe } from '../core/plan/recipe';
import { rules } from '../core/rules/index';
import { setReceiptFiles } from '../core/sets/set-receipt-page';
import { findStep, steps } from '../core/steps/index';
import { sayStep } from '../core/steps/words';
import type { Engine } from './protocol';

/** What answers at once and needs no source. */
export const plainCalls: Pick<
  Engine,
  | 'catalogue'
  | 'stepForms'
  | 'checkStep'
  | 'readRecipe'
  | 'pack'
  | 'unpack'
  | 'probe'
  | 'writePack'
  | 'setReceipt'
> = {
  catalogue: () => ({
    rules: rules.map(({ id, summary, block, reads }) => ({
      id,
      summary,
      block,
      reads: reads ?? null,
    })),
    writers: writers.map(({ id, summary }) => ({ id, summary })),
  }),

  stepForms: () =>
    steps.map(({ id, title, summary, reach, params }) => ({
      id,
      title,
      summary,
      reach,
      params: z.toJSONSchema(params, { io: 'input' }),
    })),

  checkStep(step, named) {
    const definition = findStep(step.step);
    if (!definition) return { says: null, problem: `There is no step named "${step.step}".` };
    const params = definition.params.safeParse(step.params);
    if (params.success) return { says: sayStep(step, undefined, named), problem: null };
    const issue = params.error.issues[0]!;
    return {
      says: null,
      problem: `${issue.path.join('.') || definition.title}: ${sayIssue(issue)}`,
    };
  },

  readRecipe(text) {
    const result = parseRecipe(text);
    return result.recipe
      ? { recipe: result.recipe, problem: null }
      : { recipe: null, problem: result.problem ?? '' };
  },

  probe(answers, like) {
    const own = like
      ? openSource(new Uint8Array(like.bytes), { key: 'main', name: like.name, sha256: '' })
      : null;
    const first = own?.source ? tuneLike(own.source) : null;
    const next = nextProbe(answers, first ?? undefined);
    if ('done' in next) return next;
    return { says: next.says, bytes: next.bytes, answered: { tune: next.tune, taken: false } };
  },

  writePack(target, before) {
    const old = before ? readTargetPack(new Uint8Array(before)).pack : undefined;
    const examples = old?.examples ?? {
      packVersion: 1 as const,
      taken: [],
      refused: [],
      pairs: [],
    };
    return writeTargetPack({ target, examples, files: old?.files ?? new Map() });
  },

  setReceipt: (receipt) => setReceiptFiles(receipt),

  pack: (files) => packFiles(files),

  unpack(bytes) {
    const result = unpackFiles(new Uint8Array(bytes));
    if (result.problem !== undefined) return { problem: result.problem };
    return { files: [...result.files].map(([path, content]) => ({ path, bytes: content })) };
  },
};
