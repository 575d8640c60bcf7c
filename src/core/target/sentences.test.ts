import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { builtInTargets } from './index';
import { parseTarget } from './parse';
import { TargetSchema } from './schema';
import {
  isSaid,
  partsOf,
  pathsOf,
  placeOf,
  plainText,
  say,
  SUBJECTS,
  unsay,
  valueAt,
  type Cards,
  type Data,
} from './sentences';

interface Shape {
  type?: string;
  properties?: Record<string, Shape>;
  items?: Shape;
  oneOf?: Shape[];
  anyOf?: Shape[];
}
const schema = z.toJSONSchema(TargetSchema, { io: 'input' }) as Shape;

/** Every path of a shape that holds a value; lists of things under their own path. */
function leaves(shape: Shape, path: string, lists: Map<string, Shape>): string[] {
  const at = (key: string) => (path === '' ? key : `${path}.${key}`);
  return Object.entries(shape.properties ?? {}).flatMap(([key, inner]) => {
    if (inner.properties) return leaves(inner, at(key), lists);
    if (inner.type === 'array' && (inner.items?.properties ?? inner.items?.oneOf)) {
      lists.set(at(key), inner.items!);
      return [];
    }
    return [at(key)];
  });
}
/** Set by the program, or where a sentence is said: never asked for. */
const UNASKED = /^(schemaVersion|formatVersion|id|version|kind)$|\.?severity$/;

const sentences = SUBJECTS.flatMap((s) => s.sentences);
const cards = (of: readonly Cards[]): Cards[] => of.flatMap((c) => [c, ...cards(c.cards ?? [])]);

describe('sentences of a target', () => {
  it('say every value of the schema, lists of things on cards', () => {
    const lists = new Map<string, Shape>();
    const own = leaves(schema, '', lists).filter((p) => !UNASKED.test(p));
    const said = new Set(sentences.flatMap(pathsOf));
    // A record of options is said by the cards of the files.
    expect(own.filter((p) => !said.has(p))).toEqual([]);
    const all = new Map(
      SUBJECTS.flatMap((s) => (s.cards ?? []).map((c): [string, Cards] => [c.path, c])),
    );
    for (const [path, shape] of lists) {
      if (said.has(path)) continue;
      const card = all.get(path);
      expect(card, path).toBeDefined();
      for (const kind of shape.oneOf ?? [shape]) {
        const name = String((kind.properties?.['kind'] as { const?: string })?.const ?? '');
        const inner = new Map<string, Shape>();
        const wanted = leaves(kind, '', inner).filter((p) => !UNASKED.test(p));
        const has = new Set((card!.kinds[name]?.sentences ?? []).flatMap(pathsOf));
        const under = [...inner.keys()].filter((p) => !has.has(p));
        expect(under.filter((p) => !card!.cards?.some((c) => c.path === p))).toEqual([]);
        expect(
          wanted.filter((p) => !has.has(p) && p !== 'options'),
          `${path} ${name}`,
        ).toEqual([]);
      }
    }
  });

  it('set only what the schema knows, and are valid as they are first said', () => {
    const plain: Data = {
      schemaVersion: 1,
      id: 'lamp-line',
      version: '1.0.0',
      name: 'Lamp line',
      summary: 'Lamps in a row',
      seats: [],
      outputs: [{ writer: 'smf' }],
      checklist: [],
    };
    expect(parseTarget(plain).problems).toEqual([]);
    for (const { sentences: own } of SUBJECTS)
      for (const sentence of own) {
        if (sentence.offer === undefined || sentence.offer === 'only some seats') continue;
        expect(isSaid(plain, sentence), sentence.offer).toBe(false);
        const said = say(plain, sentence, own);
        expect(parseTarget(said).problems, sentence.offer).toEqual([]);
        expect(isSaid(said, sentence)).toBe(true);
        expect(plainText(sentence, said)).not.toContain('…');
        const back = unsay(said, sentence);
        expect(isSaid(back, sentence), sentence.offer).toBe(false);
        expect(parseTarget(back).problems, sentence.offer).toEqual([]);
      }
  });

  it('say all that the targets that ship with it say: no value is without its sentence', () => {
    for (const target of builtInTargets) {
      const data = target as unknown as Data;
      for (const sentence of sentences) {
        if (sentence.offer === undefined || !isSaid(data, sentence)) continue;
        for (const part of partsOf(sentence)) {
          if (typeof part === 'string' || part.choices.length === 0) continue;
          const value = valueAt(data, part.path);
          for (const v of Array.isArray(value) ? value : value === undefined ? [] : [value])
            expect(
              part.choices.map(([c]) => c),
              `${target.id} ${part.path}`,
            ).toContain(String(v));
        }
      }
    }
  });

  it('no offer and no sentence is there twice; every problem has its place', () => {
    for (const { sentences: own } of SUBJECTS) {
      const offers = own.flatMap((o) => o.offer ?? []);
      expect(new Set(offers).size).toBe(offers.length);
    }
    expect(placeOf('tempo.lowestBpm')?.subject.id).toBe('tempo');
    expect(placeOf('seats[3].channel')?.subject.id).toBe('seats');
    expect(placeOf('metadata.required[0].key')?.subject.id).toBe('told');
    expect(placeOf('file.ppq')?.sentence?.offer).toMatch(/PPQ/);
  });

  it('what is taken back takes its block along only where nothing else is said in it', () => {
    const [shortest, longest] = ['the shortest note', 'the longest note'].map((offer) =>
      sentences.find((o) => o.offer === offer)!,
    );
    const both = say(say({}, shortest!), longest!);
    expect(unsay(both, shortest!)).toEqual({ length: { longestMs: 4000 } });
    expect(unsay(unsay(both, shortest!), longest!)).toEqual({});
    const grave = { length: { shortestMs: 40, severity: 'caution' } };
    expect(unsay(grave, shortest!)).toEqual({});
  });

  it('the kinds of cards are those of the schema', () => {
    const seats = schema.properties!['seats']!.items!.oneOf!;
    const kinds = seats.map((k) => (k.properties!['kind'] as { const?: string }).const);
    const own = cards(SUBJECTS.flatMap((s) => s.cards ?? [])).find((c) => c.path === 'seats')!;
    expect(Object.keys(own.kinds).sort()).toEqual([...kinds].sort());
  });
});
