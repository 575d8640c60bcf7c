/** A browser asks elsewhere for each file, and would wait most of the time with one alone. */
const AT_ONCE = 16;

/**
 * Works through items, several at once: they begin in order and may end in another.
 * @throws the first problem, once none is under way any more; none is begun behind it
 */
export async function severalAtOnce<T>(
  items: readonly T[],
  work: (item: T, at: number) => Promise<void>,
): Promise<void> {
  let next = 0;
  const problems: unknown[] = [];
  const lane = async () => {
    while (problems.length === 0 && next < items.length) {
      const at = next++;
      try {
        await work(items[at]!, at);
      } catch (error) {
        problems.push(error);
      }
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, lane));
  if (problems.length > 0) throw problems[0];
}
