import { checkTexts } from './check';
import { gatherTexts } from './gather';

/** Prints all texts by file, those that hold all of the words given, and what is doubtful. */
const words = process.argv.slice(2).map((w) => w.toLowerCase());
const texts = gatherTexts().filter(({ text }) =>
  words.every((w) => text.toLowerCase().includes(w)),
);
const doubts = new Map<string, string[]>();
for (const { file, text, doubt } of checkTexts(texts))
  doubts.set(`${file} ${text}`, [...(doubts.get(`${file} ${text}`) ?? []), doubt]);
let file = '';
const lines: string[] = [`# ${texts.length} texts`];
for (const t of texts) {
  if (t.file !== file) lines.push('', `## ${t.file}`, '');
  file = t.file;
  const doubtful = doubts.get(`${t.file} ${t.text}`);
  lines.push(`- ${t.text}${doubtful ? ` **← ${doubtful.join('; ')}**` : ''}`);
}
lines.push('', `${doubts.size} of them are doubtful.`);
process.stdout.write(`${lines.join('\n')}\n`);
