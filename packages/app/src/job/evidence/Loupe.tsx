import { useEffect, useRef } from 'react';
import { Button } from '../../ui/controls';
import { useProductsOfJob, useRecipe } from '../jobContext';
import { useView } from '../viewStore';

const magnification = 3;

/** A stretch of edge at 300 %, walked place by place. */
export function Loupe() {
  const { shown, figures } = useProductsOfJob();
  const { frame } = useRecipe();
  const { picture, place, set } = useView();
  const canvas = useRef<HTMLCanvasElement>(null);
  const edge = figures.edge ?? [];
  const at = edge[place % Math.max(1, edge.length)];
  const product = shown[picture];
  const x = at?.x ?? frame.width / 2;
  const y = at?.y ?? frame.height / 2;

  useEffect(() => {
    const c = canvas.current;
    const context = c?.getContext('2d');
    if (!c || !context) return;
    context.fillStyle = '#7d7d7d';
    context.fillRect(0, 0, c.width, c.height);
    if (!product) return;
    const { bitmap, scale } = product;
    context.imageSmoothingEnabled = scale < 1;
    const w = (c.width / magnification) * scale;
    const h = (c.height / magnification) * scale;
    context.drawImage(bitmap, x * scale - w / 2, y * scale - h / 2, w, h, 0, 0, c.width, c.height);
  }, [product, x, y]);

  const step = (by: number): void => set({ place: (place + by + edge.length) % edge.length });
  return (
    <section aria-label="Loupe" className="px-3.5 pt-3">
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="font-bold">Loupe</h2>
        <span className="font-mono text-xs text-faint">
          {at ? `${(place % edge.length) + 1} of ${edge.length}, worst first` : 'middle · 300 %'}
        </span>
      </div>
      <canvas ref={canvas} width={224} height={140} className="block w-full" role="img" aria-label="The edge, magnified" />
      {at && (
        <p className="mt-1 flex justify-between gap-2 font-mono text-[11px]">
          <span className={at.softness > 12 ? 'text-hot' : ''}>soft {at.softness.toFixed(1)} px</span>
          <span className={at.left > 8 ? 'text-hot' : ''}>left {Math.max(0, at.left).toFixed(1)}</span>
          <span className={at.specks >= 1.5 ? 'text-hot' : ''}>specks {Math.round(at.specks)}</span>
        </p>
      )}
      <div className="mt-1.5 flex gap-1.5">
        <Button disabled={!at} onClick={() => step(-1)} aria-label="Back along the edge">
          ‹
        </Button>
        <Button disabled={!at} onClick={() => step(1)} aria-label="On along the edge" title="On (L)">
          Walk the edge ›
        </Button>
      </div>
    </section>
  );
}
