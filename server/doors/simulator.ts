import { spawn, type ChildProcess } from 'node:child_process'
import { ownProgram } from '../root.js'
import type { keyStore } from '../store/access.js'

export interface SimulatorState {
  running: boolean
  /** events a second */
  rate: number
}

/**
 * The simulator that ships with the server, switched on and off from the Live page: a program of its own that sends over
 * HTTP like anybody, with a key that lives as long as it does.
 */
export function simulator(keys: ReturnType<typeof keyStore>, address: () => string) {
  let child: ChildProcess | null = null
  let rate = 10

  function stop(): void {
    child?.kill('SIGTERM')
    child = null
    for (const { id, name } of keys.list()) if (name === KEY_NAME) keys.revoke(id, Date.now())
  }

  return {
    state: (): SimulatorState => ({ running: child !== null, rate }),
    start(wanted: number): void {
      stop()
      rate = wanted
      const key = keys.create(KEY_NAME, 'write', Date.now())
      const program = ownProgram('demo/simulate.cli.ts', 'simulate.js')
      const started = spawn(process.execPath, [...program, '--rate', String(rate)], {
        stdio: 'ignore',
        env: { ...process.env, DOWSER_URL: address(), DOWSER_KEY: key },
      })
      started.on('exit', () => {
        if (child === started) stop()
      })
      child = started
    },
    stop,
  }
}

const KEY_NAME = 'Simulator'
