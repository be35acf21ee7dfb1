import { extname } from 'node:path';
import {
  checkKinds,
  counted,
  cureOf,
  inOrderOfConcern,
  isAccepted,
  ProductMemory,
  sheetHtml,
  sheetInputs,
  sheetSvg,
  toRgba8,
  unitOf,
  type Picture,
  type PictureSource,
  type Recipe,
  type Writing,
} from '@ritaglio/core';
import { letterOutlines } from '@ritaglio/formats';
import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { command, contextOf, run, type Common } from './command';
import { InputError } from './files';
import { fontBytes } from './fonts';

/** Exit code when a check is wrong and was not accepted. */
const wrongExit = 3;

/** `proof`: every check of a job, and a sheet to hand over. */
export function addProofCommand(
  jobFrom: (path: string) => Promise<{ recipe: Recipe; source: PictureSource; nameOf: (id: string) => string }>,
): void {
  command('proof <recipe>', 'every check of a recipe or a job archive; exit 3 when one is wrong and not accepted')
    .option('--out <file>', 'a sheet to hand over: .html or .png')
    .action(
      run<Common & { out?: string }>(async (o, path) => {
        const ending = o.out === undefined ? undefined : extname(o.out).toLowerCase();
        if (ending !== undefined && !['.html', '.htm', '.png'].includes(ending)) {
          throw new InputError(`“${o.out!}”: a sheet is a page, .html, or a picture, .png.`);
        }
        const { recipe: kept, source, nameOf } = await jobFrom(path);
        const recipe = { ...kept, seed: o.seed ?? kept.seed };
        const context = contextOf({ scale: o.scale, seed: recipe.seed });
        const inputs = await sheetInputs(recipe, source, context, new ProductMemory(), {
          encode: asJpeg,
          nameOf,
          date: new Date().toISOString().slice(0, 10),
        });
        if (ending === '.png') {
          const svg = sheetSvg(inputs, { write: await outlined() });
          await sharp(Buffer.from(svg), { unlimited: true }).png().toFile(o.out!);
        } else if (o.out) await writeFile(o.out, sheetHtml(inputs, { typefaces: await faces() }));
        const { checks } = inputs;
        const counts = counted(checks, recipe.accepted);
        if (!o.json) {
          for (const check of inOrderOfConcern(checks, recipe.accepted)) {
            if (check.verdict === 'good') continue;
            const { what, digits } = checkKinds[check.id];
            const figure = check.figure === undefined ? '' : ` ${check.figure.toFixed(digits)} ${unitOf(check)}`;
            process.stdout.write(`${isAccepted(check, recipe.accepted) ? 'accepted' : check.verdict}: ${what}.${figure}${check.why ? ` ${check.why}` : ''}\n`); // prettier-ignore
          }
        }
        if (counts.wrong > 0) process.exitCode = wrongExit;
        return {
          ...counts,
          checks: checks.map((check) => {
            const { what, unit, tolerance, wrong } = checkKinds[check.id];
            const cure = cureOf(check, recipe, () => recipe.subjects[0].size)?.says;
            const accepted = isAccepted(check, recipe.accepted);
            return { ...check, what, unit, tolerance, ...(wrong !== undefined && { wrong }), accepted, ...(cure && { cure }) };
          }),
        };
      }),
    );
}

async function asJpeg(p: Picture): Promise<string> {
  const raw = { width: p.width, height: p.height, channels: 4 as const };
  const bytes = await sharp(toRgba8(p), { raw }).flatten({ background: '#7d7d7d' }).jpeg({ quality: 88 }).toBuffer();
  return `data:image/jpeg;base64,${bytes.toString('base64')}`;
}

/** The shipped typeface, for a page that stands alone. */
async function faces(): Promise<{ weight: string; href: string }[]> {
  const face = async (weight: string, font: string): Promise<{ weight: string; href: string }> => ({
    weight,
    href: `data:font/woff;base64,${Buffer.from(await fontBytes(font)).toString('base64')}`,
  });
  return [await face('400', 'schibsted'), await face('700', 'schibsted-bold')];
}

/** Writes text as outlines of the shipped typeface: a machine may have none of its own. */
async function outlined(): Promise<Writing> {
  const [plain, bold] = [await fontBytes('schibsted'), await fontBytes('schibsted-bold')];
  return (text, x, y, { size, bold: isBold = false, colour = '#20211f', anchor = 'start' }) => {
    // The shipped typeface has no Greek.
    const rings = letterOutlines(isBold ? bold : plain, text.replace(/Δ/g, 'delta '), 0);
    const xs = rings.flatMap((ring) => ring.map((p) => p[0]));
    if (xs.length === 0) return '';
    const [least, most] = xs.reduce(([a, b], v) => [Math.min(a, v), Math.max(b, v)], [Infinity, -Infinity]);
    const left = anchor === 'end' ? x - size * most : x - size * least;
    // Outlines lie about the middle of a small letter.
    const d = rings.map((ring) => ring.map(([u, v], i) => `${i ? 'L' : 'M'}${(left + size * u).toFixed(1)} ${(y + size * (v - 0.35)).toFixed(1)}`).join('') + 'Z'); // prettier-ignore
    return `<path d="${d.join('')}" fill="${colour}"/>`;
  };
}
