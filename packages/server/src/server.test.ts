/** @jest-environment node */
import { get, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { listen, makeServer } from './index';

let server: Server;
let address: string;

beforeAll(async () => {
  server = await listen(makeServer({ libraryFaults: 1 }), 0);
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => new Promise((resolve) => server.close(resolve)));

test('a library fault is a 503 with a message, and the next answer is whole', async () => {
  const first = await fetch(`${address}/library/pictures`);
  expect(first.status).toBe(503);
  expect(((await first.json()) as { message: string }).message).toMatch(/does not answer/);
  expect((await fetch(`${address}/library/pictures`)).status).toBe(200);
});

test('the library searches and pages', async () => {
  const read = async (query: string) =>
    (await (await fetch(`${address}/library/pictures?${query}`)).json()) as {
      total: number;
      pages: number;
      pictures: { title: string; file: string }[];
    };
  const all = await read('');
  expect(all.total).toBeGreaterThan(all.pictures.length);
  const last = await read(`page=${all.pages}`);
  expect(last.pictures[0].title).not.toBe(all.pictures[0].title);
  const night = await read('query=night+street');
  expect(night.pictures.map((p) => p.title)).toEqual(['Canal street after rain']);
  expect((await read('query=zzz')).total).toBe(0);
  expect((await fetch(address + night.pictures[0].file)).headers.get('content-type')).toBe('image/jpeg');
});

test('pages are isolated and allow no foreign code', async () => {
  const { headers } = await fetch(`${address}/demo/library.json`);
  expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
  expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
  expect(headers.get('content-security-policy')).toContain("default-src 'self'");
  // Compiled code that comes with the application may run; text that is made into code may not.
  expect(headers.get('content-security-policy')).not.toContain("'unsafe-eval'");
  expect(headers.get('x-powered-by')).toBeNull();
});

test('what is not there is a 404, also outside the folder', async () => {
  expect((await fetch(`${address}/nothing`)).status).toBe(404);
  expect((await fetch(`${address}/demo/..%2fpackage.json`)).status).toBeGreaterThanOrEqual(400);
});

test('a taken port is said in a sentence', async () => {
  const { port } = server.address() as AddressInfo;
  await expect(listen(makeServer(), port)).rejects.toThrow(`Port ${port} is taken`);
});

test('errors are one sentence without paths; a foreign name is not answered; text is sent packed', async () => {
  for (const path of ['/demo/nothing.jpg', '/assets/%2e%2e/secret', '/demo/%E0%A4%A', '/nothing']) {
    const response = await fetch(address + path);
    expect([400, 403, 404]).toContain(response.status);
    expect(await response.text()).toMatch(/^[^\n/]{5,60}\.$/);
  }
  const { port } = server.address() as AddressInfo;
  const foreign = await new Promise<number | undefined>((resolve, reject) => {
    get({ port, host: '127.0.0.1', path: '/', headers: { Host: 'elsewhere.example' } }, (r) => resolve(r.statusCode)).on('error', reject);
  });
  expect(foreign).toBe(403);
  const packed = await fetch(`${address}/demo/jobs/goat-on-the-quay.json`, { headers: { 'Accept-Encoding': 'gzip' } });
  expect(packed.headers.get('content-encoding')).toBe('gzip');
  expect(await packed.json()).toHaveProperty('recipe');
});
