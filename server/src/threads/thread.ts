import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { parentPort, Worker } from 'node:worker_threads';
import { chainOf } from '../http/problem.ts';

/* A thread that answers questions: what takes long is done there, and requests that ask nothing heavy do not wait for it. */

interface Asked {
  number: number;
  question: unknown;
}
type Answered = { number: number } & ({ answer: unknown } | { error: Failure });

/** An error's own code does not come over by itself, and says whether the database is away. */
interface Failure {
  message: string;
  code: string | null;
}

interface Waiting {
  resolve: (answer: unknown) => void;
  reject: (error: Error) => void;
}

/** Begun at its first question, and again after it broke. It does not keep the process running. */
export class Thread {
  readonly #file: string;
  readonly #data: unknown;
  #worker: Worker | null = null;
  #number = 0;
  readonly #waiting = new Map<number, Waiting>();

  /** @param name Of a file beside the server's (scripts/build.mjs), or the address of one. @param data What it begins with. */
  constructor(name: string, data: unknown = null) {
    this.#file = fileURLToPath(name.startsWith('file:') ? name : new URL(`./${name}.js`, import.meta.url));
    this.#data = data;
  }

  /** Without a build, as in unit tests, there is none. */
  get isThere(): boolean {
    return existsSync(this.#file);
  }

  /** @throws Error What the thread threw, or that it broke. */
  ask(question: unknown): Promise<unknown> {
    const worker = (this.#worker ??= this.#begin());
    const number = ++this.#number;
    return new Promise((resolve, reject) => {
      this.#waiting.set(number, { resolve, reject });
      worker.postMessage({ number, question } satisfies Asked);
    });
  }

  async stop(): Promise<void> {
    const worker = this.#worker;
    this.#worker = null;
    this.#failAll(new Error('the thread was stopped'));
    await worker?.terminate();
  }

  #begin(): Worker {
    const worker = new Worker(this.#file, { workerData: this.#data });
    worker.unref();
    worker.on('message', (answered: Answered) => {
      const waiting = this.#waiting.get(answered.number);
      this.#waiting.delete(answered.number);
      if ('error' in answered) waiting?.reject(Object.assign(new Error(answered.error.message), { code: answered.error.code }));
      else waiting?.resolve(answered.answer);
    });
    worker.on('error', (error) => {
      if (this.#worker === worker) this.#worker = null;
      this.#failAll(error instanceof Error ? error : new Error(String(error)));
    });
    return worker;
  }

  #failAll(error: Error): void {
    for (const { reject } of this.#waiting.values()) reject(error);
    this.#waiting.clear();
  }
}

function failureOf(error: unknown): Failure {
  const message = error instanceof Error ? (error.stack ?? error.message) : String(error);
  const code = [...chainOf(error)].find((at) => typeof at.code === 'string')?.code;
  return { message, code: typeof code === 'string' ? code : null };
}

/** In the thread: answers each question. */
export function answerQuestions(answer: (question: unknown) => unknown): void {
  parentPort?.on('message', ({ number, question }: Asked) => {
    const send = (answered: Answered): void => {
      parentPort?.postMessage(answered);
    };
    Promise.resolve(question)
      .then(answer)
      .then(
        (found) => {
          send({ number, answer: found });
        },
        (error: unknown) => {
          send({ number, error: failureOf(error) });
        },
      );
  });
}
