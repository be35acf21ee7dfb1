import { Dialog } from 'radix-ui';
import { useState } from 'react';
import type { ClipOffer } from '../data/clips';
import { Button } from '../ui/Button';
import { figured, say } from '../words/say';

interface Props {
  offer: ClipOffer;
  onClip: (rate: ClipOffer['rate']) => void;
  /** Nothing when the files can be nothing else. */
  onLoose?: () => void;
  onClose: () => void;
}

/** Asks whether files that were dropped together are a clip, and of how many frames a second. */
export function ClipOfferDialog({ offer, onClip, onLoose, onClose }: Props) {
  const rate = offer.rate.frames / offer.rate.seconds;
  const [typed, setTyped] = useState(figured(rate, Number.isInteger(rate) ? 0 : 3));
  const wanted = Number.parseFloat(typed.replace(',', '.'));
  const fits = wanted >= 1 && wanted <= 240;
  const chosen = offer.video || Math.abs(wanted - rate) < 1e-6 ? offer.rate : { frames: Math.round(wanted * 1000), seconds: 1000 };
  const simple = chosen.seconds === 1000 && chosen.frames % 1000 === 0 ? { frames: chosen.frames / 1000, seconds: 1 } : chosen;
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-10 bg-[#20211f80]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-20 w-[26rem] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 border border-ink bg-card p-5"
        >
          <Dialog.Title className="mb-2 text-base font-bold">{say('A clip?')}</Dialog.Title>
          <p className="mb-3">
            {say('{count} frames, {width} × {height}, {rate} a second{thing}: “{name}”.', {
              count: offer.count,
              width: offer.width,
              height: offer.height,
              rate: figured(rate, Number.isInteger(rate) ? 0 : 2),
              thing: offer.video ? (offer.sound ? say(', with sound') : say(', without sound')) : '',
              name: offer.name,
            })}
          </p>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              if (fits) onClip(simple);
            }}
          >
            {!offer.video && (
              <label className="mb-3 flex items-center gap-2">
                <span className="text-faint">{say('Frames a second')}</span>
                <input
                  aria-label={say('Frames a second')}
                  className="w-20 border-b border-faint bg-transparent text-right font-mono"
                  value={typed}
                  onChange={(e) => setTyped(e.currentTarget.value)}
                />
                {!fits && <span className="text-watch">{say('from 1 to 240')}</span>}
              </label>
            )}
            <div className="flex flex-wrap gap-1.5">
              <Button type="submit" strong disabled={!fits}>
                {say('Open as a clip')}
              </Button>
              {onLoose && <Button onClick={onLoose}>{say('Loose pictures')}</Button>}
              <Button onClick={onClose}>{say('Neither')}</Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
