import { SpanList, defineRule, mend, says } from '../define-rule';
import { sayMs } from '../../target/words';
import { quantise } from '../../steps/grid';
import { ticksPerQuarterOf } from '../../score/score';

export const offGrid = defineRule({
  id: 'off-grid',
  summary: 'Notes that nearly stand on sixteenths, where a line was perhaps played in.',
  story: {
    why: 'Programs show a quantised line and export it as it was played.',
    mends: 'The starts move to sixteenths; lengths stay.',
  },
  block: null,
  phase: 'spacing',
  codes: {
    'off-grid': says<{ name: string; share: number; ms: string }>({
      title: 'Notes slightly off the grid',
      wrong: (f) =>
        `${f.share === 100 ? 'All' : `${f.share} percent of the`} notes of “${f.name}” stand near a sixteenth and not on it, by ${f.ms} ms in the middle.`,
      then: () =>
        'Programs often show a quantised line and export it as it was played. Listen, and leave it as is if it is meant.',
    }),
  },
  check({ heard, target, piece, maps, report }) {
    // A target with rows has the rules of its rows alone.
    if (target.grid?.rowsPerSecond) return;
    if (piece.score.division.kind === 'smpte') return;
    const quarter = ticksPerQuarterOf(piece.score.division);
    for (const part of heard()) {
      if (part.notes.count < 32) continue;
      const offs: number[] = [];
      let exact = 0;
      for (let i = 0; i < part.notes.count; i++) {
        const tick = part.notes.start[i]!;
        const off = offPlace(tick, quarter, 4);
        if (off <= 0.5 || offPlace(tick, quarter, 3) <= 0.5) exact++;
        else if (off <= quarter * 0.06) offs.push(off);
      }
      // Most near, hardly any exact: a line that was played, or an export without its quantise.
      if (offs.length < part.notes.count * 0.6 || exact > part.notes.count * 0.3) continue;
      offs.sort((a, b) => a - b);
      const middle = offs[offs.length >> 1]!;
      const ms = maps.clock.msAt(Math.round(middle)) - maps.clock.msAt(0);
      const places = new SpanList();
      for (let i = 0; i < part.notes.count; i++)
        if (offPlace(part.notes.start[i]!, quarter, 4) > 0.5) places.add(part, i);
      report({
        code: 'off-grid',
        severity: 'caution',
        part,
        ...places.found,
        data: {
          name: part.name,
          share: Math.round((offs.length * 100) / part.notes.count),
          ms: sayMs(ms),
        },
        measured: { value: Math.round(ms * 1000) / 1000, unit: 'ms' },
        mends: [mend('Quantise to sixteenths', quantise, { dividePer: 4 }, [part])],
      });
    }
  },
});

/** Distance in ticks from the nearest place of a grid. */
function offPlace(tick: number, quarter: number, divide: number): number {
  const place = Math.round((tick * divide) / quarter);
  return Math.abs(tick - (place * quarter) / divide);
}
