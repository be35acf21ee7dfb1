import type { Samples } from '@ritaglio/core';
import { jpegOrientation } from './exif';
import { asKnown, readProfile } from './icc';
import { embeddedIn } from './profiles';
import { upright } from './upright';

/**
 * A JPEG in four inks as sRGB, or as Display P3: by its own profile, else by the usual inks on coated paper. No platform's own decoder
 * is asked, so that browser and terminal say the same.
 *
 * @returns upright samples of three channels, 16 bits by a profile and 8 without; and whether a profile of its own told the colours
 * @throws Error when it cannot be decoded
 */
export async function readInks(bytes: Uint8Array): Promise<{ samples: Samples; told: boolean }> {
  const { JpegImage, setVerbosityLevel, VerbosityLevel } = await import('pdfjs-dist/image_decoders/pdf.image_decoders.mjs');
  setVerbosityLevel(VerbosityLevel.ERRORS);
  const jpeg = new JpegImage();
  jpeg.parse(bytes);
  const { width, height } = jpeg;
  const embedded = embeddedIn(bytes);
  const profile = embedded && readProfile(embedded).profile;
  const told = profile?.kind === 'table' && profile.table.channels === 4;
  // With the marker of those who began it, no ink is the highest code.
  const data = jpeg.getData({ width, height, forceRGB: !told, isSourcePDF: jpeg.adobe === undefined });
  const plain: Samples = { width, height, channels: told ? 4 : 3, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
  return { samples: upright(told ? asKnown(plain, profile) : plain, jpegOrientation(bytes)), told };
}
