import { shallowRef } from 'vue';
import type { Catalogue } from '../../worker/protocol';
import { engine } from './engine';

const known = shallowRef<Catalogue | null>(null);
let asked = false;

/** What the engine can do: its rules and writers, from the worker; the same for all who ask. */
export function useCatalogue() {
  if (!asked) {
    asked = true;
    void engine()
      .plain.catalogue()
      .then((list) => (known.value = list));
  }
  return known;
}
