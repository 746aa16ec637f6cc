import { createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import Database from 'better-sqlite3';
import { Command, CommanderError } from 'commander';
import { InputError } from '@hexenkessel/core/model';
import { dataFolderOf } from './config.ts';
import { AudioFiles } from './sounds/audioFiles.ts';
import { makeBackup } from './store/backup.ts';
import { DATABASE } from './store/backupManifest.ts';
import { checkStore } from './store/check.ts';
import { DataFolder } from './store/dataFolder.ts';
import { refuseNoStore } from './store/refuseNoStore.ts';
import { restoreBackup } from './store/restore.ts';
import { StartFault } from './store/startFault.ts';

/** Exit codes: done; something was found, or went wrong here; what was handed in is wrong. */
const DONE = 0;
const FOUND = 1;
const WRONG_INPUT = 2;

const EXAMPLES = `
The data folder is ./data of the project, or what HEXENKESSEL_DATA says. No server may hold it; while one does, a backup is
made on its page (Sounds) or by GET /api/backup.

Examples:
  $ npx hexenkessel-server check
  $ npx hexenkessel-server check --mend
  $ npx hexenkessel-server backup museum.zip
  $ HEXENKESSEL_DATA=/srv/museum npx hexenkessel-server restore museum.zip`;

/** Runs the command line for who keeps a store; gives the exit code. */
export async function runCommand(args: readonly string[]): Promise<number> {
  const dataFolder = dataFolderOf(process.env, fileURLToPath(new URL('../../..', import.meta.url)));
  let code = DONE;
  const program = new Command('hexenkessel-server')
    .description('Checks, backs up and restores the store of a server that is not running.')
    .addHelpText('after', EXAMPLES)
    .exitOverride();
  program
    .command('check')
    .summary('goes through the whole store and says what is wrong with it')
    .option('--mend', 'puts right what can be')
    .exitOverride()
    .action(async ({ mend = false }: { mend?: boolean }) => {
      const findings = await checkStore(dataFolder, mend);
      for (const { what, remedy } of findings) console.log(`${what} ${remedy}`);
      const left = findings.filter(({ mended }) => !mended).length;
      console.log(
        findings.length === 0 ? `The store in ${dataFolder} is whole.` : `${findings.length} found, ${left} left.`,
      );
      if (left > 0) code = FOUND;
    });
  program
    .command('backup <file>')
    .summary('writes everything into one ZIP file')
    .exitOverride()
    .action(async (file: string) => backUp(dataFolder, resolve(file)));
  program
    .command('restore <file>')
    .summary('puts a backup into a folder that holds no store yet')
    .exitOverride()
    .action(async (file: string) => {
      const { files, made } = await restoreBackup(resolve(file), dataFolder);
      console.log(`The backup of ${made} is in ${dataFolder}: ${files.length - 1} files of audio and the database.`);
    });
  try {
    await program.parseAsync([...args], { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? DONE : WRONG_INPUT;
    console.error(`hexenkessel-server: ${(error as Error).message}`);
    return error instanceof InputError || error instanceof StartFault ? WRONG_INPUT : FOUND;
  }
}

/** Under another name until it is whole. */
async function backUp(dataFolder: string, file: string): Promise<void> {
  refuseNoStore(dataFolder);
  const folder = await DataFolder.open(dataFolder);
  try {
    // As it is: a backup upgrades nothing.
    const database = new Database(join(dataFolder, DATABASE), { readonly: true });
    const unfinished = `${file}.unfinished`;
    try {
      const { stream, manifest } = await makeBackup(new AudioFiles(dataFolder), async (to) =>
        database.prepare('VACUUM INTO ?').run(to),
      );
      await pipeline(stream, createWriteStream(unfinished, { flush: true }));
      await rename(unfinished, file);
      const { size } = await stat(file);
      console.log(`${file}: ${manifest.files.length - 1} files of audio and the database, ${size} bytes.`);
      if (manifest.missing.length > 0)
        console.log(`${manifest.missing.length} files of audio were missing in the store.`);
    } finally {
      await rm(unfinished, { force: true });
      database.close();
    }
  } finally {
    await folder.close();
  }
}
