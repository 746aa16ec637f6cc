import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, parseChain, type ChainDocument } from '@hexenkessel/core/chain';
import { encodeWav, type WavOptions } from '@hexenkessel/core/formats';
import type { ChainState, Render, Sound } from '@hexenkessel/core/protocol';
import type { Services } from '../app.ts';
import type { Config } from '../config.ts';
import { startServer, type RunningServer } from '../server.ts';

export interface Answer<T> {
  readonly status: number;
  readonly type: string;
  readonly body: T;
}

/** A server of its own on a free port with a data folder of its own. */
export class TestServer {
  readonly folder: string;
  private readonly webFolder: string | undefined;
  private readonly config: Partial<Config>;
  private server: RunningServer | undefined;

  private constructor(folder: string, webFolder: string | undefined, config: Partial<Config>) {
    this.folder = folder;
    this.webFolder = webFolder;
    this.config = config;
  }

  /** In a folder that is given, or a new one; with the page of `webFolder`, or none. */
  static async start(folder?: string, webFolder?: string, config: Partial<Config> = {}): Promise<TestServer> {
    const server = new TestServer(folder ?? (await mkdtemp(join(tmpdir(), 'hexenkessel-'))), webFolder, config);
    await server.open();
    return server;
  }

  async open(): Promise<void> {
    this.server = await startServer(
      {
        host: '127.0.0.1',
        port: 0,
        dataFolder: this.folder,
        webFolder: this.webFolder,
        favouritesFolder: undefined,
        token: undefined,
        names: [],
        proxy: false,
        tls: undefined,
        ...this.config,
      },
      pino({ level: 'silent' }),
    );
  }

  get services(): Services {
    if (!this.server) throw new Error('the server is not open');
    return this.server.services;
  }

  /** Stops it and keeps its data. */
  async close(): Promise<void> {
    await this.server?.close();
    this.server = undefined;
  }

  async remove(): Promise<void> {
    await this.close();
    await rm(this.folder, { recursive: true, force: true });
  }

  get address(): string {
    return this.server?.address ?? '';
  }

  fetch(path: string, init?: RequestInit): Promise<Response> {
    return fetch(`${this.address}/api${path}`, init);
  }

  async get<T>(path: string): Promise<Answer<T>> {
    return answer<T>(await this.fetch(path));
  }

  async send<T>(method: 'POST' | 'PUT' | 'PATCH' | 'DELETE', path: string, body?: unknown): Promise<Answer<T>> {
    const init =
      body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } };
    return answer<T>(await this.fetch(path, { method, ...init }));
  }

  /** `query`: what else is asked for, such as `rate=96000`. */
  async upload(name: string, bytes: Uint8Array, query = ''): Promise<Answer<Sound>> {
    return answer<Sound>(
      await this.fetch(`/sounds?name=${encodeURIComponent(name)}&${query}`, {
        method: 'POST',
        body: bytes as Uint8Array<ArrayBuffer>,
      }),
    );
  }

  async addChain(document: ChainDocument): Promise<ChainState> {
    return (await this.send<ChainState>('POST', '/chains', { document })).body;
  }

  /** Asks for a render of a chain: as it is kept, or with another document as its draft. */
  async startRender(
    sourceId: string,
    chainId: string,
    { document, region }: { readonly document?: ChainDocument; readonly region?: object } = {},
  ): Promise<Answer<Render>> {
    let { body: state } = await this.get<ChainState>(`/chains/${chainId}`);
    if (document && JSON.stringify(document) !== JSON.stringify(state.document)) {
      const { revision } = state;
      state = (await this.send<ChainState>('PUT', `/chains/${chainId}/draft`, { revision, document })).body;
    }
    return this.send<Render>('POST', '/renders', { sourceId, chainId, revision: state.revision, region });
  }

  /** Waits until a render is over. */
  async finished(id: string): Promise<Render> {
    for (;;) {
      const { body } = await this.get<Render>(`/renders/${id}`);
      if (body.status !== 'queued' && body.status !== 'running') return body;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  }
}

async function answer<T>(response: Response): Promise<Answer<T>> {
  const text = await response.text();
  return {
    status: response.status,
    type: response.headers.get('content-type') ?? '',
    body: (text === '' ? undefined : JSON.parse(text)) as T,
  };
}

export function wavBytes(clip: Clip, options: WavOptions = { depth: '24' }): Uint8Array {
  return new Uint8Array(Buffer.concat([...encodeWav(clip, options)]));
}

/** A chain that turns a sound round. */
export const flip = (more: object = {}) =>
  parseChain(BUILT_INS, { ...emptyChain(BUILT_INS, 'Flip'), stages: [{ id: 'flip', kind: 'reverse' }], ...more });

/** A short pluck that dies away, on both sides. */
export function pluck(seconds: number, sampleRate = 48000): Clip {
  const samples = Float32Array.from(
    { length: Math.round(seconds * sampleRate) },
    (_, i) => 0.6 * Math.exp((-4 * i) / sampleRate) * Math.sin((2 * Math.PI * 330 * i) / sampleRate),
  );
  return { sampleRate, origin: 0, channels: [samples, samples.slice()] };
}
