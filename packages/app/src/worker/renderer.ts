import * as Comlink from 'comlink';
import type { Renderer } from './render.worker';

let remote: Comlink.Remote<Renderer> | undefined;

/** The one background renderer of this tab. */
export function renderer(): Comlink.Remote<Renderer> {
  remote ??= Comlink.wrap<Renderer>(new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module', name: 'renderer' }));
  return remote;
}
