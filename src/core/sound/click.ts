import type { MeterMap } from '../time/meter-map';
import type { Clock } from '../time/tempo-map';
import { framesOf, mixInto, sidesOf, type Samples } from './samples';

/** A click: when, on the clock of the score; the first of a bar is accented. */
export interface Click {
  readonly ms: number;
  readonly accent: boolean;
}

/** Nobody listens to more clicks than that; a file may count millions of bars. */
const MOST_BARS = 100_000;

/** The beats of a piece, by its meters, up to its end. */
export function clicksOf(bars: MeterMap, clock: Clock, endTick: number): Click[] {
  const out: Click[] = [];
  const count = Math.min(MOST_BARS, bars.barCount(endTick));
  for (let bar = 0; bar < count; bar++) {
    const start = bars.barStart(bar);
    const next = bars.barStart(bar + 1);
    const { numerator } = bars.meterAt(start);
    for (let beat = 1; beat <= numerator; beat++) {
      const tick = bars.tickOf(bar + 1, beat);
      if (tick >= next || tick >= endTick) break;
      out.push({ ms: clock.msAt(tick), accent: beat === 1 });
    }
  }
  return out;
}

/** The same with bars of clicks before it, at the meter and tempo of the start; all is later by them. */
export function withCountIn(
  clicks: readonly Click[],
  bars: MeterMap,
  clock: Clock,
  countIn: number,
): { clicks: Click[]; laterMs: number } {
  const { numerator } = bars.meterAt(0);
  const beatMs = clock.msAtStart(bars.tickOf(1, 2));
  const laterMs = countIn * numerator * beatMs;
  const before = Array.from({ length: countIn * numerator }, (_, i) => ({
    ms: i * beatMs,
    accent: i % numerator === 0,
  }));
  return { clicks: [...before, ...clicks.map((c) => ({ ...c, ms: c.ms + laterMs }))], laterMs };
}

const RING_MS = 35;

/** Clicks as sound, mono, exactly as long as is said. */
export function renderClicks(clicks: readonly Click[], rate: number, lengthMs: number): Samples {
  const out = new Float32Array(Math.round((lengthMs * rate) / 1000));
  const length = Math.round((RING_MS * rate) / 1000);
  for (const { ms, accent } of clicks) {
    const from = Math.round((ms * rate) / 1000);
    const hz = accent ? 1760 : 1175;
    const gain = accent ? 0.8 : 0.5;
    for (let i = 0; i < length && from + i < out.length; i++)
      out[from + i]! +=
        gain * Math.exp((-6 * i) / length) * Math.sin((2 * Math.PI * hz * i) / rate);
  }
  return { rate, channels: [out] };
}

const mixed = (s: Samples) => mixInto(new Float32Array(framesOf(s)), s, 0);
const rms = (a: Float32Array) => Math.sqrt(a.reduce((sum, x) => sum + x * x, 0) / a.length);

/** A recording on the left and clicks on the right, as long as the recording. */
export function clickBeside(recording: Samples, clicks: readonly Click[]): Samples {
  const { rate } = recording;
  const frames = framesOf(recording);
  // Channels that cancel are not mixed: the first of them stands for the recording.
  const [first, other] = sidesOf(recording);
  const heard = other && rms(mixed(recording)) < 0.3 * rms(mixed(first!)) ? first! : recording;
  const left = mixed(heard);
  const right = renderClicks(clicks, rate, (frames * 1000) / rate).channels[0]!;
  return { rate, channels: [left, right.subarray(0, frames)] };
}
