/** Lanes as they are typed: “1 2 3 2”, “1,2,3” or, where there are fewer than ten, “1232”. */
export function orderOf(
  typed: string,
  lanes: number,
): { readonly order: readonly number[] } | { readonly wrong: string } {
  const text = typed.trim();
  const apart = /[\s,;-]/.test(text);
  const words = (apart || lanes > 9 ? text.split(/[\s,;-]+/) : [...text]).filter(Boolean);
  if (words.length === 0) return { wrong: 'Write at least one lane.' };
  const order: number[] = [];
  for (const word of words) {
    const lane = /^\d+$/.test(word) ? Number(word) : NaN;
    if (!(lane >= 1 && lane <= lanes))
      return { wrong: `“${word}” is no lane: they are 1 to ${lanes}.` };
    order.push(lane);
  }
  return order.length > 512 ? { wrong: 'At most 512 lanes go into one order.' } : { order };
}
