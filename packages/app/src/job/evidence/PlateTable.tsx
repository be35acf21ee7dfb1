import { Figures } from '../../ui/controls';
import { Old } from './Old';
import { useProductsOfJob } from '../jobContext';
import { leftFigure } from '../plate/CompareParts';

/** What was measured of the plate. */
export function PlateTable() {
  const { plate } = useProductsOfJob().figures;
  const share = (v: number, digits = 1): string => `${(100 * v).toFixed(digits)} %`;
  return (
    <section aria-label="Plate, measured" className="px-3.5 pt-3">
      <h2 className="mb-1 font-bold">Plate</h2>
      {plate ? (
        <Old what="plate">
          <Figures
            rows={[
              { name: 'Hole', figure: share(plate.hole) },
              { name: 'Of it is seen', figure: share(plate.showing, 0) },
              { name: 'Invented in the picture', figure: share(plate.ofPicture) },
              { name: 'Places where it is seen', figure: String(plate.places.length) },
              { name: 'Pieces seen twice', figure: String(plate.repeats.length) },
              { name: 'Edge softness', figure: `${plate.softness.toFixed(1)} px` },
              {
                name: 'Left of the subject',
                figure: leftFigure(plate.left),
                // Nothing found is no clearance: it is never told as good.
                ...((plate.left.width ?? 0) > 0.1 && { state: 'watch' as const }),
              },
              ...(plate.fits !== undefined
                ? [
                    {
                      name: 'Photographed plate fits',
                      figure: share(plate.fits, 0),
                      state: plate.fits < 0.5 ? ('watch' as const) : ('fine' as const),
                    },
                  ]
                : []),
            ]}
          />
        </Old>
      ) : (
        <p className="text-faint">Not measured yet.</p>
      )}
    </section>
  );
}
