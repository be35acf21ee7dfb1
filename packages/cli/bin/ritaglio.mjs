#!/usr/bin/env node
import { built } from './built.mjs';

await import(await built('main'));
