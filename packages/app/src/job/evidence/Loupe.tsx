import { checkKinds, type ResidueKind } from '@ritaglio/core';
import { useEffect, useRef } from 'react';
import { Button } from '../../ui/Button';
import type { Shown } from '../../worker/protocol';
import { useProductsOfJob, useRecipe } from '../jobContext';
import type { Step } from '../steps';
import { useProof } from '../useProof';
import { useViewOf } from '../viewStore';
import { figured, say, spoken, told, word } from '../../words/say';

const magnification = 3;

const leftSays: Record<ResidueKind, string> = spoken({
  rim: word('a soft rim is left here'),
  part: word('a part of the subject is left here'),
  strand: word('a strand is left here'),
  shade: word('a shadow is left here'),
  mirror: word('a reflection is left here'),
});

/** A stretch of edge, or on the plate a spot where it shows, at 300 %, walked place by place. */
export function Loupe({ step }: { step: Step }) {
  return step === 'proof' ? <ProofLoupe /> : <EdgeLoupe step={step} />;
}

/** The place of the proof that is looked at. */
function ProofLoupe() {
  const { shown } = useProductsOfJob();
  const { places, at } = useProof();
  const { frame } = useRecipe();
  const here = places[at];
  return (
    <section aria-label={say('Loupe')} className="px-3.5 pt-3">
      <div className="mb-1 flex items-baseline justify-between gap-2">
        <h2 className="font-bold">{say('Loupe')}</h2>
        <span className="font-mono text-xs text-faint">
          {here ? say('{at} of {length}, worst first', { at: at + 1, length: places.length }) : say('middle · 300 %')}
        </span>
      </div>
      <Magnified product={shown.finished} x={here?.x ?? frame.width / 2} y={here?.y ?? frame.height / 2} />
      {here && <p className="mt-1 font-mono text-[11px]">{told(checkKinds[here.check.id].what)}</p>}
    </section>
  );
}

/** A piece of a picture at 300 %. */
function Magnified({ product, x, y }: { product: Shown | undefined; x: number; y: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
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
  return <canvas ref={canvas} width={224} height={140} className="block w-full" role="img" aria-label={say('The edge, magnified')} />;
}

function EdgeLoupe({ step }: { step: Step }) {
  const { shown, figures } = useProductsOfJob();
  const { frame } = useRecipe();
  const { picture, place, set } = useViewOf('picture', 'place', 'set');
  const edge = figures.edge ?? [];
  const spots = [
    ...(figures.plate?.left.places ?? []).map(({ x, y, kind }) => ({ x, y, says: leftSays[kind] })),
    ...(figures.plate?.places ?? []).map(({ x, y, weight }) => ({
      x,
      y,
      says: say('{weight} % of it is seen here', { weight: figured(100 * weight, 0) }),
    })),
  ];
  const onPlate = step === 'plate';
  const count = onPlate ? spots.length : edge.length;
  const number = count > 0 ? place % count : 0;
  const line = onPlate ? undefined : edge[number];
  const spot = onPlate ? spots[number] : undefined;
  const at = line ?? spot;
  const product = shown[picture];
  const x = at?.x ?? frame.width / 2;
  const y = at?.y ?? frame.height / 2;

  const go = (by: number): void => set({ place: (number + by + count) % count });
  return (
    <section aria-label={say('Loupe')} className="px-3.5 pt-3">
      <div className="mb-1 flex items-baseline justify-between gap-2">
        <h2 className="font-bold">{say('Loupe')}</h2>
        <span className="font-mono text-xs text-faint">
          {at
            ? onPlate
              ? say('{number} of {count}, most first', { number: number + 1, count })
              : say('{number} of {count}, worst first', { number: number + 1, count })
            : say('middle · 300 %')}
        </span>
      </div>
      <Magnified product={product} x={x} y={y} />
      {line && (
        <p className="mt-1 flex flex-wrap justify-between gap-x-2 font-mono text-[11px]">
          <span
            className={line.softness > 12 ? 'text-hot' : ''}
            title={say('Width of the way from clear to opaque; a sharp edge has one or two')}
          >
            {say('edge {softness} px wide', { softness: figured(line.softness, 1) })}
          </span>
          <span
            className={line.left > 8 ? 'text-hot' : ''}
            title={say('Old background in the edge’s colour, as a colour difference; less is better')}
          >
            {say('old colour ΔE {thing}', { thing: figured(Math.max(0, line.left), 0) })}
          </span>
          <span className={line.specks >= 1.5 ? 'text-hot' : ''} title={say('Loose dots and pinholes close by; less is better')}>
            {say('{specks, plural, one {# speck} other {# specks}}', { specks: Math.round(line.specks) })}
          </span>
        </p>
      )}
      {spot && <p className="mt-1 font-mono text-[11px]">{spot.says}</p>}
      <div className="mt-1.5 flex gap-1.5">
        <Button disabled={!at} onClick={() => go(-1)} aria-label={onPlate ? say('Back to what shows more') : say('Back along the edge')}>
          ‹
        </Button>
        <Button
          disabled={!at}
          onClick={() => go(1)}
          aria-label={onPlate ? say('On to what shows less') : say('On along the edge')}
          title={say('On (L)')}
        >
          {onPlate ? say('Walk what shows ›') : say('Walk the edge ›')}
        </Button>
      </div>
    </section>
  );
}
