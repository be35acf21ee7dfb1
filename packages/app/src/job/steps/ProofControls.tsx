import {
  checkKinds,
  counted,
  cureOf,
  figureOf,
  inOrderOfConcern,
  isAccepted,
  picturesOf,
  sheetSize,
  type Check,
  type Cure,
  type Verdict,
} from '@ritaglio/core';
import { clsx } from 'clsx';
import { CircleAlert, CircleCheck, CircleHelp, CircleX } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { store as kept } from '../../data/store';
import { Button, Part } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { fileNameOf, save } from '../../ui/save';
import { givePictures } from '../../worker/givePictures';
import { renderer, whileAlive } from '../../worker/renderer';
import { useSizes } from '../bench/useBench';
import { sizeOf } from '../bench/cards';
import { Old } from '../evidence/Old';
import { useChange, useOpenJob, useProductsOfJob, useRecipe } from '../jobContext';
import { momentNow } from '../moments';
import { withAccepted } from '../proof';
import { useProof } from '../useProof';
import { useView } from '../viewStore';

const marks: Record<Verdict, { Icon: typeof CircleCheck; says: string; tone: string }> = {
  good: { Icon: CircleCheck, says: 'good', tone: 'text-fine' },
  look: { Icon: CircleAlert, says: 'worth a look', tone: 'text-watch' },
  wrong: { Icon: CircleX, says: 'wrong', tone: 'text-hot' },
  unknown: { Icon: CircleHelp, says: 'not known', tone: 'text-faint' },
};

/** Every check of the finished picture: its figure, what it means, where to look, what would mend it, and whether it is accepted. */
export function ProofControls() {
  const recipe = useRecipe();
  const { figures } = useProductsOfJob();
  const { places, at, go } = useProof();
  const [open, setOpen] = useState<Check['id']>();
  const { checks } = figures;
  useHotkeys('l', () => go(useView.getState().place + 1), [places]);
  if (!checks) {
    return (
      <Part title="Checks">
        <p className="text-faint">Every edge, both sides and the finished picture are being measured.</p>
      </Part>
    );
  }
  const counts = counted(checks, recipe.accepted);
  const here = places[at];
  return (
    <>
      <Part title="Checks" figure={`${counts.wrong} wrong, ${counts.look} to look at`}>
        <Old what="checks">
          <p className="mb-1.5 text-faint">
            {checks.length - counts.unknown} of {checks.length} could be measured. What is not known is not good: look at it yourself.
          </p>
          <div className="flex items-center gap-1.5">
            <Button disabled={places.length === 0} onClick={() => go(at - 1)} aria-label="Back to the place before">
              ‹
            </Button>
            <Button strong disabled={places.length === 0} title="On (L)" onClick={() => go(at + 1)}>
              Walk the places
            </Button>
            <span className="font-mono text-xs">{places.length > 0 ? `${at + 1} of ${places.length}` : 'none'}</span>
          </div>
          {here && <p className="mt-1 text-faint">{checkKinds[here.check.id].what}</p>}
        </Old>
      </Part>
      <ul aria-label="All checks">
        {inOrderOfConcern(checks, recipe.accepted).map((check) => (
          <CheckRow
            key={check.id}
            check={check}
            open={open === check.id}
            onOpen={() => {
              setOpen(open === check.id ? undefined : check.id);
              const first = places.findIndex((p) => p.check.id === check.id);
              if (first >= 0 && open !== check.id) go(first);
            }}
          />
        ))}
      </ul>
      <Sheet />
    </>
  );
}

function CheckRow({ check, open, onOpen }: { check: Check; open: boolean; onOpen: () => void }) {
  const recipe = useRecipe();
  const accepted = isAccepted(check, recipe.accepted);
  const { Icon, says, tone } = accepted ? { ...marks.good, says: 'accepted' } : marks[check.verdict];
  return (
    <li className={clsx('border-b border-rule px-4 py-1.5', open && 'bg-paper')}>
      <button type="button" className="flex w-full items-baseline gap-2 text-left" aria-expanded={open} onClick={onOpen}>
        <Icon size={12} strokeWidth={3} aria-label={says} className={clsx('shrink-0 translate-y-px', tone)} />
        <span className="grow">{checkKinds[check.id].what}</span>
        <span className="text-right font-mono text-[11px] whitespace-nowrap">{accepted ? 'accepted' : figureOf(check)}</span>
      </button>
      {open && <CheckMore check={check} accepted={accepted} />}
    </li>
  );
}

function CheckMore({ check, accepted }: { check: Check; accepted: boolean }) {
  const recipe = useRecipe();
  const sizes = useSizes();
  const { preview, commit } = useChange();
  const [word, setWord] = useState('');
  // The cure as it was pressed: once it is shown, the check may be good and have none.
  const [tried, setTried] = useState<Cure>();
  const { tolerance, unit, wrong, reason } = checkKinds[check.id];
  const cure = cureOf(check, recipe, (card) => sizeOf(recipe, card, sizes));
  const open = check.verdict === 'look' || check.verdict === 'wrong';
  // What is shown as it would be is left when one goes away.
  useEffect(() => {
    if (!tried) return;
    preview(tried.edit);
    return () => commit((r) => r);
  }, [tried, preview, commit]);
  return (
    <div className="mt-1 space-y-1.5 pl-5">
      <p className="text-faint">
        {check.why ??
          `Less is better: up to ${tolerance} ${unit} is good${wrong === undefined ? '' : `, from ${wrong} on it is wrong`}; ${reason}.`}
      </p>
      {cure && !tried && <Button onClick={() => setTried(cure)}>{cure.says}</Button>}
      {tried && (
        <p className="flex flex-wrap items-center gap-1.5">
          <span>Shown as it would be.</span>
          <Button
            strong
            onClick={() => {
              commit(tried.edit);
              setTried(undefined);
            }}
          >
            Keep it
          </Button>
          <Button onClick={() => setTried(undefined)}>Leave it</Button>
        </p>
      )}
      {accepted ? (
        <p className="flex items-center gap-1.5">
          <span className="grow">Accepted: {recipe.accepted.find((a) => a.check === check.id)?.word || 'as it is'}</span>
          <Button onClick={() => commit((r) => withAccepted(r, check, undefined))}>Take back</Button>
        </p>
      ) : (
        open && (
          <form
            className="flex items-center gap-1.5"
            onSubmit={(e) => {
              e.preventDefault();
              commit((r) => withAccepted(r, check, word.trim()));
            }}
          >
            <input
              aria-label="Why it is accepted"
              placeholder="why it is right"
              maxLength={200}
              className="min-w-0 grow border-b border-faint bg-transparent"
              value={word}
              onChange={(e) => setWord(e.currentTarget.value)}
            />
            <Button type="submit">Accept</Button>
          </form>
        )
      )}
    </div>
  );
}

/** The sheet to hand over: a page that prints, or a picture. */
function Sheet() {
  const { store } = useOpenJob();
  const recipe = useRecipe();
  const { resume } = useProductsOfJob();
  const [busy, setBusy] = useState(false);
  const make = async (kind: 'html' | 'png'): Promise<void> => {
    setBusy(true);
    try {
      const whole = store.getState().recipe;
      await givePictures(whole);
      const pictures = await kept.pictures.bulkGet(picturesOf(whole));
      const names = Object.fromEntries(pictures.flatMap((p) => (p ? [[p.id, p.name]] : [])));
      const scale = Math.min(1, 1800 / Math.max(recipe.frame.width, recipe.frame.height));
      const text = await whileAlive(renderer().sheet(momentNow(whole), scale, kind === 'html' ? 'html' : 'svg', names));
      const name = `${fileNameOf(whole.name)} proof.${kind}`;
      save(name, kind === 'html' ? new Blob([text], { type: 'text/html' }) : await asPng(text));
    } catch (error) {
      refuse(error);
    }
    setBusy(false);
    resume();
  };
  return (
    <Part title="Sheet">
      <p className="mb-1.5 text-faint">Before and after, the worst places and every check on one page, to hand over.</p>
      <div className="flex flex-wrap items-center gap-1.5">
        <Button disabled={busy} onClick={() => void make('html')}>
          As a page
        </Button>
        <Button disabled={busy} onClick={() => void make('png')}>
          As a picture
        </Button>
        {busy && <span role="status">Making the sheet …</span>}
      </div>
    </Part>
  );
}

async function asPng(svg: string): Promise<Blob> {
  const image = new Image();
  image.src = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  await image.decode();
  const canvas = new OffscreenCanvas(sheetSize.width, sheetSize.height);
  canvas.getContext('2d')!.drawImage(image, 0, 0);
  URL.revokeObjectURL(image.src);
  return canvas.convertToBlob({ type: 'image/png' });
}
