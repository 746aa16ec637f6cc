import { Command } from 'commander';
import { InputError } from '@hexenkessel/core/model';
import { readChainFile } from './files.ts';

export function validateCommand(): Command {
  return new Command('validate')
    .description('Checks chain files and says what is wrong with them.')
    .argument('<file...>', 'chain files')
    .action(async (files: string[]) => {
      const faults: string[] = [];
      for (const file of files) {
        try {
          const chain = await readChainFile(file);
          console.log(`${file}: good – ${chain.name}, ${chain.stages.length} stages`);
        } catch (error) {
          if (!(error instanceof InputError)) throw error;
          faults.push(...error.faults);
        }
      }
      if (faults.length > 0) throw new InputError(`${faults.length} faults`, { faults });
    });
}
