import * as z from 'zod';
import { patchListFormat } from '../formats/curve-tables';
import { curvesIn, delivered, presetsIn, type Curve } from '../reading/curves';
import { placesFor } from '../reading/preset-places';
import { microsecondsAt } from '../reading/microseconds';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { stemOf } from '../smf/name';
import type { Target } from '../target/schema';
import { lastAtOrBefore } from '../time/tempo-map';
import { countPatchList } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { csvBytes, type CsvLine } from './text';

export const patchListWriter = defineWriter({
  id: 'patch-list',
  format: 'patch-list',
  summary: 'Every preset with its place, its switches and the delay in tempo, as CSV.',
  carries: ['programs', 'bank changes'],
  count: countPatchList,
  options: z.strictObject({}),
  write({ pieces }, _options, target) {
    const files = pieces.map((piece, index) => ({
      path: `${stemOf(safeName(piece.delivery.fileName))}-patches.csv`,
      bytes: csvBytes(patchListFormat.columns!, (line) => writeRows(line, piece, target)),
      holds: index,
    }));
    return { files, losses: [] };
  },
});

function writeRows(line: CsvLine, piece: Piece, { presets, curves }: Target) {
  const maps = mapsOf(piece.score);
  const parts = delivered(piece);
  const all = presetsIn(parts);
  const placeFor = placesFor(presets?.leadTo ?? 'markers', piece.score.conductor.markers, maps);
  const { markers, tempos } = piece.score.conductor;
  const textAt = new Map(markers.map((m) => [m.tick, m.text]));
  const ticks = tempos.map((t) => t.tick);
  const switches = curvesIn(parts).filter(
    (c) =>
      c.kind === 0xb0 &&
      curves?.list.some((b) => b.values?.length === 2 && b.controllers?.includes(c.number)),
  );
  all.forEach((preset, i) => {
    const { tick, bank, program, channel } = preset;
    const place = maps.bars.placeAt(tick);
    line.cell().add(`${place.bar}.${place.beat}+${place.tick}`);
    line.cell().decimals(microsecondsAt(maps, tick), 6);
    const meant = tick === 0 ? 0 : placeFor(tick);
    line.text(textAt.get(meant) ?? '');
    const known = presets?.list.find((p) => p.bank === bank && p.program === program);
    line.text(known?.name ?? '');
    line.int(bank).int(program);
    const next = all.slice(i + 1).find((p) => p.channel === channel)?.tick ?? Infinity;
    const on = new Set(known?.on ?? []);
    for (const c of switches) if (c.channel === channel) turn(on, c, tick, next);
    line.text([...on].sort((a, b) => a - b).join(' '));
    const us = tempos[lastAtOrBefore(ticks, meant)]?.microsecondsPerQuarter ?? 500_000;
    line.int(Math.round(us / 1000));
    line.end();
  });
}

/** What a switch says first behind a preset belongs to it. */
function turn(on: Set<number>, { tick, value, count, number }: Curve, from: number, until: number) {
  for (let i = 0; i < count; i++) {
    if (tick[i]! < from || tick[i]! >= until) continue;
    if (value[i] === 0) on.delete(number);
    else on.add(number);
    return;
  }
}
