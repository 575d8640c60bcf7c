import { phrasesOf } from '../../reading/phrases';
import { sayTimes } from '../../target/words';
import { defineRule, says, spanAt } from '../define-rule';

export const phraseBreaks = defineRule({
  id: 'phrases',
  summary: 'All levels of a part rest at the same places, where a phrase ends.',
  story: {
    why: 'A lower level was thinned by hand and rests where the song goes on.',
    mends: 'None: where a phrase ends is yours to say. Fill the rest, or make one in the others.',
  },
  block: 'chart',
  reads: ['phraseBreakBeats'],
  phase: 'notes',
  codes: {
    'phrases-differ': says<{
      name: string;
      countText: string;
      beats: number;
      other: string;
    }>({
      title: 'Rest missing in the hardest level',
      wrong: (f) =>
        `“${f.name}” rests for ${f.beats} beats ${f.countText} where “${f.other}” plays on.`,
      then: (_, w) => `${w.Target} ends a phrase there, and counts what comes next as a new one.`,
    }),
  },
  check({ block, target, groups, maps, report }) {
    const beats = block.phraseBreakBeats;
    if (beats === undefined) return;
    const lines = [...groups()].flatMap((group) => {
      const seat = target.seats.find((s) => s.id === group.parts[0]?.seat);
      if (seat?.kind !== 'laneGroup' || seat.rung === undefined) return [];
      return [{ group, of: seat.track ?? seat.name, rung: seat.rung, name: seat.name }];
    });
    for (const line of lines) {
      const hardest = lines
        .filter((l) => l.of === line.of)
        .reduce((a, b) => (b.rung > a.rung ? b : a));
      if (hardest === line) continue;
      const played = phrasesOf(hardest.group.notes, maps, beats);
      const own = phrasesOf(line.group.notes, maps, beats);
      const gaps = own.slice(1).map((p, i) => ({ from: own[i]!.toTick, to: p.fromTick }));
      const spans = gaps
        .filter(({ from, to }) => played.some((p) => p.fromTick <= from && p.toTick >= to))
        .map(({ from }) => spanAt(from));
      if (spans.length === 0) continue;
      report({
        code: 'phrases-differ',
        severity: 'caution',
        cause: line.group.parts.map((p) => p.seat).join('+'),
        ...(line.group.parts.length === 1 ? { part: line.group.parts[0]! } : {}),
        spans,
        data: {
          name: line.name,
          countText: sayTimes(spans.length),
          beats,
          other: hardest.name,
        },
        measured: { value: spans.length, unit: 'rests' },
        allowed: { phraseBreakBeats: beats },
        noMend: 'Fill the rest with notes of the hardest level, or let that rest there too.',
      });
    }
  },
});
