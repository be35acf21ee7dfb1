import type { View } from './views';

/** A view as the page shows it. */
export const bitmapOf = ({ rgba, width, height }: View): Promise<ImageBitmap> => createImageBitmap(new ImageData(rgba(), width, height));

const tokens = new WeakMap<object, number>();
let lastToken = 0;

/** A number for a product, the same as long as it is kept. */
export function tokenOf(product: object): number {
  const token = tokens.get(product) ?? ++lastToken;
  tokens.set(product, token);
  return token;
}

/** In pieces: a call takes only so many arguments. */
export function base64Of(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}
