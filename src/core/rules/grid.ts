import type { Mend } from '../diagnostic/finding';
import type { Piece } from '../score/piece';
import type { Maps } from '../score/inventory';
import { isIn, ticksPerQuarterOf } from '../score/score';
import { metadata } from '../steps/facts';
import { addTriggerKeys, quantise } from '../steps/grid';
import { CHORD_SPREAD_MS, chordsOf } from '../reading/chords';
import { keepVoices, thin } from '../steps/spacing';
import { leaveOut } from '../steps/routing';
import { setLength } from '../steps/length';
import type { Target } from '../target/schema';
import { count, plain } from '../target/words';
import { defineRule, mend, Places } from './define-rule';

/** How far a start may stand from its row at the least: what rounding to milliseconds costs. */
const ROW_WITHIN_MS = 1;

type Grid = NonNullable<Target['grid']>;

/** One rate is chosen for the whole song, and every note moved to its rows. */
const toRows = (rowsPerSecond: number): Mend => ({
  title: `Move them to ${plain(rowsPerSecond)} rows a second`,
  steps: [
    ...mend('', metadata, { rowsPerSecond: String(rowsPerSecond) }).steps,
    ...mend('', quantise, { rowsPerSecond }).steps,
  ],
});

/** Notes that stand on no row of a rate. */
function offRows(
  { score }: Piece,
  { clock }: Maps,
  rate: number,
): { places: Places; most: number } {
  const row = 1000 / rate;
  const places = new Places();
  let most = 0;
  for (const part of score.parts.filter(isIn)) {
    for (let i = 0; i < part.notes.count; i++) {
      const ms = clock.msAt(part.notes.start[i]!);
      const off = Math.abs(ms - Math.round(ms / row) * row);
      if (off <= ROW_WITHIN_MS + 1e-6) continue;
      // Half a tick is as near as a file can say it.
      const tick = part.notes.start[i]!;
      const around = Math.max(clock.msAt(tick + 1) - ms, ms - clock.msAt(Math.max(0, tick - 1)));
      if (off <= around / 2 + 1e-6) continue;
      places.add(part, i);
      if (off > most) most = off;
    }
  }
  return { places, most };
}

/** The rate that was chosen, else the one that the most notes fit; then by how little the rest is off; of equals the slowest. */
export function rowRateOf(piece: Piece, maps: Maps, block: Grid): number | null {
  const rates = block.rowsPerSecond;
  if (!rates) return null;
  const chosen = Number(piece.delivery.metadata?.rowsPerSecond);
  if (rates.includes(chosen)) return chosen;
  let best = rates[0]!;
  let least = Infinity;
  for (const rate of [...rates].sort((a, b) => a - b)) {
    const { places, most } = offRows(piece, maps, rate);
    const cost = places.count * 10_000 + most;
    if (cost < least) [least, best] = [cost, rate];
  }
  return best;
}

export const rows = defineRule({
  id: 'rows',
  summary: 'Every note on a row of one rate, and no more rows than the target holds.',
  block: 'grid',
  reads: ['rowsPerSecond'],
  phase: 'spacing',
  codes: {
    'off-row': {
      title: 'Between the rows',
      wrong: (f) =>
        `${f['countText']} off the rows at ${f['rate']} a second, by up to ${f['ms']} ms.`,
      then: (_, w) => `${w.Target} punches each on the nearest row, and the rhythm limps.`,
    },
    'too-many-rows': {
      title: 'Too long',
      wrong: (f) =>
        `The piece takes ${f['rows']} rows at ${f['rate']} a second (${f['metres']} m).`,
      then: (f, w) => `${w.Target} holds ${f['most']}.`,
    },
    'rows-unknown': {
      title: 'A row rate it does not have',
      wrong: (f) => `${f['rate']} rows a second are asked for.`,
      then: (f, w) => `${w.Target} runs at ${f['allowed']}.`,
    },
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
    const { places, most } = offRows(piece, maps, rate);
    if (places.count > 0) {
      // Rates that lose less come first; a user may still prefer another.
      const others = rates
        .map((r) => ({ r, off: offRows(piece, maps, r).places.count }))
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
    const slower = rates.filter((r) => r < rate && (total * r) / rate <= block.mostRows!);
    report({
      code: 'too-many-rows',
      spans: [{ fromTick: until, toTick: last + 1 }],
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

export const rowLimits = defineRule({
  id: 'row-limits',
  summary: 'No more holes in a row than there may be, and no pipe in two rows running.',
  block: 'grid',
  reads: ['rowsPerSecond'],
  phase: 'spacing',
  codes: {
    'row-crowded': {
      title: 'Too many in one row',
      wrong: (f) => `Up to ${f['most']} in one row, in ${f['places']} rows.`,
      then: (f, w) => `${w.Target} tears where more than ${f['allowed']} stand side by side.`,
    },
    'row-again': {
      title: 'In two rows running',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'stands' : 'stand'} in the row behind the same key.`,
      then: (_, w) => `${w.Target} makes one long hole of the two: the second is not heard.`,
    },
    'row-shared': {
      title: 'Twice in one row',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'falls' : 'fall'} in the row of the same key.`,
      then: (_, w) => `${w.Target} has one hole for both.`,
    },
  },
  check({ block, piece, maps, groups, report }) {
    const rate = rowRateOf(piece, maps, block);
    if (rate === null) return;
    const rowOf = (tick: number) => Math.round((maps.clock.msAt(tick) * rate) / 1000);
    if (block.mostInRow !== undefined) {
      const inRow = new Map<number, { part: number; index: number }[]>();
      const parts = piece.score.parts.filter(isIn);
      parts.forEach((part, p) => {
        for (let i = 0; i < part.notes.count; i++) {
          const row = rowOf(part.notes.start[i]!);
          const there = inRow.get(row);
          if (there) there.push({ part: p, index: i });
          else inRow.set(row, [{ part: p, index: i }]);
        }
      });
      const places = new Places();
      let most = 0;
      let crowded = 0;
      for (const list of inRow.values()) {
        if (list.length <= block.mostInRow) continue;
        crowded++;
        most = Math.max(most, list.length);
        for (const { part, index } of list) places.add(parts[part]!, index);
      }
      if (crowded > 0)
        report({
          code: 'row-crowded',
          ...places.found,
          data: { most, places: crowded, allowed: block.mostInRow },
          measured: { value: most, unit: 'notes in a row' },
          allowed: { mostInRow: block.mostInRow },
          mends: (['highest', 'loudest'] as const).map((keep) =>
            mend(`Keep the ${keep} ${block.mostInRow}`, keepVoices, {
              voices: block.mostInRow!,
              keep,
              over: 'all' as const,
              rowsPerSecond: rate,
            }),
          ),
        });
    }
    for (const group of groups()) {
      const again = new Places();
      const shared = new Places();
      const last = new Map<number, number>();
      for (let i = 0; i < group.notes.count; i++) {
        const key = group.notes.noteNumber[i]!;
        const row = rowOf(group.notes.start[i]!);
        const before = last.get(key);
        if (before === row) shared.addNote(group.notes, i);
        else if (before === row - 1 && block.sameKeyNextRow === 'none') {
          again.addNote(group.notes, i);
          continue; // it would be dropped, and the next is judged by the one before
        }
        last.set(key, row);
      }
      const name = group.parts.map((p) => p.name).join(' + ');
      const facts = (p: Places) => ({
        name,
        countText: count(p.count, 'note'),
        one: p.count === 1 ? 1 : 0,
      });
      const base = {
        cause: group.parts.map((p) => p.seat ?? p.ref.track).join('+'),
        ...(group.parts.length === 1 ? { part: group.parts[0]! } : {}),
      };
      if (again.count > 0)
        report({
          code: 'row-again',
          ...base,
          ...again.found,
          data: facts(again),
          measured: { value: again.count, unit: 'notes' },
          allowed: { sameKeyNextRow: 'none' },
          mends: [
            mend(
              'Drop the second of each',
              thin,
              { rowsPerSecond: rate, apartRows: 2, per: 'key', keep: 'first' },
              group.parts,
            ),
          ],
        });
      if (shared.count > 0)
        report({
          code: 'row-shared',
          ...base,
          ...shared.found,
          data: facts(shared),
          measured: { value: shared.count, unit: 'notes' },
          mends: [
            mend(
              'Keep one of each',
              thin,
              { rowsPerSecond: rate, apartRows: 1, per: 'key', keep: 'first' },
              group.parts,
            ),
          ],
        });
    }
  },
});

export const chords = defineRule({
  id: 'chords-together',
  summary: 'The notes of a chord struck together, and with a trigger key.',
  block: 'grid',
  reads: ['chordWithinMs'],
  phase: 'spacing',
  codes: {
    'chord-spread': {
      title: 'Chords not struck together',
      wrong: (f) => `${f['chordsText']} spread over up to ${f['ms']} ms.`,
      then: (f, w) =>
        `${w.Target} takes what comes within ${f['within']} ms of the trigger and misses the rest.`,
    },
    'trigger-missing': {
      title: 'Chords without a trigger',
      wrong: (f) =>
        `${f['chordsText']} no key of ${f['lowest']}–${f['highest']} struck with ${f['one'] ? 'it' : 'them'}.`,
      then: (_, w) => `${w.Target} holds such a chord without a sound.`,
    },
  },
  check({ channels, block, maps, report }) {
    const { chordWithinMs, chordLowest, chordHighest, triggerLowest, triggerHighest } = block;
    if (chordWithinMs === undefined) return;
    // What the far side hears on a channel is struck together, whatever tracks it is of.
    for (const { parts, notes } of channels()) {
      if (notes.count === 0) continue;
      const all = chordsOf(notes, maps.clock, block, chordWithinMs);
      const spread = new Places();
      const silent = new Places();
      let spreadCount = 0;
      let silentCount = 0;
      let most = 0;
      for (const chord of all) {
        if (chord.indices.length < 2) continue;
        const wide = maps.clock.msAt(chord.last) - maps.clock.msAt(chord.first);
        const together = wide <= chordWithinMs + 1e-6;
        if (!together) {
          spreadCount++;
          most = Math.max(most, wide);
          for (const i of chord.indices) spread.addNote(notes, i);
        } else if (triggerLowest !== undefined && triggerHighest !== undefined && !chord.struck) {
          // A spread chord is judged by its own finding first.
          silentCount++;
          for (const i of chord.indices) silent.addNote(notes, i);
        }
      }
      const [part] = parts;
      const base = {
        cause: `channel ${part!.channel}`,
        ...(parts.length === 1 ? { part: part! } : {}),
      };
      if (spreadCount > 0)
        report({
          code: 'chord-spread',
          ...base,
          ...spread.found,
          data: {
            chordsText: spreadCount === 1 ? 'One chord is' : `${spreadCount} chords are`,
            ms: plain(most),
            within: plain(chordWithinMs),
          },
          measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
          allowed: { chordWithinMs },
          mends: [
            mend('Strike them together', quantise, { chordWithinMs: CHORD_SPREAD_MS }, parts),
          ],
        });
      if (silentCount > 0)
        report({
          code: 'trigger-missing',
          ...base,
          ...silent.found,
          data: {
            chordsText: silentCount === 1 ? 'One chord has' : `${silentCount} chords have`,
            one: silentCount === 1 ? 1 : 0,
            lowest: triggerLowest!,
            highest: triggerHighest!,
          },
          measured: { value: silentCount, unit: 'chords' },
          allowed: { triggerLowest, triggerHighest },
          mends: [
            mend(
              'Add a trigger key to each',
              addTriggerKeys,
              {
                key: triggerLowest!,
                chordLowest: chordLowest ?? 0,
                chordHighest: chordHighest ?? 127,
                triggerLowest: triggerLowest!,
                triggerHighest: triggerHighest!,
                leastNotes: 2,
                withinMs: chordWithinMs,
              },
              parts,
            ),
            mend('Leave the chords out', leaveOut, { above: (chordLowest ?? 1) - 1 }, parts),
          ],
        });
    }
  },
});

export const offGrid = defineRule({
  id: 'off-grid',
  summary: 'Notes that nearly stand on sixteenths, where a line was perhaps played in.',
  block: null,
  phase: 'spacing',
  codes: {
    'off-grid': {
      title: 'Nearly on the grid',
      wrong: (f) =>
        `${f['share']} percent of the notes of “${f['name']}” stand near a sixteenth and not on it, by ${f['ms']} ms in the middle.`,
      then: () =>
        'Programs often show a quantised line and export it as it was played. Listen, and leave it as is if it is meant.',
    },
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
      const places = new Places();
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
          ms: plain(ms),
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
