import { bpmOf } from '../../core/time/tempo-map';
import { SHEET_COLOURS } from './inks';
import { xOf } from './layout';
import { SANS } from './letters';
import type { PaintInput } from './paint-input';

/** On a whole pixel: between two, letters are drawn with a stray line above them. */
const FLAG_BASE = 13;

/** Bar numbers below, tempo and marker flags above; what does not fit is shortened, then left off. */
export function paintHead(input: PaintInput) {
  const { context: c, layout, row, piece, light } = input;
  const colour = SHEET_COLOURS[light];
  const numbersAt = layout.headHeight - 8;
  let free = 0;
  c.font = `11px ${SANS}`;
  c.textBaseline = 'alphabetic';
  const barPx = ((row.toTick - row.fromTick) * layout.pxPerTick) / row.bars;
  const every = barPx >= 26 ? 1 : barPx >= 13 ? 2 : 4;
  for (let n = 0; n < row.bars; n++) {
    const bar = row.firstBar + n;
    const start = piece.bars.barStart(bar);
    const meter = piece.bars.meterAt(start);
    const before = bar === 0 ? null : piece.bars.meterAt(start - 1);
    const changed =
      before !== null &&
      (before.numerator !== meter.numerator || before.denominator !== meter.denominator);
    const x = xOf(layout, row, start) + 2;
    const number = String(bar + 1);
    const fits = x >= free && x + c.measureText(number).width <= layout.width;
    if ((n % every === 0 || changed) && fits) {
      c.fillStyle = colour.ink2;
      c.fillText(number, x, numbersAt);
      free = x + c.measureText(number).width + 3;
    }
    if (changed || bar === 0) {
      const text = `${meter.numerator}/${meter.denominator}`;
      const shift = c.measureText(number).width + 6;
      c.fillStyle = colour.ink;
      c.font = `600 11px ${SANS}`;
      const room = layout.width - x - shift;
      if (fits && (barPx > shift + 20 || changed) && c.measureText(text).width <= room) {
        c.fillText(text, x + shift, numbersAt);
        free = x + shift + c.measureText(text).width + 5;
      }
      c.font = `11px ${SANS}`;
    }
  }
  paintFlags(input);
}

interface Flag {
  tick: number;
  text: string;
  kind: 'tempo' | 'marker';
}

const GIVES_WAY = 60;
/** About as wide as the flag of a tempo. */
const NEAR = 54;

function paintFlags({ context: c, layout, row, piece, light }: PaintInput) {
  const colour = SHEET_COLOURS[light];
  const inRow = (tick: number) => tick >= row.fromTick && tick < row.toTick;
  const flags: Flag[] = [
    ...piece.tempos
      .filter((t) => inRow(t.tick))
      .map((t) => ({
        tick: t.tick,
        text: `♩ ${Math.round(bpmOf(t.microsecondsPerQuarter) * 100) / 100}`,
        kind: 'tempo' as const,
      })),
    ...piece.markers
      .filter((m) => inRow(m.tick))
      .map((m) => ({ tick: m.tick, text: m.text, kind: 'marker' as const })),
  ].sort((a, b) => a.tick - b.tick || (a.kind === 'tempo' ? -1 : 1));
  c.font = `12px ${SANS}`;
  c.lineWidth = 1;
  c.textBaseline = 'alphabetic';
  const right = layout.width - 6;
  let free = 0;
  /** The last tempo that a flag tells, and where that flag ends. */
  let told = { to: -1, until: 0 };
  const markerBehind = nextMarkers(flags);
  /** The last of further tempos that stand so near that they get no flag of their own. */
  const lastOfNear = (i: number): number => {
    const at = xOf(layout, row, flags[i]!.tick);
    let last = i;
    while (flags[last + 1]?.kind === 'tempo' && xOf(layout, row, flags[last + 1]!.tick) - at < NEAR)
      last++;
    return last;
  };
  let lastTempo = '';
  flags.forEach((flag, i) => {
    const at = xOf(layout, row, flag.tick);
    const x = Math.max(at, free);
    // Many tempos in a row are told by those that have room; a marker always has its place.
    const isTempo = flag.kind === 'tempo';
    /** It says what is so already. */
    const repeats = isTempo && flag.text === lastTempo;
    if (isTempo) lastTempo = flag.text;
    const behind = flags[i + 1];
    const near = behind?.kind === 'tempo' && xOf(layout, row, behind.tick) - at < GIVES_WAY;
    const next = isTempo || near ? markerBehind[i] : behind;
    // The next flag may give way a little before this one is shortened.
    const until = next ? Math.min(right, xOf(layout, row, next.tick) + GIVES_WAY) : right;
    const room = until - x - 14;
    const crowded = isTempo && (x - at > 14 || c.measureText(flag.text).width > room);
    if (x - at > GIVES_WAY || room < 16 || crowded) {
      // No room for a label: its place is ticked, unless the flag above it tells it.
      if (isTempo && ((i <= told.to && at < told.until) || repeats)) return;
      c.fillStyle = isTempo ? colour.ink2 : colour.flag;
      if (at < free - 4) c.fillRect(at, 17, 1.5, 3);
      else c.fillRect(at, 12, 1.5, 6);
      return;
    }
    // Of tempos that stand too near each other for a flag each the last is told too: it is what plays on.
    const last = isTempo ? lastOfNear(i) : i;
    const then = flags[last]!.text;
    const whole = then === flag.text ? flag.text : `${flag.text} … ${then.slice(2)}`;
    const both = c.measureText(whole).width <= room ? whole : flag.text;
    const text = shorten(c, both, room);
    const w = c.measureText(text).width + 12;
    if (flag.kind === 'tempo') {
      c.fillStyle = colour.pill;
      c.strokeStyle = colour.line;
      c.beginPath();
      c.roundRect(x + 0.5, 1.5, w, 15, 7);
      c.fill();
      c.stroke();
      c.fillStyle = colour.pillText;
      c.fillText(text, Math.round(x + 6), FLAG_BASE);
      free = x + w + 4;
      if (both === whole) told = { to: last, until: x + w };
    } else {
      c.fillStyle = colour.flag;
      c.beginPath();
      c.moveTo(x, 1);
      c.lineTo(x + w + 5, 1);
      c.lineTo(x + w, 8.5);
      c.lineTo(x + w + 5, 16);
      c.lineTo(x, 16);
      c.fill();
      c.fillStyle = colour.flagText;
      c.fillText(text, Math.round(x + 5), FLAG_BASE);
      free = x + w + 8;
    }
  });
}

/** The marker behind each flag; a row may hold thousands of tempos. */
function nextMarkers(flags: readonly Flag[]): (Flag | undefined)[] {
  let next: Flag | undefined;
  const out: (Flag | undefined)[] = [];
  for (let i = flags.length - 1; i >= 0; i--) {
    out[i] = next;
    if (flags[i]!.kind === 'marker') next = flags[i];
  }
  return out;
}

function shorten(c: CanvasRenderingContext2D, text: string, room: number): string {
  if (c.measureText(text).width <= room) return text;
  let cut = text;
  while (cut.length > 1 && c.measureText(`${cut}…`).width > room) cut = cut.slice(0, -1);
  return `${cut}…`;
}
