import { readFileSync } from 'node:fs';
import { Command, CommanderError } from 'commander';

/** Exit codes: done; something went wrong here; what the user handed in is wrong. */
const DONE = 0;
const FAILED = 1;
const WRONG_INPUT = 2;

/** A command, loaded when it is asked for: the help of all of them waits for none. */
interface Listed {
  readonly name: string;
  readonly summary: string;
  readonly load: () => Promise<Command>;
}

const COMMANDS: readonly Listed[] = [
  {
    name: 'render',
    summary: 'renders sounds, or a region of one, through a chain into new files',
    load: async () => (await import('./renderCommand.ts')).renderCommand(),
  },
  {
    name: 'measure',
    summary: 'measures a sound: length, peak, true peak, loudness, time reference',
    load: async () => (await import('./measureCommand.ts')).measureCommand(),
  },
  {
    name: 'stages',
    summary: 'the reference: lists stages and modulators, finds some by what they do, or explains one',
    load: async () => (await import('./stagesCommand.ts')).stagesCommand(),
  },
  {
    name: 'validate',
    summary: 'checks chain files and says what is wrong with them',
    load: async () => (await import('./validateCommand.ts')).validateCommand(),
  },
  {
    name: 'script',
    summary: 'checks stages that are written as text, and explains what they say of themselves',
    load: async () => (await import('./scriptCommand.ts')).scriptCommand(),
  },
  {
    name: 'sheet',
    summary: 'writes the sheet that documents a chain, as Markdown or HTML',
    load: async () => (await import('./sheetCommand.ts')).sheetCommand(),
  },
];

const EXAMPLES = `
Examples:
  $ hexenkessel render --chain tide.hxk.json --in take.wav --out take-tide.wav
  $ hexenkessel render --chain tide.hxk.json --in *.wav --out wet/
  $ hexenkessel stages "slow down"
  $ hexenkessel help render`;

/** Runs the command line; gives the exit code. */
export async function run(args: readonly string[]): Promise<number> {
  const program = new Command('hexenkessel')
    .description('Renders, measures, checks and documents effect chains.')
    .version(versionHere(), '-V, --version', 'says its version')
    .addHelpText('after', EXAMPLES)
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(text) });
  const asked = args.find((word) => !word.startsWith('-') && word !== 'help');
  try {
    for (const { name, summary, load } of COMMANDS) {
      const command = name === asked ? await load() : new Command(name);
      program.addCommand(command.summary(summary).exitOverride());
    }
    await program.parseAsync([...args], { from: 'user' });
    return DONE;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? DONE : WRONG_INPUT;
    // Who reads from the pipe has enough: no fault.
    if ((error as NodeJS.ErrnoException).code === 'EPIPE') return DONE;
    const faults = faultsOf(error);
    for (const fault of faults ?? [error instanceof Error ? error.message : String(error)])
      console.error(`hexenkessel: ${fault}`);
    return faults ? WRONG_INPUT : FAILED;
  }
}

/** What of the input is wrong; undefined for a failure of another kind. By name, as the class would load the core. */
function faultsOf(error: unknown): readonly string[] | undefined {
  return error instanceof Error && 'faults' in error && Array.isArray(error.faults)
    ? (error.faults as readonly string[])
    : undefined;
}

function versionHere(): string {
  const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
    version: string;
  };
  return version;
}
