import { existsSync } from 'node:fs';
import type { Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import compression from 'compression';
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { library } from './library';

const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const appFolder = at('../../app/dist');
const demoFolder = at('../../../demo');

/** How the server behaves beside serving. */
export interface ServerOptions {
  /** How many of the library's first answers fail, to see how the interface takes it. Default 0. */
  libraryFaults?: number;
}

/** The application, the demo jobs and the picture library stand-in, with strict headers. */
export function makeServer(options: ServerOptions = {}): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(ownHostOnly);
  app.use(compression());
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          // Compiled code comes with the application.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'"],
          // Radix and Recharts place things with inline style attributes.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'blob:', 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginResourcePolicy: { policy: 'same-origin' },
      strictTransportSecurity: false,
    }),
  );
  app.use(
    '/library',
    rateLimit({ windowMs: 60_000, limit: 600, standardHeaders: true, legacyHeaders: false }),
    library(demoFolder, options.libraryFaults ?? 0),
  );
  app.use('/demo', express.static(demoFolder, { index: false, fallthrough: false }));
  app.use('/assets', express.static(`${appFolder}/assets`, { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(appFolder, { index: false }));
  app.get(/^\/(job\/.*)?$/, (_request, response) => {
    if (!existsSync(`${appFolder}/index.html`)) response.status(503).type('text').send('The application is not built: run npm start.');
    else response.set('Cache-Control', 'no-cache').sendFile(`${appFolder}/index.html`);
  });
  app.use((_request, response) => {
    response.status(404).type('text').send('There is nothing at this address.');
  });
  app.use(inOneSentence);
  return app;
}

/** Names of this machine: a page of another site that had its name point here is not answered. */
const ownNames = new Set(['127.0.0.1', 'localhost', '[::1]']);

const ownHostOnly: RequestHandler = (request, response, next) => {
  const name = (request.headers.host ?? '').replace(/:\d+$/, '').toLowerCase();
  if (ownNames.has(name)) next();
  else response.status(403).type('text').send('This server answers only under the name of this machine.');
};

/** No traces and no paths, whatever went wrong. */
const inOneSentence: ErrorRequestHandler = (error: { status?: number }, _request, response, next) => {
  if (response.headersSent) {
    next(error);
    return;
  }
  const status = error.status !== undefined && error.status >= 400 && error.status < 600 ? error.status : 500;
  const sentence = status === 404 ? 'There is nothing at this address.' : status < 500 ? 'That cannot be asked for.' : 'Something went wrong on the server.'; // prettier-ignore
  response.status(status).type('text').send(sentence);
};

/**
 * Starts listening on this machine only.
 *
 * @throws Error with a sentence when the port is taken
 */
export function listen(app: Express, port: number): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = app.listen(port, '127.0.0.1');
    server.once('listening', () => resolve(server));
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE') {
        reject(new Error(`Port ${port} is taken by another program. Stop that one, or choose another: PORT=${port + 1} npm start`));
      } else reject(error);
    });
  });
}
