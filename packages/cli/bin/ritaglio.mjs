#!/usr/bin/env node
import { built } from './built.mjs';

const { main } = await import(await built('main'));
await main(process.argv);
