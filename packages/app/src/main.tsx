import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import './index.css';
import { lightUp } from './ui/screen';
import { keepForOffline } from './offline';
import { Shelf } from './shelf/Shelf';
import { Speaking, speak } from './words/language';
import { say } from './words/say';

function Opening() {
  return <main className="p-10 text-base">{say('Opening the job …')}</main>;
}

const router = createBrowserRouter([
  { path: '/', element: <Shelf /> },
  { path: '/job/:id', element: <Navigate to="matte" replace /> },
  // What a job needs comes when one is opened: the shelf is there at once.
  { path: '/job/:id/:step', lazy: async () => ({ Component: (await import('./job/JobPage')).JobPage }), HydrateFallback: Opening },
]);

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 60_000, refetchOnWindowFocus: false } } });

lightUp();
if (import.meta.env.PROD) keepForOffline();

await speak();
// What a job needs is fetched while the shelf is looked at.
(globalThis.requestIdleCallback ?? setTimeout)(() => void Promise.all([import('./job/JobPage'), import('./data/jobs'), import('./data/clips')]).catch(() => undefined)); // prettier-ignore
const page = createRoot(document.getElementById('root')!);
// A page that is left stays in the browser's memory for a while, to be shown again at once: not with its pictures. It is opened anew then.
window.addEventListener('pagehide', (e) => e.persisted && page.unmount());
window.addEventListener('pageshow', (e) => e.persisted && location.reload());
page.render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Speaking>
        <RouterProvider router={router} />
      </Speaking>
      <Toaster
        containerAriaLabel={say('Notices')}
        position="bottom-right"
        toastOptions={{ unstyled: true, className: 'border border-ink bg-paper text-ink px-3 py-2 max-w-90 flex gap-2' }}
      />
    </QueryClientProvider>
  </StrictMode>,
);
