import { useEffect, useRef } from 'react';
import { useProductsOfJob } from '../jobContext';
import { useView } from '../viewStore';

/** How often each code value of red, green and blue occurs in what is shown. */
export function Histogram() {
  const { shown } = useProductsOfJob();
  const picture = useView((s) => s.picture);
  const product = shown[picture];
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const c = canvas.current;
    const context = c?.getContext('2d');
    if (!c || !context || !product) return;
    const counts = countCodes(product.bitmap);
    context.clearRect(0, 0, c.width, c.height);
    context.globalCompositeOperation = 'source-over';
    context.fillStyle = '#1c1d1b';
    context.fillRect(0, 0, c.width, c.height);
    context.globalCompositeOperation = 'lighter';
    // The ends are counted but do not set the height: a clipped sky would flatten all else.
    const top = Math.max(1, ...counts.flatMap((channel) => Array.from(channel.subarray(2, 254))));
    counts.forEach((channel, i) => {
      context.fillStyle = ['#b04a3c', '#4a8a4f', '#4a62b0'][i];
      for (let v = 0; v < 256; v++) {
        const h = Math.min(1, Math.sqrt(channel[v] / top)) * (c.height - 2);
        context.fillRect((v * c.width) / 256, c.height - h, c.width / 256 + 0.5, h);
      }
    });
  }, [product]);
  return (
    <section aria-label="Histogram" className="px-3.5 pt-3 pb-4">
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="font-bold">Histogram</h2>
        <span className="font-mono text-xs text-faint">{picture}</span>
      </div>
      <canvas
        ref={canvas}
        width={512}
        height={160}
        className="block h-20 w-full bg-ink"
        role="img"
        aria-label={`Histogram of ${picture}`}
      />
    </section>
  );
}

function countCodes(bitmap: ImageBitmap): Uint32Array[] {
  const width = Math.min(360, bitmap.width);
  const height = Math.max(1, Math.round((width * bitmap.height) / bitmap.width));
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0, width, height);
  const { data } = context.getImageData(0, 0, width, height);
  const counts = [0, 1, 2].map(() => new Uint32Array(256));
  for (let k = 0; k < data.length; k += 4) for (let c = 0; c < 3; c++) counts[c][data[k + c]]++;
  return counts;
}
