import { effectScope, reactive, type UnwrapNestedRefs } from 'vue';

/** What one open job has on the desk: document, engine session and view parts, ended as one. */
export interface JobSession {
  readonly id: string | null;
  readonly scope: ReturnType<typeof effectScope>;
  /** A part of this job, made when it is first asked for. */
  part<T extends object>(make: () => T): UnwrapNestedRefs<T>;
  /** Ends all parts: what watches or runs for them is let go of, and none is met again. */
  dispose(): void;
}

/** @param id the job; null where none is open, so that parts have something to stand on */
export function createJobSession(id: string | null): JobSession {
  const scope = effectScope(true);
  const made = new Map<() => object, object>();
  return {
    id,
    scope,
    part<T extends object>(make: () => T) {
      let part = made.get(make);
      if (!part) {
        // What goes on late in a job that was left may ask for a part that it never had.
        const within = scope.active ? scope : effectScope(true);
        part = within.run(() => reactive(make()))!;
        made.set(make, part);
      }
      return part as UnwrapNestedRefs<T>;
    },
    dispose: () => scope.stop(),
  };
}
