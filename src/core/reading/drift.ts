/** By how much what goes round is off after some passes, where its length is no whole number of units. */
export function driftPerPass(ms: number, unitsPerSecond: number, passes: number): number {
  const units = (ms * unitsPerSecond) / 1000;
  const whole = Math.max(1, Math.round(units));
  return (passes * (whole - units) * 1000) / unitsPerSecond;
}
