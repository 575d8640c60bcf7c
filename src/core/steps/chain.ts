import * as z from 'zod';
import { count } from '../target/words';
import { defineStep, done } from './define-step';

const link = z.strictObject({
  pattern: z
    .string()
    .regex(/^[A-Z]$/, 'one capital letter is needed')
    .describe('The letter of a file: A is the first'),
  repeats: z.int().min(1).max(1000).describe('How often it is played'),
  shift: z.int().min(-127).max(127).describe('Semitones up or down'),
  voices: z.array(z.int().min(1).max(16)).max(16).describe('Voices that sound, from 1'),
});

export const chain = defineStep({
  id: 'chain',
  reach: 'piece',
  title: 'Chain',
  summary: 'In which order the files of the delivery are played, how often, and shifted by what.',
  params: z.strictObject({ links: z.array(link).min(1).max(1000) }),
  describe: ({ links }) => {
    const said = links
      .slice(0, 6)
      .map((l) => `${l.pattern}${l.repeats > 1 ? ` × ${l.repeats}` : ''}`);
    return `chain ${said.join(', ')}${links.length > 6 ? ` and ${links.length - 6} more` : ''}`;
  },
  apply({ piece, params }) {
    const links = params.links.map((l) => ({
      ...l,
      voices: [...new Set(l.voices)].sort((a, b) => a - b),
    }));
    return done({ ...piece, chain: links }, { says: `${count(links.length, 'link')} made` });
  },
});

export const strands = defineStep({
  id: 'strands',
  reach: 'parts',
  title: 'Strands',
  summary: 'What a part becomes as a strand of cues: its name, instants or spans, and their value.',
  params: z.strictObject({
    kind: z.enum(['instant', 'span']).describe('instant: a moment; span: as long as its note'),
    value: z
      .enum(['note-name', 'note-number', 'velocity', 'length', 'none'])
      .describe('What each cue tells'),
    name: z
      .string()
      .min(1)
      .max(200)
      .optional()
      .describe('What the game listens for; the name of the part where nothing is said'),
  }),
  describe: (p) =>
    `${p.kind === 'span' ? 'spans' : 'instants'} with ${p.value === 'none' ? 'no value' : `their ${p.value.replace('-', ' ')}`}${p.name === undefined ? '' : `, called “${p.name}”`}`,
  apply({ piece, params, select }) {
    const ours = piece.score.parts.filter((p) => select.part(p) && !p.leftOut && p.notes.count > 0);
    if (ours.length === 0) return { refused: 'There is no part with notes that it is for.' };
    if (params.name !== undefined && ours.length > 1)
      return { refused: `One name is for one part; ${ours.length} are chosen.` };
    const chosen = new Set(ours.map((p) => p.id));
    const others = (piece.strands ?? []).filter((s) => !chosen.has(s.part));
    const made = ours.map(({ id, name }) => ({
      part: id,
      name: params.name ?? name,
      kind: params.kind,
      value: params.value,
    }));
    return done(
      { ...piece, strands: [...others, ...made] },
      { says: `${count(made.length, 'strand')} set` },
    );
  },
});
