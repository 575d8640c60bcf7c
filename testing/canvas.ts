/** What was drawn, in order; measures are those of a plain face, 6 px a letter. */
export interface Shape {
  readonly kind: 'fill' | 'stroke' | 'text';
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly colour: string;
  readonly text?: string;
  readonly font?: string;
  readonly dash?: readonly number[];
}

const LETTER_PX = 6;

/** A canvas that keeps what was drawn on it; a number that is none is an error. */
export function recordingCanvas() {
  const shapes: Shape[] = [];
  let dash: readonly number[] = [];
  let path: [number, number][] = [];
  const state = {
    fillStyle: '#000000',
    strokeStyle: '#000000',
    font: '10px sans-serif',
    lineWidth: 1,
    globalAlpha: 1,
    textBaseline: 'alphabetic',
    lineJoin: 'miter',
  };
  const saved: { own: typeof state; dash: readonly number[] }[] = [];
  const whole = (...numbers: number[]) => {
    for (const n of numbers) if (!Number.isFinite(n)) throw new Error(`drawn at ${n}`);
  };
  const boundsOf = () => {
    const xs = path.map((p) => p[0]);
    const ys = path.map((p) => p[1]);
    const [x, y] = [Math.min(...xs), Math.min(...ys)];
    return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
  };
  const drawn = (kind: 'fill' | 'stroke', box: Pick<Shape, 'x' | 'y' | 'width' | 'height'>) =>
    shapes.push({
      kind,
      ...box,
      colour: kind === 'fill' ? state.fillStyle : state.strokeStyle,
      dash,
    });
  const box = (x: number, y: number, width: number, height: number) => {
    whole(x, y, width, height);
    return { x, y, width, height };
  };
  const context = Object.assign(state, {
    clearRect: box,
    fillRect: (...at: [number, number, number, number]) => void drawn('fill', box(...at)),
    strokeRect: (...at: [number, number, number, number]) => void drawn('stroke', box(...at)),
    beginPath: () => void (path = []),
    moveTo: (x: number, y: number) => (whole(x, y), void path.push([x, y])),
    lineTo: (x: number, y: number) => (whole(x, y), void path.push([x, y])),
    rect: (x: number, y: number, w: number, h: number) =>
      void (box(x, y, w, h), path.push([x, y], [x + w, y + h])),
    roundRect: (x: number, y: number, w: number, h: number) =>
      void (box(x, y, w, h), path.push([x, y], [x + w, y + h])),
    fill: () => void (path.length > 0 && drawn('fill', boundsOf())),
    stroke: () => void (path.length > 0 && drawn('stroke', boundsOf())),
    clip: () => undefined,
    setLineDash: (next: readonly number[]) => void (dash = next),
    save: () => void saved.push({ own: { ...state }, dash }),
    restore: () => {
      const last = saved.pop();
      if (!last) throw new Error('restored what was not saved');
      Object.assign(state, last.own);
      dash = last.dash;
    },
    measureText: (text: string) => ({ width: text.length * LETTER_PX }),
    strokeText: () => undefined,
    fillText: (text: string, x: number, y: number) => {
      whole(x, y);
      const height = Number.parseFloat(/(\d+(\.\d+)?)px/.exec(state.font)![1]!);
      shapes.push({
        kind: 'text',
        x,
        y: state.textBaseline === 'middle' ? y - height / 2 : y - height,
        width: text.length * LETTER_PX,
        height,
        colour: state.fillStyle,
        text,
        font: state.font,
      });
    },
  });
  return {
    context: context as unknown as CanvasRenderingContext2D,
    shapes,
    /** Everything that was saved was restored. */
    balanced: () => saved.length === 0,
  };
}

/** Texts that lie on each other. */
export function overlaps(shapes: readonly Shape[]): string[] {
  const texts = shapes.filter((s) => s.kind === 'text');
  const out: string[] = [];
  texts.forEach((a, i) => {
    for (const b of texts.slice(i + 1))
      if (
        a.x < b.x + b.width &&
        b.x < a.x + a.width &&
        a.y + 2 < b.y + b.height - 2 &&
        b.y + 2 < a.y + a.height - 2
      )
        out.push(`“${a.text}” on “${b.text}”`);
  });
  return out;
}
