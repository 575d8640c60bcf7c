/** Of all numbers between two the one that people would choose: the roundest, nearest the middle. */
export function roundBetween(above: number, upTo: number): number {
  const [from, to] = above < upTo ? [above, upTo] : [upTo, above];
  const inside = (n: number) =>
    above < upTo ? n > from + 1e-9 && n <= to + 1e-9 : n >= from - 1e-9 && n < to - 1e-9;
  for (const step of [1000, 500, 250, 200, 100, 50, 25, 24, 12, 20, 10, 8, 5, 4, 2, 1, 0.5]) {
    const all: number[] = [];
    for (let n = Math.ceil(from / step) * step; n <= to + 1e-9 && all.length < 50; n += step)
      if (inside(n)) all.push(n);
    if (all.length > 0) return all[Math.floor((all.length - 1) / 2)]!;
  }
  return upTo;
}
