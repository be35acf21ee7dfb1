import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import type { Outlines } from '@ritaglio/core';
import { fonts, letterOutlines } from '@ritaglio/formats';
import { InputError } from './files';

const read = new Map<string, Promise<Uint8Array>>();

/** A shipped typeface's file. */
export function fontBytes(font: string): Promise<Uint8Array> {
  const bytes = read.get(font) ?? readFile(createRequire(import.meta.url).resolve(fonts[font].file));
  read.set(font, bytes);
  return bytes;
}

/** The outlines of a line of type. @throws InputError when there is no such typeface */
export async function nodeLetters(text: string, font: string, spacing: number): Promise<Outlines> {
  if (!(font in fonts))
    throw new InputError(`The recipe’s lettering is set in “${font}”, which is not here: ${Object.keys(fonts).join(', ')} are.`);
  return letterOutlines(await fontBytes(font), text, spacing);
}
