import { defineStore } from 'pinia';
import { getCurrentScope, shallowRef, type UnwrapNestedRefs } from 'vue';
import { createJobSession } from './job-session';

/** The one job that is open. Opening another ends all that was known of the one before. */
export const useOpenJob = defineStore('open-job', () => {
  const session = shallowRef(createJobSession(null));
  function begin(id: string | null) {
    const before = session.value;
    session.value = createJobSession(id);
    before.dispose();
  }
  return { session, begin };
});

/**
 * A store that belongs to the open job: set up anew for each, so that it has nothing to put back.
 * Whoever has it always meets that of the job that is open, by its methods too when they were taken
 * earlier; parts meet those of their own job, so that what goes on late reaches no other.
 * `onScopeDispose` in its set-up tells that the job is left.
 */
export function defineJobPart<T extends object>(make: () => T): () => UnwrapNestedRefs<T> {
  return () => {
    const open = useOpenJob();
    const own = getCurrentScope() === open.session.scope ? open.session : null;
    const part = () => (own ?? open.session).part(make);
    const methods = new Map<PropertyKey, unknown>();
    const methodOf = (key: PropertyKey) => {
      if (!methods.has(key))
        methods.set(key, (...given: unknown[]) =>
          (Reflect.get(part(), key) as (...all: unknown[]) => unknown)(...given),
        );
      return methods.get(key);
    };
    return new Proxy({} as UnwrapNestedRefs<T>, {
      get(_, key) {
        const value: unknown = Reflect.get(part(), key);
        return typeof value === 'function' && !own ? methodOf(key) : value;
      },
      set: (_, key, value) => Reflect.set(part(), key, value),
      has: (_, key) => Reflect.has(part(), key),
      ownKeys: () => Reflect.ownKeys(part()),
      getOwnPropertyDescriptor: (_, key) => Reflect.getOwnPropertyDescriptor(part(), key),
    });
  };
}
