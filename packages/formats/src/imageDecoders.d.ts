declare module 'pdfjs-dist/image_decoders/pdf.image_decoders.mjs' {
  /** A decoder of JPEG, also of one in four inks. */
  export class JpegImage {
    width: number;
    height: number;
    /** What a marker of its own says of how inks are coded. */
    adobe?: { transformCode: number };
    parse(bytes: Uint8Array): void;
    getData(wanted: { width: number; height: number; forceRGB?: boolean; isSourcePDF?: boolean }): Uint8ClampedArray<ArrayBuffer>;
  }
  export const VerbosityLevel: { ERRORS: number };
  export function setVerbosityLevel(level: number): void;
}
