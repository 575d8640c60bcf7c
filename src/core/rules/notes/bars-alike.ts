import { defineRule, says } from '../define-rule';

export const barsAlike = defineRule({
  id: 'bars-alike',
  summary: 'Whether every bar is note for note the same.',
  story: {
    why: 'One bar was copied along the whole pattern while the rest was still to be written.',
    mends: 'None: listen, and leave it as is where it is meant.',
  },
  block: 'notes',
  reads: ['barsAlike'],
  phase: 'notes',
  codes: {
    'bars-alike': says<{ bars: number; name: string }>({
      title: 'Every bar is the same',
      wrong: (f) => `All ${f.bars} bars of “${f.name}” are note for note the same.`,
      then: () => 'Perhaps one bar was copied by mistake, or one bar is enough.',
    }),
  },
  check({ heard, block, maps, report }) {
    if (block.barsAlike === undefined) return;
    for (const part of heard()) {
      if (part.notes.count === 0) continue;
      const { notes } = part;
      const bars = new Map<number, string[]>();
      for (let i = 0; i < notes.count; i++) {
        const bar = maps.bars.barAt(notes.start[i]!);
        const from = maps.bars.barStart(bar);
        const row = `${notes.start[i]! - from} ${notes.end[i]! - notes.start[i]!} ${notes.noteNumber[i]} ${notes.velocity[i]}`;
        const there = bars.get(bar);
        if (there) there.push(row);
        else bars.set(bar, [row]);
      }
      if (bars.size < 2) continue;
      const [first, ...rest] = [...bars.values()].map((b) => b.join('\n'));
      if (rest.some((b) => b !== first)) continue;
      report({
        code: 'bars-alike',
        severity: block.barsAlike,
        part,
        spans: [{ fromTick: notes.start[0]!, toTick: notes.end[notes.count - 1]! }],
        notes: notes.id,
        data: { bars: bars.size, name: part.name },
        measured: { value: bars.size, unit: 'bars' },
        noMend: 'Listen: leave it as is where it is meant.',
      });
    }
  },
});
