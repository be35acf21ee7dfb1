import { apertureOutline, roundAperture, type Aperture } from '@ritaglio/core';
import { Part } from '../../ui/controls';
import { theLens, useEdit, within } from '../useEdit';
import { ParameterControl } from '../ParameterControl';
import { say } from '../../words/say';

/** Openings to begin with; the figures below change them. */
const kinds: { name: string; aperture: Aperture }[] = [
  {
    get name() {
      return say('Disc');
    },
    aperture: roundAperture,
  },
  {
    get name() {
      return say('Blades');
    },
    aperture: { ...roundAperture, shape: 'blades' },
  },
  {
    get name() {
      return say('Corner cut');
    },
    aperture: { ...roundAperture, cornerCut: 0.6 },
  },
  {
    get name() {
      return say('Oval');
    },
    aperture: { ...roundAperture, squeeze: 0.6 },
  },
  {
    get name() {
      return say('Rim');
    },
    aperture: { ...roundAperture, rim: 0.7 },
  },
  {
    get name() {
      return say('Soft');
    },
    aperture: { ...roundAperture, shape: 'soft' },
  },
];

/** The opening of the lens: what every light out of focus looks like. */
export function ShapePart() {
  const { value: aperture, commit, number } = useEdit(within(theLens, 'aperture'));
  const same = (a: Aperture): boolean => JSON.stringify(a) === JSON.stringify(aperture);
  return (
    <Part title="Shape" figure={aperture.shape === 'soft' ? say('Gaussian, to compare') : undefined}>
      <div className="mb-1.5 flex gap-1.5" role="group" aria-label={say('Shape of the opening')}>
        {kinds.map((k) => (
          <button
            key={k.name}
            type="button"
            title={k.name}
            aria-label={k.name}
            aria-pressed={same(k.aperture)}
            className={`border bg-paper p-1 ${same(k.aperture) ? 'border-2 border-ink' : 'border-rule'}`}
            onClick={() => commit(k.aperture)}
          >
            <Opening aperture={k.aperture} />
          </button>
        ))}
      </div>
      {aperture.shape === 'blades' && (
        <>
          <ParameterControl {...number('blades', 'aperture.blades')} />
          <ParameterControl {...number('roundness', 'aperture.roundness')} />
          <ParameterControl {...number('turn', 'aperture.turn')} />
        </>
      )}
      {aperture.shape !== 'soft' && (
        <>
          <ParameterControl {...number('cornerCut', 'aperture.cornerCut')} />
          <ParameterControl {...number('squeeze', 'aperture.squeeze')} />
          <ParameterControl {...number('rim', 'aperture.rim')} />
        </>
      )}
    </Part>
  );
}

/** An opening drawn small. */
function Opening({ aperture }: { aperture: Aperture }) {
  const points = apertureOutline(aperture, 60).map(([x, y]) => `${(12 + 10 * x).toFixed(1)},${(12 - 10 * y).toFixed(1)}`);
  const cut = aperture.cornerCut > 0;
  return (
    <svg width={24} height={24} viewBox="0 0 24 24" aria-hidden>
      {aperture.shape === 'soft' ? (
        [10, 8, 6, 4, 2].map((r) => <circle key={r} cx={12} cy={12} r={r} fill="var(--color-ink)" opacity={0.24} />)
      ) : (
        <>
          <polygon
            points={points.join(' ')}
            fill={aperture.rim > 0 ? 'var(--color-card)' : 'var(--color-ink)'}
            stroke="var(--color-ink)"
            strokeWidth={aperture.rim > 0 ? 3 : 0}
          />
          {cut && <circle cx={23} cy={3} r={8} fill="var(--color-paper)" />}
        </>
      )}
    </svg>
  );
}
