import type { Mend } from '../finding';
import { count, plain, sayMs } from '../../target/words';
import { SpanList, defineRule, mend, says } from '../define-rule';
import type { Piece } from '../../score/piece';
import { rowFit, type RowFit } from '../../reading/row-fit';
import { toRowRate } from '../../steps/row-rate';
import { MOST_ROWS, offRows, rowAt, rowRateOf } from '../../reading/rows';
import { roundMs } from '../../score/inventory';
import { setLength } from '../../steps/length';

/** One rate is chosen for the whole song, at a speed that suits it, and every note moved to its rows. */
const toRows = (rowsPerSecond: number, fit?: RowFit): Mend => ({
  title:
    fit === undefined
      ? `Move them to ${plain(rowsPerSecond)} rows a second`
      : `${plain(rowsPerSecond)} rows a second${fit.percent === 100 ? '' : ` at ${plain(fit.percent)} % speed`}: ${sayFit(fit)}`,
  steps: toRowRate(rowsPerSecond, fit?.percent),
});

const sayFit = ({ worstMs, mostMs, clashes }: RowFit): string =>
  (worstMs <= mostMs + 4
    ? `every note within ${Math.ceil(worstMs)} ms`
    : `nineteen in twenty within ${Math.ceil(mostMs)} ms`) +
  (clashes === 0 ? '' : `, ${clashes.toLocaleString('en-GB')} run together`);

/** How much the ear is asked to bear: what runs together first, then what is moved, then the speed. */
const burden = ({ percent, mostMs, clashes }: RowFit, notes: number): number =>
  (clashes / Math.max(1, notes)) * 400 + mostMs + Math.abs(percent - 100) * 2;

/** Another speed is offered where it brings the notes at least this much nearer. */
const WORTH = 0.6;

function waysTo(
  piece: Piece,
  rates: readonly number[],
  notes: number,
  { maySpeed }: { maySpeed: boolean },
): Mend[] {
  const fits = rates.flatMap((rate) => {
    const asIs = rowFit(piece, rate, false);
    const free = maySpeed ? rowFit(piece, rate, true) : asIs;
    const better = free.percent !== 100 && free.mostMs < asIs.mostMs * WORTH;
    return better ? [free, asIs] : [asIs];
  });
  return fits
    .sort((a, b) => burden(a, notes) - burden(b, notes) || a.rate - b.rate)
    .map((fit) => toRows(fit.rate, fit));
}

export const rows = defineRule({
  id: 'rows',
  summary: 'Every note on a row of one rate, and no more rows than the target holds.',
  story: {
    why: 'A punched strip has fixed rows; a played line has not.',
    mends:
      'One rate is chosen, at a speed within three percent that suits it, and every note moved to its rows.',
  },
  block: 'grid',
  reads: ['rowsPerSecond'],
  phase: 'spacing',
  codes: {
    'off-row': says<{ countText: string; rate: number; ms: string }>({
      title: 'Notes between the rows',
      wrong: (f) => `${f.countText} off the rows at ${f.rate} a second, by up to ${f.ms} ms.`,
      then: (_, w) => `${w.Target} punches each on the nearest row, and the rhythm limps.`,
    }),
    'too-many-rows': says<{ rows: string; rate: number; most: string; metres: string }>({
      title: 'Too many rows',
      named: (f) => `${f.rows} rows, holds ${f.most}`,
      wrong: (f) => `The piece takes ${f.rows} rows at ${f.rate} a second (${f.metres} m).`,
      then: (f, w) => `${w.Target} holds ${f.most}.`,
    }),
    'rows-unknown': says<{ rate: string; allowed: string }>({
      title: 'Row rate not supported',
      wrong: (f) => `${f.rate} rows a second are asked for.`,
      then: (f, w) => `${w.Target} runs at ${f.allowed}.`,
    }),
  },
  check({ heard, block, piece, target, maps, report }) {
    const rates = block.rowsPerSecond;
    if (!rates) return;
    const asked = piece.delivery.metadata?.rowsPerSecond;
    if (asked !== undefined && !rates.includes(Number(asked)))
      report({
        code: 'rows-unknown',
        data: { rate: asked, allowed: rates.join(', ') },
        allowed: { rowsPerSecond: rates },
        noMend: 'Choose one of its rates in the step “Metadata”.',
      });
    const rate = rowRateOf(piece, maps, block)!;
    const { notes: off, most } = offRows(piece, maps, rate);
    const places = new SpanList();
    for (const { part, index } of off) places.add(part, index);
    if (places.count > 0) {
      report({
        code: 'off-row',
        ...places.found,
        data: {
          countText: `${count(places.count, 'note')} ${places.count === 1 ? 'is' : 'are'}`,
          rate,
          ms: sayMs(most),
        },
        measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
        allowed: { rowsPerSecond: rates },
        ranked: true,
        // Rates that ask less of the ear come first; a user may still prefer another.
        mends: waysTo(piece, rates, places.count, {
          // What has to keep its clock time, or a recording, has the speed that it has.
          maySpeed:
            piece.score.division.kind === 'ppq' &&
            target.clock === undefined &&
            target.end?.soundWithinMs === undefined,
        }),
      });
    }
    const mostRows = Math.min(block.mostRows ?? Infinity, MOST_ROWS);
    let last = 0;
    for (const part of heard())
      if (part.notes.count > 0) last = Math.max(last, part.notes.start[part.notes.count - 1]!);
    const total = Math.round((maps.clock.msAt(last) * rate) / 1000) + 1;
    if (total <= mostRows) return;
    const until = maps.clock.tickAt((mostRows * 1000) / rate);
    const beyond = new SpanList();
    for (const part of heard())
      for (let i = 0; i < part.notes.count; i++)
        if (rowAt(maps, rate, part.notes.start[i]!) >= mostRows) beyond.add(part, i);
    const slower = rates.filter((r) => r < rate && (total * r) / rate <= mostRows);
    report({
      code: 'too-many-rows',
      spans: [{ fromTick: until, toTick: last + 1 }],
      notes: beyond.notes,
      data: {
        rows: total.toLocaleString('en-GB'),
        rate,
        most: mostRows.toLocaleString('en-GB'),
        metres: plain((total * (block.rowMm ?? 8)) / 1000),
      },
      measured: { value: total, unit: 'rows' },
      allowed: { mostRows },
      mends: [
        ...slower.slice(-1).map((r) => toRows(r)),
        mend('Cut the piece at the last row', setLength, {
          toMs: roundMs((mostRows * 1000) / rate),
        }),
      ],
    });
  },
});
