import { count } from '../../target/words';
import { defineRule, says } from '../define-rule';

export const sequences = defineRule({
  id: 'sequences',
  summary: 'Of a file with several sequences or songs one is taken, and the others are named.',
  story: {
    why: 'An old song book or a groove collection keeps many pieces in one file of format 2; a game’s module keeps several songs in one list of orders.',
    mends: 'None: which one is meant is yours to say. The first that holds notes is taken.',
  },
  block: null,
  phase: 'integrity',
  over: 'delivery',
  codes: {
    'other-sequences': says<{
      file: string;
      /** A sequence, or a song. */
      one: string;
      sequences: number;
      taken: number;
      name: string;
      othersText: string;
    }>({
      title: 'More than one piece in the file',
      wrong: (f) =>
        `“${f.file}” holds ${f.sequences} ${f.one}s; ${f.one} ${f.taken} is taken${f.name ? ` (“${f.name}”)` : ''}. The others hold ${f.othersText}.`,
      then: (_, w) => `${w.Target} gets this one alone.`,
    }),
  },
  check({ base, report }) {
    for (const { head, name, key, extras } of base.sources) {
      const { sequences, sequence = 0 } = head;
      if (!sequences || sequences.length < 2) continue;
      const others = sequences.filter((_, i) => i !== sequence);
      const notes = others.reduce((n, s) => n + s.notes, 0);
      const [one, what] = extras?.module ? ['song', 'strike'] : ['sequence', 'note'];
      report({
        code: 'other-sequences',
        severity: notes > 0 ? 'caution' : 'remark',
        cause: key,
        data: {
          file: name,
          one,
          sequences: sequences.length,
          taken: sequence + 1,
          name: sequences[sequence]?.name ?? '',
          othersText: count(notes, what),
        },
        measured: { value: notes, unit: 'notes' },
        noMend: 'Choose another in Intake, or with --sequence on the command line.',
      });
    }
  },
});
