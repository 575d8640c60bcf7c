import type { Mend } from '../../diagnostic/finding';
import { count, plain } from '../../target/words';
import { Places, defineRule, mend, says } from '../define-rule';
import { metadata } from '../../steps/facts';
import { offRows, rowAt, rowRateOf } from '../../reading/rows';
import { quantise } from '../../steps/grid';
import { setLength } from '../../steps/length';

/** One rate is chosen for the whole song, and every note moved to its rows. */
const toRows = (rowsPerSecond: number): Mend => ({
  title: `Move them to ${plain(rowsPerSecond)} rows a second`,
  steps: [
    ...mend('', metadata, { rowsPerSecond: String(rowsPerSecond) }).steps,
    ...mend('', quantise, { rowsPerSecond }).steps,
  ],
});

export const rows = defineRule({
  id: 'rows',
  summary: 'Every note on a row of one rate, and no more rows than the target holds.',
  story: {
    why: 'A punched strip has fixed rows; a played line has not.',
    mends: 'One rate is chosen and every note moved to its rows; each rate says how much it moves.',
  },
  block: 'grid',
  reads: ['rowsPerSecond'],
  phase: 'spacing',
  codes: {
    'off-row': says<{ countText: string; rate: number; ms: string }>({
      title: 'Between the rows',
      wrong: (f) => `${f.countText} off the rows at ${f.rate} a second, by up to ${f.ms} ms.`,
      then: (_, w) => `${w.Target} punches each on the nearest row, and the rhythm limps.`,
    }),
    'too-many-rows': says<{ rows: string; rate: number; most: string; metres: string }>({
      title: 'Too long',
      wrong: (f) => `The piece takes ${f.rows} rows at ${f.rate} a second (${f.metres} m).`,
      then: (f, w) => `${w.Target} holds ${f.most}.`,
    }),
    'rows-unknown': says<{ rate: string; allowed: string }>({
      title: 'A row rate it does not have',
      wrong: (f) => `${f.rate} rows a second are asked for.`,
      then: (f, w) => `${w.Target} runs at ${f.allowed}.`,
    }),
  },
  check({ heard, block, piece, maps, report }) {
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
    const places = new Places();
    for (const { part, index } of off) places.add(part, index);
    if (places.count > 0) {
      // Rates that lose less come first; a user may still prefer another.
      const others = rates
        .map((r) => ({ r, off: offRows(piece, maps, r).notes.length }))
        .sort((a, b) => a.off - b.off || a.r - b.r);
      report({
        code: 'off-row',
        ...places.found,
        data: {
          countText: `${count(places.count, 'note')} ${places.count === 1 ? 'is' : 'are'}`,
          rate,
          ms: plain(most),
        },
        measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
        allowed: { rowsPerSecond: rates },
        mends: others.map(({ r }) => toRows(r)),
      });
    }
    if (block.mostRows === undefined) return;
    let last = 0;
    for (const part of heard())
      if (part.notes.count > 0) last = Math.max(last, part.notes.start[part.notes.count - 1]!);
    const total = Math.round((maps.clock.msAt(last) * rate) / 1000) + 1;
    if (total <= block.mostRows) return;
    const until = maps.clock.tickAt((block.mostRows * 1000) / rate);
    const beyond = new Places();
    for (const part of heard())
      for (let i = 0; i < part.notes.count; i++)
        if (rowAt(maps, rate, part.notes.start[i]!) >= block.mostRows) beyond.add(part, i);
    const slower = rates.filter((r) => r < rate && (total * r) / rate <= block.mostRows!);
    report({
      code: 'too-many-rows',
      spans: [{ fromTick: until, toTick: last + 1 }],
      notes: beyond.notes,
      data: {
        rows: total.toLocaleString('en-GB'),
        rate,
        most: block.mostRows.toLocaleString('en-GB'),
        metres: plain((total * (block.rowMm ?? 8)) / 1000),
      },
      measured: { value: total, unit: 'rows' },
      allowed: { mostRows: block.mostRows },
      mends: [
        ...slower.slice(-1).map(toRows),
        mend('Cut it at the last row', setLength, { toTick: until }),
      ],
    });
  },
});
