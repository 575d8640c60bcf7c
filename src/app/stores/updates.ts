import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** The built files that are kept in the browser, and a newer version of them that waits. */
export const useUpdates = defineStore('updates', () => {
  const waiting = shallowRef<ServiceWorker | null>(null);
  const loading = ref(false);

  /** Nothing depends on it: where it cannot be kept the desk needs its server, as before. */
  async function begin() {
    if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
    try {
      const kept = await navigator.serviceWorker.register('/sw.js');
      const see = () => {
        // The first one takes nobody’s place.
        if (kept.waiting && navigator.serviceWorker.controller) waiting.value = kept.waiting;
      };
      see();
      kept.addEventListener('updatefound', () => {
        kept.installing?.addEventListener('statechange', see);
      });
    } catch {
      // A private window may keep nothing.
    }
  }

  /** The newer version takes over, and the page is loaded anew. */
  function load() {
    loading.value = true;
    navigator.serviceWorker.addEventListener('controllerchange', () => location.reload());
    waiting.value?.postMessage('take over');
  }
  return { waiting, loading, begin, load };
});
