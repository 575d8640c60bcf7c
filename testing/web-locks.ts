type Held = { release: () => void };
interface Waiting {
  grant(): void;
  readonly signal?: AbortSignal | undefined;
}

/** Web Locks of one machine, exclusive ones alone: what two tabs share. */
export class WebLocks {
  private readonly held = new Map<string, Held>();
  private readonly queues = new Map<string, Waiting[]>();

  request = (
    name: string,
    options: { ifAvailable?: boolean; signal?: AbortSignal },
    use: (lock: object | null) => unknown,
  ): Promise<unknown> => {
    if (!this.held.has(name)) return this.hold(name, use);
    if (options.ifAvailable) return Promise.resolve(use(null));
    return new Promise((resolve, reject) => {
      const waiting: Waiting = {
        grant: () => void this.hold(name, use).then(resolve, reject),
        signal: options.signal,
      };
      const queue = this.queues.get(name) ?? [];
      this.queues.set(name, [...queue, waiting]);
      options.signal?.addEventListener('abort', () => {
        this.queues.set(
          name,
          (this.queues.get(name) ?? []).filter((w) => w !== waiting),
        );
        reject(new DOMException('Aborted', 'AbortError'));
      });
    });
  };

  /** Names that somebody holds. */
  get names(): string[] {
    return [...this.held.keys()];
  }

  private async hold(name: string, use: (lock: object) => unknown): Promise<unknown> {
    const held: Held = { release: () => {} };
    this.held.set(name, held);
    try {
      return await use({ name });
    } finally {
      this.held.delete(name);
      const [next, ...rest] = this.queues.get(name) ?? [];
      this.queues.set(name, rest);
      next?.grant();
    }
  }
}
