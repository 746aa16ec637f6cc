// Twenty clients work with a server for an hour (MINUTES says how long): lists, searches, drafts, versions, uploads, renders,
// downloads, deleting. Every minute: requests, errors, the slowest answers, and what memory the server takes. Run it with
// `node bench/load.mjs` on a built application.
import { readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { startServer } from './application.mjs';

const PORT = 4695;
const CLIENTS = 20;
const MINUTES = Number(process.env.MINUTES ?? 60);
const THINKING = 2000; // milliseconds at most between two requests of a client
const SOUNDS_EACH = 6;

const { base, stop, pid } = await startServer(PORT);
const until = Date.now() + MINUTES * 60_000;
let requests = 0;
let errors = 0;
let times = [];

async function ask(method, path, body) {
  const json = body !== undefined && !(body instanceof Uint8Array);
  const before = performance.now();
  try {
    const answer = await fetch(`${base}/api${path}`, {
      method,
      ...(body === undefined ? {} : { body: json ? JSON.stringify(body) : body }),
      ...(json ? { headers: { 'content-type': 'application/json' } } : {}),
    });
    const bytes = Buffer.from(await answer.arrayBuffer());
    requests += 1;
    times.push(performance.now() - before);
    if (!answer.ok) throw new Error(`${answer.status} ${bytes}`);
    return /json/.test(answer.headers.get('content-type') ?? '') ? JSON.parse(bytes) : bytes;
  } catch (error) {
    errors += 1;
    console.log(`${method} ${path}: ${error.message}`);
    throw error;
  }
}

/** A tone of a second or so as a WAV file of 16 bits. */
function tone(seconds, frequency) {
  const frames = Math.round(48000 * seconds);
  const file = Buffer.alloc(44 + 2 * frames);
  file.write('RIFF', 0);
  file.writeUInt32LE(36 + 2 * frames, 4);
  file.write('WAVEfmt ', 8);
  file.writeUInt32LE(16, 16);
  file.writeUInt16LE(1, 20);
  file.writeUInt16LE(1, 22);
  file.writeUInt32LE(48000, 24);
  file.writeUInt32LE(96000, 28);
  file.writeUInt16LE(2, 32);
  file.writeUInt16LE(16, 34);
  file.write('data', 36);
  file.writeUInt32LE(2 * frames, 40);
  for (let n = 0; n < frames; n++)
    file.writeInt16LE(Math.round(9000 * Math.sin((2 * Math.PI * frequency * n) / 48000)), 44 + 2 * n);
  return file;
}

const one = (list) => list[Math.floor(Math.random() * list.length)];

async function client(number) {
  const mine = `client-${String(number).padStart(2, '0')}-`;
  let { id, revision, document } = await ask('POST', '/chains', {
    document: (await ask('GET', `/chains/${one(await ask('GET', '/chains?limit=20')).id}`)).document,
  });
  const own = [];
  const free = async () => {
    // Renders come first: a sound that something was made of is needed.
    for (const sound of [...(await ask('GET', `/sounds?find=${mine}&kind=render`)), ...own.splice(0)])
      await ask('DELETE', `/sounds/${sound.id}`);
  };
  while (Date.now() < until) {
    const what = Math.random();
    if (what < 0.15)
      await ask('GET', `/chains?sort=${one(['name', '-rating', 'changed'])}&find=${one(['', 'fog', 'hall'])}`);
    else if (what < 0.3) await ask('GET', `/sounds?sort=${one(['name', '-length', 'added'])}`);
    else if (what < 0.35) await ask('GET', '/storage');
    else if (what < 0.6) {
      document = { ...document, about: { ...document.about, rating: Math.floor(Math.random() * 6) } };
      ({ revision } = await ask('PUT', `/chains/${id}/draft`, { revision, document }));
    } else if (what < 0.63)
      ({ revision } = await ask('POST', `/chains/${id}/versions`, { revision, document, why: '' }));
    else if (what < 0.75) {
      if (own.length >= SOUNDS_EACH) await free();
      const seconds = 0.2 + Math.random();
      own.push(await ask('POST', `/sounds?name=${mine}${Date.now()}`, tone(seconds, 200 + 20 * number)));
    } else if (what < 0.83 && own.length > 0) {
      let render = await ask('POST', '/renders', { sourceId: one(own).id, chainId: id, revision });
      while (render.status === 'queued' || render.status === 'running') {
        await pause(500);
        render = await ask('GET', `/renders/${render.id}`);
      }
      if (render.status !== 'done') throw new Error(`render ${render.status}: ${render.error}`);
    } else if (own.length > 0) {
      const { id: sound } = one(own);
      await ask('GET', one([`/sounds/${sound}`, `/sounds/${sound}/audio`, `/sounds/${sound}/needs`]));
    }
    await pause(Math.random() * THINKING);
  }
}

const memory = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024;
const tell = (minute) => {
  const sorted = times.sort((a, b) => a - b);
  const at = (part) => Math.round(sorted[Math.floor(sorted.length * part)] ?? 0);
  console.log(
    `minute ${minute}: ${requests} requests, ${errors} errors, median ${at(0.5)} ms, p99 ${at(0.99)} ms, slowest ${at(0.9999)} ms, memory ${Math.round(memory())} MB`,
  );
  times = [];
};
const clients = Promise.allSettled(Array.from({ length: CLIENTS }, (_, n) => client(n)));
for (let minute = 1; minute <= MINUTES; minute++) {
  await pause(60_000);
  tell(minute);
}
const faults = (await clients).flatMap((end) => (end.status === 'rejected' ? [end.reason.message] : []));
console.log(faults.length === 0 ? 'No client ended before its time.' : faults.join('\n'));
await stop();
process.exitCode = errors + faults.length === 0 ? 0 : 1;
