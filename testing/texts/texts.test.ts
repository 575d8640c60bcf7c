import { describe, expect, it } from 'vitest';
import { rules } from '../../src/core/rules/index';
import { steps } from '../../src/core/steps/index';
import { checkTexts } from './check';
import { gatherTexts, type Text } from './gather';

const texts = gatherTexts();

describe('all texts', () => {
  it('are gathered from every layer, sentences, labels and words on buttons', () => {
    const has = (file: string, text: string) =>
      texts.some((t) => t.file.includes(file) && t.text === text);
    expect(has('app/job/JobHead.vue', 'Nothing to undo')).toBe(true);
    expect(has('app/kit/AskFirst.vue', 'Keep it')).toBe(true);
    expect(has('core/steps/strip.ts', 'Strip events')).toBe(true);
    expect(has('core/rules/events/text.ts', 'There {…} {…}, such as “{…}”.')).toBe(true);
    expect(has('cli/program.ts', 'Holds MIDI against strict targets, mends it and hands it over.')).toBe(true); // prettier-ignore
    expect(texts.length).toBeGreaterThan(5000);
  });

  it('are plain English, in sentences that are read at a glance, and spelled as in Britain', () => {
    expect(checkTexts(texts).map((d) => `${d.file}: ${d.doubt} in “${d.text}”`)).toEqual([]);
  });

  it.each([
    ['a contraction', 'It doesn’t play this.'],
    ['a contraction', "It's the wrong file."],
    ['an exclamation', 'Done!'],
    ['filler', 'Simply drop a file.'],
    ['a sentence of', `${'word '.repeat(25)}ends.`],
    ['an inverted', 'The note is to be moved.'],
    ['the language of programs', 'Invalid file.'],
    ['spelling: “color”', 'The color of a part'],
    ['spelling: “recieve”', 'Notes that recieve a key'],
  ])('%s is found', (doubt, text) => {
    const found = checkTexts([{ file: 'x', text } satisfies Text]);
    expect(found.map((d) => d.doubt).join()).toContain(doubt);
  });

  it('names of files, numbers, keys and what is put in are no words', () => {
    const text = 'Read `midlSong.xyz` as {…}qwx, 12 ms, --shwo and [qqq] of a/zzz.';
    expect(checkTexts([{ file: 'x', text }])).toEqual([]);
  });

  it('titles of rules and steps are alike in no two', () => {
    const titles = [
      ...rules.flatMap((r) => Object.values(r.codes).map((c) => c.title)),
      ...steps.map((s) => s.title),
    ];
    expect(titles.filter((t, i) => titles.indexOf(t) !== i)).toEqual([]);
    expect(steps.map((s) => s.title).filter((t) => t.length > 48)).toEqual([]);
  });
});
