import { noteName } from '../../core/target/words';
import { SHEET_COLOURS } from './inks';
import { noteHeight, octavesOf, xOf, yOf } from './layout';
import { SANS } from './letters';
import type { PaintInput } from './paint-input';

/** The octaves of tall rows: a thin line under each C, its name at the left; notes lie over both. */
export function paintOctaves(input: PaintInput): void {
  const { context: c, layout, row, bands, light, pitched } = input;
  if (!pitched) return;
  const colour = SHEET_COLOURS[light];
  const right = xOf(layout, row, row.toTick);
  c.font = `12px ${SANS}`;
  c.textBaseline = 'alphabetic';
  for (const band of bands)
    for (const key of octavesOf(band)) {
      const y = layout.headHeight + yOf(band, key) + noteHeight(band);
      c.fillStyle = colour.beat;
      c.fillRect(layout.left, Math.round(y) + 0.5, right - layout.left, 0.7);
      c.fillStyle = colour.ink2;
      c.fillText(noteName(key), layout.left + 5, y - 1);
    }
}
