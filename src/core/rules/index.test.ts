import { it, expect } from 'vitest';
import { keysAt } from '../target/parse';
import { rules } from './index';

it('every key that a rule reads is one that the schema knows', () => {
  for (const { id, block, reads } of rules)
    for (const key of reads ?? []) expect(keysAt([block!]), id).toContain(key);
});

it('every rule has a story for its page, and no story is of a rule that is gone', () => {
  for (const {
    story: { why, mends },
  } of rules) {
    expect(why).toMatch(/\.$/);
    expect(mends).toMatch(/\.$/);
  }
});

it('every rule has its own id and reads a block that the schema knows', () => {
  expect(new Set(rules.map((r) => r.id)).size).toBe(rules.length);
  for (const rule of rules) expect(rule.summary).toMatch(/\.$/);
});
