import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import * as v from 'valibot';
import { Button } from '../ui/Button';
import { refuse } from '../ui/refuse';
import { say } from '../words/say';

const pageSchema = v.object({
  total: v.number(),
  page: v.number(),
  pages: v.number(),
  pictures: v.array(
    v.object({ id: v.string(), title: v.string(), width: v.number(), height: v.number(), file: v.string(), print: v.string() }),
  ),
});

async function readPage(query: string, page: number): Promise<v.InferOutput<typeof pageSchema>> {
  const response = await fetch(`/library/pictures?${new URLSearchParams({ query, page: String(page) })}`);
  if (!response.ok) throw new Error(say('The picture library does not answer just now.'));
  return v.parse(pageSchema, await response.json());
}

/** Search and pages of the picture library; picking gives the file. */
export function Library({ title, onPick, onClose }: { title: string; onPick: (file: File) => void; onClose: () => void }) {
  const [query, setQuery] = useState('');
  const [page, setPage] = useState(1);
  const [fetching, setFetching] = useState('');
  const list = useQuery({
    queryKey: ['library', query, page],
    queryFn: () => readPage(query, page),
    placeholderData: keepPreviousData,
    retry: false,
  });

  const pick = async (entry: { id: string; title: string; file: string }): Promise<void> => {
    setFetching(entry.id);
    try {
      const response = await fetch(entry.file);
      if (!response.ok) throw new Error(say('“{title}” did not come ({status})', { title: entry.title, status: response.status }));
      const blob = await response.blob();
      onPick(new File([blob], `${entry.title}.${blob.type === 'image/png' ? 'png' : 'jpg'}`, { type: blob.type }));
    } catch (error) {
      refuse(error);
    } finally {
      setFetching('');
    }
  };

  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-10 bg-[#20211f80]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-20 flex max-h-[90vh] w-[44rem] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 flex-col border border-ink bg-card"
        >
          <div className="flex items-center justify-between border-b border-rule px-5 py-3">
            <Dialog.Title className="text-base font-bold">{title}</Dialog.Title>
            <Dialog.Close asChild>
              <Button>{say('Close')}</Button>
            </Dialog.Close>
          </div>
          <label className="flex items-center gap-3 border-b border-rule px-5 py-2">
            <span className="text-faint">{say('Search')}</span>
            <input
              className="grow border-b border-faint bg-transparent py-1"
              value={query}
              placeholder={say('night, sky, stone …')}
              onChange={(e) => {
                setQuery(e.currentTarget.value);
                setPage(1);
              }}
            />
          </label>
          <div className="min-h-72 overflow-auto px-5 py-4">
            {list.isPending && <p role="status">{say('Asking the library …')}</p>}
            {list.isError && (
              <div role="alert" className="flex items-center gap-3">
                <p className="grow">{say('{message} Your job is untouched.', { message: list.error.message })}</p>
                <Button strong onClick={() => void list.refetch()}>
                  {say('Try again')}
                </Button>
              </div>
            )}
            {list.data && list.data.total === 0 && <p>{say('Nothing fits “{query}”. Try fewer words.', { query })}</p>}
            {list.data && (
              <ul className="grid grid-cols-2 gap-5">
                {list.data.pictures.map((p) => (
                  <li key={p.id}>
                    <button type="button" className="block w-full text-left" disabled={fetching !== ''} onClick={() => void pick(p)}>
                      <img src={p.print} alt="" className="cut-corner aspect-[3/2] w-full object-cover" />
                      <span className="mt-1 flex justify-between">
                        <span className="font-semibold">{p.title}</span>
                        <span className="font-mono text-xs">{fetching === p.id ? say('coming …') : `${p.width} × ${p.height}`}</span>
                      </span>
                    </button>
                  </li>
                ))}
              </ul>
            )}
          </div>
          {list.data && list.data.pages > 1 && (
            <div className="flex items-center justify-between border-t border-rule px-5 py-2">
              <Button disabled={page <= 1} onClick={() => setPage(page - 1)}>
                {say('Earlier')}
              </Button>
              <span className="font-mono text-xs">{say('{page} of {pages}', { page: list.data.page, pages: list.data.pages })}</span>
              <Button disabled={page >= list.data.pages} onClick={() => setPage(page + 1)}>
                {say('Further')}
              </Button>
            </div>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
