import { listen, makeServer } from './index';

// Set to nothing is not set.
const port = Number(process.env.PORT || 4780);
try {
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`PORT must be a whole number from 0 to 65535, not “${process.env.PORT}”.`);
  const server = await listen(makeServer({ libraryFaults: Number(process.env.LIBRARY_FAULTS ?? 0) }), port);
  const address = server.address();
  const open = typeof address === 'object' && address ? address.port : port;
  console.log(`Ritaglio is open at http://127.0.0.1:${open}`);
} catch (error) {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
}
