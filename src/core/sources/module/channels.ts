import type { ModuleNote } from './to-notes';

export const DRUM_CHANNEL = 10;
/** Channels for what is no drum, in their order. */
const PITCHED_CHANNELS = Array.from({ length: 16 }, (_, i) => i + 1).filter(
  (c) => c !== DRUM_CHANNEL,
);

interface Playing {
  readonly drum: boolean;
  readonly notes: readonly ModuleNote[];
}

/** So long is what is held against each other, in seconds. */
const SLICE = 0.25;

/** Slices of time in which a part sounds. */
function slicesOf({ notes }: Playing, slices: number): Uint8Array {
  const out = new Uint8Array(slices);
  for (const n of notes)
    out.fill(1, Math.floor(n.at / SLICE), Math.min(slices, Math.ceil(n.end / SLICE)));
  return out;
}

/**
 * A channel for each part. The first fifteen have one by their place among all, so that the others keep
 * theirs where one becomes a drum; those behind take what drums leave free, and then share with whom
 * they sound together least.
 */
export function channelsOf(parts: readonly Playing[]): number[] {
  const most = PITCHED_CHANNELS.length;
  const out = parts.map((p, i) => (p.drum ? DRUM_CHANNEL : (PITCHED_CHANNELS[i] ?? 0)));
  if (parts.length <= most) return out;
  const free = PITCHED_CHANNELS.filter((c) => !out.includes(c));
  const end = parts.reduce((s, p) => p.notes.reduce((m, n) => Math.max(m, n.end), s), 0);
  const slices = Math.ceil(end / SLICE) + 1;
  const busy = new Map<number, Uint8Array>();
  const sitsAt = (channel: number, own: Uint8Array) => {
    const there = busy.get(channel);
    if (!there) busy.set(channel, own);
    else own.forEach((s, i) => (there[i] = there[i]! | s));
  };
  parts.forEach((p, i) => {
    if (out[i] !== 0 && !p.drum) sitsAt(out[i]!, slicesOf(p, slices));
  });
  parts.forEach((p, i) => {
    if (out[i] !== 0) return;
    const own = slicesOf(p, slices);
    const together = (channel: number) =>
      busy.get(channel)?.reduce((sum, s, k) => sum + (s & own[k]!), 0) ?? 0;
    const channel =
      free.shift() ??
      PITCHED_CHANNELS.reduce((best, c) => (together(c) < together(best) ? c : best));
    out[i] = channel;
    sitsAt(channel, own);
  });
  return out;
}
