import { frameRoom } from './frameRoom';

/** A folder in memory with as much of the browser's as is used here. */
class Folder {
  readonly folders = new Map<string, Folder>();
  readonly files = new Map<string, Uint8Array>();
  full = false;

  async *keys(): AsyncGenerator<string> {
    yield* [...this.folders.keys()];
  }
  async getDirectoryHandle(name: string, { create = false } = {}): Promise<Folder> {
    if (!this.folders.has(name) && !create) throw new DOMException('no', 'NotFoundError');
    this.folders.set(name, this.folders.get(name) ?? new Folder());
    return Promise.resolve(this.folders.get(name)!);
  }
  async getFileHandle(name: string, { create = false } = {}): Promise<object> {
    if (!this.files.has(name) && !create) throw new DOMException('no', 'NotFoundError');
    if (this.full) throw new DOMException('full', 'QuotaExceededError');
    let written = new Uint8Array();
    return Promise.resolve({
      getFile: () => Promise.resolve({ arrayBuffer: () => Promise.resolve(this.files.get(name)!.slice().buffer) }),
      createWritable: () =>
        Promise.resolve({
          write: (bytes: Uint8Array) => ((written = bytes.slice()), Promise.resolve()),
          close: () => (this.files.set(name, written), Promise.resolve()),
        }),
    });
  }
  async removeEntry(name: string): Promise<void> {
    if (!this.folders.delete(name)) throw new DOMException('no', 'NotFoundError');
    return Promise.resolve();
  }
}

const root = new Folder();
const given = Object.getOwnPropertyDescriptor(globalThis, 'navigator');
const withStorage = (storage: object | undefined): void => void Object.defineProperty(globalThis, 'navigator', { value: { storage }, configurable: true }); // prettier-ignore
beforeEach(() => withStorage({ getDirectory: () => Promise.resolve(root) }));
afterAll(() => Object.defineProperty(globalThis, 'navigator', given ?? { value: undefined, configurable: true }));

test('a frame that was written is read again, by the export that goes on too', async () => {
  const room = await frameRoom('one');
  expect(await room.read(3)).toBeUndefined();
  await room.write(3, Uint8Array.of(1, 2, 3));
  expect(await room.read(3)).toEqual(Uint8Array.of(1, 2, 3));
  expect(await (await frameRoom('one')).read(3)).toEqual(Uint8Array.of(1, 2, 3));
});

test('another export clears away what the last one left, and its own when it is done', async () => {
  await (await frameRoom('one')).write(0, Uint8Array.of(1));
  const other = await frameRoom('two');
  await other.write(0, Uint8Array.of(2));
  const exports = root.folders.get('exports')!;
  expect([...exports.folders.keys()]).toEqual(['two']);
  await other.clear();
  expect([...exports.folders.keys()]).toEqual([]);
  // A second time there is nothing to clear, which is no fault.
  await other.clear();
});

test('without room, or where a browser has none, an export goes on and nothing is kept', async () => {
  const room = await frameRoom('three');
  root.folders.get('exports')!.folders.get('three')!.full = true;
  await room.write(0, Uint8Array.of(1));
  expect(await room.read(0)).toBeUndefined();
  for (const storage of [undefined, {}, { getDirectory: () => Promise.reject(new DOMException('no', 'SecurityError')) }]) {
    withStorage(storage);
    const none = await frameRoom('four');
    await none.write(0, Uint8Array.of(1));
    expect(await none.read(0)).toBeUndefined();
    await none.clear();
  }
});
