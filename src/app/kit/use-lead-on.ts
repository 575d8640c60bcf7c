import { useRouter, type Router } from 'vue-router';

/** How often somebody asked for another screen. */
const counts = new WeakMap<Router, { asked: number }>();
function countOf(router: Router) {
  const known = counts.get(router);
  if (known) return known;
  const count = { asked: 0 };
  counts.set(router, count);
  router.beforeEach((to, from) => {
    if (to.path !== from.path) count.asked++;
  });
  return count;
}

/**
 * Leads to what work has made, unless somebody asked for another screen while it was made: there they
 * stay, though its page may still be loading. `const lead = leadOn()` as the work begins,
 * `await lead(address)` when it is done.
 */
export function useLeadOn(): () => (to: string) => Promise<void> {
  const router = useRouter();
  const count = countOf(router);
  return () => {
    const before = count.asked;
    return async (to) => {
      if (count.asked === before) await router.push(to);
    };
  };
}
