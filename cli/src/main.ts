import { parseArgs } from 'node:util';
import { VERSION } from '@oiseau/core';
import { check, type CheckOrder } from './check.js';
import { UsageError, type ExitStatus } from './exit.js';
import { inspect } from './inspect.js';
import { INTERRUPTED, isInterrupted, listenForInterrupts } from './interrupt.js';
import { parts, type PartsOrder } from './parts.js';
import { render } from './render.js';

const USAGE = `Usage:
  oiseau render ALBUM.json --out DIR [--only NAME ...] [--outside]
  oiseau check  ALBUM.json [--measure] [--json] [--outside]
  oiseau parts  ALBUM.json --medium M [--limit MM:SS] [--count N] [--outside]
  oiseau inspect FILE ...
  oiseau --version
  oiseau --help`;

const print = (line: string): void => void process.stdout.write(`${line}\n`);
const report = (line: string): void => void process.stderr.write(`${line}\n`);

async function run(argv: readonly string[]): Promise<ExitStatus> {
  const [command, ...rest] = argv;
  if (command === '--version' && rest.length === 0) {
    print(VERSION);
    return 0;
  }
  if (command === '--help' || command === '-h') {
    print(USAGE);
    return 0;
  }
  const { values, positionals } = readArguments(rest);
  const album = (): string => {
    const [path, ...more] = positionals;
    if (path === undefined || more.length > 0)
      throw new UsageError(`${command} takes one album file.\n${USAGE}`);
    return path;
  };
  const plain = (): void => {
    if (values.out !== undefined || values.only.length > 0)
      throw new UsageError(`--out and --only belong to render.\n${USAGE}`);
  };
  const unspread = (): void => {
    if (values.medium !== undefined || values.limit !== undefined || values.count !== undefined)
      throw new UsageError(`--medium, --limit and --count belong to parts.\n${USAGE}`);
  };
  if (command !== 'parts') unspread();
  if (command !== 'check' && (values.measure || values.json))
    throw new UsageError(`--measure and --json belong to check.\n${USAGE}`);
  switch (command) {
    case 'render':
      if (values.out === undefined) throw new UsageError(`render needs --out DIR.\n${USAGE}`);
      return render(album(), values.out, values, report);
    case 'check':
      plain();
      return check(album(), values, print, report);
    case 'parts':
      plain();
      return parts(album(), values, values.outside, print, report);
    case 'inspect':
      plain();
      if (values.outside) throw new UsageError(`--outside belongs to render, check and parts.\n${USAGE}`);
      if (positionals.length === 0) throw new UsageError(`inspect needs a file.\n${USAGE}`);
      return inspect(positionals, print);
    default:
      throw new UsageError(command === undefined ? USAGE : `“${command}” is no command.\n${USAGE}`);
  }
}

/** `--only` takes several names; node's own parser takes one a flag, so what follows the first is gathered here. */
function readArguments(args: readonly string[]): {
  values: { out: string | undefined; only: string[] } & CheckOrder & PartsOrder;
  positionals: string[];
} {
  const spread: string[] = [];
  let inOnly = false;
  args.forEach((arg, i) => {
    if (arg.startsWith('-')) {
      inOnly = arg === '--only';
      if (!inOnly) spread.push(arg);
      else if (args[i + 1] === undefined || args[i + 1]?.startsWith('-'))
        throw new UsageError(`--only needs a name.\n${USAGE}`);
    } else spread.push(inOnly ? `--only=${arg}` : arg);
  });
  try {
    const { values, positionals } = parseArgs({
      args: spread,
      allowPositionals: true,
      options: {
        out: { type: 'string' },
        only: { type: 'string', multiple: true },
        outside: { type: 'boolean' },
        measure: { type: 'boolean' },
        json: { type: 'boolean' },
        medium: { type: 'string' },
        limit: { type: 'string' },
        count: { type: 'string' },
      },
    });
    const { out, only = [], outside = false, measure = false, json = false, ...spreading } = values;
    const { medium, limit, count } = spreading;
    return { values: { out, only, outside, measure, json, medium, limit, count }, positionals };
  } catch (error) {
    throw new UsageError(
      `${error instanceof Error ? error.message.split('\n')[0] : String(error)}\n${USAGE}`,
      { cause: error },
    );
  }
}

// What is written is for its owner, as every file of the application is.
process.umask(0o077);
listenForInterrupts();
try {
  process.exitCode = await run(process.argv.slice(2));
} catch (error) {
  // What it was in the middle of may have been interrupted as well, and complain of that.
  const words = isInterrupted() ? INTERRUPTED : undefined;
  report(
    words ??
      (error instanceof UsageError
        ? error.message
        : `Something went wrong that should not have: ${String(error)}`),
  );
  process.exitCode = 2;
}
