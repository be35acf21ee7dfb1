import { useMemo } from 'react';
import { Image as KonvaImage, Rect } from 'react-konva';
import { useProductsOfJob, useOpenSubject, useRecipe } from '../jobContext';
import type { Step } from '../steps';
import { useView, type PictureChoice, type ViewState } from '../viewStore';
import { layOf } from './room';

const flat = { black: '#000000', white: '#ffffff', grey: '#777777' };

/** One product drawn over the frame. The shot is drawn with what is removed from it, unless plain. */
export function ProductImage(props: { picture: PictureChoice | 'skipped' | 'take' | 'held'; plain: boolean; zoom: number; step: Step }) {
  const { picture, plain, zoom, step } = props;
  const recipe = useRecipe();
  const open = useOpenSubject();
  const { shown, figures } = useProductsOfJob();
  const removed = useView((s) => s.removed);
  const hatch = useMemo(() => hatchTile(), []);
  const take = useView((s) => s.take);
  const held = useView((s) => s.held);
  const product = picture === 'take' ? take : picture === 'held' ? heldPicture(held) : shown[picture];
  const cut = shown.subject;
  const outline = useMemo(() => (removed === 'outline' && cut ? outlineImage(cut.bitmap) : undefined), [removed, cut]);
  const whole = layOf(recipe, step, picture, open);
  if (!product) {
    // Until it has been worked out: the shot, greyed, so that nothing is looked at as if it were it.
    const before = layOf(recipe, step, 'shot', open);
    return (
      <>
        <Rect {...whole} fill="#8d8d8b" />
        {shown.shot && <KonvaImage {...before} image={shown.shot.bitmap} opacity={0.3} />}
      </>
    );
  }
  const smooth = zoom < 2 * product.scale;
  const image = <KonvaImage {...whole} image={product.bitmap} imageSmoothingEnabled={smooth} />;
  if (picture !== 'shot' || plain || !cut || !figures.matte || figures.matte.subject === 0) return image;
  const subject = <KonvaImage {...whole} image={cut.bitmap} imageSmoothingEnabled={smooth} />;
  switch (removed) {
    case 'hatch':
      return (
        <>
          {image}
          <Rect {...whole} fill="#e4e3df" opacity={0.62} />
          <Rect
            {...whole}
            fillPatternImage={hatch as unknown as HTMLImageElement}
            fillPatternScale={{ x: 1 / zoom, y: 1 / zoom }}
            opacity={0.42}
          />
          {subject}
        </>
      );
    case 'dimmed':
      return (
        <>
          {image}
          <Rect {...whole} fill="#7d7d7d" opacity={0.72} />
          {subject}
        </>
      );
    case 'outline':
      return (
        <>
          {image}
          {outline && <KonvaImage {...whole} image={outline} imageSmoothingEnabled />}
        </>
      );
    case 'behind':
      return (
        <>
          {shown.background ? <KonvaImage {...layOf(recipe, step, 'background', open)} image={shown.background.bitmap} /> : image}
          {subject}
        </>
      );
    default:
      return (
        <>
          <Rect {...whole} fill={flat[removed]} />
          {subject}
        </>
      );
  }
}

function heldPicture(held: ViewState['held']): { bitmap: ImageBitmap; scale: number } | undefined {
  return held?.bitmap && held.scale ? { bitmap: held.bitmap, scale: held.scale } : undefined;
}

/** Something that is laid over a product: dots where opacity was solved, grey where nothing invented shows or nothing is left, stripes where light leaves the range. */
export function VeilImage({ name, step, smooth = false }: { name: 'band' | 'showing' | 'left' | 'beyond'; step: Step; smooth?: boolean }) {
  const recipe = useRecipe();
  const open = useOpenSubject();
  const veil = useProductsOfJob().shown[name];
  if (!veil) return null;
  return <KonvaImage image={veil.bitmap} {...layOf(recipe, step, name, open)} imageSmoothingEnabled={smooth} listening={false} />;
}

/** Longest side on which the outline is traced: it is a line to be seen, and this runs on the interface's thread. */
const outlineSide = 900;

/** A line, light with an ink rim, where a cut-out's opacity crosses one half. */
function outlineImage(bitmap: ImageBitmap): OffscreenCanvas {
  const ratio = Math.min(1, outlineSide / Math.max(bitmap.width, bitmap.height));
  const width = Math.max(1, Math.round(bitmap.width * ratio));
  const height = Math.max(1, Math.round(bitmap.height * ratio));
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0, width, height);
  const from = context.getImageData(0, 0, width, height).data;
  const out = context.createImageData(width, height);
  const solid = (x: number, y: number): boolean =>
    from[4 * (Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))) + 3] >= 128;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const here = solid(x, y);
      const near = here !== solid(x + 1, y) || here !== solid(x, y + 1) || here !== solid(x - 1, y) || here !== solid(x, y - 1);
      const far = near || here !== solid(x + 2, y) || here !== solid(x, y + 2) || here !== solid(x - 2, y) || here !== solid(x, y - 2);
      if (!far) continue;
      const k = 4 * (y * width + x);
      out.data.fill(near ? 243 : 32, k, k + 3);
      out.data[k + 3] = 255;
    }
  }
  context.putImageData(out, 0, 0);
  return canvas;
}

/** One tile of diagonal hatch. */
function hatchTile(): HTMLCanvasElement {
  const tile = document.createElement('canvas');
  tile.width = tile.height = 12;
  const c = tile.getContext('2d')!;
  c.strokeStyle = '#20211f';
  c.lineWidth = 3;
  c.beginPath();
  for (const o of [-12, 0, 12]) {
    c.moveTo(o, 12);
    c.lineTo(o + 12, 0);
  }
  c.stroke();
  return tile;
}
