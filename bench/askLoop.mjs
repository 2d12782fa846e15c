import { Agent, request } from 'node:http'
import { parentPort, workerData } from 'node:worker_threads'

/** Asks a question again and again, each time as a new one, until told to stop; then says how often it did. */
const { address, key, question } = workerData
const agent = new Agent({ keepAlive: true })
let going = true
parentPort.once('message', () => (going = false))
let asked = 0
while (going) {
  // A field that no plan reads would be refused here: another width of the window makes it a new question.
  const body = JSON.stringify({ ...question, window: { count: 1 + (asked++ % 900), unit: 'hour' } })
  await new Promise((resolve, reject) => {
    const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/json' }
    const sent = request(address, { method: 'POST', agent, headers }, (response) => {
      response
        .resume()
        .on('end', () =>
          response.statusCode === 200
            ? resolve()
            : reject(new Error(`the question was answered ${response.statusCode}`)),
        )
    })
    sent.on('error', reject).end(body)
  })
}
agent.destroy()
parentPort.postMessage(asked)
