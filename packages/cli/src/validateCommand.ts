import { Command } from 'commander';
import { InputError } from '@hexenkessel/core/model';
import { readChainFile } from './files.ts';

export function validateCommand(): Command {
  return new Command('validate')
    .description('Checks chain files and says what is wrong with them.')
    .argument('<file...>', 'chain files')
    .action(async (files: string[]) => {
      const errors: string[] = [];
      for (const file of files) {
        try {
          const chain = await readChainFile(file);
          console.log(`${file}: valid – ${chain.name}, ${chain.stages.length} stages`);
        } catch (error) {
          if (!(error instanceof InputError)) throw error;
          errors.push(...error.faults);
        }
      }
      if (errors.length > 0)
        throw new InputError(`${errors.length} ${errors.length === 1 ? 'error' : 'errors'}`, { faults: errors });
    });
}
