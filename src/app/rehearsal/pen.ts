import { SANS, SERIF } from '../sheet/letters';
import { drawWave, type Wave } from '../sheet/wave';
import type { Palette } from '../theme/tokens';

interface Look {
  readonly fill?: string;
  readonly stroke?: string;
  readonly width?: number;
  readonly dash?: readonly number[];
}
interface Words {
  readonly size?: number;
  readonly weight?: number;
  readonly serif?: boolean;
  readonly align?: CanvasTextAlign;
  readonly colour?: string;
  /** Pixels; what is longer ends in an ellipsis. */
  readonly room?: number;
}

/** Draws on paper with ink: lines, plain shapes, hatches and words, in the colours of the light. */
export class Pen {
  constructor(
    readonly c: CanvasRenderingContext2D,
    readonly w: number,
    readonly h: number,
    readonly colour: Palette,
    /** Less motion is asked for: what swings stands still. */
    readonly still: boolean,
    /** A small picture: its words would be too small to be read, and are lines as long. */
    readonly wordless = false,
    /** The recording that runs along, where there is one. */
    private readonly recording: Wave | null = null,
  ) {}

  get hasWave(): boolean {
    return this.recording !== null;
  }

  /** The recording between two times, by the clock of what is delivered. */
  wave(x: number, y: number, w: number, h: number, fromUs: number, toUs: number) {
    if (!this.recording) return;
    const msAt = (at: number) => (fromUs + ((at - x) / w) * (toUs - fromUs)) / 1000;
    const box = { left: x, right: x + w, top: y, height: h, msAt };
    drawWave(this.c, this.recording, box, this.colour.edge);
  }

  clear() {
    this.c.clearRect(0, 0, this.w, this.h);
    this.rect(0, 0, this.w, this.h, { fill: this.colour.page });
  }

  private paint({ fill, stroke, width = 1.5, dash = [] }: Look) {
    const { c } = this;
    if (fill) {
      c.fillStyle = fill;
      c.fill();
    }
    if (!stroke) return;
    c.strokeStyle = stroke;
    c.lineWidth = width;
    c.setLineDash(dash as number[]);
    c.stroke();
    c.setLineDash([]);
  }

  rect(x: number, y: number, w: number, h: number, look: Look, round = 0) {
    this.c.beginPath();
    if (round > 0) this.c.roundRect(x, y, w, h, round);
    else this.c.rect(x, y, w, h);
    this.paint(look);
  }

  circle(x: number, y: number, r: number, look: Look) {
    this.c.beginPath();
    this.c.arc(x, y, Math.max(0, r), 0, Math.PI * 2);
    this.paint(look);
  }

  arc(x: number, y: number, r: number, from: number, to: number, look: Look) {
    this.c.beginPath();
    this.c.arc(x, y, Math.max(0, r), from, to);
    this.paint(look);
  }

  line(points: readonly (readonly [number, number])[], look: Look, closed = false) {
    if (points.length < 2) return;
    this.c.beginPath();
    points.forEach(([x, y], i) => (i === 0 ? this.c.moveTo(x, y) : this.c.lineTo(x, y)));
    if (closed) this.c.closePath();
    this.paint(look);
  }

  path(d: string, x: number, y: number, scale: number, look: Look, turn = 0) {
    const { c } = this;
    c.save();
    c.translate(x, y);
    c.rotate(turn);
    c.scale(scale, scale);
    const path = new Path2D(d);
    if (look.fill) {
      c.fillStyle = look.fill;
      c.fill(path);
    }
    if (look.stroke) {
      c.strokeStyle = look.stroke;
      c.lineWidth = (look.width ?? 1.5) / scale;
      c.stroke(path);
    }
    c.restore();
  }

  /** Slanting lines: what is not there. */
  hatch(x: number, y: number, w: number, h: number, colour = this.colour.hatch) {
    const { c } = this;
    c.save();
    c.beginPath();
    c.rect(x, y, w, h);
    c.clip();
    c.strokeStyle = colour;
    c.lineWidth = 1;
    c.beginPath();
    for (let at = x - h; at < x + w; at += 6) {
      c.moveTo(at, y + h);
      c.lineTo(at + h, y);
    }
    c.stroke();
    c.restore();
  }

  /** A cross in wax: it was to be and is not. */
  cross(x: number, y: number, r: number) {
    const look = { stroke: this.colour.wax, width: 2 };
    this.line([[x - r, y - r], [x + r, y + r]], look); // prettier-ignore
    this.line([[x - r, y + r], [x + r, y - r]], look); // prettier-ignore
  }

  words(text: string, x: number, y: number, words: Words = {}) {
    const { size = 13, weight = 400, serif = false, align = 'left', room } = words;
    if (this.wordless) {
      const wide = Math.min(room ?? Infinity, text.length * size * 0.5);
      const from = align === 'center' ? x - wide / 2 : align === 'right' ? x - wide : x;
      const look = { stroke: words.colour ?? this.colour.edge, width: Math.max(2, size / 6) };
      if (text.trim() !== '') this.line([[from, y], [from + wide, y]], look); // prettier-ignore
      return;
    }
    const { c } = this;
    c.font = `${weight} ${size}px ${serif ? SERIF : SANS}`;
    c.textAlign = 'left';
    c.textBaseline = 'alphabetic';
    c.fillStyle = words.colour ?? this.colour.ink;
    let said = text;
    for (let n = text.length - 1; room !== undefined && n > 0; n--) {
      if (c.measureText(said).width <= room) break;
      said = `${text.slice(0, n)}…`;
    }
    // On whole pixels: between two, single letters are drawn with a stray line above them.
    const wide = align === 'left' ? 0 : c.measureText(said).width;
    const from = align === 'center' ? x - wide / 2 : x - wide;
    c.fillText(said, Math.round(from), Math.round(y + size * 0.35));
  }
}
