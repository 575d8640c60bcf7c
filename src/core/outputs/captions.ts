import * as z from 'zod';
import { deliveredEnd } from '../reading/ends';
import { microsecondsAt } from '../reading/microseconds';
import { mapsOf } from '../score/inventory';
import { stemOf } from '../smf/name';
import { countCaptions } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { TextBytes } from './text';

/** WebVTT, "WebVTT timestamp": hours, minutes, seconds, thousandths. */
function stamp(ms: number): string {
  const two = (n: number) => String(n).padStart(2, '0');
  const whole = Math.floor(ms / 1000);
  return `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}.${String(ms % 1000).padStart(3, '0')}`;
}

const escape = (text: string) =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

export const captionsWriter = defineWriter({
  id: 'captions',
  format: 'captions',
  summary: 'Captions as WebVTT.',
  carries: ['captions'],
  count: countCaptions,
  options: z.strictObject({}),
  write({ pieces }) {
    let squeezed = 0;
    const files = pieces.map((piece, index) => {
      const maps = mapsOf(piece.score);
      const list = piece.captions ?? [];
      const ms = (tick: number) => Math.round(microsecondsAt(maps, tick) / 1000);
      const end = ms(Math.max(deliveredEnd(piece), list.at(-1)?.tick ?? 0));
      const out = new TextBytes().add('WEBVTT\n');
      let before = -1;
      list.forEach((caption, i) => {
        // Cues do not overlap, and last at least a thousandth.
        const from = Math.max(ms(caption.tick), before);
        if (from !== ms(caption.tick)) squeezed++;
        const next = list[i + 1];
        const to = Math.max(next ? ms(next.tick) : Math.max(end, from + 1000), from + 1);
        before = to;
        const lines = escape(caption.text)
          .split('\n')
          .map((l) => l.trim())
          .filter((l) => l !== '');
        out.add(`\n${i + 1}\n${stamp(from)} --> ${stamp(to)}\n${lines.join('\n')}\n`);
      });
      return {
        path: `${stemOf(safeName(piece.delivery.fileName))}.vtt`,
        bytes: out.bytes(),
        holds: index,
      };
    });
    const losses =
      squeezed > 0 ? [{ what: 'captions of one moment, shown in turn', count: squeezed }] : [];
    return { files, losses };
  },
});
