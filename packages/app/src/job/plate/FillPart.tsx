import type { Fill } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Choice, Part } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { useOpenSubject, useProductsOfJob, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { EmptySceneOffer } from '../EmptyScene';
import { PicturePicker } from '../PicturePicker';
import { useView } from '../viewStore';
import { RegionWay, takeTool } from './HolePart';
import { newFill, type FillKind, type Plate } from './plateTools';
import { usePlate } from './usePlate';
import { choices, figured, say, spoken, told, word } from '../../words/say';

const kinds: { value: FillKind; label: string }[] = choices({
  patch: word('Patch'),
  smooth: word('Smooth'),
  stretch: word('Stretch'),
  borrowed: word('Borrowed'),
  photographed: word('Photographed'),
});
const fromFrames = {
  value: 'frames' as const,
  get label() {
    return say('Other frames');
  },
};

const about: Record<FillKind, string> = spoken({
  patch: word('From texture elsewhere in the shot; lines run on.'),
  smooth: word('A membrane from the rim. No texture: right where the blur hides it.'),
  stretch: word('Rim colours pushed inwards. The quickest.'),
  borrowed: word('Patches, but only from where you say.'),
  frames: word('What other frames of the clip show of the ground, laid together; what none shows is made up once.'),
  photographed: word('Another frame of the scene, aligned and its exposure matched.'),
});

/** How the hole is made up, as a whole and in parts. */
export function FillPart() {
  const { plate, change } = usePlate();
  const { figures } = useProductsOfJob();
  const { shot } = useOpenSubject();
  const ofClip = useRecipe().clips.some((c) => c.id === shot);
  const tool = useView((s) => s.plateTool);
  const { fill, parts } = plate;
  const put = (next: Fill): void => change({ fill: next as Plate['fill'] });
  const putPart = (i: number, next: Fill): void =>
    change({ parts: parts.map((p, k) => (k === i ? { ...p, fill: next as Plate['fill'] } : p)) });
  return (
    <Part
      title="Fill"
      figure={
        fill.kind === 'photographed' && figures.plate?.fits !== undefined
          ? say('{fits} % fits', { fits: figured(100 * figures.plate.fits, 0) })
          : undefined
      }
    >
      <Choice<FillKind>
        label={say('Fill')}
        value={fill.kind}
        options={ofClip ? [fromFrames, ...kinds] : kinds}
        onChange={(kind) => put(newFill(kind, fill as Fill))}
      />
      <p className="mt-1.5 text-faint">{about[fill.kind]}</p>
      {fill.kind === 'photographed' && (
        <PicturePicker
          label={say('Photographed plate')}
          value={fill.picture}
          except={shot}
          onChange={(picture) => put({ kind: 'photographed', picture })}
        />
      )}
      {fill.kind === 'photographed' && <EmptySceneOffer />}
      {fill.kind === 'borrowed' && <Borrowed fill={fill} put={put} />}
      {'tries' in fill && <Tries fill={fill} put={put} />}
      {figures.plate?.notes.map((note) => (
        <p key={note} className="mt-1.5 text-watch">
          {told(note)}
        </p>
      ))}
      <div className="mt-2 flex items-center gap-1.5">
        <Button
          aria-pressed={tool === 'part'}
          className={tool === 'part' ? 'bg-tray' : ''}
          onClick={() => takeTool(tool === 'part' ? 'look' : 'part')}
        >
          {say('Fill a part otherwise')}
        </Button>
      </div>
      {tool === 'part' && (
        <>
          <p className="mt-1.5 text-faint">{say('Draw the part on the plate.')}</p>
          <RegionWay />
        </>
      )}
      <ul className="mt-1.5 space-y-1">
        {parts.map((part, i) => (
          <li key={i} className="flex items-center gap-1.5">
            <span className="grow">{say('Part {i}', { i: i + 1 })}</span>
            <Picker<FillKind>
              label={say('Fill of part {i}', { i: i + 1 })}
              value={part.fill.kind}
              options={kinds.filter((k) => k.value !== 'photographed' && k.value !== 'borrowed')}
              onChange={(kind) => putPart(i, newFill(kind, part.fill as Fill))}
            />
            {part.fill.kind === 'patch' && (
              <Button
                aria-label={say('Another try for part {i}', { i: i + 1 })}
                onClick={() =>
                  putPart(i, {
                    kind: 'patch',
                    tries: (part.fill as { tries: number }).tries + 1,
                    taken: (part.fill as { tries: number }).tries + 1,
                  })
                }
              >
                {say('Again')}
              </Button>
            )}
            <Button aria-label={say('Remove part {i}', { i: i + 1 })} onClick={() => change({ parts: parts.filter((_, k) => k !== i) })}>
              ×
            </Button>
          </li>
        ))}
      </ul>
    </Part>
  );
}

/** All tries at hand, and another one. */
function Tries({ fill, put }: { fill: Extract<Fill, { tries: number }>; put: (fill: Fill) => void }) {
  return (
    <div className="mt-1.5 flex flex-wrap items-center gap-1.5">
      <Choice
        label={say('Try')}
        value={String(fill.taken)}
        options={Array.from({ length: fill.tries }, (_, i) => ({ value: String(i + 1), label: `${i + 1}` }))}
        onChange={(t) => put({ ...fill, taken: Number(t) })}
      />
      <Button onClick={() => put({ ...fill, tries: fill.tries + 1, taken: fill.tries + 1 })}>{say('Another try')}</Button>
    </div>
  );
}

function Borrowed({ fill, put }: { fill: Extract<Fill, { kind: 'borrowed' }>; put: (fill: Fill) => void }) {
  const tool = useView((s) => s.plateTool);
  const { show } = usePlate();
  const slide = (key: 'x' | 'y') => ({
    param: `borrowed.${key}` as const,
    value: fill[key],
    onPreview: (v: number) => show({ fill: { ...fill, [key]: v } as Plate['fill'] }),
    onCommit: (v: number) => put({ ...fill, [key]: v }),
  });
  return (
    <>
      <div className="mt-1.5 flex gap-1.5">
        <Button
          aria-pressed={tool === 'borrow'}
          className={tool === 'borrow' ? 'bg-tray' : ''}
          onClick={() => takeTool(tool === 'borrow' ? 'look' : 'borrow')}
        >
          {say('Draw where from')}
        </Button>
        <Button disabled={fill.from.length === 0} onClick={() => put({ ...fill, from: fill.from.slice(0, -1) })}>
          {say('Last off')}
        </Button>
      </div>
      {tool === 'borrow' && <RegionWay />}
      {fill.from.length > 0 && (
        <>
          <ParameterControl {...slide('x')} />
          <ParameterControl {...slide('y')} />
          <p className="mt-1 text-faint">{say('Slid, what lies there is laid into the hole as it is; the rest is patched from it.')}</p>
        </>
      )}
    </>
  );
}
