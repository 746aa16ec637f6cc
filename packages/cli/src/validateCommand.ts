import { Command } from 'commander';
import { InputError } from '@hexenkessel/core/model';
import { readChainFile } from './files.ts';
import { named, refuseSharedInput } from './streams.ts';

export function validateCommand(): Command {
  return new Command('validate')
    .description('Checks chain files and says what is wrong with them.')
    .argument('<file...>', 'chain files; - is standard input')
    .addHelpText('after', '\nExample:\n  $ hexenkessel validate *.hxk.json')
    .action(async (files: string[]) => {
      refuseSharedInput(files);
      const errors: string[] = [];
      for (const file of files) {
        try {
          const chain = await readChainFile(file);
          console.log(`${named(file, 'in')}: valid – ${chain.name}, ${chain.stages.length} stages`);
        } catch (error) {
          if (!(error instanceof InputError)) throw error;
          errors.push(...error.faults);
        }
      }
      if (errors.length > 0)
        throw new InputError(`${errors.length} ${errors.length === 1 ? 'error' : 'errors'}`, { faults: errors });
    });
}
