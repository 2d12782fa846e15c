import type { Worker } from 'node:worker_threads'

/** A call to a thread failed; `status` is what the API answers. */
export class CallError extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message)
  }
}

type Message =
  | { kind: 'answer'; call: number; value: unknown }
  | { kind: 'failed'; call: number; message: string; status?: number }
  | { kind: string; call?: undefined }

/** Calls to a worker thread with their answers. When the thread dies, whoever waits is told. */
export class Calls<Request> {
  private next = 1
  private readonly waiting = new Map<number, { resolve: (value: never) => void; reject: (error: Error) => void }>()
  private dead: Error | null = null

  constructor(
    readonly worker: Worker,
    private readonly onNotice: (notice: { kind: string }) => void = () => {},
  ) {
    worker.on('message', (message: Message) => this.take(message))
    worker.on('error', (error) => this.fail(error))
    worker.on('exit', (code) => this.fail(new Error(`a worker thread ended with code ${code}`)))
  }

  ask<T>(request: Request, transfer: readonly ArrayBuffer[] = []): Promise<T> {
    return this.askWithId<T>(request, transfer).answer
  }

  askWithId<T>(request: Request, transfer: readonly ArrayBuffer[] = []): { call: number; answer: Promise<T> } {
    const call = this.next++
    const answer = new Promise<T>((resolve, reject) => {
      if (this.dead) return reject(this.dead)
      this.waiting.set(call, { resolve: resolve as (value: never) => void, reject })
      this.worker.postMessage({ call, request }, transfer)
    })
    return { call, answer }
  }

  /** How many calls have no answer yet. */
  get pending(): number {
    return this.waiting.size
  }

  private take(message: Message): void {
    if (message.call === undefined) return this.onNotice(message)
    const { call } = message
    const waiter = this.waiting.get(call)
    this.waiting.delete(call)
    if (message.kind === 'answer') waiter?.resolve((message as { value: unknown }).value as never)
    else {
      const failed = message as { message: string; status?: number }
      waiter?.reject(new CallError(failed.message, failed.status ?? 500))
    }
  }

  private fail(error: Error): void {
    this.dead ??= error
    for (const { reject } of this.waiting.values()) reject(error)
    this.waiting.clear()
  }
}
