// Starts Oiseau where npm is not at hand: units and containers name this file (docs/keeping.md).
process.argv.splice(2, 0, 'start');
await import('./script.mjs');
