import type { FrameRoom } from './clipExport';

const folder = 'exports';

/**
 * Room for the finished frames of one export in the browser's private files, so that one that was stopped goes on. Where the browser
 * has none, nothing is kept.
 *
 * @param key of all that decides the frames; frames of other exports are cleared away
 */
export async function frameRoom(key: string): Promise<FrameRoom> {
  const root = await navigator.storage?.getDirectory?.().catch(() => undefined);
  if (!root) return { read: () => Promise.resolve(undefined), write: () => Promise.resolve(), clear: () => Promise.resolve() };
  const all = await root.getDirectoryHandle(folder, { create: true });
  for await (const name of (all as unknown as { keys(): AsyncIterable<string> }).keys()) {
    if (name !== key) await all.removeEntry(name, { recursive: true }).catch(() => undefined);
  }
  const own = await all.getDirectoryHandle(key, { create: true });
  return {
    async read(frame) {
      try {
        const file = await (await own.getFileHandle(`${frame}.png`)).getFile();
        return new Uint8Array(await file.arrayBuffer());
      } catch {
        return undefined;
      }
    },
    async write(frame, bytes) {
      try {
        const file = await (await own.getFileHandle(`${frame}.png`, { create: true })).createWritable();
        await file.write(bytes as Uint8Array<ArrayBuffer>);
        await file.close();
      } catch {
        // Without room the export goes on; it only could not be taken up again.
      }
    },
    clear: () => all.removeEntry(key, { recursive: true }).catch(() => undefined),
  };
}
