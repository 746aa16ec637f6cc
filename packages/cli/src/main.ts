import { Command, CommanderError } from 'commander';
import { InputError } from '@hexenkessel/core/model';
import { measureCommand } from './measureCommand.ts';
import { renderCommand } from './renderCommand.ts';
import { sheetCommand } from './sheetCommand.ts';
import { stagesCommand } from './stagesCommand.ts';
import { validateCommand } from './validateCommand.ts';

/** Exit codes: done; something went wrong here; what the user handed in is wrong. */
const DONE = 0;
const FAILED = 1;
const WRONG_INPUT = 2;

/** Runs the command line; gives the exit code. */
export async function run(args: readonly string[]): Promise<number> {
  const program = new Command('hexenkessel')
    .description('Renders, measures, checks and documents effect chains.')
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(text) });
  for (const command of [renderCommand(), measureCommand(), stagesCommand(), validateCommand(), sheetCommand()]) {
    program.addCommand(command.exitOverride());
  }
  try {
    await program.parseAsync([...args], { from: 'user' });
    return DONE;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? DONE : WRONG_INPUT;
    if (error instanceof InputError) {
      for (const fault of error.faults) console.error(`hexenkessel: ${fault}`);
      return WRONG_INPUT;
    }
    console.error(`hexenkessel: ${error instanceof Error ? error.message : String(error)}`);
    return FAILED;
  }
}
