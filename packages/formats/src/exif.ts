/** Orientation tag of the photograph's directory. */
const orientationTag = 0x0112;

/**
 * How a JPEG lies, by its Exif segment (CIPA DC-008): 1 upright, 2 to 8 mirrored and turned; 1 where nothing is told.
 *
 * @param bytes the file, or its beginning
 */
export function jpegOrientation(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 2;
  while (at + 4 <= bytes.length && bytes[at] === 0xff && bytes[at + 1] !== 0xda) {
    const length = view.getUint16(at + 2);
    const isExif = bytes[at + 1] === 0xe1 && at + 18 <= bytes.length && view.getUint32(at + 4) === 0x45786966;
    if (isExif) return ofDirectory(view, at + 10, Math.min(bytes.length, at + 2 + length));
    at += 2 + Math.max(2, length);
  }
  return 1;
}

/** The orientation in the first directory of a TIFF structure between two places. */
function ofDirectory(view: DataView, begin: number, end: number): number {
  if (begin + 8 > end) return 1;
  const little = view.getUint16(begin) === 0x4949;
  const first = begin + view.getUint32(begin + 4, little);
  if (first + 2 > end) return 1;
  const count = view.getUint16(first, little);
  for (let k = 0; k < count; k++) {
    const entry = first + 2 + 12 * k;
    if (entry + 12 > end) return 1;
    if (view.getUint16(entry, little) !== orientationTag) continue;
    const value = view.getUint16(entry + 8, little);
    return value >= 1 && value <= 8 ? value : 1;
  }
  return 1;
}
