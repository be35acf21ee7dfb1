import type { Tabs } from './claim';

interface Waiting {
  run: () => void;
  signal?: AbortSignal;
}

/** The browser's locks and channels as several tabs of one test share them. */
export class SharedTabs {
  private readonly holders = new Map<string, { break: () => void }>();
  private readonly queues = new Map<string, Waiting[]>();
  private readonly channels = new Set<{ onmessage: ((e: MessageEvent) => void) | null; name: string }>();

  readonly tabs: Tabs = {
    locks: { request: ((...args: unknown[]) => this.request(...(args as Parameters<SharedTabs['request']>))) as LockManager['request'] },
    channel: (name) => {
      const own = {
        name,
        onmessage: null as ((e: MessageEvent) => void) | null,
        postMessage: (data: unknown) => {
          for (const c of this.channels) if (c !== own && c.name === name) setTimeout(() => c.onmessage?.({ data } as MessageEvent));
        },
        close: () => void this.channels.delete(own),
      };
      this.channels.add(own);
      return own;
    },
  };

  private request(
    name: string,
    options: { ifAvailable?: boolean; steal?: boolean; signal?: AbortSignal },
    work: (lock: unknown) => unknown,
  ): Promise<unknown> {
    return new Promise((resolve, reject) => {
      const aborted = (): DOMException => new DOMException('taken', 'AbortError');
      const take = (): void => {
        const holder = { break: () => reject(aborted()) };
        this.holders.set(name, holder);
        void Promise.resolve(work({ name }))
          .then(resolve, reject)
          .finally(() => {
            if (this.holders.get(name) !== holder) return;
            this.holders.delete(name);
            let next = this.queues.get(name)?.shift();
            while (next?.signal?.aborted) next = this.queues.get(name)?.shift();
            next?.run();
          });
      };
      if (!this.holders.has(name) || options.steal) {
        this.holders.get(name)?.break();
        take();
      } else if (options.ifAvailable) void Promise.resolve(work(null)).then(resolve, reject);
      else {
        options.signal?.addEventListener('abort', () => reject(aborted()));
        this.queues.set(name, [...(this.queues.get(name) ?? []), { run: take, ...(options.signal && { signal: options.signal }) }]);
      }
    });
  }
}
