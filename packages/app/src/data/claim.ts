/** What a tab is to a job: the one that writes, or one that looks on. */
export interface Claim {
  writing: () => boolean;
  /** Asks the tab that writes to let go, and writes from then on. */
  takeOver: () => void;
  /** Tells the other tabs that something was kept. */
  tell: () => void;
  close: () => void;
}

/** What a claim needs to be told. */
export interface Claimant {
  /** This tab writes from now on. What others have written is on the disk; it must be read first. */
  begin: () => Promise<void>;
  /** This tab must let go, and takes no more changes: what is still to be written is written before this settles. */
  end: () => Promise<void>;
  /** This tab writes or looks on from now on, or another tab has kept something. */
  changed: (writing: boolean) => void;
}

/** The parts of the browser that it rests on. */
export interface Tabs {
  locks: Pick<LockManager, 'request'> | undefined;
  channel: (name: string) => Pick<BroadcastChannel, 'postMessage' | 'close'> & { onmessage: ((event: MessageEvent) => void) | null };
}

/** How long a tab that is asked to let go may take before the job is taken from it, ms. */
const patience = 3000;

function browserTabs(): Tabs {
  return {
    locks: typeof navigator === 'undefined' ? undefined : (navigator.locks as LockManager | undefined),
    channel: (name) => {
      const channel = new BroadcastChannel(name);
      // Outside a browser it would keep the process alive.
      (channel as { unref?: () => void }).unref?.();
      return channel;
    },
  };
}

/**
 * One tab at a time writes a job. Whoever comes second looks on, and writes when the first is closed or lets go. Without locks
 * (an old browser) every tab writes: states are only added, so nothing is lost then either.
 *
 * @returns once it is known which of them this tab is
 */
export async function claimJob(id: string, claimant: Claimant, tabs: Tabs = browserTabs()): Promise<Claim> {
  const name = `ritaglio-job-${id}`;
  const channel = tabs.channel(name);
  let writing = false;
  let closed = false;
  /** Gives the lock back. */
  let letGo: (() => void) | undefined;
  let waiting: AbortController | undefined;
  let patient: ReturnType<typeof setTimeout> | undefined;

  /** Writes until it lets go or the job is taken away. */
  const held = async (began?: () => void): Promise<void> => {
    if (closed) return;
    await claimant.begin();
    if (closed) return;
    await new Promise<void>((resolve) => {
      letGo = resolve;
      writing = true;
      claimant.changed(writing);
      began?.();
    });
  };
  /** Takes no more changes; then writes what is left. */
  const finish = async (): Promise<void> => {
    writing = false;
    claimant.changed(writing);
    await claimant.end().catch(() => undefined);
    letGo?.();
  };
  const until = (request: Promise<unknown>): void => {
    request.then(undefined, async (error: unknown) => {
      // Taken away by another tab; a wait that was broken off for another is none.
      if (!(error instanceof DOMException) || error.name !== 'AbortError' || !writing) return;
      await finish();
      if (!closed) wait();
    });
  };
  const wait = (options: { steal?: boolean } = {}): void => {
    waiting?.abort();
    waiting = new AbortController();
    until(tabs.locks!.request(name, options.steal ? { steal: true } : { signal: waiting.signal }, () => held()));
  };

  channel.onmessage = ({ data }: MessageEvent<{ kind: string }>) => {
    if (data.kind === 'changed' && !writing) claimant.changed(writing);
    if (data.kind === 'let go' && writing) {
      // Waits behind the one that asked.
      void finish().then(() => setTimeout(() => !closed && wait(), 50));
    }
  };
  if (!tabs.locks) {
    writing = true;
    claimant.changed(writing);
  } else {
    await new Promise<void>((known) => {
      until(
        tabs.locks!.request(name, { ifAvailable: true }, (lock) => {
          if (!lock) {
            known();
            setTimeout(() => !closed && wait());
            return undefined;
          }
          return held(known).finally(known);
        }),
      );
    });
  }

  return {
    writing: () => writing,
    takeOver: () => {
      if (writing) return;
      channel.postMessage({ kind: 'let go' });
      clearTimeout(patient);
      patient = setTimeout(() => !writing && !closed && tabs.locks && wait({ steal: true }), patience);
    },
    tell: () => channel.postMessage({ kind: 'changed' }),
    close: () => {
      closed = true;
      clearTimeout(patient);
      writing = false;
      waiting?.abort();
      letGo?.();
      channel.close();
    },
  };
}

/** Whether some tab has a job open for writing. */
export async function isOpenSomewhere(id: string, locks: LockManager | undefined = globalThis.navigator?.locks): Promise<boolean> {
  if (!locks) return false;
  return locks.request(`ritaglio-job-${id}`, { ifAvailable: true }, (lock) => lock === null);
}
