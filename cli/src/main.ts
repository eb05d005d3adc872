import { SHIPPED_PRESETS } from '@oiseau/album/model';
import { Command, CommanderError } from 'commander';
import { VERSION } from '@oiseau/render';
import { check, type CheckOrder } from './check.js';
import { UsageError, type ExitStatus } from './exit.js';
import { inspect } from './inspect.js';
import { INTERRUPTED, isInterrupted, listenForInterrupts } from './interrupt.js';
import { parts, type PartsOrder } from './parts.js';
import { plan } from './plan.js';
import { render } from './render.js';

const print = (line: string): void => void process.stdout.write(`${line}\n`);
const report = (line: string): void => void process.stderr.write(`${line}\n`);

const EDITION = ['--edition <name>', 'only this edition of the album'] as const;
const OUTSIDE = ['--outside', 'allow masters and cover outside the album file’s folder'] as const;

/** The commands; what each returns goes to `done`. @throws CommanderError for a call that is none, after help and after the version */
function program(done: (status: ExitStatus) => void): Command {
  const oiseau = new Command('oiseau')
    .description(
      'Renders, checks and inspects albums. An album is a JSON file beside its masters: docs/album-file.md 2.',
    )
    .version(VERSION, '--version', 'print the version')
    .helpOption('-h, --help', 'print help; also works for each command')
    .exitOverride()
    .showSuggestionAfterError(false)
    // What is wrong with a call is told once, with how it should be.
    .configureOutput({ writeErr: () => undefined, writeOut: (text) => void process.stdout.write(text) });
  oiseau
    .command('render')
    .usage('ALBUM.json --out DIR [--edition NAME] [--only NAME ...] [--preset NAME ...] [--outside]')
    .description('Renders the deliverables of the album file, each into its own folder, and verifies them.')
    .argument('<album>', 'the album file')
    .requiredOption('--out <dir>', 'output folder')
    .option(...EDITION)
    .option('--only <name...>', 'render only these deliverables')
    .option(
      '--preset <name...>',
      'render these presets: ' + SHIPPED_PRESETS.map(({ name }) => name).join(', '),
    )
    .option(...OUTSIDE)
    .action(
      async (
        album: string,
        { out, edition = null, only = [], preset = [], outside = false }: RenderOptions,
      ) => done(await render(album, out, { edition, only, presets: preset, outside }, report)),
    );
  oiseau
    .command('plan')
    .usage('ALBUM.json [--edition NAME] [--only NAME ...] [--preset NAME ...] [--json] [--outside]')
    .description('Prints what render would write, without writing anything.')
    .argument('<album>', 'the album file')
    .option(...EDITION)
    .option('--only <name...>', 'plan only these deliverables')
    .option('--preset <name...>', 'plan these presets')
    .option('--json', 'print the plan as JSON')
    .option(...OUTSIDE)
    .action(
      async (
        album: string,
        { edition = null, only = [], preset = [], json = false, outside = false }: PlanOptions,
      ) => done(await plan(album, { edition, only, presets: preset, json, outside }, print, report)),
    );
  oiseau
    .command('check')
    .usage('ALBUM.json [--edition NAME] [--measure] [--json] [--outside]')
    .description('Prints errors, warnings and hints, one per line.')
    .argument('<album>', 'the album file')
    .option(...EDITION)
    .option('--measure', 'measure the masters first, for checks that need it')
    .option('--json', 'print the findings as JSON')
    .option(...OUTSIDE)
    .action(
      async (
        album: string,
        { edition = null, outside = false, measure = false, json = false }: Partial<CheckOrder>,
      ) => done(await check(album, { edition, outside, measure, json }, print, report)),
    );
  oiseau
    .command('parts')
    .usage('ALBUM.json --medium M [--limit MM:SS] [--count N] [--outside]')
    .description('Distributes the tracks over discs or sides and prints the `parts` of an album file.')
    .argument('<album>', 'the album file')
    .option(
      '--medium <medium>',
      'cd, vinyl-12-33, vinyl-12-45, vinyl-10-33, vinyl-10-45, vinyl-7-33 or vinyl-7-45',
    )
    .option('--limit <time>', 'maximum length of a part, MM:SS')
    .option('--count <number>', 'exact number of parts')
    .option(...OUTSIDE)
    .action(async (album: string, { outside = false, medium, limit, count }: PartsOptions) =>
      done(await parts(album, { medium, limit, count }, outside, print, report)),
    );
  oiseau
    .command('inspect')
    .usage('FILE ...')
    .description('Prints the contents of masters, rendered files, cue sheets or disc image folders as JSON.')
    .argument('<files...>', 'audio files, cue sheets, folders with DDPID')
    .action(async (files: readonly string[]) => done(await inspect(files, print)));
  oiseau.addHelpText('after', () => `\nUsage of the commands:\n${usageOf(oiseau.commands)}\n${EXITS}`);
  for (const command of oiseau.commands) command.copyInheritedSettings(oiseau).allowExcessArguments(false);
  return oiseau;
}

const usageOf = (commands: readonly Command[]): string =>
  commands.map((each) => `  oiseau ${each.name()} ${each.usage()}`).join('\n');

const EXITS = `
Exit status: 0 success; 1 a check failed or a file has an error; 2 the command or a file can’t be used.`;

interface RenderOptions {
  readonly out: string;
  readonly only?: readonly string[];
  readonly preset?: readonly string[];
  readonly outside?: boolean;
  readonly edition?: string | null;
}
interface PlanOptions extends Omit<RenderOptions, 'out'> {
  readonly json?: boolean;
}
interface PartsOptions extends PartsOrder {
  readonly outside?: boolean;
}

async function run(argv: readonly string[]): Promise<ExitStatus> {
  let status: ExitStatus = 0;
  const oiseau = program((found) => (status = found));
  try {
    await oiseau.parseAsync(argv, { from: 'user' });
    return status;
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error;
    // Help and version have been printed.
    if (error.exitCode === 0) return 0;
    const command = oiseau.commands.find((each) => each.name() === argv[0]);
    const why = error.message.replace(/^error: |\.$/g, '');
    const sentence = why === '(outputHelp)' ? '' : `${why.charAt(0).toUpperCase()}${why.slice(1)}.\n`;
    const usage = usageOf(command ? [command] : oiseau.commands);
    throw new UsageError(`${sentence}Usage:\n${usage}`, { cause: error });
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
  report(words ?? (error instanceof UsageError ? error.message : `Unexpected error: ${String(error)}`));
  process.exitCode = 2;
}
