/** @jest-environment node */
import sharp from 'sharp';
import { jpegOrientation } from './exif';

const raw = { raw: { width: 8, height: 6, channels: 3 as const } };
const jpeg = (orientation?: number): Promise<Buffer> => {
  const picture = sharp(Buffer.alloc(3 * 48, 90), raw);
  return (orientation ? picture.withMetadata({ orientation }) : picture).jpeg().toBuffer();
};

test('how a JPEG lies is read from its Exif segment', async () => {
  for (let orientation = 1; orientation <= 8; orientation++) expect(jpegOrientation(await jpeg(orientation))).toBe(orientation);
  expect(jpegOrientation(await jpeg())).toBe(1);
});

test('what is cut short or damaged is taken as upright, or as it says, and never thrown over', async () => {
  const whole = await jpeg(6);
  for (let n = 0; n < whole.length; n++) expect([1, 6]).toContain(jpegOrientation(whole.subarray(0, n)));
  for (let n = 0; n < Math.min(120, whole.length); n++) {
    const spoilt = Uint8Array.from(whole);
    spoilt[n] ^= 0xff;
    const found = jpegOrientation(spoilt);
    expect(found >= 1 && found <= 8).toBe(true);
  }
});
