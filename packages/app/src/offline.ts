import { toast } from 'sonner';
import { registerSW } from 'virtual:pwa-register';
import { say } from './words/say';

/** What is needed without the server is fetched when the page has been there so long, ms: opening a photo comes first. */
const restBefore = 4000;

/** Keeps the application in this browser, so that it opens without the server; a newer one is offered, and taken when somebody says so. */
export function keepForOffline(): void {
  if (!('serviceWorker' in navigator)) return;
  setTimeout(() => {
    const take = registerSW({
      onNeedRefresh: () =>
        toast(say('A newer Ritaglio is there. What you are doing is kept; it is used from the next start, or now.'), {
          duration: Infinity,
          action: { label: say('Use it now'), onClick: () => void take(true) },
        }),
    });
  }, restBefore);
}
