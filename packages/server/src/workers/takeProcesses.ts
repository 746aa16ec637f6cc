import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import pLimit from 'p-limit';
import pidusage from 'pidusage';
import { InputError } from '@hexenkessel/core/model';
import { settle } from './audioWorkers.ts';
import type { Answer, FromTaking, TakeOrder, Taken } from './tasks.ts';

/** Sounds that are gone through at once. */
const AT_ONCE = 4;
/** Bytes that a process may take above what it has when it is idle. */
const MEMORY = 300e6;
/** Bytes above those of an idle one with which it is kept for the next sound. */
const SPARE_MEMORY = 100e6;
const LOOK_INTERVAL = 100; // milliseconds between two looks at its memory
const PATIENCE = 30_000; // milliseconds

interface Process {
  readonly child: ChildProcess;
  /** Bytes that it takes before it has done anything. */
  readonly idle: number;
}

/**
 * Goes through sounds that come in, each in a process of its own that is watched from outside: what a decoder takes up
 * beyond its measure, or does not come to an end with, ends the process and not the server.
 */
export class TakeProcesses {
  private readonly limit = pLimit(AT_ONCE);
  private readonly running = new Set<ChildProcess>();
  /** One that has done its work and waits for more. */
  private spare: Process | undefined;
  private closed = false;
  private readonly patience: number;

  /** `patience`: milliseconds without a sign of life after which a decoder will not come to an end. */
  constructor(patience = PATIENCE) {
    this.patience = patience;
  }

  /** Goes through a sound file from end to end, decodes it if need be, and measures it; InputError when it is not allowed. */
  async take(order: TakeOrder): Promise<Taken> {
    return settle<Taken>(await this.limit(() => this.answerTo(order)));
  }

  async close(): Promise<void> {
    this.closed = true;
    this.limit.clearQueue();
    const ended = [...this.running].map((child) => new Promise((resolve) => child.once('exit', resolve)));
    for (const child of this.running) child.kill('SIGKILL');
    await Promise.all(ended);
  }

  private async answerTo(order: TakeOrder): Promise<Answer<Taken>> {
    const process = this.spare ?? (await this.begin());
    this.spare = undefined;
    const { child } = process;
    child.ref();
    child.channel?.ref();
    const answer = await watched(process, order, this.patience);
    // One that has ended says nothing of its memory; nor is one kept that has swollen.
    const memory = await memoryOf(child).catch(() => Infinity);
    if (memory <= process.idle + SPARE_MEMORY && this.spare === undefined && !this.closed) {
      this.spare = process;
      child.unref();
      child.channel?.unref();
    } else child.kill('SIGKILL');
    return answer;
  }

  private async begin(): Promise<Process> {
    if (this.closed) throw new Error('the server is closing');
    // The built file, also when this one runs from source: nothing said to this process about sources is meant for it.
    const child = fork(fileURLToPath(new URL('../../dist/workers/takeProcess.js', import.meta.url)), {
      execArgv: [],
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    this.running.add(child);
    // A message that does not reach one that has ended: that it ended is told by itself.
    child.on('error', () => undefined);
    child.once('exit', () => {
      this.running.delete(child);
      if (this.spare?.child === child) this.spare = undefined;
    });
    await new Promise<void>((resolve, reject) => {
      child.once('message', () => resolve());
      child.once('error', reject);
      child.once('exit', (code) => reject(new Error(`the process for sounds ended at its start with ${code}`)));
    });
    return { child, idle: await memoryOf(child) };
  }
}

/** The answer of a process; a refusal when it takes too much, falls silent or ends. */
function watched({ child, idle }: Process, order: TakeOrder, patience: number): Promise<Answer<Taken>> {
  const most = idle + MEMORY;
  return new Promise((resolve) => {
    let heard = Date.now();
    const looking = setInterval(() => {
      if (Date.now() - heard > patience) stop('it keeps its decoder busy without an end');
      else
        memoryOf(child).then(
          (bytes) => bytes > most && stop('unpacking it takes more memory than it may'),
          () => undefined, // ended meanwhile, which is told by itself
        );
    }, LOOK_INTERVAL);
    const stop = (why: string) => {
      child.kill('SIGKILL');
      end(refused(why));
    };
    const end = (answer: Answer<Taken>) => {
      clearInterval(looking);
      child.off('message', onMessage);
      child.off('exit', onExit);
      resolve(answer);
    };
    const onMessage = (message: FromTaking) => {
      heard = Date.now();
      if (message.type === 'answer') end(message.answer);
    };
    const onExit = () => end(refused('it broke its decoder'));
    child.on('message', onMessage);
    child.on('exit', onExit);
    child.send(order);
  });
}

/** Resident bytes of a process. */
async function memoryOf({ pid }: ChildProcess): Promise<number> {
  return (await pidusage(pid!)).memory;
}

function refused(why: string): Answer<Taken> {
  const { message, faults } = new InputError(`The sound file is damaged or made to do harm: ${why}.`);
  return { outcome: 'refused', message, faults };
}
