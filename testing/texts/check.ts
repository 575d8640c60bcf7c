import { readFileSync } from 'node:fs';
import dictionary from 'dictionary-en-gb';
import nspell from 'nspell';
import type { Text } from './gather';

export interface Doubt extends Text {
  readonly doubt: string;
}

const MOST_WORDS = 24;

/** What plain English does without, each with why. */
const AVOIDED: readonly (readonly [RegExp, string])[] = [
  [/\b(don|doesn|isn|aren|won|can|couldn|didn|hasn|haven|wasn|weren|shouldn|wouldn)[’']t\b/i, 'a contraction'],
  [/\b(it|that|there|what|who|let|he|she)[’']s\b(?! own)/i, 'a contraction'],
  [/\b\w+[’'](ll|ve|re|d)\b/i, 'a contraction'],
  [/!(?!=)/, 'an exclamation'],
  [/\b(please|simply|just|easily|obviously|of course)\b/i, 'filler'],
  [/\b(utili[sz]e|in order to|prior to|in case of|as well as)\b/i, 'a longer word than needed'],
  [/\b(e\.g\.|i\.e\.|etc\.)/i, 'an abbreviation'],
  [/\bof such\b|\bwhole of\b|\bis to be\b|\bare to be\b/i, 'an inverted or passive clause'],
  [/\bsaid twice\b|\bnot told\b|\bnot said\b|\bbeing listened to\b/i, 'a metaphor for a missing value'],
  [/\botherwise\b/i, '“otherwise”: say how'],
  [/\bunfortunately\b|\bsorry\b|\boops\b/i, 'an apology'],
  [/\b(successfully|invalid|illegal|abort|fatal)\b/i, 'the language of programs'],
]; // prettier-ignore

/** A colon, a semicolon and a line end a sentence for whoever reads it at a glance. */
const sentencesOf = (text: string): string[] => text.split(/(?<=[.?!:;])\s+|\n/);
const wordsOf = (sentence: string): string[] =>
  sentence.split(/\s+/).filter((w) => /[\w{]/.test(w));

/** What is doubtful about the texts. */
export function checkTexts(texts: readonly Text[]): Doubt[] {
  const known = spelling();
  return texts.flatMap((t): Doubt[] => {
    const doubts: string[] = [];
    // A choice of words is one word.
    for (const sentence of sentencesOf(t.text.replace(/\{[^}]*\}/g, '{…}'))) {
      const n = wordsOf(sentence).length;
      if (n > MOST_WORDS) doubts.push(`a sentence of ${n} words`);
    }
    for (const [pattern, why] of AVOIDED) {
      const found = pattern.exec(t.text);
      if (found) doubts.push(`${why}: “${found[0]}”`);
    }
    for (const word of spelled(t.text)) if (!known(word)) doubts.push(`spelling: “${word}”`);
    return doubts.map((doubt) => ({ ...t, doubt }));
  });
}

/** Words that a dictionary may know: no names of files, no numbers, no keys of a schema. */
const spelled = (text: string): string[] =>
  text
    .replace(
      /\S*[{}…/\\@_=<>|]\S*|`[^`]*`|\[[^\]]*\]|--\S+|\S+\.[a-z]{2,5}\b|\S*[a-z][A-Z]\S*/g,
      ' ',
    )
    .split(/[^A-Za-zÀ-ÿ’'-]+/)
    .flatMap((w) => w.split('-'))
    .map((w) => w.replace(/^[’']+|[’']s?$|[’']+$/g, ''))
    .filter((w) => /^[A-Za-zÀ-ÿ’']{3,}$/.test(w) && !/^[A-Z]{2,}s?$/.test(w));

function spelling(): (word: string) => boolean {
  const dict = nspell(dictionary);
  const own = readFileSync('testing/texts/words.txt', 'utf8');
  for (const word of own.split(/\s+/)) if (word) dict.add(word);
  const kept = new Map<string, boolean>();
  return (word) => {
    const there = kept.get(word);
    if (there !== undefined) return there;
    const is = dict.correct(word) || dict.correct(word.toLowerCase());
    kept.set(word, is);
    return is;
  };
}
