import {
  checkKinds,
  counted,
  cureOf,
  inOrderOfConcern,
  isAccepted,
  picturesOf,
  sheetHtml,
  sheetSize,
  sheetSvg,
  unitOf,
  type Check,
  type Cure,
  type Verdict,
} from '@ritaglio/core';
import { clsx } from 'clsx';
import { CircleAlert, CircleCheck, CircleHelp, CircleX } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { store as kept } from '../../data/store';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
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
import { base64Of } from '../../worker/sending';
import typeface from '@fontsource-variable/schibsted-grotesk/files/schibsted-grotesk-latin-wght-normal.woff2?url';
import { figured, say, told } from '../../words/say';

const marks: Record<Verdict, { Icon: typeof CircleCheck; says: string; tone: string }> = {
  good: {
    Icon: CircleCheck,
    get says() {
      return say('good');
    },
    tone: 'text-fine',
  },
  look: {
    Icon: CircleAlert,
    get says() {
      return say('worth a look');
    },
    tone: 'text-watch',
  },
  wrong: {
    Icon: CircleX,
    get says() {
      return say('wrong');
    },
    tone: 'text-hot',
  },
  unknown: {
    Icon: CircleHelp,
    get says() {
      return say('not known');
    },
    tone: 'text-faint',
  },
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
        <p className="text-faint">{say('Every edge, both sides and the finished picture are being measured.')}</p>
      </Part>
    );
  }
  const counts = counted(checks, recipe.accepted);
  const here = places[at];
  return (
    <>
      <Part title="Checks" figure={say('{wrong} wrong, {look} to look at', { wrong: counts.wrong, look: counts.look })}>
        <Old what="checks">
          <p className="mb-1.5 text-faint">
            {say('{length} of {length2} could be measured. What is not known is not good: look at it yourself.', {
              length: checks.length - counts.unknown,
              length2: checks.length,
            })}
          </p>
          <div className="flex items-center gap-1.5">
            <Button disabled={places.length === 0} onClick={() => go(at - 1)} aria-label={say('Back to the place before')}>
              ‹
            </Button>
            <Button strong disabled={places.length === 0} title={say('On (L)')} onClick={() => go(at + 1)}>
              {say('Walk the places')}
            </Button>
            <span className="font-mono text-xs">
              {places.length > 0 ? say('{at} of {length}', { at: at + 1, length: places.length }) : say('none')}
            </span>
          </div>
          {here && <p className="mt-1 text-faint">{told(checkKinds[here.check.id].what)}</p>}
        </Old>
      </Part>
      <ul aria-label={say('All checks')}>
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

/** A check's figure with its unit, as the interface speaks. */
function figureSaid(check: Check): string {
  const { id, figure, verdict } = check;
  if (figure === undefined || verdict === 'unknown') return say('not known');
  return `${figured(figure, checkKinds[id].digits)} ${told(unitOf(check))}`;
}

function CheckRow({ check, open, onOpen }: { check: Check; open: boolean; onOpen: () => void }) {
  const recipe = useRecipe();
  const accepted = isAccepted(check, recipe.accepted);
  const { Icon, says, tone } = accepted ? { ...marks.good, says: say('accepted') } : marks[check.verdict];
  return (
    <li className={clsx('border-b border-rule px-4 py-1.5', open && 'bg-paper')}>
      <button type="button" className="flex w-full items-baseline gap-2 text-left" aria-expanded={open} onClick={onOpen}>
        <Icon size={12} strokeWidth={3} aria-label={says} className={clsx('shrink-0 translate-y-px', tone)} />
        <span className="grow">{told(checkKinds[check.id].what)}</span>
        <span className="text-right font-mono text-[11px] whitespace-nowrap">{accepted ? say('accepted') : figureSaid(check)}</span>
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
        {(check.why && told(check.why)) ??
          say('Less is better: up to {tolerance} {unit} is good{thing}; {reason}.', {
            tolerance,
            unit: told(unit),
            thing: wrong === undefined ? '' : say(', from {wrong} on it is wrong', { wrong }),
            reason: told(reason),
          })}
      </p>
      {cure && !tried && <Button onClick={() => setTried(cure)}>{told(cure.says)}</Button>}
      {tried && (
        <p className="flex flex-wrap items-center gap-1.5">
          <span>{say('Shown as it would be.')}</span>
          <Button
            strong
            onClick={() => {
              commit(tried.edit);
              setTried(undefined);
            }}
          >
            {say('Keep it')}
          </Button>
          <Button onClick={() => setTried(undefined)}>{say('Leave it')}</Button>
        </p>
      )}
      {accepted ? (
        <p className="flex items-center gap-1.5">
          <span className="grow">
            {say('Accepted:')} {recipe.accepted.find((a) => a.check === check.id)?.word || say('as it is')}
          </span>
          <Button onClick={() => commit((r) => withAccepted(r, check, undefined))}>{say('Take back')}</Button>
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
              aria-label={say('Why it is accepted')}
              placeholder={say('why it is right')}
              maxLength={200}
              className="min-w-0 grow border-b border-faint bg-transparent"
              value={word}
              onChange={(e) => setWord(e.currentTarget.value)}
            />
            <Button type="submit">{say('Accept')}</Button>
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
      const inputs = await whileAlive(renderer().sheet(momentNow(whole), scale, names));
      const name = `${fileNameOf(whole.name)} ${told('proof')}.${kind}`;
      const typefaces = [{ weight: '400 900', href: await addressOfData(typeface) }];
      const look = { tell: told, language: document.documentElement.lang, typefaces };
      save(name, kind === 'html' ? new Blob([sheetHtml(inputs, look)], { type: 'text/html' }) : await asPng(sheetSvg(inputs, look)));
    } catch (error) {
      refuse(error);
    }
    setBusy(false);
    resume();
  };
  return (
    <Part title="Sheet">
      <p className="mb-1.5 text-faint">{say('Before and after, the worst places and every check on one page, to hand over.')}</p>
      <div className="flex flex-wrap items-center gap-1.5">
        <Button disabled={busy} onClick={() => void make('html')}>
          {say('As a page')}
        </Button>
        <Button disabled={busy} onClick={() => void make('png')}>
          {say('As a picture')}
        </Button>
        {busy && <span role="status">{say('Making the sheet …')}</span>}
      </div>
    </Part>
  );
}

/** A typeface that is served, as an address that holds it. */
async function addressOfData(url: string): Promise<string> {
  const bytes = new Uint8Array(await (await fetch(url)).arrayBuffer());
  return `data:font/woff2;base64,${base64Of(bytes)}`;
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
