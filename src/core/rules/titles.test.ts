import { describe, expect, it } from 'vitest';
import { rules } from './index';

/** Titles stand in lists, each alone: words.md asks that none be long and none be another’s. */
const titles = rules.flatMap((rule) =>
  Object.entries(rule.codes).map(([code, { title }]) => ({ at: `${rule.id}/${code}`, title })),
);
const LONGEST = 48;
/** What says that something is wrong and not what. */
const VAGUE = /^(A|An|The|Another|Something|Nobody|Nothing|Not|Too|It|No)\b/;
const NUMBERED = /^Too (many|wide)|^Nothing would/;

describe('titles of findings', () => {
  it('are short, and none is that of another code', () => {
    expect(titles.filter(({ title }) => title.length > LONGEST)).toEqual([]);
    const at = new Map<string, string[]>();
    for (const { at: code, title } of titles) at.set(title, [...(at.get(title) ?? []), code]);
    expect([...at].filter(([, codes]) => codes.length > 1)).toEqual([]);
  });
  it('name the thing first', () => {
    const vague = titles.filter(({ title }) => VAGUE.test(title) && !NUMBERED.test(title));
    expect(vague).toEqual([]);
  });
});
