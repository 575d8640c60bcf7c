type Roll = (below: number) => number;

const [KICKS, SNARES, HATS, CYMBALS] = [
  [35, 36],
  [37, 38, 39, 40],
  [42, 44, 46],
  [49, 51, 52, 53, 55, 57, 59],
];
const MIDDLE_C_HZ = 261.63;

/**
 * A sound that nobody named: a drum of the percussion map (General MIDI Level 1), or a tone that goes
 * round, an octave low half of the time.
 */
export function randomSound(
  drum: number | null,
  rate: number,
  roll: Roll,
): { frames: Float32Array; loop?: readonly [number, number] } {
  const between = (low: number, high: number) => low + ((high - low) * roll(1001)) / 1000;
  const noise = () => roll(2001) / 1000 - 1;
  let last = 0;
  const hiss = () => {
    const now = noise();
    const out = (now - last) / 2;
    last = now;
    return out;
  };
  const made = (seconds: number, of: (t: number) => number) =>
    Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => of(i / rate));
  const falling = (hz: number, by: number, fast: number) => (t: number) =>
    Math.sin(2 * Math.PI * (hz * t + by * (1 - Math.exp(-t * fast))));
  if (drum === null) {
    const hz = MIDDLE_C_HZ / 2 ** roll(2);
    const shape = roll(3);
    const frames = made(0.6, (t) => {
      const turn = (t * hz) % 1;
      if (shape === 0) return 0.7 * (2 * turn - 1);
      return shape === 1 ? (turn < 0.3 ? 0.7 : -0.4) : 0.7 * Math.sin(2 * Math.PI * turn);
    });
    const from = Math.round(0.2 * rate);
    return { frames, loop: [from, from + Math.round((rate / hz) * 20)] };
  }
  if (KICKS!.includes(drum)) {
    const [body, decay] = [falling(between(42, 70), 5, 30), between(7, 14)];
    return { frames: made(0.4, (t) => body(t) * Math.exp(-t * decay)) };
  }
  if (SNARES!.includes(drum)) {
    const [shell, decay] = [falling(190, 0, 1), between(12, 22)];
    return { frames: made(0.3, (t) => (0.6 * noise() + 0.3 * shell(t)) * Math.exp(-t * decay)) };
  }
  if (HATS!.includes(drum)) {
    const decay = drum === 46 ? 12 : between(30, 60);
    return { frames: made(0.25, (t) => hiss() * Math.exp(-t * decay)) };
  }
  if (CYMBALS!.includes(drum)) return { frames: made(1.4, (t) => hiss() * Math.exp(-t * 3)) };
  const body = falling(60 + drum * 2, 3, 14);
  return { frames: made(0.4, (t) => body(t) * Math.exp(-t * 9)) };
}
