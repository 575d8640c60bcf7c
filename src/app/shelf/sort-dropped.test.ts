import { describe, expect, it } from 'vitest';
import { answerFor, kindOf, sortDropped, type Outside, type Page } from './sort-dropped';

const outside = (name: string): Outside => ({ name, type: '', json: null });

describe('what a file is', () => {
  const json = (data: unknown) => JSON.stringify(data);
  it.each([
    ['a.mid', null, 'score'],
    ['a.KAR', null, 'score'],
    ['night.vtt', null, 'score'],
    ['cues.csv', null, 'score'],
    ['a.chart.json', json({ format: 'chart' }), 'score'],
    ['harbour.json', json({ schemaVersion: 1, seats: [] }), 'target'],
    ['tide.json', json({ recipeVersion: 2 }), 'recipe'],
    ['other.json', json({ a: 1 }), 'unusable'],
    ['spoilt.json', '{"id"', 'unusable'],
    ['night.wav', null, 'recording'],
    ['tide.quilljob', null, 'job'],
    ['pack.zip', null, 'job'],
    ['receipt.json', json({}), 'unusable'],
    ['bank.sf2', null, 'unusable'],
    ['letter.docx', null, 'unusable'],
    ['noending', null, 'score'],
    ['heron.quilltarget', null, 'target'],
  ])('%s', (name, text, kind) => {
    expect(kindOf({ name, type: '', json: text }).kind).toBe(kind);
  });
  it.each([
    ['lamps.txt', null, 'score'],
    ['a.steps.json', json({ a: 1 }), 'score'],
    ['spoilt.json', '{"id"', 'unusable'],
    ['harbour.json', json({ schemaVersion: 1, seats: [] }), 'target'],
  ])('%s ends as the files of a target of one’s own do', (name, text, kind) => {
    expect(kindOf({ name, type: '', json: text, ofOwn: true }).kind).toBe(kind);
  });
  it('by its type, where its name says nothing', () => {
    expect(kindOf({ name: 'x.bin', type: 'audio/mpeg', json: null }).kind).toBe('recording');
    expect(kindOf({ name: 'x.bin', type: 'audio/midi', json: null }).kind).toBe('score');
  });
});

describe('one answer for each drop', () => {
  const answer = (
    names: string[],
    page: Page,
    more: { readOnly?: boolean; recipe?: boolean } = {},
  ) => {
    const sorted = sortDropped(names, outside);
    const { pairs, ...rest } = answerFor(
      sorted,
      { page, readOnly: more.readOnly ?? false, recipe: more.recipe ?? false },
      (n) => n,
    );
    return { ...rest, pairs: [...pairs] };
  };
  it.each([
    [['a.mid'], 'other', 'one', null, []],
    [['a.mid', 'b.mid'], 'other', 'ask-many', null, []],
    [['a.mid', 'x.wav'], 'other', 'one', 'x.wav', []],
    [['a.mid', 'x.wav', 'y.wav'], 'other', 'one', 'x.wav', [/^y\.wav: a job has one recording/]],
    [['a.mid', 'b.mid', 'x.wav'], 'other', 'ask-many', 'x.wav', []],
    [['x.wav'], 'other', 'none', null, [/^x\.wav: a recording plays beside a score/]],
    [[], 'other', 'none', null, [/^Nothing was dropped/]],
    [['a.mid'], 'job', 'ask-job', null, []],
    [['x.wav', 'y.wav'], 'job', 'none', 'x.wav', [/^y\.wav: a job has one/]],
    [['a.mid', 'x.wav'], 'job', 'ask-job', 'x.wav', []],
    [['a.quilljob'], 'job', 'none', null, []],
    [['a.mid', 'x.wav'], 'fit', 'fit', null, [/^x\.wav: a recording goes beside a job/]],
    [['a.mid'], 'recipes', 'no-recipe', null, [/choose the recipe first/]],
    [['letter.docx'], 'job', 'none', null, [/^Not taken: letter\.docx \(it is no kind of file/]],
  ] as const)('%j on %s', (names, page, scores, recording, says) => {
    const found = answer([...names], page);
    expect([found.scores, found.recording]).toEqual([scores, recording]);
    expect(found.says).toHaveLength(says.length);
    found.says.forEach((s, i) => expect(s).toMatch(says[i]!));
  });
  it('a job that is open elsewhere takes no recording', () => {
    const found = answer(['x.wav'], 'job', { readOnly: true });
    expect(found.recording).toBeNull();
    expect(found.says.join()).toMatch(/open in another tab/);
  });
  it('a recipe that is chosen takes the scores', () => {
    expect(answer(['a.mid', 'b.mid'], 'recipes', { recipe: true })).toMatchObject({
      scores: 'recipe',
      says: [],
    });
  });
  it('recordings go with the scores of their names, and what has none is said', () => {
    const found = answer(['a.mid', 'b.mid', 'A.wav', 'c.wav'], 'other');
    expect(found.pairs).toEqual([['a.mid', 'A.wav']]);
    expect(found.says).toEqual([expect.stringMatching(/^c\.wav: no score of that name/)]);
  });
  it('thirty files of no use are one sentence', () => {
    const names = Array.from({ length: 30 }, (_, i) => `letter-${i}.docx`);
    const { says } = answer(names, 'other');
    expect(says).toHaveLength(1);
    expect(says[0]).toMatch(/and 27 more/);
  });
  it('nothing is left unmentioned, on any page', () => {
    const names = ['a.mid', 'b.mid', 'x.wav', 'y.wav', 'z.docx', 'j.quilljob'];
    for (const page of ['job', 'fit', 'recipes', 'other'] as const) {
      const sorted = sortDropped(names, outside);
      const found = answerFor(sorted, { page, readOnly: false, recipe: true }, (n) => n);
      const said = found.says.join(' ');
      for (const sound of sorted.recordings) {
        const taken = found.recording === sound || [...found.pairs.values()].includes(sound);
        expect(taken || said.includes(sound), `${sound} on ${page}`).toBe(true);
      }
      expect(said).toContain('z.docx');
    }
  });
});
