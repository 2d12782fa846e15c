import type { WeekRhythm } from '../stats/weekRhythm.js'
import { plain, strong, WEEKDAYS, type Finding } from '../words/words.js'

/** "The week has a rhythm: Mondays are highest with 310 on average, Sundays lowest with 120." */
export function rhythmFinding({ most, least, means }: WeekRhythm, write: (mean: number) => string): Finding {
  return [
    plain('The week has a rhythm: '),
    strong(`${WEEKDAYS[most]}s`),
    plain(' are highest with '),
    strong(write(means[most])),
    plain(` on average, ${WEEKDAYS[least]}s lowest with `),
    strong(write(means[least])),
    plain('.'),
  ]
}
