import { catalogOf } from './catalog.js'
import { tables, wrong } from './run.js'

/** npm run ask: how many of the questions as people type them become what they must, and which do not. */
let [right, all] = [0, 0]
for (const [name, questions] of Object.entries(tables)) {
  const vocabulary = catalogOf(name as keyof typeof tables)
  for (const question of questions) {
    all++
    const off = wrong(question, vocabulary)
    if (off === null) right++
    else process.stdout.write(`${name}: ${question.text}\n  ${off}\n`)
  }
}
process.stdout.write(`${right} of ${all}, ${((100 * right) / all).toFixed(1)} %\n`)
