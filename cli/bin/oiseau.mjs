#!/usr/bin/env node
// The command line is bundled from TypeScript; a checkout that was never built is built on its first use.
import { ensureBuilt } from '../../scripts/build.mjs';

await ensureBuilt(['cli']);
await import('../../dist/cli.mjs');
