/**
 * Whole numbers from a seed, the same on every machine: xorshift with 32 bits. The seed is stored in
 * the plan.
 */
export function seeded(seed: number): (below: number) => number {
  let state = (seed | 0) === 0 ? 0x9e3779b9 | 0 : seed | 0;
  return (below) => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) % below;
  };
}
