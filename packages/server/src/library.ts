import { readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { Router } from 'express';

/** A picture of the library, as it is listed. */
interface Entry {
  id: string;
  title: string;
  words: string[];
  width: number;
  height: number;
  file: string;
}

const pageSize = 4;

/**
 * A stand-in for a service of licensed pictures: search by words, pages, files; and failing when
 * asked to.
 *
 * @param faults how many of its first answers fail
 */
export function library(folder: string, faults: number): Router {
  const entries = JSON.parse(readFileSync(join(folder, 'library.json'), 'utf8')) as Entry[];
  const router = Router();
  let faultsLeft = faults;

  router.get('/pictures', (request, response) => {
    if (faultsLeft > 0) {
      faultsLeft--;
      response.status(503).json({ message: 'The picture library does not answer just now.' });
      return;
    }
    const query = String(request.query.query ?? '').toLowerCase();
    const page = Math.max(1, Math.min(1000, Number.parseInt(String(request.query.page ?? '1'), 10) || 1));
    const wanted = query.split(/\s+/).filter(Boolean);
    const found = entries.filter((e) => wanted.every((w) => [e.title.toLowerCase(), ...e.words].some((t) => t.includes(w))));
    response.json({
      total: found.length,
      page,
      pages: Math.max(1, Math.ceil(found.length / pageSize)),
      pictures: found.slice((page - 1) * pageSize, page * pageSize).map(({ id, title, width, height, file }) => ({
        id,
        title,
        width,
        height,
        file: `/demo/pictures/${file}`,
        print: `/demo/prints/${id}.jpg`,
        bytes: statSync(join(folder, 'pictures', file)).size,
      })),
    });
  });
  return router;
}
