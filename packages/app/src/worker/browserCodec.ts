import type { CodeSpace, Samples } from '@ritaglio/core';
import { jpegWithProfile, type Codec } from '@ritaglio/formats';

/** JPEG and WebP by the browser; orientation is applied, colours come as sRGB, or as Display P3 where they are wide. */
export const browserCodec: Codec = {
  async decode(bytes, type, wide): Promise<Samples> {
    const blob = new Blob([bytes as Uint8Array<ArrayBuffer>], { type });
    const bitmap = await createImageBitmap(blob, { imageOrientation: 'from-image', premultiplyAlpha: 'none' });
    const { width, height } = bitmap;
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { willReadFrequently: true, colorSpace: wide ? 'display-p3' : 'srgb' });
    if (!context) throw new Error('the browser gives no drawing surface of that size');
    context.drawImage(bitmap, 0, 0);
    bitmap.close();
    const { data } = context.getImageData(0, 0, width, height);
    const space = wide ? ({ space: 'display-p3' } as const) : {};
    if (type === 'image/jpeg') {
      const rgb = new Uint8Array(width * height * 3);
      for (let i = 0, k = 0; i < rgb.length; i += 3, k += 4) {
        rgb[i] = data[k];
        rgb[i + 1] = data[k + 1];
        rgb[i + 2] = data[k + 2];
      }
      return { width, height, channels: 3, data: rgb, ...space };
    }
    return { width, height, channels: 4, data, ...space };
  },
  encodeJpeg: (rgba, width, height, quality) => encoded('image/jpeg', rgba, width, height, quality),
};

/** Samples as a file of a kind that the browser writes. @throws Error when it does not */
export async function encoded(
  type: 'image/jpeg' | 'image/webp',
  rgba: Uint8ClampedArray<ArrayBuffer>,
  width: number,
  height: number,
  quality: number,
  space: CodeSpace = 'srgb',
): Promise<Uint8Array> {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { colorSpace: space });
  if (!context) throw new Error('the browser gives no drawing surface of that size');
  context.putImageData(new ImageData(rgba, width, height, { colorSpace: space }), 0, 0);
  const blob = await canvas.convertToBlob({ type, quality: quality / 100 });
  if (blob.type !== type) throw new Error(`the browser does not write ${type}`);
  const bytes = new Uint8Array(await blob.arrayBuffer());
  return type === 'image/jpeg' ? jpegWithProfile(bytes, space) : bytes;
}
