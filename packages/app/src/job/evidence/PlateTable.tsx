import { Figures } from '../../ui/controls';
import { Old } from './Old';
import { useProductsOfJob } from '../jobContext';
import { leftFigure } from '../plate/CompareParts';
import { figured, say } from '../../words/say';

/** What was measured of the plate. */
export function PlateTable() {
  const { plate } = useProductsOfJob().figures;
  const share = (v: number, digits = 1): string => `${figured(100 * v, digits)} %`;
  return (
    <section aria-label={say('Plate, measured')} className="px-3.5 pt-3">
      <h2 className="mb-1 font-bold">{say('Plate')}</h2>
      {plate ? (
        <Old what="plate">
          <Figures
            rows={[
              { name: say('Hole'), figure: share(plate.hole) },
              { name: say('Of it is seen'), figure: share(plate.showing, 0) },
              { name: say('Invented in the picture'), figure: share(plate.ofPicture) },
              { name: say('Places where it is seen'), figure: String(plate.places.length) },
              { name: say('Pieces seen twice'), figure: String(plate.repeats.length) },
              { name: say('Edge softness'), figure: `${figured(plate.softness, 1)} px` },
              {
                name: say('Left of the subject'),
                figure: leftFigure(plate.left),
                // Nothing found is no clearance: it is never told as good.
                ...((plate.left.width ?? 0) > 0.1 && { state: 'watch' as const }),
              },
              ...(plate.fits !== undefined
                ? [
                    {
                      name: say('Photographed plate fits'),
                      figure: share(plate.fits, 0),
                      state: plate.fits < 0.5 ? ('watch' as const) : ('fine' as const),
                    },
                  ]
                : []),
            ]}
          />
        </Old>
      ) : (
        <p className="text-faint">{say('Not measured yet.')}</p>
      )}
    </section>
  );
}
